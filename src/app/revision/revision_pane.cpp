#include "revision/revision_pane.h"

#include <QHBoxLayout>
#include <QKeyEvent>
#include <QPainter>
#include <QSignalBlocker>
#include <QStyledItemDelegate>
#include <QVBoxLayout>

namespace alder::app {
namespace {

constexpr int kTitleHeight = 20, kWordsHeight = 34;
constexpr double kCrop = 62; // mm of a page beside the spot

QString plain(const std::string& s) {
  return QString::fromStdString(s);
}

std::set<FaceId> facesOf(const Specification& spec, const std::vector<FeatureId>& features) {
  std::set<FaceId> faces;
  for (const FeatureId id : features)
    if (const NominalFeature* f = spec.features.find(id))
      faces.insert(f->faces.begin(), f->faces.end());
  return faces;
}

std::set<FaceId> litOf(const RevisionEntry& e, const Revision& revision, const Plan& older,
                       bool before) {
  const auto& direct = before ? e.before : e.now;
  if (!direct.empty() || e.subject == RevisionSubject::Model) return {direct.begin(), direct.end()};
  const auto features = [&](const auto& of) {
    return of ? of->features : std::vector<FeatureId>();
  };
  const Specification& spec = before ? older.spec : revision.carried;
  if (e.subject == RevisionSubject::Datum)
    return facesOf(spec, features(before ? e.datum_was : e.datum_is));
  return facesOf(spec, features(before ? e.was : e.is));
}

QString wordsOf(RevisionSubject subject) {
  switch (subject) {
  case RevisionSubject::Model:
    return "Model";
  case RevisionSubject::Touches:
    return "Touches";
  case RevisionSubject::Header:
    return "Part data";
  case RevisionSubject::Datum:
    return "Datum";
  case RevisionSubject::Requirement:
    return "Requirement";
  }
  return {};
}

constexpr int kDetail = Qt::UserRole, kSubject = Qt::UserRole + 1;

// Its mark, what it is, below it what differs, and what it speaks of on the right.
class EntryRow : public QStyledItemDelegate {
 public:
  EntryRow(const Theme& theme, QObject* parent)
      : QStyledItemDelegate(parent)
      , theme_(theme) {}

  QSize sizeHint(const QStyleOptionViewItem&, const QModelIndex& index) const override {
    return {100, index.data(kDetail).toString().isEmpty() ? 26 : 40};
  }
  void paint(QPainter* p, const QStyleOptionViewItem& option,
             const QModelIndex& index) const override {
    p->save();
    const QRect r = option.rect;
    if (option.state.testFlag(QStyle::State_Selected)) {
      p->fillRect(r, theme_.color("accent_soft"));
      p->fillRect(QRect(r.left(), r.top(), 3, r.height()), theme_.color("accent"));
    }
    index.data(Qt::DecorationRole)
        .value<QIcon>()
        .paint(p, QRect(r.left() + 10, r.top() + 5, 16, 16));
    const QString subject = index.data(kSubject).toString(),
                  detail = index.data(kDetail).toString();
    p->setFont(theme_.text(8.5));
    const int side = p->fontMetrics().horizontalAdvance(subject) + 12;
    p->setPen(theme_.color("second"));
    p->drawText(r.adjusted(0, 5, -10, 0), Qt::AlignRight | Qt::AlignTop, subject);
    const QRect lines = r.adjusted(34, 4, -10, -3);
    p->drawText(lines.adjusted(0, 17, 0, 0), Qt::AlignLeft | Qt::AlignTop,
                p->fontMetrics().elidedText(detail, Qt::ElideRight, lines.width()));
    p->setFont(theme_.text(9.5));
    p->setPen(theme_.color("ink"));
    p->drawText(lines, Qt::AlignLeft | Qt::AlignTop,
                p->fontMetrics().elidedText(index.data(Qt::DisplayRole).toString(), Qt::ElideRight,
                                            lines.width() - side));
    p->setPen(theme_.color("line"));
    p->drawLine(r.left() + 34, r.bottom(), r.right() - 10, r.bottom());
    p->restore();
  }

