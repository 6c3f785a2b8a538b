#include "card/card.h"

#include "card/fields.h"
#include "card/requirement/indicator_edit.h"
#include "card/words.h"
#include <QAbstractItemView>
#include <QComboBox>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTimer>
#include <algorithm>

namespace alder::app {
Card::Card(Document& document, const Theme& theme, QWidget* parent)
    : QWidget(parent)
    , document_(document)
    , theme_(theme)
    , area_(new QScrollArea) {
  area_->setObjectName("cardArea");
  setObjectName("card");
  setAttribute(Qt::WA_StyledBackground);
  auto* outer = new QVBoxLayout(this);
  outer->setContentsMargins(0, 0, 0, 0);
  outer->addWidget(area_);
  area_->setWidgetResizable(true);
  area_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  area_->setFrameShape(QFrame::NoFrame);
  for (auto signal : {&Document::opened, &Document::planChanged, &Document::selectionChanged,
                      &Document::benchFocusChanged})
    connect(&document_, signal, this, &Card::refreshLater);
  // These come by themselves, some time after an edit.
  for (auto signal : {&Document::routedChanged, &Document::runsChanged, &Document::setupChanged})
    connect(&document_, signal, this, &Card::refreshBetween);
  connect(&document_, &Document::coverageChanged, this, [this] {
    if (coverageWords() != coverage_shown_) refreshBetween();
  });
  connect(&document_, &Document::selectionChanged, this, [this] { indicator_of_.reset(); });
  rebuild();
}

void Card::setDesk(Desk desk) {
  desk_ = desk;
  refreshLater();
}

void Card::refreshLater() {
  if (pending_) return;
  pending_ = true;
  QTimer::singleShot(0, this, &Card::rebuild);
}

QString Card::coverageWords() const {
  const auto& selected = document_.selection().requirement;
  if (!document_.isOpen() || !selected) return {};
  return QString("%1 %2")
      .arg(document_.noiseShare(*selected))
      .arg(text(document_.whyNotCovered(document_.plan().spec.requirement(*selected))));
}

// Something is typed or opened here and not yet handed over.
bool Card::halfDone() const {
  const QWidget* at = focusWidget();
  if (!page_) return false;
  if (!at || !at->hasFocus()) {
    const auto lists = page_->findChildren<QComboBox*>();
    return std::any_of(lists.begin(), lists.end(),
                       [](const QComboBox* list) { return list->view()->isVisible(); });
  }
  if (const auto* line = qobject_cast<const QLineEdit*>(at)) return line->isModified();
  if (const auto* indicator = qobject_cast<const IndicatorEdit*>(at)) return indicator->isChanged();
  return false;
}

// What is being typed meanwhile is not taken away.
void Card::refreshBetween() {
  constexpr int kAgain = 300; // ms
  if (pending_ || asking_again_) return;
  asking_again_ = true;
  QTimer::singleShot(halfDone() ? kAgain : 0, this, [this] {
    asking_again_ = false;
    if (halfDone())
      refreshBetween();
    else if (!pending_)
      rebuild();
  });
}

void Card::rebuild() {
  pending_ = false;
  coverage_shown_ = coverageWords();
  const QString focused = focusWidget() ? focusWidget()->objectName() : QString();
  const bool had_focus = focusWidget() && focusWidget()->hasFocus();
  page_ = new QWidget;
  page_->setObjectName("card");
  layout_ = new QVBoxLayout(page_);
  layout_->setContentsMargins(16, 16, 14, 16);
  layout_->setSpacing(5);
  const auto& selection = document_.selection();
  if (document_.isOpen() && desk_ != Desk::Bench && !showsStep()) wrongSection();
  if (!document_.isOpen()) {
    paragraph("What is selected is shown and changed here. Open a part or a routine first.");
    link("Open …", "openHere", [this] { emit wanted("open"); });
  } else if (desk_ == Desk::Bench) {
    benchSection();
  } else if (showsStep()) {
    stepSection();
  } else if (!selection.faces.empty() && desk_ != Desk::Verdict) {
    bareFaces(selection.faces);
  } else if (desk_ == Desk::Verdict && selection.requirement) {
    verdictSection(document_.plan().spec.requirement(*selection.requirement));
    if (desk_ == Desk::Verdict) mapSection();
  } else if (desk_ == Desk::Rehearsal && selection.features.empty()) {
    clashSection();
  } else if (desk_ == Desk::Routine && selection.features.empty()) {
    bookSection();
    insertLinks();
  } else if (selection.features.empty() && !selection.requirement) {
    overview();
  } else {
    if (selection.requirement && desk_ == Desk::Part)
      requirementSection(document_.plan().spec.requirement(*selection.requirement));
    if (!selection.features.empty() && desk_ != Desk::Verdict) featureSections(selection.features);
    if (desk_ == Desk::Rehearsal) clashSection();
  }
  if (document_.isOpen() && desk_ == Desk::Part) rulerSection();
  const bool in_overview = selection.features.empty() && selection.faces.empty() &&
                           !selection.requirement && document_.section() &&
                           (desk_ == Desk::Part || desk_ == Desk::Verdict);
  if (document_.isOpen() && desk_ != Desk::Bench && !in_overview) sectionRows();
  layout_->addStretch();
  area_->setWidget(page_);
  // the field that was being edited stays the one with the keyboard
  if (had_focus && !focused.isEmpty())
    if (auto* again = page_->findChild<QWidget*>(focused)) again->setFocus();
}

void Card::title(const QString& heading, const QString& below) {
  auto* label = new QLabel(heading);
  label->setFont(theme_.strong(11));
  label->setWordWrap(true);
  layout_->addWidget(label);
  if (!below.isEmpty()) paragraph(below);
}

void Card::head(const QString& heading) {
  auto* label = new QLabel(heading.toUpper());
  label->setFont(theme_.strong(8));
  label->setProperty("role", "head");
  layout_->addSpacing(8);
  layout_->addWidget(label);
}

void Card::paragraph(const QString& words, const char* role) {
  auto* label = new QLabel(words);
  label->setFont(theme_.text(8.5));
  label->setWordWrap(true);
  label->setTextInteractionFlags(Qt::TextSelectableByMouse);
  label->setProperty("role", role);
  layout_->addWidget(label);
}

void Card::figureRow(const QString& label, const QString& value) {
  auto* line = new QHBoxLayout;
  auto* left = new QLabel(label);
  left->setWordWrap(true);
  auto* right = new QLabel(value);
  right->setFont(theme_.figures(9));
  right->setTextInteractionFlags(Qt::TextSelectableByMouse);
  line->addWidget(left, 1);
  line->addWidget(right);
  layout_->addLayout(line);
}

void Card::row(const QString& label, QWidget* field) {
  auto* line = new QHBoxLayout;
  auto* left = new QLabel(label);
  left->setBuddy(field);
  left->setWordWrap(true); // rather than widening the card
  field->setFont(qobject_cast<QComboBox*>(field) ? theme_.text(9) : theme_.figures(9));
  field->setFixedWidth(126);
  field->setAccessibleName(label);
  line->addWidget(left, 1);
  line->addWidget(field);
  layout_->addLayout(line);
}

// For whole sentences: the field over the width of the card, its label above.
void Card::wideRow(const QString& label, QWidget* field) {
  auto* above = new QLabel(label);
  above->setBuddy(field);
  field->setFont(theme_.text(9));
  field->setAccessibleName(label);
  layout_->addWidget(above);
  layout_->addWidget(field);
}

QPushButton* Card::link(const QString& words, const char* id, std::function<void()> pressed) {
  auto* button = new QPushButton;
  button->setObjectName(id);
  button->setProperty("role", "link");
  // A long one is cut rather than widening the card.
  button->setText(QFontMetrics(theme_.text()).elidedText(words, Qt::ElideRight, 226));
  if (button->text() != words) button->setToolTip(words);
  button->setAccessibleName(words);
  connect(button, &QPushButton::clicked, this, std::move(pressed));
  layout_->addWidget(button);
  return button;
}

QComboBox* Card::choice(const QString& label, const char* id, const QStringList& items, int current,
                        std::function<void(int)> chosen) {
  auto* box = new ChoiceBox;
  box->setObjectName(id);
  box->addItems(items);
  box->setCurrentIndex(current);
  connect(box, &QComboBox::activated, this, std::move(chosen));
  row(label, box);
  return box;
}

void Card::quantity(const QString& label, const char* id, Quantity kind, int decimals, double value,
                    std::function<void(double)> entered, const QString& word, double worded) {
  auto* edit = new QuantityEdit(kind, decimals);
  edit->setObjectName(id);
  edit->setValue(value);
  if (!word.isEmpty()) edit->setWordFor(worded, word);
  connect(edit, &QuantityEdit::entered, this, std::move(entered));
  row(label, edit);
}

void Card::overview() {
  const Plan& plan = document_.plan();
  title(text(plan.name), QString("%1 requirements, %2 features. Select one to see and change it.")
                             .arg(plan.spec.requirements.size())
                             .arg(plan.features.size()));
  if (document_.section()) sectionRows(); // where it is seen
  if (desk_ == Desk::Verdict) {
    runsSection();
    if (desk_ == Desk::Verdict) mapSection();
    compareSection();
  }
  head("Datums");
  for (const Datum& d : plan.spec.datums) {
    QString features;
    for (FeatureId f : d.features)
      features += (features.isEmpty() ? "" : ", ") + text(plan.nominal(f).name);
    figureRow(text(d.letter), features);
  }
  if (plan.spec.datums.empty()) paragraph("The model defines none.");
  headerSection();
  bodiesSection();
  viewsSection();
  specificationFields();
  constructedList();
  head(QString("Notes (%1)").arg(plan.notes.size()));
  if (plan.notes.empty()) paragraph("Everything in the file was taken over.");
  for (const Note& n : plan.notes)
    paragraph((n.entity ? QString("#%1 ").arg(n.entity) : QString()) + text(n.text));
}

} // namespace alder::app
