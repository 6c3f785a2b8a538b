#include "exchange/dmis/dmis_systems.h"

namespace alder::dmis {
namespace {

std::optional<int> axisOf(const Statement& s, std::size_t i, std::string_view behind) {
  for (int k = 0; k < 3; ++k)
    if (s.is(i, std::string(1, "XYZ"[k]) + std::string(behind))) return k;
  return {};
}

constexpr const char* kNotSaid = "where the part lies in the machine is not said by the program";

} // namespace

void Systems::nominalsHere() {
  if (nominals_ || !now_) return;
  nominals_ = true;
  part_ = *now_;
  in_machine_ = now_->isApprox(Frame::Identity());
}

// TRANS/XORIG,x,YORIG,y,ZORIG,z: along the axes of now.
bool Systems::shift(const Statement& s, const Units& units) {
  Vec3 by = Vec3::Zero();
  for (std::size_t i = 0; i < s.arguments.size(); i += 2) {
    const auto axis = axisOf(s, i, "ORIG");
    const auto value = s.number(i + 1);
    if (!axis || !value) return false;
    by[*axis] += *value * units.length;
  }
  if (now_) now_ = *now_ * Eigen::Translation3d(by);
  return !s.arguments.empty();
}

// ROTATE/ZAXIS,angle: about an axis of now.
bool Systems::turn(const Statement& s, const Units& units) {
  const auto axis = axisOf(s, 0, "AXIS");
  const auto angle = s.number(1);
  if (!axis || !angle || s.arguments.size() > 2) return false;
  if (now_) now_ = *now_ * Eigen::AngleAxisd(*angle * units.angle, Vec3::Unit(*axis));
  return true;
}

bool Systems::take(const Statement& s, const Units& units, std::string& why) {
  const auto named = [&]() -> std::string {
    const auto ref = s.arguments.empty() ? std::nullopt : referenceIn(s.arguments[0]);
    return ref && (ref->kind == "D" || ref->kind == "DA" || ref->kind == "DID") ? ref->label : "";
  };
  if (s.word == "RECALL") {
    const auto found = saved_.find(named());
    if (found == saved_.end()) {
      now_.reset();
      return why = "recalls a coordinate system that the program does not define", false;
    }
    now_ = found->second;
    if (!now_) return why = kNotSaid, false;
    placing_ = now_ && now_->isApprox(Frame::Identity());
    return true;
  }
  if (s.word == "SAVE") {
    if (!named().empty()) saved_[named()] = now_;
    return true;
  }
  const bool places = placing_;
  placing_ = false;
  if (s.word == "LOCATE") {
    // What was said of the machine says nothing of the part any more.
    if (in_machine_)
      for (auto& [label, frame] : saved_)
        frame.reset();
    located_ = true;
    now_ = part_;
  } else if (s.word == "DATSET" && s.is(0, "MCS")) {
    // Once the part is found, where it lies in the machine is the program's own affair.
    now_ = located_ && in_machine_ ? std::nullopt : std::optional(Frame::Identity());
    placing_ = true;
    if (!now_) return why = kNotSaid, false;
  } else if (s.word == "DATSET") {
    now_ = part_;
    why = "a coordinate system by datums is taken to be that of the model";
  } else if (!(s.word == "TRANS" ? shift(s, units) : turn(s, units))) {
    now_.reset();
    return why = "this coordinate system is not followed", false;
  } else if (places && now_) {
    placing_ = true;
    if (!in_machine_) part_ = *now_;
  }
  if (s.kind == "D" && !s.label.empty()) saved_[s.label] = now_;
  return true;
}

} // namespace alder::dmis
