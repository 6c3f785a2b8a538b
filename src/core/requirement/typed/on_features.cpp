#include "requirement/typed/on_features.h"

#include "base/units.h"
#include "requirement/fits.h"
#include "requirement/limits.h"
#include "requirement/model_figure.h"
#include "requirement/proofread.h"
#include <algorithm>
#include <cmath>

namespace alder {
namespace {

using K = Characteristic;

constexpr double kSame = 0.0051; // figures of drawing and model, mm
constexpr double kSameAngle = 2e-4;

bool isSized(const Ideal& i) {
  return i.type == SurfaceType::Cylinder || i.type == SurfaceType::Sphere ||
         i.type == SurfaceType::Slot;
}

Zone zoneOf(const Ideal& i) {
  return i.type == SurfaceType::Sphere ? Zone::Spherical
         : hasAxis(i)                  ? Zone::Diametral
                                       : Zone::Planar;
}

class Layer {
 public:
  Layer(const Specification& spec, const std::vector<FeatureId>& features,
        const DecidingLength& leg)
      : spec_(spec)
      , features_(features)
      , leg_(leg) {}

  Result<LaidOn> lay(const std::vector<Typed>& typed) {
    const bool formula = typed.front().requirement.kind == K::Value;
    if (features_.empty() && !formula) return fail("Select the features that it speaks of first.");
    if (typed.size() == 2) return chamfer(typed);
    const Typed& t = typed.front();
    switch (t.what) {
    case TypedWhat::Thread:
      return fail("{} is a thread, which is not touched.", t.words);
    case TypedWhat::Texture:
      return fail("{} is a surface texture, which is not touched.", t.words);
    case TypedWhat::Datum:
      return fail("{} is the letter of a datum.", t.words);
    case TypedWhat::Basic:
    case TypedWhat::Reference:
      return untoleranced(t);
    case TypedWhat::Requirement:
      break;
    }
    if (auto done = add(t); !done) return pass(done.error());
    return std::move(laid_);
  }

 private:
  const Ideal& ideal(std::size_t i) const { return spec_.feature(features_[i]).ideal; }
  void remark(std::string says) { laid_.remarks.push_back(std::move(says)); }

  bool allSized() const {
    for (std::size_t i = 0; i < features_.size(); ++i)
      if (!isSized(ideal(i)) || ideal(i).type != ideal(0).type) return false;
    return true;
  }

  // A figure alone on two features may be the size of both or what lies between them.
  K kindOf(const Typed& t) const {
    if (!t.kind_open) return t.requirement.kind;
    if (features_.size() != 2) return K::Size;
    if (!t.requirement.fit.empty()) return K::Size;
    if (!allSized()) return K::Distance;
    if (t.nominal_open || t.count > 1) return K::Size;
    Requirement r = t.requirement;
    r.features = features_;
    r.kind = K::Distance;
    const auto between = modelFigure(spec_, r);
    const double size = std::abs(ideal(0).diameter - r.nominal);
    return between && std::abs(*between - r.nominal) < size ? K::Distance : K::Size;
  }

  Done add(const Typed& t) {
    Requirement r = t.requirement;
    r.features = features_;
    r.kind = kindOf(t);
    if (isDimension(r.kind) && r.kind != K::Value) {
      if (auto done = dimension(t, r); !done) return done;
    } else if (r.kind == K::Value) {
      r.features.clear();
    } else if (t.count > 1 && static_cast<std::size_t>(t.count) != features_.size()) {
      countTold(t.count);
    }
    if (!isDimension(r.kind)) {
      if (t.limits_open) {
        if (auto done = giveGeneral(spec_, r, 0, leg_); !done) return done;
      } else if (!r.general.empty()) {
        inherited(t, r);
      }
    }
    Specification with = spec_;
    r.id = with.requirements.next();
    with.requirements.push_back(r);
    for (const Remark& x : proofread(with, r))
      remark(x.says);
    r.id = {};
    laid_.requirements.push_back(std::move(r));
    return {};
  }

  void countTold(int count) {
    remark(fmt::format("{}x is written, and {} feature{} selected", count, features_.size(),
                       features_.size() == 1 ? " is" : "s are"));
  }

  Done dimension(const Typed& t, Requirement& r) {
    if (r.kind == K::Size) {
      if (auto good = sized(t, r); !good) return good;
    } else if (features_.size() > 2 ||
               (features_.size() == 1 && !(r.kind == K::Angle && hasAxis(ideal(0))))) {
      return fail("{} needs two features; {} selected.",
                  r.kind == K::Angle ? "An angle, but of a cone," : "A distance",
                  features_.size() == 1 ? std::string("one is")
                                        : std::to_string(features_.size()) + " are");
    }
    if (r.kind == K::Distance) r.zone = Zone::Planar;
    const auto model = modelFigure(spec_, r);
    if (t.nominal_open) {
      if (!model) return fail("Write the nominal: the model has no figure for it.");
      const double by = r.kind == K::Angle ? radians(1) : 1;
      r.nominal = std::round(*model / by * 1e4) / 1e4 * by;
      r.lower += r.nominal, r.upper += r.nominal;
      if (!r.fit.empty()) {
        const auto limits = limitDeviations(r.fit, r.radius ? 2 * r.nominal : r.nominal);
        if (!limits) return pass(limits.error());
        r.lower = r.nominal + limits->lower, r.upper = r.nominal + limits->upper;
      }
    } else if (model) {
      compare(r, *model);
    }
    r.tolerance = r.upper - r.lower;
    if (t.limits_open) return giveGeneral(spec_, r, t.decimals, leg_);
    if (!r.general.empty()) inherited(t, r);
    return {};
  }