 private:
  const Theme& theme_;
};

} // namespace

EntryPicture::EntryPicture(const Theme& theme, const QString& title)
    : theme_(theme)
    , title_(title) {
  setMinimumSize(120, 120);
  setAccessibleName(title);
}

QSize EntryPicture::pictureSize() const {
  return {std::max(width() - 12, 40), std::max(height() - kTitleHeight - kWordsHeight, 40)};
}

void EntryPicture::show(const QImage& image, const QString& words, const QString& instead) {
  image_ = image, words_ = words, instead_ = instead;
  setToolTip(words);
  update();
}

void EntryPicture::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::SmoothPixmapTransform);
  p.setFont(theme_.strong(8.5));
  p.setPen(theme_.color("second"));
  p.drawText(QRect(8, 0, width() - 12, kTitleHeight), Qt::AlignVCenter, title_);
  const QRect frame(QPoint(6, kTitleHeight), pictureSize());
  p.fillRect(frame, theme_.color("field"));
  if (!image_.isNull()) {
    const QSize size = image_.size().scaled(frame.size(), Qt::KeepAspectRatio);
    p.drawImage(QRect(frame.center() - QPoint(size.width() / 2, size.height() / 2), size), image_);
  } else {
    p.setFont(theme_.text(9));
    p.drawText(frame.adjusted(8, 8, -8, -8), Qt::AlignCenter | Qt::TextWordWrap, instead_);
  }
  p.setPen(theme_.color("line"));
  p.drawRect(frame.adjusted(0, 0, -1, -1));
  p.setFont(theme_.text(9));
  p.setPen(theme_.color("ink"));
  p.drawText(QRect(8, frame.bottom() + 3, width() - 14, kWordsHeight - 4),
             Qt::AlignTop | Qt::TextWordWrap, words_);
}

void EntryPicture::resizeEvent(QResizeEvent*) {
  emit resized();
}

RevisionPane::RevisionPane(Document& document, OpenRevision& revision, const Theme& theme)
    : document_(document)
    , revision_(revision)
    , theme_(theme)
    , heading_(new QLabel)
    , says_(new QLabel)
    , before_(new EntryPicture(theme, "Before"))
    , now_(new EntryPicture(theme, "Now"))
    , list_(new QListWidget)
    , take_(new QPushButton("Take over"))
    , leave_(new QPushButton("Leave as it was"))
    , finish_(new QPushButton("Finish"))
    , give_up_(new QPushButton("Give up")) {
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(0, 0, 0, 0);
  layout->setSpacing(0);
  auto* head = new QWidget;
  head->setObjectName("actionBar");
  auto* head_rows = new QVBoxLayout(head);
  head_rows->setContentsMargins(10, 6, 10, 6);
  head_rows->setSpacing(2);
  heading_->setFont(theme.strong(10));
  heading_->setObjectName("revisionNames");
  says_->setFont(theme.text(8.5));
  says_->setObjectName("revisionSays");
  says_->setWordWrap(true);
  head_rows->addWidget(heading_);
  head_rows->addWidget(says_);
  layout->addWidget(head);
  auto* pictures = new QHBoxLayout;
  pictures->setSpacing(0);
  pictures->addWidget(before_, 1);
  pictures->addWidget(now_, 1);
  layout->addLayout(pictures, 5);
  list_->setObjectName("revisionList");
  list_->setAccessibleName("What the revision changes");
  list_->setItemDelegate(new EntryRow(theme_, list_));
  list_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
  list_->installEventFilter(this);
  layout->addWidget(list_, 4);
  auto* strip = new QWidget;
  strip->setObjectName("actionBar");
  auto* buttons = new QHBoxLayout(strip);
  buttons->setContentsMargins(10, 6, 10, 6);
  buttons->setSpacing(6);
  take_->setObjectName("takeEntry"), leave_->setObjectName("leaveEntry");
  finish_->setObjectName("finishRevision"), give_up_->setObjectName("giveUpRevision");
  take_->setToolTip("Enter"), leave_->setToolTip("Delete"), finish_->setToolTip("Ctrl+Alt+Enter");
  for (QPushButton* b : {take_, leave_})
    buttons->addWidget(b);
  buttons->addStretch(1);
  for (QPushButton* b : {give_up_, finish_})
    buttons->addWidget(b);
  layout->addWidget(strip);
  connect(take_, &QPushButton::clicked, this, [this] { decideCurrent(Decision::Taken); });
  connect(leave_, &QPushButton::clicked, this, [this] { decideCurrent(Decision::Left); });
  connect(finish_, &QPushButton::clicked, &revision_, &OpenRevision::finish);
  connect(give_up_, &QPushButton::clicked, &revision_, &OpenRevision::giveUp);
  connect(list_, &QListWidget::currentRowChanged, this, [this] {
    select();
    refreshPictures();
  });
  connect(&revision_, &OpenRevision::changed, this, &RevisionPane::refresh);
  connect(&revision_, &OpenRevision::pictured, this, &RevisionPane::refreshPictures);
  connect(before_, &EntryPicture::resized, this, &RevisionPane::refreshPictures,
          Qt::QueuedConnection);
  refresh();
}

