#include "theme/theme.h"

#include "base/files.h"
#include "bench/json_fields.h"
#include <QFontDatabase>
#include <QPainterPath>
#include <algorithm>

namespace alder::app {
namespace {

QString addFont(const char* file) {
  const auto path = dataFolder() / "assets" / "fonts" / file;
  const int id = QFontDatabase::addApplicationFont(QString::fromStdString(path.string()));
  const auto families = QFontDatabase::applicationFontFamilies(id);
  return families.isEmpty() ? QString() : families.first();
}

QColor mixed(const QColor& a, const QColor& b, double t) {
  return QColor::fromRgbF(static_cast<float>(a.redF() + (b.redF() - a.redF()) * t),
                          static_cast<float>(a.greenF() + (b.greenF() - a.greenF()) * t),
                          static_cast<float>(a.blueF() + (b.blueF() - a.blueF()) * t));
}

} // namespace

Result<Theme> Theme::load(bool dark) {
  auto text = readFile(dataFolder() / "assets" / "palette.json");
  if (!text) return pass(text.error());
  auto json = parseJson(*text, "palette.json");
  if (!json) return pass(json.error());
  const char* which = dark ? "dark" : "light";
  if (!json->contains(which)) return fail("palette.json: {} is missing.", which);
  Theme theme;
  for (const auto& [key, value] : (*json)[which].items())
    if (value.is_string())
      theme.colors_[key] = QColor(QString::fromStdString(value.get<std::string>()));
  theme.text_family_ = addFont("Inter-Regular.otf");
  addFont("Inter-Medium.otf");
  addFont("Inter-SemiBold.otf");
  theme.figure_family_ = addFont("JetBrainsMono-Regular.ttf");
  if (theme.text_family_.isEmpty() || theme.figure_family_.isEmpty())
    return fail("The fonts of Alderpoint are missing; install it again.");
  return theme;
}

const TextSetter& Theme::textSetter() const {
  if (!setter_) {
    auto made = TextSetter::create(); // the fonts are there, else there is no theme
    setter_ = std::shared_ptr<const TextSetter>(std::move(made.value()));
  }
  return *setter_;
}

QColor Theme::color(const char* name) const {
  const auto found = colors_.find(name);
  return found == colors_.end() ? QColor(255, 0, 255) : found->second;
}

QFont Theme::text(double points) const {
  QFont font(text_family_);
  font.setPointSizeF(points);
  return font;
}

QFont Theme::strong(double points) const {
  QFont font = text(points);
  font.setWeight(QFont::DemiBold);
  return font;
}

QFont Theme::figures(double points) const {
  QFont font(figure_family_);
  font.setPointSizeF(points);
  return font;
}

QColor Theme::verdictColor(Verdict verdict) const {
  switch (verdict) {
  case Verdict::Within:
    return color("within");
  case Verdict::Near:
  case Verdict::NotProved:
    return color("near");
  case Verdict::Outside:
    return color("outside");
  case Verdict::Unmeasured:
    break;
  }
  return color("unmeasured");
}

QColor Theme::deviationColor(double share) const {
  const double s = std::clamp(share, -1.0, 1.0);
  return mixed(color("middle"), color(s < 0 ? "low" : "high"), std::abs(s));
}

void Theme::drawVerdict(QPainter& p, const QPointF& c, double r, Verdict verdict) const {
  const QColor ink = verdictColor(verdict);
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(QPen(ink, 1.4));
  p.setBrush(Qt::NoBrush);
  switch (verdict) {
  case Verdict::Within:
    p.setBrush(ink);
    p.drawEllipse(c, r - 0.5, r - 0.5);
    break;
  case Verdict::Near: {
    p.drawEllipse(c, r - 0.5, r - 0.5);
    p.setBrush(ink);
    p.drawChord(QRectF(c.x() - r + 0.5, c.y() - r + 0.5, 2 * r - 1, 2 * r - 1), 0, 180 * 16);
    break;
  }
  case Verdict::Outside:
    p.setBrush(ink);
    [[fallthrough]];
  case Verdict::NotProved: // hollow
    p.drawPolygon(
        QPolygonF({c + QPointF(0, -r), c + QPointF(r, 0), c + QPointF(0, r), c + QPointF(-r, 0)}));
    break;
  case Verdict::Unmeasured:
    p.drawEllipse(c, r - 0.8, r - 0.8);
    break;
  }
  p.restore();
}

void Theme::drawBalloon(QPainter& p, const QPointF& c, double r, int number, const QColor& ring,
                        bool key) const {
  p.save();
  p.setRenderHint(QPainter::Antialiasing);
  p.setPen(QPen(ring, 1));
  p.setBrush(color("field"));
  p.drawEllipse(c, r, r);
  if (key) p.drawEllipse(c, r - 2.5, r - 2.5);
  p.setPen(color("ink"));
  p.setFont(figures(number > 99 ? 6.5 : 8));
  p.drawText(QRectF(c.x() - r, c.y() - r, 2 * r, 2 * r), Qt::AlignCenter, QString::number(number));
  p.restore();
}

QString Theme::styleSheet() const {
  const auto c = [&](const char* name) { return color(name).name(); };
  return QString(R"(
    QWidget { color: %1; }
    QMainWindow, #topBar, #help { background: %2; }
    QMenuBar { background: %2; padding-left: 10px; }
    QMenuBar::item { background: transparent; padding: 3px 8px; border-radius: 4px; }
    QMenuBar::item:selected { background: %8; }
    QMenu { background: %5; border: 1px solid %6; padding: 4px; }
    QMenu::item { padding: 4px 22px; border-radius: 3px; }
    QMenu::item:selected { background: %8; }
    QMenu::item:disabled { color: %4; }
    QMenu::separator { height: 1px; background: %6; margin: 4px 8px; }
    #offer { background: %8; }
    QTextBrowser { background: %2; border: none; }
    #actionBar { background: %3; }
    #sheet, #card, #bottom { background: %2; }
    QLabel { background: transparent; }
    QLabel[role="second"] { color: %4; }
    QLabel[role="head"] { color: %4; font-weight: 600; }
    QLabel[role="error"] { color: %9; }
    QPushButton { background: %5; border: 1px solid %6; border-radius: 5px; padding: 4px 12px; }
    QPushButton:hover { border-color: %7; }
    QPushButton:pressed { background: %8; }
    QPushButton:disabled { color: %4; background: %3; }
    QPushButton:focus { border-color: %7; }
    QPushButton[role="primary"] { background: %7; color: %5; border-color: %7; }
    QPushButton[role="primary"]:hover { border-color: %1; }
    QPushButton[role="desk"] { background: transparent; border: none; padding: 6px 16px; }
    QPushButton[role="desk"]:hover { background: %3; }
    QPushButton[role="desk"]:checked { background: %8; color: %1; font-weight: 600; }
    QPushButton[role="desk"]:focus { border: 1px solid %7; padding: 5px 15px; }
    QPushButton[role="link"] { background: transparent; border: none; color: %7; padding: 2px 4px; text-align: left; }
    QPushButton[role="link"]:focus { border: 1px solid %7; }
    QLineEdit, QComboBox { background: %5; border: 1px solid %6; border-radius: 4px; padding: 3px 6px; selection-background-color: %8; selection-color: %1; }
    QLineEdit:focus, QComboBox:focus { border-color: %7; }
    QLineEdit[bad="true"] { border-color: %9; }
    QLineEdit:read-only { background: %3; }
    QComboBox QAbstractItemView, QTableView { background: %5; selection-background-color: %8; selection-color: %1; }
    QComboBox::drop-down { border: none; width: 18px; }
    QComboBox::down-arrow { image: url("%10"); width: 10px; height: 10px; }
    QScrollArea, QListView, QTableWidget, QTreeWidget { background: %2; border: none; }
    QListWidget#recognisedList::item { padding: 3px 16px; border: none; background: transparent; }
    QListView::item:selected, QTableWidget::item:selected, QTreeWidget::item:selected { background: %8; color: %1; }
    QHeaderView::section { background: %2; border: none; border-bottom: 1px solid %6; color: %4; padding: 3px 6px; text-align: left; }
    QScrollBar:vertical { background: transparent; width: 9px; margin: 0; }
    QScrollBar:horizontal { background: transparent; height: 9px; margin: 0; }
    QScrollBar::handle { background: %6; border-radius: 4px; min-height: 24px; min-width: 24px; }
    QScrollBar::add-line, QScrollBar::sub-line { width: 0; height: 0; }
    QScrollBar::add-page, QScrollBar::sub-page { background: transparent; }
    QProgressBar { background: %6; border: none; border-radius: 3px; height: 6px; }
    QProgressBar::chunk { background: %7; border-radius: 3px; }
    QToolTip { background: %5; color: %1; border: 1px solid %6; padding: 4px; }
    QSplitter::handle { background: %6; }
    #rule { background: %6; }
  )")
      .arg(c("ink"), c("panel"), c("paper"), c("second"), c("field"), c("line"), c("accent"),
           c("accent_soft"), c("outside"),
           QString::fromStdString((dataFolder() / "assets" / "chevron.svg").string()));
}

} // namespace alder::app
