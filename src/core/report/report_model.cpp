#include "report/report_model.h"

#include "base/local_time.h"
#include "base/units.h"
#include "judge/actual.h"
#include "plan/steps/step_edit.h"
#include "report/approval_state.h"
#include "requirement/limits.h"
#include "requirement/member_numbers.h"
#include <algorithm>
#include <chrono>
#include <cmath>
#include <ctime>
#include <map>

namespace alder {
namespace {

std::string field(std::string text) {
  if (text.find_first_of(",\"\n") == std::string::npos) return text;
  for (std::size_t i = text.find('"'); i != std::string::npos; i = text.find('"', i + 2))
    text.insert(i, "\"");
  return "\"" + text + "\"";
}

std::string today() {
  const std::time_t now = std::time(nullptr);
  std::tm parts{};
  localtime_r(&now, &parts);
  char text[16];
  std::strftime(text, sizeof text, "%Y-%m-%d", &parts);
  return text;
}

std::string groupOf(Characteristic kind) {
  using enum Characteristic;
  if (kind == Size) return "Sizes";
  if (kind == Distance || kind == Angle) return "Distances and angles";
  if (kind == Value) return "Values";
  if (isForm(kind)) return "Form";
  if (isProfile(kind)) return "Profile";
  if (isOrientation(kind)) return "Orientation";
  return isRunout(kind) ? "Run-out" : "Location";
}

// A figure of a requirement, in the unit it is shown in.
struct Shown {
  bool angle;
  int decimals;
  ReportFigure operator()(double v) const {
    const double shown = angle ? degrees(v) : v;
    return {figure(shown, decimals), shown, decimals};
  }
};

std::string featuresOf(const Plan& plan, const Requirement& r) {
  if (r.features.empty()) return {};
  const std::string first = plan.nominal(r.features.front()).name;
  return r.features.size() == 1 ? first
                                : first + fmt::format(" and {} more", r.features.size() - 1);
}

// Each feature of a pattern by itself, in the order of their numbers.
std::vector<ReportRow> membersOf(const Plan& plan, const Requirement& r, const ReportRow& whole,
                                 const Evaluation& e, const Shown& shown) {
  std::vector<ReportRow> members;
  if (memberNumbers(r).empty()) return members;
  for (FeatureId id : r.features) {
    const auto found = std::find_if(e.features.begin(), e.features.end(),
                                    [&](const FeatureResult& f) { return f.feature == id; });
    ReportRow row;
    row.requirement = r.id, row.feature = id, row.balloon = r.balloon, row.key = r.key;
    row.number = numberOf(r, id), row.text = whole.text, row.features = plan.nominal(id).name;
    row.zone = whole.zone, row.unit = whole.unit, row.group = whole.group;
    row.nominal = whole.nominal, row.lower = whole.lower, row.upper = whole.upper;
    row.uncertainty = whole.uncertainty, row.how = whole.how;
    if (found != e.features.end()) {
      row.actual = shown(found->actual);
      if (!isDimension(r.kind)) row.upper = shown(found->allowed);
      if (isDimension(r.kind) && r.kind != Characteristic::Value)
        row.deviation = shown(found->actual - r.nominal);
      if (!hasSingleLimit(r)) row.share = found->share;
      row.verdict = found->verdict;
    }
    members.push_back(std::move(row));
  }
  return members;
}

void takeDerived(ReportRow& row, const Plan& plan, const Requirement& r, const Evaluation& e) {
  for (const FeatureResult& f : e.features) {
    if (f.samples.empty() || isDimension(r.kind) || f.allowed <= 0) continue;
    SeenDerived seen;
    seen.feature = f.feature, seen.allowed = f.allowed, seen.verdict = f.verdict;
    const Derived nominal = nominalDerived(plan.nominal(f.feature));
    seen.axis = nominal.kind == Derived::Kind::Axis;
    seen.round = r.zone != Zone::Planar;
    if (!seen.round && nominal.kind == Derived::Kind::Plane) seen.across = nominal.direction;
    for (const ReportRow& member : row.members)
      if (member.feature == f.feature) seen.number = member.number;
    auto samples = f.samples;
    std::stable_sort(samples.begin(), samples.end(), [&](const auto& a, const auto& b) {
      return a.first.dot(nominal.direction) < b.first.dot(nominal.direction);
    });
    for (const auto& [place, off] : samples)
      seen.nominal.push_back(place), seen.off.push_back(off);
    row.derived.push_back(std::move(seen));
  }
}

// Where the deviations of its worst feature stand on the part.
void takePoints(ReportRow& row, const Plan& plan, const Evaluation& e,
                const Measurements& measured) {
  if (e.features.empty()) return;
  const FeatureResult& worst = e.features.front();
  row.zone_width = drawnWidth(worst);
  const auto m = measured.find(worst.feature);
  if (m == measured.end() || worst.deviations.size() != m->second.points.size()) return;
  const MeasuredFeature& all = m->second;
  const NominalSurface surface(plan.part, plan.nominal(worst.feature));
  for (std::size_t i = 0; i < all.points.size(); ++i) {
    if (!std::isfinite(worst.deviations[i])) continue;
    const Vec3 nominal = i < all.nominals.size() ? all.nominals[i] : all.points[i];
    const FaceId face = i < all.faces.size() ? all.faces[i] : FaceId{};
    SeenPoint seen{nominal, surface.normal(face, nominal), worst.deviations[i], false};
    for (const Contact& c : worst.contacts)
      seen.contact |= c.point == i;
    row.points.push_back(seen);
  }
}

ReportRow rowOf(const Plan& plan, const Evaluation& e, const Measurements& measured) {
  const Requirement& r = plan.spec.requirement(e.requirement);
  const bool angle = r.kind == Characteristic::Angle || r.unit == "deg";
  const Shown shown{angle, r.decimals};
  ReportRow row;
  row.requirement = r.id, row.balloon = r.balloon, row.number = std::to_string(r.balloon);
  row.text = describe(plan.spec, r), row.features = featuresOf(plan, r);
  row.zone = r.sheet_zone, row.key = r.key, row.group = groupOf(r.kind);
  row.unit = angle ? "°" : r.kind == Characteristic::Value ? r.unit : "mm";
  row.verdict = e.verdict, row.how = e.how;
  if (!hasSingleLimit(r)) row.share = e.share;
  if (isDimension(r.kind)) {
    row.nominal = shown(r.nominal);
    if (hasLower(r)) row.lower = shown(e.lower);
  }
  if (!isDimension(r.kind) || hasUpper(r)) row.upper = shown(e.upper);
  if (e.actual) row.actual = shown(*e.actual);
  if (e.deviation && isDimension(r.kind)) row.deviation = shown(*e.deviation);
  const double u = r.uncertainty.value_or(angle ? 0 : plan.spec.uncertainty);
  if (u > 0) row.uncertainty = angle ? degrees(u) : u;
  if (!e.features.empty()) row.worst = e.features.front().feature;
  row.members = membersOf(plan, r, row, e, shown);
  row.plot = deviationPlot(plan, r, e, measured);
  takePoints(row, plan, e, measured);
  takeDerived(row, plan, r, e);
  return row;
}

std::string tipLine(const Plan& plan, const Access& access) {
  const std::string tip = nameOf(plan, access) + ": ";
  const QualifiedTip* t = plan.qualified.find(access);
  if (!t) return tip + "not qualified.";
  const std::string date = localTime(t->seconds, "%Y-%m-%d %H:%M");
  const auto beyond = beyondLimits(*t, plan.bench);
  return tip + fmt::format("qualified {} with {} touches, effective ø {}, offset {}, form {}, "
                           "standard deviation {} mm{}",
                           date, t->touches, figure(t->diameter, 4), figure(t->offset.norm(), 4),
                           figure(t->form, 4), figure(t->sigma, 4),
                           beyond.empty() ? "." : "; out of limits: " + beyond + ".");
}

std::string frameLine(const Plan& plan, const PartFrame& frame) {
  std::string line = frame.name + ":";
  for (const FrameStage& stage : frame.stages)
    for (FeatureId id : stage.features)
      line += (line.back() == ':' ? " " : ", ") + plan.nominal(id).name;
  return line;
}

std::string wordsOf(ToleranceStandard standard) {
  return standard == ToleranceStandard::Iso    ? "ISO GPS"
         : standard == ToleranceStandard::Asme ? "ASME Y14.5-2018"
                                               : "ASME Y14.5-2009";
}

// "ISO GPS; ASME Y14.5-2018: 3, 7".
std::string standards(const Plan& plan) {
  std::map<ToleranceStandard, std::string> others;
  for (const Requirement& r : plan.spec.requirements) {
    if (plan.spec.standardOf(r) == plan.spec.standard) continue;
    std::string& balloons = others[plan.spec.standardOf(r)];
    balloons += (balloons.empty() ? "" : ", ") + std::to_string(r.balloon);
  }
  std::string text = wordsOf(plan.spec.standard);
  for (const auto& [standard, balloons] : others)
    text += "; " + wordsOf(standard) + ": " + balloons;
  return text;
}

} // namespace

int ReportModel::count(Verdict verdict) const {
  return verdict == Verdict::Within      ? within
         : verdict == Verdict::Near      ? near
         : verdict == Verdict::NotProved ? not_proved
         : verdict == Verdict::Outside   ? outside
                                         : unmeasured;
}

ReportModel reportOf(const Plan& plan, const std::vector<Evaluation>& evaluations,
                     const Measurements& measured) {
  ReportModel model;
  model.title = plan.name, model.part = plan.part->name, model.bench = plan.bench.name;
  for (std::size_t i = 0; i < kHeaderFields; ++i)
    if (!plan.header.fields[i].empty())
      model.header.emplace_back(words(static_cast<HeaderField>(i)), plan.header.fields[i]);
  std::string attached;
  for (const AttachedDocument& d : plan.header.documents)
    attached += (attached.empty() ? "" : ", ") + d.name;
  if (!attached.empty()) model.header.emplace_back("Attached", attached);
  model.date = today(), model.standard = standards(plan);
  if (tipsReported(plan))
    for (const Access& a : accessesUsed(plan))
      model.tips.push_back(tipLine(plan, a));
  for (const AttachedDocument& d : plan.header.documents)
    model.documents.push_back(d.name);
  for (const RoutineStep& step : plan.steps)
    model.steps.push_back(describe(plan, step));
  for (const PartFrame& frame : plan.frames)
    model.frames.push_back(frameLine(plan, frame));
  for (const Evaluation& e : evaluations) {
    model.rows.push_back(rowOf(plan, e, measured));
    switch (e.verdict) {
    case Verdict::Within:
      ++model.within;
      break;
    case Verdict::Near:
      ++model.near;
      break;
    case Verdict::NotProved:
      ++model.not_proved;
      break;
    case Verdict::Outside:
      ++model.outside;
      break;
    case Verdict::Unmeasured:
      ++model.unmeasured;
      break;
    }
  }
  return model;
}

ReportModel reportOf(const Plan& plan, const ReportSource& source) {
  ReportModel model = reportOf(plan, source.evaluations, source.measured);
  model.part_serial = source.serial, model.operated_by = source.operated_by;
  model.again = source.again, model.parts = source.parts;
  stateApproval(model, plan, source);
  return model;
}

std::string reportTable(const ReportModel& model) {
  std::string out = "balloon,requirement,feature,nominal,lower,upper,actual,deviation,share_"
                    "percent,verdict,how\n";
  for (const ReportRow& r : model.rows)
    out +=
        fmt::format("{},{},{},{},{},{},{},{},{},{},{}\n", r.balloon, field(r.text),
                    field(r.features), r.nominal.text, r.lower.text, r.upper.text, r.actual.text,
                    r.deviation.text, r.actual.empty() || !r.share ? "" : figure(100 * *r.share, 0),
                    name(r.verdict), field(r.how));
  return out;
}

} // namespace alder