std::optional<std::size_t> RevisionPane::current() const {
  const int row = list_->currentRow();
  if (row < 0 || !revision_.revision()) return {};
  return static_cast<std::size_t>(row);
}

// Open: a ring; taken over: a disc with a tick; left: a ring that is crossed.
QIcon RevisionPane::mark(std::size_t entry) const {
  QPixmap pixmap(32, 32);
  pixmap.setDevicePixelRatio(2);
  pixmap.fill(Qt::transparent);
  QPainter p(&pixmap);
  p.setRenderHint(QPainter::Antialiasing);
  const QRectF ring(2, 2, 12, 12);
  const Decision d = revision_.decision(entry);
  if (d == Decision::Taken) {
    p.setPen(Qt::NoPen);
    p.setBrush(theme_.color("within"));
    p.drawEllipse(ring);
    p.setPen(QPen(theme_.color("panel"), 1.8));
    p.drawPolyline(QPolygonF{{4.8, 8.2}, {7.2, 10.6}, {11.2, 5.6}});
  } else {
    p.setPen(QPen(theme_.color(d == Decision::Left ? "second" : "accent"), 1.6));
    p.drawEllipse(ring);
    if (d == Decision::Left) p.drawLine(QPointF(4, 12), QPointF(12, 4));
  }
  return QIcon(pixmap);
}

void RevisionPane::refresh() {
  heading_->setText(revision_.names());
  const Revision* r = revision_.revision();
  for (QPushButton* b : {take_, leave_, finish_})
    b->setEnabled(r != nullptr);
  if (!r) {
    says_->setText(revision_.active() ? "Being read and compared with the routine …" : QString());
    const QSignalBlocker quiet(list_);
    list_->clear();
    listed_ = nullptr;
    refreshPictures();
    return;
  }
  QString words =
      r->entries.empty()
          ? "Nothing differs"
          : QString("%1 of %2 to be gone through").arg(revision_.open()).arg(r->entries.size());
  words += QString(" · %1 requirement%2 as they are")
               .arg(r->stayed)
               .arg(r->stayed == 1 ? " stays" : "s stay");
  for (const std::string& note : r->notes)
    words += " · " + plain(note);
  says_->setText(words);
  finish_->setEnabled(revision_.open() == 0);
  std::string told;
  for (const RevisionEntry& e : r->entries)
    told += e.words + "\n" + e.detail + "\n";
  if (listed_ != r || listed_words_ != told) {
    const int row = std::max(0, list_->currentRow());
    const QSignalBlocker quiet(list_);
    list_->clear();
    for (const RevisionEntry& e : r->entries) {
      auto* item = new QListWidgetItem(plain(e.words), list_);
      item->setData(kDetail, plain(e.detail));
      item->setData(kSubject, wordsOf(e.subject));
      item->setToolTip(plain(e.detail.empty() ? e.words : e.words + "\n" + e.detail));
    }
    listed_ = r, listed_words_ = told;
    viewed_ = {};
    if (list_->count() > 0) list_->setCurrentRow(std::min(row, list_->count() - 1));
  }
  for (int i = 0; i < list_->count(); ++i)
    list_->item(i)->setIcon(mark(static_cast<std::size_t>(i)));
  select();
  refreshPictures();
}

void RevisionPane::select() {
  const auto at = current();
  if (!at || !isVisible()) return;
  const RevisionEntry& e = revision_.revision()->entries[*at];
  leave_->setEnabled(!e.settled);
  const Plan& plan = document_.plan();
  if (e.was && plan.spec.requirements.holds(e.was->id)) {
    document_.selectRequirement(e.was->id);
    return;
  }
  std::vector<FeatureId> features;
  for (const FeatureId id : e.features)
    if (plan.spec.features.holds(id)) features.push_back(id);
  if (features.empty())
    document_.clearSelection();
  else
    document_.selectFeatures(features);
}

