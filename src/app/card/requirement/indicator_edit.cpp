#include "card/requirement/indicator_edit.h"

#include "base/units.h"
#include "requirement/plane_indicator.h"
#include "theme/symbols.h"
#include <QKeyEvent>
#include <algorithm>
#include <array>
#include <cmath>

namespace alder::app {
namespace {

constexpr double kHeight = 26;
constexpr std::size_t kMostDatums = 3;

constexpr std::array kCharacteristics{
    Characteristic::Straightness,   Characteristic::Flatness,
    Characteristic::Roundness,      Characteristic::Cylindricity,
    Characteristic::LineProfile,    Characteristic::SurfaceProfile,
    Characteristic::Parallelism,    Characteristic::Perpendicularity,
    Characteristic::Angularity,     Characteristic::Position,
    Characteristic::Coaxiality,     Characteristic::Symmetry,
    Characteristic::CircularRunout, Characteristic::TotalRunout};

MaterialModifier after(MaterialModifier m, int step) {
  const int next = (static_cast<int>(m) + step + 3) % 3; // none, maximum, least
  return static_cast<MaterialModifier>(next);
}

MaterialModifier toggled(MaterialModifier now, MaterialModifier wanted) {
  return now == wanted ? MaterialModifier::None : wanted;
}

} // namespace

IndicatorEdit::IndicatorEdit(const Theme& theme, Requirement requirement, QWidget* parent)
    : QWidget(parent)
    , theme_(theme)
    , kept_(std::move(requirement))
    , draft_(kept_) {
  setObjectName("indicator");
  setAccessibleName("Tolerance indicator");
  setFocusPolicy(Qt::StrongFocus);
  setFixedHeight(static_cast<int>(kHeight) + 26);
  setToolTip("Click a compartment or press Tab to edit it");
}

int IndicatorEdit::cellCount() const {
  return 2 + static_cast<int>(std::min(draft_.datums.size() + 1, kMostDatums));
}

void IndicatorEdit::setCompartment(int cell) {
  cell_ = std::clamp(cell, 0, cellCount() - 1);
  typed_.clear();
  update();
}

QString IndicatorEdit::hint() const {
  if (!hasFocus()) return {};
  if (cell_ == 0) return "↑ ↓ or a first letter · → value";
  if (cell_ == 1) return "digits · D ⌀ · M L R modifiers · → datums";
  return "letter · - joins · ↑ ↓ modifier · ⌫ removes";
}

void IndicatorEdit::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  cells_.clear();
  // The next datum is typed where plane indicators stand.
  Requirement shown = hasFocus() ? withoutIndicators(draft_) : draft_;
  shown.standard = standard_;
  const double middle = 1 + kHeight / 2;
  const double end = drawCallout(p, theme_, {0.5, middle}, shown, kHeight, &cells_);
  if (!hasFocus()) return;
  if (static_cast<int>(cells_.size()) < cellCount()) { // room for a further datum
    cells_.push_back(QRectF(end, middle - kHeight / 2, kHeight, kHeight));
    p.setPen(QPen(theme_.color("second"), 1, Qt::DotLine));
    p.drawRect(cells_.back());
  }
  const QRectF here = cells_[static_cast<std::size_t>(cell_)];
  p.setPen(QPen(theme_.color("accent"), 2));
  p.drawRect(here.adjusted(1, 1, -1, -1));
  p.drawLine(here.bottomLeft() + QPointF(0, 2.5), here.bottomRight() + QPointF(0, 2.5));
  p.setFont(theme_.text(8));
  p.setPen(theme_.color("second"));
  p.drawText(QRectF(0, kHeight + 6, width(), 18), Qt::AlignLeft | Qt::AlignVCenter, hint());
}

bool IndicatorEdit::typeCharacteristic(const QString& key, int step) {
  const auto now = std::find(kCharacteristics.begin(), kCharacteristics.end(), draft_.kind);
  const auto index = static_cast<int>(now - kCharacteristics.begin());
  const int count = static_cast<int>(kCharacteristics.size());
  if (step != 0) {
    draft_.kind = kCharacteristics[static_cast<std::size_t>((index + step + count) % count)];
    return true;
  }
  // The next one that begins with the letter.
  for (int k = 1; k <= count && key.size() == 1; ++k) {
    const auto kind = kCharacteristics[static_cast<std::size_t>((index + k) % count)];
    if (QString::fromUtf8(name(kind).data()).startsWith(key, Qt::CaseInsensitive)) {
      draft_.kind = kind;
      return true;
    }
  }
  return false;
}

