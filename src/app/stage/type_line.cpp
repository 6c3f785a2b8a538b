#include "stage/type_line.h"

#include "base/units.h"
#include "requirement/likely.h"
#include "requirement/model_figure.h"
#include "theme/symbols.h"
#include <QKeyEvent>
#include <QPainter>
#include <QSettings>
#include <QStyle>
#include <QVBoxLayout>

namespace alder::app {
namespace {

constexpr int kWidth = 520, kDrawn = 40; // height of the drawn callout
constexpr const char* kInch = "typed_in_inch";

QString words(const std::string& text) {
  return QString::fromStdString(text);
}

} // namespace

TypeLine::TypeLine(Document& document, const Theme& theme, QWidget* parent)
    : QFrame(parent)
    , document_(document)
    , theme_(theme)
    , target_(new QLabel)
    , says_(new QLabel)
    , line_(new QLineEdit) {
  setObjectName("typeLine");
  auto* layout = new QVBoxLayout(this);
  layout->setContentsMargins(14, 10, 14, 10);
  layout->setSpacing(6);
  target_->setObjectName("typeTarget");
  target_->setFont(theme.text(8.5));
  line_->setObjectName("typed");
  line_->setFont(theme.figures(11));
  line_->setAccessibleName("Requirement on what is picked");
  says_->setObjectName("typeSays");
  says_->setFont(theme.text(8.5));
  says_->setWordWrap(true);
  says_->setTextFormat(Qt::RichText);
  layout->addWidget(target_);
  layout->addWidget(line_);
  layout->addSpacing(kDrawn);
  layout->addWidget(says_);
  line_->installEventFilter(this);
  parent->installEventFilter(this);
  connect(line_, &QLineEdit::textChanged, this, &TypeLine::refresh);
  for (auto signal : {&Document::selectionChanged, &Document::planChanged})
    connect(&document_, signal, this, [this] {
      if (!isVisible()) return;
      refresh();
      line_->setFocus();
    });
  connect(&document_, &Document::opening, this, [this] {
    line_->clear();
    hide();
  });
  hide();
}

void TypeLine::begin() {
  if (!document_.isOpen()) return;
  spot_.reset();
  show();
  raise();
  refresh();
  line_->selectAll();
  line_->setFocus();
}

void TypeLine::begin(const QString& text, const DrawingSpot& spot) {
  begin();
  line_->setText(text);
  spot_ = spot;
}

// Below in the middle of the stage, as high as it needs.
void TypeLine::place() {
  const QSize room = parentWidget()->size();
  const int width = std::min(kWidth, room.width() - 24);
  says_->setFixedWidth(width - 28);
  layout()->activate();
  const int height = sizeHint().height();
  setGeometry((room.width() - width) / 2, room.height() - height - 14, width, height);
}

void TypeLine::refresh() {
  const QString text = line_->text();
  const bool inch = QSettings().value(kInch, false).toBool();
  const auto preview = document_.typedPreview(text, inch);
  const TypedTarget& target = preview.target;
  drawn_.reset();
  QString names;
  constexpr std::size_t kNamed = 3;
  for (std::size_t i = 0; i < std::min(kNamed, target.features.size()); ++i)
    names += (i ? ", " : "") + words(target.spec.feature(target.features[i]).name);
  if (target.features.size() > kNamed)
    names += QString(" and %1 more").arg(target.features.size() - kNamed);
  if (target.features.size() > target.picked) names += " · alike, taken together";
  target_->setText(
      target.features.empty()
          ? QString("Pick what the requirement speaks of; Ctrl adds")
          : "On " + names +
                (inch ? " · figures in inch (Ctrl+U: mm)" : " · figures in mm (Ctrl+U: inch)"));
  QString says;
  bool bad = false;
  if (text.trimmed().isEmpty()) {
    says = proposal(preview);
  } else if (preview.fault) {
    says = faultWords(*preview.fault), bad = true;
  } else if (!preview.error.empty()) {
    says = words(preview.error).toHtmlEscaped(), bad = true;
  } else if (preview.typed.front().what == TypedWhat::Datum) {
    says = "Enter names it datum " + words(preview.typed.front().words);
  } else {
    drawn_ = preview.laid.requirements.front();
    for (const std::string& remark : preview.laid.remarks)
      says += (says.isEmpty() ? "" : "<br>") + words(remark).toHtmlEscaped();
    if (!says.isEmpty())
      says = QString("<span style=\"color:%1\">%2</span>").arg(theme_.color("near").name(), says);
    if (target.alike > 0 && target.features.size() == 1)
      says += QString("%1%2 more like it on the part: write %3x before it for all")
                  .arg(says.isEmpty() ? "" : "<br>")
                  .arg(target.alike)
                  .arg(target.alike + 1);
    if (says.isEmpty()) says = "Enter adds it";
  }
  says_->setText(
      bad ? QString("<span style=\"color:%1\">%2</span>").arg(theme_.color("outside").name(), says)
          : says);
  line_->setProperty("bad", bad);
  line_->style()->unpolish(line_); // the property counts from now on
  line_->style()->polish(line_);
  place();
  update();
}

// The text once more, with what is not understood in it marked.
QString TypeLine::faultWords(const TextFault& fault) const {
  const auto characters = line_->text().toUcs4();
  const auto piece = [&](std::size_t from, std::size_t to) {
    to = std::min(to, static_cast<std::size_t>(characters.size()));
    if (from >= to) return QString();
    return QString::fromUcs4(reinterpret_cast<const char32_t*>(characters.data()) + from,
                             static_cast<qsizetype>(to - from))
        .toHtmlEscaped();
  };
  const QString marked = piece(fault.at, fault.at + fault.length);
  return piece(0, fault.at) + "<b><u>" + (marked.trimmed().isEmpty() ? QString("␣") : marked) +
         "</u></b>" + piece(fault.at + fault.length, 1000) + " – " +
         words(fault.says).toHtmlEscaped();
}

// What the model says of it, and what can be written.
QString TypeLine::proposal(const Document::TypedPreview& preview) const {
  const TypedTarget& t = preview.target;
  if (t.features.empty())
    return "32 H7 · 48 ±0.1 · 6x ⌀11 +0.2/0 · 45° ±0.5° · ⌀0.05 M A B · flat 0.02 · datum A";
  Requirement r;
  r.features = t.features;
  const Ideal& first = t.spec.feature(t.features.front()).ideal;
  QString model;
  for (const Characteristic kind :
       {Characteristic::Size, Characteristic::Distance, Characteristic::Angle}) {
    r.kind = kind;
    if (t.picked == 2 && kind == Characteristic::Size)
      continue; // of two picked ones what lies between them is meant more often
    if (const auto figure = modelFigure(t.spec, r); figure && *figure > 0) {
      const bool angle = kind == Characteristic::Angle;
      const char* sign = kind == Characteristic::Size && hasAxis(first) ? "⌀" : "";
      model += (model.isEmpty() ? "The model has " : ", ") + QString(sign) +
               words(shortFigure(angle ? degrees(*figure) : *figure)) + (angle ? "°" : " mm");
    }
  }
  QString says = model.isEmpty() ? QString() : model + ": limits alone take it (H7, ±0.1).<br>";
  if (t.alike > 0 && t.features.size() == 1)
    says +=
        QString("%1 more like it on the part: %2x takes all.<br>").arg(t.alike).arg(t.alike + 1);
  return says + QString("Free letter: datum %1. Keys: d for ø, +- for ±, deg for °; Up brings back "
                        "what was typed before.")
                    .arg(words(freeDatumLetter(t.spec)));
}

void TypeLine::enter() {
  const QString text = line_->text().trimmed();
  if (text.isEmpty()) return;
  const bool inch = QSettings().value(kInch, false).toBool();
  if (!document_.typeRequirement(text, inch, spot_)) return refresh();
  spot_.reset();
  typed_.removeAll(text);
  typed_.append(text);
  recalled_ = typed_.size();
  line_->clear();
  refresh();
}

void TypeLine::recall(int step) {
  const qsizetype to = recalled_ + step;
  if (to < 0 || to > typed_.size()) return;
  recalled_ = to;
  line_->setText(to < typed_.size() ? typed_[to] : QString());
}

bool TypeLine::eventFilter(QObject* object, QEvent* event) {
  if (object == parent() && event->type() == QEvent::Resize && isVisible()) place();
  if (object != line_) return false;
  const bool override = event->type() == QEvent::ShortcutOverride;
  if (!override && event->type() != QEvent::KeyPress) return false;
  const auto* key = static_cast<QKeyEvent*>(event);
  const bool unit = key->key() == Qt::Key_U && key->modifiers() == Qt::ControlModifier;
  const bool own = key->key() == Qt::Key_Return || key->key() == Qt::Key_Enter ||
                   key->key() == Qt::Key_Escape || key->key() == Qt::Key_Up ||
                   key->key() == Qt::Key_Down || unit;
  if (override) {
    if (own) event->accept();
    return own;
  }
  if (!own || (key->modifiers() & ~Qt::KeypadModifier && !unit)) return false;
  if (unit) {
    QSettings().setValue(kInch, !QSettings().value(kInch, false).toBool());
    refresh();
  } else if (key->key() == Qt::Key_Escape) {
    hide();
    emit left();
  } else if (key->key() == Qt::Key_Up || key->key() == Qt::Key_Down) {
    recall(key->key() == Qt::Key_Up ? -1 : 1);
  } else {
    enter();
  }
  return true;
}

void TypeLine::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(QPen(theme_.color("accent"), 1));
  p.setBrush(theme_.color("panel"));
  p.drawRoundedRect(QRectF(rect()).adjusted(0.5, 0.5, -0.5, -0.5), 6, 6);
  const QPointF at(16, line_->geometry().bottom() + 6 + kDrawn / 2.0);
  if (drawn_) {
    drawCallout(p, theme_, at, document_.plan().spec.withStandard(*drawn_), 26);
  } else {
    p.setPen(theme_.color("second"));
    p.setFont(theme_.text(8.5));
    p.drawText(QRectF(at.x(), at.y() - 12, width() - 32.0, 24), Qt::AlignVCenter,
               "It is drawn here as it will stand.");
  }
}

} // namespace alder::app
