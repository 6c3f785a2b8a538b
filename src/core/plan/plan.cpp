#include "plan/plan.h"

#include "plan/repeats/repeat.h"

#include "base/units.h"
#include "requirement/plane_indicator.h"
#include <algorithm>
#include <array>
#include <cmath>
#include <set>

namespace alder {
namespace {
constexpr std::array<std::string_view, 4> kHopModes{"proposed", "over", "close", "led"};
constexpr std::array<std::string_view, 5> kShellSides{"left", "front", "right", "back", "top"};

template <class Enum, std::size_t N>
std::optional<Enum> named(const std::array<std::string_view, N>& names, std::string_view wanted) {
  const auto found = std::find(names.begin(), names.end(), wanted);
  if (found == names.end()) return {};
  return static_cast<Enum>(found - names.begin());
}

} // namespace

std::string_view name(HopMode mode) {
  return kHopModes[static_cast<std::size_t>(mode)];
}

std::string_view name(ShellSide side) {
  return kShellSides[static_cast<std::size_t>(side)];
}

std::optional<ShellSide> shellSideNamed(std::string_view wanted) {
  return named<ShellSide>(kShellSides, wanted);
}

const StepPicture* Plan::picture(const std::string& wanted) const {
  for (const StepPicture& p : pictures)
    if (p.name == wanted) return &p;
  return nullptr;
}

const PartFrame* Plan::frame(const std::string& wanted) const {
  for (const PartFrame& f : frames)
    if (f.name == wanted) return &f;
  return nullptr;
}

Mat3 shellAxes(const Plan& plan) {
  double angle = plan.shell.turned;
  if (plan.shell.with_part) {
    // The part's X seen from above; where it stands upright, its Y.
    Vec3 x = plan.placement.linear().col(0);
    if (x.head<2>().norm() < 0.5) x = plan.placement.linear().col(1);
    angle += std::atan2(x.y(), x.x());
  }
  return Eigen::AngleAxisd(angle, Vec3::UnitZ()).toRotationMatrix();
}

Frame placesFrame(const Plan& plan, FeatureId id) {
  const Ideal& i = plan.nominal(id).ideal;
  if (i.type == SurfaceType::Plane) return frameOf(i.point, i.direction);
  const Vec3 middle = i.point + i.length / 2 * i.direction;
  Vec3 out = middle - plan.part->mesh.box().center();
  if (const Access& a = plan.feature(id).access; a.valid()) {
    const Vec3 shank = turn(plan.placement.inverse(), shankDirection(plan.tip(a), a.a, a.b));
    if (std::abs(shank.dot(i.direction)) > 0.3) out = shank;
  }
  const bool along = out.dot(i.direction) >= 0;
  return along ? frameOf(i.point + i.length * i.direction, i.direction)
               : frameOf(i.point, -i.direction);
}

std::vector<FeatureId> featuresNeeded(const Specification& spec, const Requirement& r) {
  std::set<FeatureId> all(r.features.begin(), r.features.end());
  const auto datums = datumFeatures(spec, r);
  all.insert(datums.begin(), datums.end());
  std::set<FeatureId> touched;
  for (FeatureId id : touchedFor(spec, {all.begin(), all.end()}))
    for (FeatureId portion : withPortions(spec, id))
      touched.insert(portion);
  return {touched.begin(), touched.end()};
}

std::vector<FeatureId> withPortions(const Specification& spec, FeatureId feature) {
  std::vector<FeatureId> all{feature};
  for (const NominalFeature& f : spec.features)
    if (f.portion && f.portion->of == feature && !f.portion->joins) all.push_back(f.id);
  std::sort(all.begin(), all.end());
  return all;
}

std::vector<FeatureId> joiningIn(const Plan& plan, SetupId setup) {
  std::vector<FeatureId> all;
  for (const Feature& f : plan.features)
    if (const auto& portion = plan.nominal(f.id).portion;
        portion && portion->joins && f.setup == setup)
      all.push_back(f.id);
  return all;
}

namespace {

bool isMeasured(const Steps& steps, FeatureId id) {
  for (std::size_t i = nextActive(steps, 0); i < steps.size(); i = nextActive(steps, i + 1))
    if (id.valid() && measuredIn(steps[i].body) == id) return true;
  const auto copy = copyPlaceOf(steps, id);
  if (!copy) return false;
  const auto active = measuringOrder(steps, false);
  return std::find(active.begin(), active.end(), id) != active.end();
}

bool isMeasured(const Plan& plan, FeatureId id) {
  const SetupId setup = plan.feature(id).setup;
  if (setup == plan.setup) return isMeasured(plan.steps, id);
  return std::any_of(plan.setups.begin(), plan.setups.end(),
                     [&](const Setup& s) { return s.id == setup && isMeasured(s.steps, id); });
}

} // namespace

std::size_t touchedCount(const Plan& plan) {
  return static_cast<std::size_t>(
      std::count_if(plan.spec.features.begin(), plan.spec.features.end(),
                    [](const NominalFeature& f) { return !f.isConstructed(); }));
}

std::string whyNotCovered(const Plan& plan, const Requirement& r) {
  if (r.kind == Characteristic::Value) return r.formula.empty() ? "It has no formula yet." : "";
  if (r.features.empty()) return "The model ties it to no face; pick its feature.";
  if ((r.kind == Characteristic::Distance) && r.features.size() < 2)
    return "A distance needs two features; the model names one.";
  for (const auto& d : r.datums)
    for (const auto& letter : d.letters) {
      const Datum* datum = plan.spec.datum(letter);
      if (!datum || datum->features.empty())
        return "Datum " + letter + " has no feature; define it on the part.";
    }
  for (FeatureId id : featuresNeeded(plan.spec, r))
    if (!plan.feature(id).covered())
      return plan.nominal(id).name + ": " +
             (plan.feature(id).why_not.empty() ? "no touches are planned"
                                               : plan.feature(id).why_not) +
             ".";
  for (FeatureId id : featuresNeeded(plan.spec, r))
    if (!isMeasured(plan, id)) return plan.nominal(id).name + " is left out of the routine.";
  for (const Note* note : notesOn(plan, r))
    if (!note->seen)
      return "The model says more of it than is judged: " + note->text +
             ". See its notes and let it count all the same.";
  return {};
}

std::vector<const Note*> notesOn(const Plan& plan, const Requirement& r) {
  std::vector<const Note*> found;
  if (r.entity == 0) return found;
  for (const Note& note : plan.notes)
    if (std::find(note.on.begin(), note.on.end(), r.entity) != note.on.end())
      found.push_back(&note);
  return found;
}

bool hasUnseenNotes(const Plan& plan, const Requirement& r) {
  const auto notes = notesOn(plan, r);
  return std::any_of(notes.begin(), notes.end(), [](const Note* n) { return !n->seen; });
}

std::vector<Note> notesSeen(const Plan& plan, const Requirement& r, bool seen) {
  std::vector<Note> notes = plan.notes;
  for (Note& note : notes)
    if (r.entity != 0 && std::find(note.on.begin(), note.on.end(), r.entity) != note.on.end())
      note.seen = seen;
  return notes;
}

std::vector<Access> accessesUsed(const Plan& plan) {
  std::vector<Access> all;
  for (FeatureId id : measuringOrder(plan.steps, false)) {
    const Feature& f = plan.feature(id);
    if (f.covered() && std::find(all.begin(), all.end(), f.access) == all.end())
      all.push_back(f.access);
  }
  return all;
}

std::string nameOf(const Plan& plan, const Access& a) {
  const Stylus& s = plan.bench.styli[static_cast<std::size_t>(a.stylus)];
  return s.name + (s.tips.size() > 1 ? " " + plan.tip(a).name : "") +
         fmt::format(" at A{:g} B{:g}", shownDegrees(a.a), shownDegrees(a.b));
}

std::string describe(const PairRule& rule) {
  const auto side = [](const std::string& s) { return s.empty() ? std::string("all") : s; };
  const std::string pair = side(rule.moving) + " and " + side(rule.still);
  return rule.off ? fmt::format("{}: not checked ({})", pair, rule.reason)
                  : fmt::format("{}: {:g} mm apart", pair, rule.margin);
}

} // namespace alder