bool IndicatorEdit::typeValue(const QString& key, int step) {
  if (step != 0) { // by one in the last place
    const double unit = draft_.tolerance >= 1 ? 0.1 : draft_.tolerance >= 0.1 ? 0.01 : 0.001;
    draft_.tolerance = std::max(unit, std::round((draft_.tolerance + step * unit) / unit) * unit);
    draft_.upper = draft_.tolerance;
    typed_.clear();
    return true;
  }
  const QChar c = key.isEmpty() ? QChar() : key[0].toUpper();
  if (c.isDigit() || c == '.' || c == ',') {
    const QString next = typed_ + (c == ',' ? QChar('.') : c);
    bool good = false;
    const double value = next == "." ? 0 : next.toDouble(&good);
    if (!good && next != ".") return false;
    typed_ = next;
    draft_.tolerance = draft_.upper = value;
    return true;
  }
  if (c == 'D' || c == QChar(0x2300) || c == QChar(0xd8)) {
    draft_.zone = static_cast<Zone>((static_cast<int>(draft_.zone) + 1) % 3);
    return true;
  }
  if (c == 'R') {
    draft_.reciprocity = !draft_.reciprocity;
    return true;
  }
  if (c != 'M' && c != 'L') return false;
  draft_.material =
      toggled(draft_.material, c == 'M' ? MaterialModifier::Maximum : MaterialModifier::Least);
  return true;
}

bool IndicatorEdit::typeDatum(const QString& key, int step) {
  const auto index = static_cast<std::size_t>(cell_ - 2);
  if (step != 0) {
    if (index >= draft_.datums.size()) return false;
    draft_.datums[index].material = after(draft_.datums[index].material, step);
    return true;
  }
  if (key == "-" && index < draft_.datums.size()) {
    typed_ = "-"; // the next letter joins
    return false;
  }
  if (key.size() != 1 || !key[0].isLetter()) return false;
  const std::string letter = key.toUpper().toStdString();
  if (index >= draft_.datums.size())
    draft_.datums.push_back({{letter}, MaterialModifier::None, {}});
  else if (typed_ == "-")
    draft_.datums[index].letters.push_back(letter);
  else
    draft_.datums[index].letters = {letter};
  typed_.clear();
  return true;
}

void IndicatorEdit::erase() {
  if (cell_ == 1) {
    typed_.chop(1);
    draft_.tolerance = draft_.upper = typed_.toDouble();
  }
  const auto index = static_cast<std::size_t>(cell_ - 2);
  if (cell_ < 2 || index >= draft_.datums.size()) return;
  if (draft_.datums[index].letters.size() > 1)
    draft_.datums[index].letters.pop_back();
  else
    draft_.datums.erase(draft_.datums.begin() + static_cast<long>(index));
}

void IndicatorEdit::change() {
  update();
  emit drafted(draft_);
}

void IndicatorEdit::commit() {
  typed_.clear();
  if (draft_ == kept_) return;
  kept_ = draft_;
  emit entered(draft_);
}

bool IndicatorEdit::event(QEvent* e) {
  if (e->type() == QEvent::ShortcutOverride) {
    const auto* key = static_cast<QKeyEvent*>(e);
    if (!(key->modifiers() & (Qt::ControlModifier | Qt::AltModifier))) {
      e->accept();
      return true;
    }
  }
  return QWidget::event(e);
}

void IndicatorEdit::keyPressEvent(QKeyEvent* e) {
  if (e->modifiers() & (Qt::ControlModifier | Qt::AltModifier)) return QWidget::keyPressEvent(e);
  switch (e->key()) {
  case Qt::Key_Left:
    return setCompartment(cell_ - 1);
  case Qt::Key_Right:
    return setCompartment(cell_ + 1);
  case Qt::Key_Home:
    return setCompartment(0);
  case Qt::Key_End:
    return setCompartment(cellCount() - 1);
  case Qt::Key_Return:
  case Qt::Key_Enter:
    return commit();
  case Qt::Key_Escape:
    draft_ = kept_;
    typed_.clear();
    setCompartment(cell_);
    return change();
  case Qt::Key_Backspace:
  case Qt::Key_Delete:
    erase();
    return change();
  default:
    break;
  }
  const int step = e->key() == Qt::Key_Up ? 1 : e->key() == Qt::Key_Down ? -1 : 0;
  const QString key = e->text();
  const bool changed = cell_ == 0   ? typeCharacteristic(key, -step)
                       : cell_ == 1 ? typeValue(key, step)
                                    : typeDatum(key, step);
  if (changed) return change();
  if (key.isEmpty()) QWidget::keyPressEvent(e);
}

void IndicatorEdit::mousePressEvent(QMouseEvent* e) {
  setFocus(Qt::MouseFocusReason);
  for (std::size_t i = 0; i < cells_.size(); ++i)
    if (cells_[i].adjusted(0, -2, 0, 2).contains(e->position()))
      setCompartment(static_cast<int>(i));
}

void IndicatorEdit::focusInEvent(QFocusEvent*) {
  update();
}

void IndicatorEdit::focusOutEvent(QFocusEvent*) {
  update();
  commit();
}

} // namespace alder::app