RevisionPane::Side RevisionPane::side(const RevisionEntry& e, bool older, const QSize& size) {
  const Revision& r = *revision_.revision();
  const Plan& plan = revision_.older();
  const auto& asked = older ? e.was : e.is;
  Side side;
  if (asked) side.words = plain(describe(older ? plan.spec : r.carried, *asked));
  if (e.subject == RevisionSubject::Requirement && !asked) {
    side.instead = older ? "It was not asked for" : "It is no longer asked for";
    return side;
  }
  if (asked)
    if (const auto spot = revision_.spotOf(*asked, older)) {
      if (spot->page.isNull()) {
        side.instead = "The page is being drawn …";
        side.waits = true;
        return side;
      }
      const double aspect = static_cast<double>(size.height()) / size.width();
      const QPointF middle(spot->at.x() * spot->dots_per_mm,
                           (spot->height - spot->at.y()) * spot->dots_per_mm);
      const QSizeF crop(kCrop * spot->dots_per_mm, kCrop * aspect * spot->dots_per_mm);
      const QRectF wanted(middle - QPointF(crop.width() / 2, crop.height() / 2), crop);
      side.image = spot->page.copy(wanted.toRect());
      QPainter p(&side.image);
      p.setRenderHint(QPainter::Antialiasing);
      p.setPen(QPen(theme_.color("accent"), 0.5 * spot->dots_per_mm));
      const double w = 26 * spot->dots_per_mm, h = 9 * spot->dots_per_mm;
      p.drawRoundedRect(QRectF(crop.width() / 2 - w / 2, crop.height() / 2 - h / 2, w, h), 8, 8);
      return side;
    }
  const auto lit = litOf(e, r, plan, older);
  if (lit.empty() && e.subject == RevisionSubject::Model) {
    side.instead = older ? "It was not there" : "It is gone";
  }
  side.part = older ? plan.part : r.part;
  side.lit = lit;
  if (side.words.isEmpty()) side.words = side.instead;
  return side;
}

void RevisionPane::refreshPictures() {
  const auto at = current();
  if (!at || !isVisible()) {
    viewed_ = {};
    before_->show({}, {}, {});
    now_->show({}, {}, revision_.active() ? "" : "Nothing to compare");
    return;
  }
  const Revision& r = *revision_.revision();
  const RevisionEntry& e = r.entries[*at];
  const QSize size = before_->pictureSize();
  const auto shown = std::tuple(&r, *at, size.width(), size.height());
  if (shown == viewed_ && !pictures_open_) return; // these they are
  viewed_ = shown;
  const Side before = side(e, true, size), now = side(e, false, size);
  pictures_open_ = before.waits || now.waits;
  before_->show(before.image, before.words, before.instead);
  now_->show(now.image, now.words, now.instead);
  if (before.part || now.part) drawParts(before, now, size);
}

// Beside the window: a part may have millions of triangles.
void RevisionPane::drawParts(const Side& before, const Side& now, const QSize& size) {
  const PartColors colors{theme_.color("field"), theme_.color("part_grey"), theme_.color("accent"),
                          theme_.color("ink")};
  const PartPtr was = revision_.older().part, is = revision_.revision()->part;
  painter_.start("Drawing the part", [=, this, of = viewed_](const Progress&) {
    const double aspect = static_cast<double>(size.width()) / size.height();
    const PartView view = likelyView(*was, before.lit, *is, now.lit, aspect);
    QImage left, right;
    if (before.part) left = drawPart(*before.part, before.lit, view, size, colors);
    if (now.part) right = drawPart(*now.part, now.lit, view, size, colors);
    return JobRunner::Apply([=, this] {
      if (of != viewed_) return;
      if (before.part) before_->show(left, before.words, {});
      if (now.part) now_->show(right, now.words, {});
    });
  });
}

void RevisionPane::decideCurrent(Decision decision) {
  const auto at = current();
  if (!at) return;
  revision_.decide(*at, decision);
  if (revision_.decision(*at) != decision) return;
  const auto count = static_cast<std::size_t>(list_->count());
  for (std::size_t k = 1; k <= count; ++k) {
    const std::size_t next = (*at + k) % count;
    if (revision_.decision(next) != Decision::Open) continue;
    list_->setCurrentRow(static_cast<int>(next));
    return;
  }
  emit document_.message("All are decided on; Finish (Ctrl+Alt+Enter) changes the routine", false);
}

bool RevisionPane::eventFilter(QObject* watched, QEvent* event) {
  if (watched == list_ && event->type() == QEvent::KeyPress) {
    const auto* key = static_cast<QKeyEvent*>(event);
    const bool enter = key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter;
    if (enter && key->modifiers() == Qt::NoModifier) {
      decideCurrent(Decision::Taken);
      return true;
    }
    if (key->key() == Qt::Key_Delete || key->key() == Qt::Key_Backspace) {
      decideCurrent(Decision::Left);
      return true;
    }
  }
  return QWidget::eventFilter(watched, event);
}

} // namespace alder::app
