#include "stage/overlay.h"

#include "base/units.h"
#include "requirement/limits.h"
#include "requirement/member_numbers.h"
#include "theme/symbols.h"
#include <algorithm>
#include <cmath>

namespace alder::app {

StageOverlay::StageOverlay(Stage& stage, Document& document, const Theme& theme)
    : QWidget(&stage)
    , stage_(stage)
    , document_(document)
    , theme_(theme) {
  setAttribute(Qt::WA_TransparentForMouseEvents);
  setAttribute(Qt::WA_NoSystemBackground);
}

void StageOverlay::paintEvent(QPaintEvent*) {
  QPainter p(this);
  p.setRenderHint(QPainter::Antialiasing);
  callouts_.clear();
  if (const QString missing = stage_.view().missing(); !missing.isEmpty()) {
    p.fillRect(rect(), theme_.color("paper"));
    p.setPen(theme_.color("outside"));
    p.setFont(theme_.text(10));
    p.drawText(QRectF(40, 40, width() - 80, height() - 80), Qt::AlignCenter | Qt::TextWordWrap,
               missing);
    return;
  }
  if (!document_.isOpen()) return paintEmpty(p);
  paintAxes(p);
  paintSection(p); // below all labels
  if (stage_.desk() == Desk::Verdict) {
    paintScale(p);
    std::vector<QRectF> taken;
    paintResults(p, taken);
    paintPlaces(p, taken);
    paintUnshown(p);
    members_.clear();
    if (stage_.keptView()) paintCallouts(p);
  } else {
    placeMembers();
    paintCallouts(p);
    paintMembers(p);
    if (stage_.desk() == Desk::Part) paintRuler(p);
  }
  paintLit(p);
  paintCaptions(p);
}

// Where the operator touches, or the machine just does.
void StageOverlay::paintLit(QPainter& p) const {
  if (!document_.lit()) return;
  const QPointF at = stage_.project(*document_.lit());
  p.setBrush(Qt::NoBrush);
  p.setPen(QPen(theme_.color("paper"), 6));
  p.drawEllipse(at, 17, 17);
  p.setPen(QPen(theme_.color("accent"), 3));
  p.drawEllipse(at, 17, 17);
  p.setPen(QPen(theme_.color("accent"), 2));
  for (const QPointF& side : {QPointF(1, 0), QPointF(-1, 0), QPointF(0, 1), QPointF(0, -1)})
    p.drawLine(at + 17 * side, at + 27 * side);
}

void StageOverlay::paintRuler(QPainter& p) const {
  const auto& reading = document_.ruler();
  if (!reading || !reading->between || reading->figures.empty()) return;
  const Frame& placement = document_.plan().placement;
  const QPointF from = stage_.project(placement * reading->between->first),
                to = stage_.project(placement * reading->between->second);
  p.setPen(QPen(theme_.color("paper"), 5));
  p.drawLine(from, to);
  p.setPen(QPen(theme_.color("accent"), 2));
  p.drawLine(from, to);
  p.setBrush(theme_.color("accent"));
  for (const QPointF& end : {from, to})
    p.drawEllipse(end, 3, 3);
  const QString words = QString::fromStdString(figure(reading->figures.front().value, 4)) + " mm";
  p.setFont(theme_.figures(9));
  const double w = QFontMetricsF(p.font()).horizontalAdvance(words) + 16;
  QRectF box(QPointF(), QSizeF(w, 24));
  box.moveCenter((from + to) / 2 + QPointF(0, -20));
  box.moveLeft(std::clamp(box.left(), 12.0, std::max(12.0, width() - w - 12)));
  box.moveTop(std::clamp(box.top(), 42.0, std::max(42.0, height() - 40.0)));
  chip(p, box, theme_.color("accent"));
  p.setPen(theme_.color("ink"));
  p.drawText(box, Qt::AlignCenter, words);
}

void StageOverlay::chip(QPainter& p, const QRectF& box, const QColor& border) const {
  p.setPen(border.isValid() ? QPen(border, 1) : QPen(Qt::NoPen));
  QColor fill = theme_.color("panel");
  fill.setAlphaF(0.92f);
  p.setBrush(fill);
  p.drawRoundedRect(box, 4, 4);
}

void StageOverlay::paintEmpty(QPainter& p) const {
  p.setPen(theme_.color("ink"));
  p.setFont(theme_.strong(14));
  p.drawText(QRectF(0, height() / 2.0 - 50, width(), 30), Qt::AlignCenter,
             "Open a part or a routine");
  p.setFont(theme_.text(10));
  p.setPen(theme_.color("second"));
  p.drawText(QRectF(0, height() / 2.0 - 16, width(), 60), Qt::AlignHCenter | Qt::AlignTop,
             "Ctrl+O, or drop a STEP file with tolerances or an *.alder routine here.\n"
             "A part is drafted at once: features, touches, styli, head angles, way.");
}

QString StageOverlay::captionText() const {
  const Plan& plan = document_.plan();
  const Routed* routed = document_.routed();
  switch (stage_.desk()) {
  case Desk::Part:
    return QString("%1 · %2 faces · %3 requirements%4")
        .arg(QString::fromStdString(plan.part->name))
        .arg(plan.part->faces.size())
        .arg(plan.spec.requirements.size())
        .arg(sectionWords());
  case Desk::Bench:
    return QString::fromStdString(plan.bench.machine.name + " · " + plan.bench.head.name);
  case Desk::Routine:
  case Desk::Rehearsal: {
    if (!routed || routed->way.positions.empty()) return "being routed …";
    const auto& times = routed->rehearsal.times;
    const auto i = std::min<std::size_t>(
        static_cast<std::size_t>(
            std::lower_bound(times.begin(), times.end(), document_.playhead()) - times.begin()),
        times.size() - 1);
    const Access& a = routed->way.positions[i].access;
    return QString("stylus %1 · A%2 B%3%4")
        .arg(QString::fromStdString(plan.bench.styli[static_cast<std::size_t>(a.stylus)].name))
        .arg(shownDegrees(a.a))
        .arg(shownDegrees(a.b))
        .arg(sectionWords());
  }
  case Desk::Verdict: {
    const auto* run = document_.currentRun();
    if (!run) return "nothing measured yet: Run, or open measured points";
    const double factor = document_.exaggeration();
    const auto& selected = document_.selection().requirement;
    const bool single = selected && hasSingleLimit(plan.spec.requirement(*selected));
    const QString scale = factor > 0 ? QString("%1 times enlarged").arg(factor)
                          : single   ? QString("in shares of the largest")
                                     : QString("in shares of the tolerance");
    return QString::fromStdString(run->name) +
           (selected ? QString(" · requirement %1").arg(plan.spec.requirement(*selected).balloon)
                     : QString(" · all requirements")) +
           " · deviations " + scale + sectionWords();
  }
  }
  return {};
}

void StageOverlay::paintCaptions(QPainter& p) const {
  p.setFont(theme_.text(9));
  const QFontMetricsF m(p.font());
  const QString led = stage_.ledText(), left = m.elidedText(led.isEmpty() ? captionText() : led,
                                                            Qt::ElideRight, width() - 48.0);
  const QRectF box(14, 12, m.horizontalAdvance(left) + 20, 24);
  chip(p, box, {});
  p.setPen(theme_.color("second"));
  p.drawText(box, Qt::AlignCenter, left);
  const Routed* routed = document_.routed();
  if (!routed || (stage_.desk() != Desk::Routine && stage_.desk() != Desk::Rehearsal)) return;
  const auto& r = routed->rehearsal;
  const QString right =
      r.clear()
          ? QString("no clash · clearance %1 mm")
                .arg(QString::fromStdString(figure(r.least_clearance, 2)))
          : QString("%1 clash%2").arg(r.clashes.size()).arg(r.clashes.size() == 1 ? "" : "es");
  const double w = m.horizontalAdvance(right) + 20;
  const bool apart = width() - w - 14 > box.right() + 8; // else it goes below
  const QRectF there(apart ? width() - w - 14 : box.left(), apart ? 12 : 42, w, 24);
  chip(p, there, r.clear() ? QColor() : theme_.color("outside"));
  p.setPen(theme_.color(r.clear() ? "second" : "outside"));
  p.drawText(there, Qt::AlignCenter, right);
}

void StageOverlay::paintAxes(QPainter& p) const {
  // Axes of the part, drawn in the corner as the eye sees them.
  const Frame& placement = document_.plan().placement;
  const Vec3 origin = placement.translation();
  const QPointF o = stage_.project(origin), corner(46, height() - 56); // labels fit below too
  double longest = 1e-9;
  std::array<QPointF, 3> tips;
  for (int k = 0; k < 3; ++k) {
    const QPointF d = stage_.project(origin + 100 * placement.linear().col(k)) - o;
    tips[static_cast<std::size_t>(k)] = d;
    longest = std::max(longest, std::hypot(d.x(), d.y()));
  }
  const char* colors[]{"ball", "within", "accent"};
  p.setFont(theme_.strong(8.5));
  for (int k = 0; k < 3; ++k) {
    const QPointF d = tips[static_cast<std::size_t>(k)] * (30 / longest);
    p.setPen(QPen(theme_.color(colors[k]), 2));
    p.drawLine(corner, corner + d);
    const double l = std::max(1.0, std::hypot(d.x(), d.y()));
    if (l < 5) continue;
    p.setPen(theme_.color("ink"));
    const QPointF at = corner + d * ((l + 9) / l);
    p.drawText(QRectF(at.x() - 10, at.y() - 10, 20, 20), Qt::AlignCenter, QString("XYZ"[k]));
  }
}

// Of the selected requirement, which comes first, and of the saved view that is shown.
void StageOverlay::paintCallouts(QPainter& p) {
  placeCallouts();
  const Specification& spec = document_.plan().spec;
  p.setPen(QPen(theme_.color("ink"), 1));
  p.setBrush(theme_.color("ink"));
  for (const PaintedCallout& c : callouts_) {
    p.drawLine(c.leader);
    p.drawEllipse(c.leader.p2(), 2.5, 2.5);
  }
  for (const PaintedCallout& c : callouts_) // over all leaders
    paintCallout(p, c.box, spec.withStandard(spec.requirement(c.requirement)));
  if (without_room_.isEmpty()) return;
  p.setFont(theme_.text(9));
  const QString words =
      "No room in this view for " + without_room_.join(", ") + ": keep another view for them";
  const QRectF box(110, height() - 36.0,
                   std::min(QFontMetricsF(p.font()).horizontalAdvance(words) + 20, width() - 130.0),
                   24);
  chip(p, box, theme_.color("near"));
  p.setPen(theme_.color("ink"));
  p.drawText(box.adjusted(10, 0, -10, 0), Qt::AlignVCenter,
             QFontMetricsF(p.font()).elidedText(words, Qt::ElideRight, box.width() - 20));
}

void StageOverlay::placeCallouts() {
  const auto& selection = document_.selection();
  const Specification& spec = document_.plan().spec;
  std::vector<RequirementId> ids;
  if (selection.requirement && !selection.features.empty() && stage_.desk() != Desk::Verdict)
    ids.push_back(*selection.requirement);
  for (const RequirementId id : stage_.requirementsOfView())
    if (std::find(ids.begin(), ids.end(), id) == ids.end()) ids.push_back(id);
  constexpr double kLeft = 12, kTop = 42, kRight = 20, kBottom = 28;
  CalloutSpace space;
  space.all = {kLeft, kTop, width() - kLeft - kRight, height() - kTop - kBottom};
  space.gap = 6;
  space.taken.push_back({0, height() - 90.0, 100, 90}); // the axes
  for (const auto& [box, text] : members_)
    space.taken.push_back({box.x(), box.y(), box.width(), box.height()});
  std::vector<CalloutAsked> asked;
  std::vector<RequirementId> of; // whom they speak of
  Box2 anchors;
  const KeptView* kept = stage_.keptView();
  for (const RequirementId id : ids) {
    const Requirement r = spec.withStandard(spec.requirement(id));
    const bool selected = selection.requirement == id && !selection.features.empty();
    const FeatureId feature = selected ? selection.features.front() : r.features.front();
    const QPointF at = stage_.project(stage_.anchorOf(feature));
    const QSizeF size = sizeOf(r);
    CalloutAsked one{
        Vec2(std::clamp(at.x(), 1.0, width() - 1.0), std::clamp(at.y(), 1.0, height() - 1.0)),
        size.width(),
        size.height(),
        {}};
    const KeptCallout* callout = kept ? kept->find(id) : nullptr;
    auto middle = callout ? stage_.labelOf(*callout) : std::nullopt;
    if (!callout) // else it is this view's matter
      if (const auto drawn = stage_.calloutOf(r)) middle = stage_.project(*drawn);
    if (middle) {
      QRectF box({0, 0}, size);
      box.moveCenter(*middle);
      if (!selected && !box.intersects(rect())) continue; // drawn elsewhere
      const Area& all = space.all;
      box.moveLeft(std::clamp(box.left(), all.x, std::max(all.x, all.right() - size.width())));
      box.moveTop(std::clamp(box.top(), all.y, std::max(all.y, all.bottom() - size.height())));
      one.pinned = Vec2(box.x(), box.y());
    }
    anchors.extend(one.anchor);
    asked.push_back(one);
    of.push_back(id);
  }
  without_room_.clear();
  if (asked.empty()) return;
  const auto placed = laidOut(asked, space, anchors);
  for (std::size_t i = 0; i < asked.size(); ++i) {
    const Vec2& anchor = asked[i].anchor;
    if (const auto& one = placed[i])
      callouts_.push_back({of[i],
                           {one->label.x, one->label.y, one->label.w, one->label.h},
                           {{one->from.x(), one->from.y()}, {anchor.x(), anchor.y()}}});
    else
      without_room_ << QString::number(spec.requirement(of[i]).balloon);
  }
}

// Beside the part as it is seen, so that nothing of it is covered; where it fills the picture along
// the rim, else close about what they speak of.
std::vector<std::optional<CalloutPlaced>> StageOverlay::laidOut(std::vector<CalloutAsked>& asked,
                                                                CalloutSpace space,
                                                                const Box2& anchors) const {
  constexpr double kAbout = 50;
  const auto all_placed = [](const auto& placed) {
    return std::all_of(placed.begin(), placed.end(),
                       [](const auto& one) { return one.has_value(); });
  };
  const auto within = [](const Box2& box) {
    return Area{box.min().x(), box.min().y(), box.sizes().x(), box.sizes().y()};
  };
  Box2 part = anchors;
  const Box3 box = document_.plan().part->mesh.box();
  for (int k = 0; k < 8; ++k) {
    const QPointF at =
        stage_.project(document_.plan().placement * box.corner(static_cast<Box3::CornerType>(k)));
    part.extend(Vec2(at.x(), at.y()));
  }
  space.middle = within(part);
  auto placed = alder::placeCallouts(asked, space);
  if (all_placed(placed)) return placed;
  double wide = 0;
  for (const CalloutAsked& one : asked)
    wide = std::max(wide, one.width);
  space.middle = space.all;
  space.middle.x += wide + space.gap, space.middle.w -= 2 * (wide + space.gap);
  if (space.middle.w > 0) {
    // What is seen beside the middle is pointed at from its edge.
    auto at_edge = asked;
    for (CalloutAsked& one : at_edge)
      one.anchor.x() = std::clamp(one.anchor.x(), space.middle.x, space.middle.right());
    auto along_rim = alder::placeCallouts(at_edge, space);
    if (all_placed(along_rim)) {
      asked = at_edge;
      return along_rim;
    }
  }
  space.middle = within(anchors).inner(-kAbout);
  return alder::placeCallouts(asked, space);
}

QSizeF StageOverlay::sizeOf(const Requirement& r) const {
  if (const QString result = resultText(r); !result.isEmpty())
    return {QFontMetricsF(theme_.figures(9)).horizontalAdvance(result) + 62, 30};
  QPixmap scratch(1, 1);
  QPainter probe(&scratch);
  return {drawCallout(probe, theme_, {0, 0}, r, 22) + 46, 36};
}

// In the Verdict desk what was measured stands in the place of what is asked.
QString StageOverlay::resultText(const Requirement& r) const {
  if (stage_.desk() != Desk::Verdict) return {};
  const Evaluation* e = document_.evaluation(r.id);
  if (!e || !e->actual) return "–";
  const bool angle = r.kind == Characteristic::Angle || r.unit == "deg";
  return QString::fromStdString(figure(angle ? degrees(*e->actual) : *e->actual, r.decimals));
}

void StageOverlay::paintCallout(QPainter& p, const QRectF& box, const Requirement& r) const {
  const bool selected = document_.selection().requirement == r.id;
  chip(p, box, theme_.color(selected ? "accent" : "line"));
  const QPointF middle(box.left(), box.center().y());
  theme_.drawBalloon(p, middle + QPointF(17, 0), 11, r.balloon, theme_.color("accent"),
                     !r.key.empty());
  const QString result = resultText(r);
  if (result.isEmpty()) {
    drawCallout(p, theme_, middle + QPointF(36, 0), r, 22);
    return;
  }
  const Evaluation* e = document_.evaluation(r.id);
  p.setPen(theme_.color("ink"));
  p.setFont(theme_.figures(9));
  p.drawText(box.adjusted(34, 0, -24, 0), Qt::AlignVCenter | Qt::AlignLeft, result);
  theme_.drawVerdict(p, {box.right() - 14, box.center().y()}, 5,
                     e ? e->verdict : Verdict::Unmeasured);
}

std::optional<RequirementId> StageOverlay::requirementAt(const QPointF& at) const {
  for (const PaintedCallout& c : callouts_)
    if (c.box.contains(at)) return c.requirement;
  return {};
}

QPointF StageOverlay::middleOf(RequirementId requirement) const {
  for (const PaintedCallout& c : callouts_)
    if (c.requirement == requirement) return c.box.center();
  return {};
}

// Of a selected pattern the number of each feature that is selected with it, beside it.
void StageOverlay::placeMembers() {
  members_.clear();
  const auto& selected = document_.selection().requirement;
  if (!selected) return;
  const Requirement& r = document_.plan().spec.requirement(*selected);
  const auto numbers = memberNumbers(r);
  const QFontMetricsF m(theme_.figures(8.5));
  const auto& features = document_.selection().features;
  for (std::size_t i = 0; i < numbers.size(); ++i) {
    if (std::find(features.begin(), features.end(), r.features[i]) == features.end()) continue;
    const QPointF at = stage_.project(stage_.anchorOf(r.features[i]));
    const QString text = QString::fromStdString(numbers[i]);
    const double w = m.horizontalAdvance(text) + 10, h = 17, beside = 11;
    QRectF box;
    for (const QPointF& corner :
         {QPointF(beside, -beside - h), QPointF(beside, beside), QPointF(-beside - w, -beside - h),
          QPointF(-beside - w, beside), QPointF(-w / 2, -h / 2)}) {
      box = QRectF(at + corner, QSizeF(w, h));
      if (std::none_of(members_.begin(), members_.end(),
                       [&](const auto& other) { return other.first.intersects(box); }))
        break;
    }
    members_.emplace_back(box, text);
  }
}

void StageOverlay::paintMembers(QPainter& p) const {
  p.setFont(theme_.figures(8.5));
  for (const auto& [box, text] : members_) {
    chip(p, box, theme_.color("accent"));
    p.setPen(theme_.color("ink"));
    p.drawText(box, Qt::AlignCenter, text);
  }
}

// One chip a feature of the selected requirement, beside the feature.
void StageOverlay::paintResults(QPainter& p, std::vector<QRectF>& taken) const {
  const auto& selection = document_.selection();
  if (!selection.requirement) return;
  const Evaluation* e = document_.evaluation(*selection.requirement);
  if (!e || !e->actual) return;
  const Requirement& r = document_.plan().spec.requirement(*selection.requirement);
  p.setFont(theme_.figures(9));
  const QFontMetricsF m(p.font());
  const QPointF middle(width() / 2.0, height() / 2.0);
  for (const FeatureResult& f : e->features) {
    const QPointF anchor = stage_.project(stage_.anchorOf(f.feature));
    const double shown = r.kind == Characteristic::Angle ? degrees(f.actual) : f.actual;
    const QString text = QString::fromStdString(memberName(document_.plan().spec, r, f.feature) +
                                                "  " + figure(shown, r.decimals));
    const double w = m.horizontalAdvance(text) + 36;
    QPointF away = anchor - middle;
    away /= std::max(1.0, std::hypot(away.x(), away.y()));
    QRectF box(anchor.x() + 60 * away.x() - (away.x() < 0 ? w : 0), anchor.y() + 56 * away.y() - 12,
               w, 24);
    for (int tries = 0; tries < 12; ++tries) {
      const bool hit = std::any_of(taken.begin(), taken.end(), [&](const QRectF& o) {
        return o.intersects(box.adjusted(-3, -3, 3, 3));
      });
      if (!hit) break;
      box.translate(0, away.y() < 0 ? -28 : 28);
    }
    box.moveLeft(std::clamp(box.left(), 14.0, std::max(14.0, width() - w - 80.0)));
    box.moveTop(std::clamp(box.top(), 44.0, height() - 40.0));
    taken.push_back(box);
    const Verdict verdict = f.verdict;
    p.setPen(QPen(theme_.color("ink"), 1));
    p.drawLine(anchor, QPointF(away.x() < 0 ? box.right() : box.left(), box.center().y()));
    chip(p, box, theme_.verdictColor(verdict));
    theme_.drawVerdict(p, {box.left() + 14, box.center().y()}, 5.5, verdict);
    p.setPen(theme_.color("ink"));
    p.drawText(box.adjusted(26, 0, -6, 0), Qt::AlignVCenter | Qt::AlignLeft, text);
  }
}

void StageOverlay::paintPlaces(QPainter& p, std::vector<QRectF>& taken) const {
  constexpr std::size_t kWorst = 4;
  p.setFont(theme_.figures(8.5));
  const QFontMetricsF m(p.font());
  const Frame& placement = document_.plan().placement;
  const auto label = [&](const MapPlace& place, const QPointF& offset, bool strong) {
    const QPointF at = stage_.project(placement * place.at);
    const QString words = (*place.deviation > 0 ? "+" : "") +
                          QString::fromStdString(figure(*place.deviation, 4)) +
                          (strong ? " mm" : "");
    QRectF box(at + offset, QSizeF(m.horizontalAdvance(words) + 14, 20));
    if (offset.x() < 0) box.moveRight(at.x() + offset.x());
    box.moveLeft(std::clamp(box.left(), 8.0, std::max(8.0, width() - box.width() - 8)));
    box.moveTop(std::clamp(box.top(), 8.0, std::max(8.0, height() - box.height() - 8)));
    for (int tries = 0; tries < 12 && !strong; ++tries) {
      const bool hit = std::any_of(taken.begin(), taken.end(),
                                   [&](const QRectF& o) { return o.intersects(box); });
      if (!hit) break;
      box.translate(0, offset.y() < 0 ? -24 : 24);
    }
    taken.push_back(box);
    p.setPen(QPen(theme_.color("ink"), 1));
    p.drawLine(at, QPointF(offset.x() < 0 ? box.right() : box.left(), box.center().y()));
    p.setBrush(theme_.deviationColor(place.share));
    p.drawEllipse(at, 3, 3);
    chip(p, box, theme_.color(strong ? "accent" : "line"));
    p.setPen(theme_.color("ink"));
    p.drawText(box, Qt::AlignCenter, words);
  };
  for (const MapPlace& place : stage_.worstPlaces(kWorst)) {
    const bool left = stage_.project(placement * place.at).x() < width() / 2.0;
    label(place, QPointF(left ? -26 : 26, *place.deviation > 0 ? -34 : 16), false);
  }
  if (const auto under = stage_.placeUnderMouse()) label(*under, QPointF(18, -46), true);
}

// What the greys on a map stand for, under the scale.
void StageOverlay::paintUnshown(QPainter& p) const {
  p.setFont(theme_.text(8.5));
  const QFontMetricsF m(p.font());
  double y = 282;
  const auto line = [&](double share, const char* color, const QString& what) {
    if (share < 5e-4) return;
    const QString words = what + QString(" %1 %").arg(100 * share, 0, 'f', share < 0.1 ? 1 : 0);
    const double w = m.horizontalAdvance(words) + 34;
    const QRectF box(width() - w - 14, y, w, 22);
    chip(p, box, {});
    p.fillRect(QRectF(box.left() + 8, box.top() + 6, 10, 10), theme_.color(color));
    p.setPen(QPen(theme_.color("second"), 1));
    p.setBrush(Qt::NoBrush);
    p.drawRect(QRectF(box.left() + 8, box.top() + 6, 10, 10));
    p.setPen(theme_.color("ink"));
    p.drawText(box.adjusted(24, 0, -6, 0), Qt::AlignVCenter | Qt::AlignLeft, words);
    y += 26;
  };
  line(stage_.notSeen(), "unmeasured", "no points");
  line(stage_.leftOut(), "wait", "left out");
}

void StageOverlay::paintScale(QPainter& p) const {
  if (!document_.currentRun()) return;
  const QRectF bar(width() - 40, 60, 12, 200);
  QLinearGradient gradient(bar.topLeft(), bar.bottomLeft());
  for (int i = 0; i <= 10; ++i)
    gradient.setColorAt(i / 10.0, theme_.deviationColor(1 - i / 5.0));
  p.fillRect(bar, gradient);
  p.setFont(theme_.figures(8.5));
  QString limit = "limit";
  if (const auto& s = document_.selection(); s.requirement)
    if (const Evaluation* e = document_.evaluation(*s.requirement); e && !e->features.empty()) {
      const Requirement& r = document_.plan().spec.requirement(*s.requirement);
      const double half = drawnWidth(e->features.front()) / 2;
      limit = QString::fromStdString(
          shortFigure(r.kind == Characteristic::Angle ? degrees(half) : half));
    }
  const QString labels[]{"+" + limit, "", "0", "", "−" + limit};
  for (int i = 0; i < 5; ++i) {
    const double y = bar.top() + bar.height() * i / 4;
    p.setPen(QPen(theme_.color("ink"), i == 0 || i == 4 ? 2 : 1));
    p.drawLine(QPointF(bar.left() - (i % 4 == 0 ? 5 : 3), y),
               QPointF(bar.right() + (i % 4 == 0 ? 3 : 0), y));
    p.drawText(QRectF(bar.left() - 90, y - 9, 82, 18), Qt::AlignRight | Qt::AlignVCenter,
               labels[i]);
  }
}

} // namespace alder::app
