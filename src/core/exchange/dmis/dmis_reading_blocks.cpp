#include "exchange/dmis/dmis_reading.h"

#include "exchange/dmis/dmis_matching.h"
#include "plan/touches/nominal_surface.h"
#include "route/feature_router.h"
#include <algorithm>
#include <cmath>

namespace alder::dmis {

void Reading::measure(const Statement& s) {
  body_ = true;
  endMeasure();
  const auto ref = s.arguments.size() > 1 ? referenceIn(s.arguments[1]) : std::nullopt;
  if (!ref || ref->kind != "F") return keep(s);
  measuring_.emplace();
  measuring_->label = keyOf(ref->label);
  measuring_->word = upperCase(s.arguments[0]);
  measuring_->line = s.line;
  measuring_->by_hand = by_hand_;
  measuring_->raw.push_back(s);
}

std::optional<Vec3> Reading::placeIn(const Statement& s, std::size_t from, double scale) const {
  const auto x = s.number(from), y = s.number(from + 1), z = s.number(from + 2);
  if (!x || !y || !z) return {};
  return Vec3(scale * Vec3(*x, *y, *z));
}

void Reading::touch(const Statement& s) {
  const bool lost = measuring_ && measuring_->lost;
  if (measuring_) measuring_->lost = true; // until it is taken
  const auto point = s.is(0, "CART") ? placeIn(s, 1, units_.length) : std::nullopt;
  const bool told = s.arguments.size() > 4; // else the model says which way
  const auto normal = s.is(0, "CART") && told ? placeIn(s, 4, 1) : std::nullopt;
  if (!measuring_ || !point || (told && (!normal || normal->norm() < 1e-6))) return keep(s);
  if (!compensated_ && !access_.valid()) return keep(s);
  if (!meant(s)) return;
  const Vec3 out =
      told ? Vec3((units_.system.linear() * *normal).normalized()) : Vec3(Vec3::Zero());
  // Without compensation the place is that of the ball.
  measuring_->ball.push_back(compensated_ ? 0 : plan().tip(access_).ball_diameter / 2);
  measuring_->raw.push_back(s);
  // Places before the first touch lead in, others between touches are the router's.
  if (!measuring_->touches.empty()) measuring_->after.clear();
  measuring_->approach.push_back(approach_);
  measuring_->retract.push_back(retract_);
  measuring_->lost = lost;
  measuring_->touches.push_back(
      {units_.system * *point - measuring_->ball.back() * out, out, FaceId{}, 0});
  at_.reset(); // where it stands then is the controller's affair
}

// A place, or a way from where the machine stands now.
void Reading::goTo(const Statement& s) {
  const bool along = s.is(0, "INCR");
  const auto place = placeIn(s, along || s.is(0, "CART") ? 1 : 0, units_.length);
  if (!place) return keep(s);
  body_ = true;
  if (!meant(s)) return;
  if (along && !at_) {
    remark(s, "goes on from where the machine stands, which the program does not say");
    return keep(s);
  }
  const Vec3 at = along ? Vec3(*at_ + units_.system.linear() * *place) : units_.system * *place;
  at_ = at;
  if (measuring_) measuring_->raw.push_back(s);
  if (measuring_ && !measuring_->touches.empty())
    measuring_->after.push_back(at);
  else
    led_.push_back(at);
}

// Where the program gives no direction it is that of the nearest face of the feature, out of it;
// the place is that of the ball until then, where it is not compensated.
void Reading::giveNormals(Measuring& m, FeatureId feature) const {
  const NominalFeature& f = read_.plan.nominal(feature);
  const NominalSurface surface(read_.plan.part, f);
  for (std::size_t i = 0; i < m.touches.size(); ++i) {
    Touch& t = m.touches[i];
    if (t.normal != Vec3::Zero()) continue;
    double nearest = 1e300;
    for (FaceId face : f.faces) {
      const double off = std::abs(surface.distance(face, t.point));
      if (off >= nearest) continue;
      nearest = off;
      t.normal = surface.normal(face, t.point);
    }
    t.point -= m.ball[i] * t.normal;
  }
}

void Reading::leaveOut(const Measuring& m, const std::string& why) {
  for (const Statement& raw : m.raw) {
    lines_[raw.line].taken = Taken::LeftOut;
    if (!why.empty()) lines_[raw.line].remark = why;
  }
}

// The feature that the block measures; the touches are settled on its faces. Error says why there
// is none.
Result<FeatureId> Reading::measured(Measuring& m) {
  if (m.lost) return fail("a touch of {} cannot be read", m.label);
  Points points;
  for (const Touch& t : m.touches)
    points.push_back(t.point);
  const auto own = ownKind(m.word);
  auto found = features_.find(m.label);
  if (own && found != features_.end() && own_.count(m.label) == 0 && !m.touches.empty())
    found = features_.end(); // a constructed feature of the model is not what is touched here
  if (found == features_.end()) {
    const auto on = featureTouchedAt(plan(), points);
    if (!on) return fail("{} is no feature of this part", m.label);
    if (own && !m.by_hand) {
      giveNormals(m, *on);
      if (!settleTouches(plan(), part_, *on, m.touches))
        return fail("{} is not touched on the part", m.label);
      const std::string name = names_.count(m.label) > 0 ? names_[m.label] : m.label;
      const auto added = addOwnFeature(plan(), *own, name, *on, m.touches);
      if (!added) return fail("{}: {}", m.label, added.error().message);
      own_.insert_or_assign(m.label, *added);
      features_[m.label] = added->result;
      if (access_of_.count(*on) > 0) access_of_[added->touched] = access_of_.at(*on);
      plan().feature(added->touched).touches.clear(); // as of any other: they come with the block
      return added->touched;
    }
    found = features_.emplace(m.label, *on).first;
  }
  const FeatureId id = own_.count(m.label) > 0 ? own_.at(m.label).touched : found->second;
  if (m.by_hand) return id;
  if (m.touches.empty() && !takeRecipe(m, id))
    return fail("{} has no touches, neither in the program nor by its recipe", m.label);
  giveNormals(m, id);
  if (!settleTouches(plan(), part_, id, m.touches))
    return fail("{} is no feature of this part where it is touched", m.label);
  if (own_.count(m.label) > 0)
    for (Touch& t : m.touches)
      t.row = 0;
  return id;
}

// A block without touches leaves them to the machine: those of the recipe.
bool Reading::takeRecipe(Measuring& m, FeatureId id) {
  const auto planned = planned_.find(id);
  if (planned == planned_.end()) return false;
  m.touches = planned->second;
  m.approach.assign(m.touches.size(), approach_);
  m.retract.assign(m.touches.size(), retract_);
  m.ball.assign(m.touches.size(), 0);
  remark(m.line, fmt::format("gives no touches: {} by the recipe", m.touches.size()));
  return true;
}

void Reading::endMeasure() {
  if (!measuring_) return;
  Measuring m = std::move(*measuring_);
  measuring_.reset();
  auto within = std::exchange(within_, {});
  Points led = std::exchange(led_, {});
  const auto found = measured(m);
  if (!found) {
    remark(m.line, found.error().message + "; its statements are kept as notes");
    for (const Statement& raw : m.raw)
      keep(raw);
    led_ = led;
    return;
  }
  if (m.by_hand) // which features, the frame says
    return leaveOut(m, "touches by hand are chosen here");
  Feature& f = plan().feature(*found);
  if (!f.touches.empty()) {
    remark(m.line, plan().nominal(*found).name + " is measured again; the first time counts");
    return leaveOut(m, "");
  }
  settleFeature(f, m, led);
  led_ = m.after;
  addStep(measureSteps({*found}).front().body);
  for (RoutineStep& step : within) {
    step.id = StepId{static_cast<int>(plan().steps.size())};
    step.depth += depth_;
    plan().steps.push_back(std::move(step));
  }
}

// Touches, tip and recipe as the block and what is set about it have them.
void Reading::settleFeature(Feature& f, const Measuring& m, const Points& led) {
  f.touches = m.touches;
  f.why_not.clear();
  const auto before = access_of_.find(f.id);
  f.access = access_.valid()              ? access_
             : before != access_of_.end() ? before->second
                                          : Access{0, 0, 0, 0};
  f.access_forced = access_.valid();
  if (!asPlanned(f, m)) {
    const double approach = *std::max_element(m.approach.begin(), m.approach.end());
    const double retract = *std::max_element(m.retract.begin(), m.retract.end());
    if (approach > 0) f.recipe.approach = approach; // 0: the program does not set it
    if (retract > 0) f.recipe.retract = retract == f.recipe.approach ? 0 : retract;
  }
  if (search_ > 0) f.recipe.search = search_;
  // To the first one the operator has brought the machine.
  if (led.empty() || measuringOrder(plan().steps).empty()) return;
  f.entry = HopMode::Led;
  f.waypoints = led;
}

// What is set for each touch is what the recipe comes to there, or nothing is set.
bool Reading::asPlanned(const Feature& f, const Measuring& m) {
  const double radius = plan().tip(f.access).ball_diameter / 2;
  for (std::size_t i = 0; i < m.touches.size(); ++i) {
    const TouchMove move = touchMove(plan(), f, m.touches[i], radius);
    const auto same = [](double said, double planned) {
      return said <= 0 || std::abs(said - planned) < 1e-5;
    };
    if (!same(m.approach[i], (move.approach - move.contact).norm()) ||
        !same(m.retract[i], (move.retract - move.contact).norm()))
      return false;
  }
  return true;
}

} // namespace alder::dmis