  // As describe() writes what comes from general tolerances: still, where these are the same.
  void inherited(const Typed& t, Requirement& r) {
    Requirement by = r;
    const bool same = r.general == name(spec_.general) &&
                      giveGeneral(spec_, by, t.decimals, leg_) &&
                      (!isDimension(r.kind) || std::abs(by.lower - r.lower) < 1e-9) &&
                      std::abs(by.upper - r.upper) < 1e-9;
    if (same) {
      r = by;
    } else {
      remark(fmt::format("the limits are not those of {} here, and its own", r.general));
      ownLimits(r);
    }
  }

  Done sized(const Typed& t, Requirement& r) {
    for (std::size_t i = 0; i < features_.size(); ++i)
      if (!isSized(ideal(i)))
        return fail("{} has no size; a distance needs two features.",
                    spec_.feature(features_[i]).name);
    if (!allSized()) return fail("These features have sizes of different kinds.");
    if (t.zone_open) {
      r.zone = zoneOf(ideal(0));
    } else if ((r.zone == Zone::Planar) != (zoneOf(ideal(0)) == Zone::Planar)) {
      return fail("{} is not round.", spec_.feature(features_[0]).name);
    } else if (r.zone != zoneOf(ideal(0))) {
      r.zone = zoneOf(ideal(0)); // ø of a sphere
    }
    if (t.count > 1 && static_cast<std::size_t>(t.count) != features_.size()) countTold(t.count);
    for (std::size_t i = 1; i < features_.size(); ++i)
      if (std::abs(ideal(i).diameter - ideal(0).diameter) > kSame)
        return fail("These features differ in size: {} and {}.", shortFigure(ideal(0).diameter),
                    shortFigure(ideal(i).diameter));
    return {};
  }

  void compare(const Requirement& r, double model) {
    const bool angle = r.kind == K::Angle;
    if (std::abs(model - r.nominal) <= (angle ? kSameAngle : kSame)) return;
    const auto shown = [&](double v) {
      return angle ? shortFigure(degrees(v)) + "°" : shortFigure(v) + " mm";
    };
    // Limits by themselves say nothing of where the model lies between them.
    const double middle = (r.lower + r.upper) / 2;
    const bool within = model >= r.lower - 1e-9 && model <= r.upper + 1e-9;
    const bool only_limits = r.fit.empty() && std::abs(middle - r.nominal) < 1e-9;
    if (within && hasSingleLimit(r))
      remark(fmt::format("the model has {}, within the limit", shown(model)));
    else if (within && only_limits)
      remark(fmt::format("the model has {}, within the limits", shown(model)));
    else
      remark(fmt::format("{} is written; the model has {}", shown(r.nominal), shown(model)));
  }

  // [48], (48): compared with the model, nothing to be proved.
  Result<LaidOn> untoleranced(const Typed& t) {
    Requirement r = t.requirement;
    r.features = features_;
    r.kind = kindOf(t);
    const auto model = modelFigure(spec_, r);
    const char* is =
        t.what == TypedWhat::Basic ? "A theoretically exact dimension" : "A reference dimension";
    const double by = r.kind == K::Angle ? degrees(1) : 1;
    if (model && std::abs(*model - r.nominal) > (r.kind == K::Angle ? kSameAngle : kSame))
      return fail("{} has no tolerance; {} is written, and the model has {}.", is,
                  shortFigure(r.nominal * by), shortFigure(*model * by));
    return fail("{} has no tolerance: there is nothing to prove.", is);
  }

  // Its angle; where its ends lie no touch can tell.
  Result<LaidOn> chamfer(const std::vector<Typed>& typed) {
    if (auto done = add(typed[1]); !done) return pass(done.error());
    remark(fmt::format("The length {} of the chamfer is not judged",
                       shortFigure(typed[0].requirement.nominal)));
    return std::move(laid_);
  }

  const Specification& spec_;
  const std::vector<FeatureId>& features_;
  const DecidingLength& leg_;
  LaidOn laid_;
};

} // namespace

Result<LaidOn> layOn(const Specification& spec, const std::vector<FeatureId>& features,
                     const std::vector<Typed>& typed, const DecidingLength& leg) {
  return Layer(spec, features, leg).lay(typed);
}

} // namespace alder
