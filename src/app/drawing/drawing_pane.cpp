#include "drawing/drawing_pane.h"

#include "requirement/general_tolerances.h"
#include <QHBoxLayout>
#include <QSignalBlocker>
#include <QVBoxLayout>

namespace alder::app {

DrawingPane::DrawingPane(Document& document, OpenDrawings& drawings, const Theme& theme)
    : document_(document)
    , drawings_(drawings)
    , theme_(theme)
    , view_(new DrawingView(document, drawings, theme))
    , says_(new QLabel)
    , page_(new QLabel)
    , unit_(new QComboBox)
    , file_(new QComboBox)
    , back_(new QPushButton("‹"))
    , forth_(new QPushButton("›"))
    , take_all_(new QPushButton("Take all that are sure")) {
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(0);
  layout->addWidget(view_, 1);
  auto* strip = new QWidget;
  strip->setObjectName("actionBar");
  auto* rows = new QVBoxLayout(strip);
  rows->setContentsMargins(10, 6, 10, 6);
  rows->setSpacing(4);
  auto* first = new QHBoxLayout;
  first->setSpacing(6);
  for (QPushButton* b : {back_, forth_})
    b->setFixedWidth(28);
  back_->setObjectName("pageBack"), forth_->setObjectName("pageForth");
  back_->setToolTip("Page before (Page Up)"), forth_->setToolTip("Next page (Page Down)");
  take_all_->setObjectName("takeAllSure");
  unit_->setObjectName("drawingUnit");
  unit_->setAccessibleName("Unit of the drawing");
  unit_->addItem("mm", "mm");
  unit_->addItem("inch", "in");
  file_->setObjectName("drawingFile");
  file_->setAccessibleName("Drawing");
  page_->setFont(theme.figures(9));
  says_->setObjectName("drawingSays");
  says_->setFont(theme.text(8.5));
  says_->setWordWrap(true);
  first->addWidget(file_);
  first->addWidget(back_);
  first->addWidget(page_);
  first->addWidget(forth_);
  first->addWidget(unit_);
  first->addStretch(1);
  first->addWidget(take_all_);
  rows->addLayout(first);
  rows->addWidget(says_);
  layout->addWidget(strip);
  connect(back_, &QPushButton::clicked, this, [this] { view_->showPage(view_->page() - 1); });
  connect(forth_, &QPushButton::clicked, this, [this] { view_->showPage(view_->page() + 1); });
  connect(take_all_, &QPushButton::clicked, this, [this] { drawings_.takeAllSure(); });
  connect(unit_, &QComboBox::activated, this,
          [this] { drawings_.setUnit(unit_->currentData().toString()); });
  connect(file_, &QComboBox::activated, this,
          [this](int index) { drawings_.show(static_cast<std::size_t>(index)); });
  connect(&drawings_, &OpenDrawings::changed, this, &DrawingPane::refresh);
  connect(view_, &DrawingView::pageChanged, this, &DrawingPane::refresh);
  refresh();
}

QString DrawingPane::words() const {
  const auto* read = drawings_.read();
  if (!read || read->sizes.empty()) return {};
  QString words = QString("%1 offered, %2 taken, %3 refused")
                      .arg(drawings_.count(ProposalState::Open))
                      .arg(drawings_.count(ProposalState::Taken))
                      .arg(drawings_.count(ProposalState::Refused));
  std::size_t odd = 0, empty = 0;
  for (const DrawingProposal& p : read->reading.proposals)
    odd += p.as == ProposedAs::NotUnderstood;
  for (const DrawingSheet& s : read->sheets)
    empty += s.characters.empty();
  if (odd > 0) words += QString(", %1 not understood").arg(odd);
  if (!read->allUnderstood())
    words += QString(" · page %1 of %2 is read").arg(read->understood).arg(read->sizes.size());
  if (empty > 0)
    words +=
        empty == read->sheets.size()
            ? QString(" · no text can be read on it; draw frames and type")
            : QString(" · no text can be read on %1 page%2").arg(empty).arg(empty == 1 ? "" : "s");
  if (!read->reading.unit_from.empty())
    words += " · “" + QString::fromStdString(read->reading.unit_from) + "”";
  else if (drawings_.shown()->unit.empty())
    words += " · the drawing does not say its unit";
  const GeneralTolerances& general = document_.plan().spec.general;
  if (general.rule != GeneralRule::None)
    words += " · general tolerances " + QString::fromStdString(name(general));
  else if (read->reading.general)
    words += " · general tolerances " + QString::fromStdString(name(*read->reading.general)) +
             ", taken with the first";
  else
    words += " · no general tolerances";
  return words;
}

void DrawingPane::refresh() {
  const bool open = document_.isOpen();
  const auto* read = drawings_.read();
  const auto pages = read ? static_cast<int>(read->sizes.size()) : 0;
  page_->setText(pages > 0 ? QString("%1 / %2").arg(view_->page()).arg(pages) : QString());
  back_->setEnabled(view_->page() > 1);
  forth_->setEnabled(view_->page() < pages);
  take_all_->setEnabled(drawings_.count(ProposalState::Open) > 0);
  const QSignalBlocker no_unit(unit_), no_file(file_);
  unit_->setCurrentIndex(read && read->reading.unit == LengthUnit::Inch ? 1 : 0);
  file_->clear();
  if (open)
    for (const DrawingFile& d : document_.plan().drawings)
      file_->addItem(QString::fromStdString(d.name));
  if (drawings_.shown()) file_->setCurrentText(QString::fromStdString(drawings_.shown()->name));
  file_->setVisible(open && document_.plan().drawings.size() > 1);
  says_->setText(words());
}

} // namespace alder::app
