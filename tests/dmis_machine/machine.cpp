#include "machine.h"

#include "locate.h"
#include <cmath>
#include <set>
#include <stdexcept>

namespace dmis_machine {
namespace {

constexpr double kDegree = 3.14159265358979323846 / 180;

class Machine {
 public:
  explicit Machine(const World& world)
      : world_(world)
      , space_(world.solids)
      , ball_(world.start) {}

  Done run(const std::string& program) {
    std::vector<Said> all;
    try {
      all = saidIn(program);
    } catch (const std::runtime_error& e) {
      fault(e.what());
      return std::move(done_);
    }
    if (all.empty() || all.front().word != "DMISMN") fault("does not begin with DMISMN");
    for (const Said& s : all) {
      try {
        if (macro_)
          macro_ = s.word != "ENDMAC";
        else
          say(s);
      } catch (const std::runtime_error& e) {
        fault(e.what());
      }
    }
    if (all.empty() || all.back().word != "ENDFIL") fault("does not end with ENDFIL");
    if (!open_.empty()) fault("a block of " + open_ + " is not ended");
    return std::move(done_);
  }

 private:
  void fault(const std::string& text) {
    if (done_.faults.size() < 200) done_.faults.push_back(text);
  }
  [[noreturn]] static void refuse(const Said& s, const std::string& why) {
    throw std::runtime_error("line " + std::to_string(s.line) + ": " + s.word + " " + why);
  }

  void say(const Said& s) {
    static const std::set<std::string> kNothing{"DMISMN", "FILNAM", "ENDFIL", "FLY",    "FEDRAT",
                                                "ACLRAT", "TECOMP", "DECL",   "DISPLY", "REPORT"};
    if (kNothing.count(s.word) > 0) return;
    if (s.word == "UNITS") return units(s);
    if (s.word == "PRCOMP") return compensated_ = s.has(0, "ON"), void();
    if (s.word == "MACRO") return macro_ = true, void();
    if (s.word == "FEAT") return feature(s);
    if (s.word == "TOL") return tolerance(s);
    if (s.word == "SNSDEF") return sensor(s);
    if (s.word == "SNSLCT") return select(s);
    if (s.word == "SNSET") return setting(s);
    if (s.word == "MODE") return mode(s);
    if (s.word == "MEAS") return measure(s);
    if (s.word == "ENDMES") return endMeasure(s);
    if (s.word == "PTMEAS") return touch(s);
    if (s.word == "GOTO") return go(s);
    if (s.word == "DATSET" || s.word == "TRANS" || s.word == "ROTATE" || s.word == "LOCATE" ||
        s.word == "RECALL")
      return system(s);
    if (s.word == "TEXT") return text(s);
    if (s.word == "OUTPUT") return output(s);
    if (s.word == "DATDEF") return datum(s);
    refuse(s, "is not known");
  }

  void units(const Said& s) {
    length_ = s.has(0, "MM")     ? 1
              : s.has(0, "CM")   ? 10
              : s.has(0, "M")    ? 1000
              : s.has(0, "INCH") ? 25.4
                                 : 0;
    if (length_ == 0) refuse(s, "names no unit of length");
    if (s.has(1, "ANGDEC"))
      angle_ = kDegree;
    else if (s.has(1, "ANGRAD"))
      angle_ = 1;
    else
      refuse(s, "names no unit of angle");
  }

  V vector(const Said& s, std::size_t i, double scale) const {
    return scale * V(s.number(i), s.number(i + 1), s.number(i + 2));
  }
  V unit(const Said& s, std::size_t i) const {
    const V v = vector(s, i, 1);
    if (std::abs(v.norm() - 1) > 1e-5) refuse(s, "has a direction that is not of length 1");
    return v.normalized();
  }

  // In the coordinates of whatever system is current when it is used.
  void feature(const Said& s) {
    if (s.kind != "F" || s.items.empty()) refuse(s, "defines no feature");
    Nominal n;
    n.word = s.items[0];
    std::size_t at = 1;
    const bool sided = n.word == "CYLNDR" || n.word == "CIRCLE" || n.word == "SPHERE" ||
                       n.word == "CONE" || n.word == "PARPLN" || n.word == "TORUS";
    if (sided) {
      if (!s.has(1, "INNER") && !s.has(1, "OUTER")) refuse(s, "does not say INNER or OUTER");
      n.inner = s.has(at++, "INNER");
    }
    if (n.word == "PARPLN" && !s.has(at++, "MIDPL")) refuse(s, "of planes knows MIDPL");
    if (n.word == "LINE" && !s.has(at++, "BND")) refuse(s, "of lines knows BND");
    if (n.word != "GSURF") {
      if (!s.has(at++, "CART")) refuse(s, "knows CART");
      n.point = vector(s, at, length_);
      at += 3;
      if (n.word == "LINE")
        vector(s, at, length_), unit(s, at + 3);
      else if (n.word != "SPHERE")
        n.direction = unit(s, at), at += 3;
      if (n.word == "CONE")
        n.angle = s.number(at) * angle_;
      else if (n.word != "PLANE" && n.word != "POINT" && n.word != "LINE")
        n.size = s.number(at) * length_;
      if (n.word == "CYLNDR") n.length = s.number(at + 1) * length_;
    }
    features_[s.label] = n;
    done_.nominals[s.label] = n;
  }

  void tolerance(const Said& s) {
    if (s.kind != "T" || s.items.empty()) refuse(s, "defines no tolerance");
    std::string all;
    for (const std::string& item : s.items)
      all += (all.empty() ? "" : ",") + item;
    done_.tolerances[s.label] = all;
  }

  // PROBE,INDEX,POL,a,b,direction,length,diameter or PROBE,INDEX,CART,offset,direction,diameter
  void sensor(const Said& s) {
    if (s.kind != "S" || !s.has(0, "PROBE") || !s.has(1, "INDEX")) refuse(s, "is no indexed probe");
    Sensor n;
    if (s.has(2, "POL")) {
      n.a = s.number(3) * angle_ / kDegree;
      n.b = s.number(4) * angle_ / kDegree;
      n.angles = true;
      n.direction = unit(s, 5);
      n.offset = n.direction * s.number(8) * length_;
      n.ball = s.number(9) * length_;
    } else if (s.has(2, "CART")) {
      n.offset = vector(s, 3, length_);
      n.direction = unit(s, 6);
      n.ball = s.number(9) * length_;
    } else {
      refuse(s, "knows POL and CART");
    }
    sensors_[s.label] = n;
  }

  void select(const Said& s) {
    const std::string label = labelIn(s, 0, "S");
    if (sensors_.count(label) == 0) refuse(s, "selects what is not defined");
    if (!open_.empty()) refuse(s, "stands within a block of measuring");
    // The head turns where the operator left the ball, after the last touch on the surface.
    if (by_hand_left_ && !selected_.empty())
      fault("line " + std::to_string(s.line) + ": the head turns where the operator touched last");
    // The mount stays where it is.
    if (!selected_.empty()) {
      const auto after = world_.swaps ? world_.swaps(now_, sensors_[label]) : std::nullopt;
      ball_ = after ? *after : V(ball_ + sensors_[label].offset - now_.offset);
    }
    selected_ = label;
    now_ = sensors_[label];
    rods_ = world_.rods(now_);
    event(Did::Sensor, s);
  }

  void setting(const Said& s) {
    const double value = s.number(1) * length_;
    if (s.has(0, "APPRCH"))
      approach_ = value;
    else if (s.has(0, "RETRCT"))
      retract_ = value;
    else if (s.has(0, "SEARCH"))
      search_ = value;
    else
      refuse(s, "knows APPRCH, RETRCT, SEARCH");
  }

  void mode(const Said& s) {
    if (!open_.empty()) refuse(s, "stands within a block of measuring");
    if (s.items.empty()) refuse(s, "names no mode");
    manual_ = s.has(0, "MAN");
  }

  void measure(const Said& s) {
    if (!open_.empty()) refuse(s, "stands within another block of measuring");
    if (selected_.empty()) refuse(s, "without a sensor");
    const std::string label = labelIn(s, 1, "F");
    const auto found = features_.find(label);
    if (found == features_.end()) refuse(s, "measures what is not defined");
    if (s.items[0] != found->second.word &&
        !(s.items[0] == "CIRCLE" && found->second.word == "CYLNDR"))
      refuse(s, "says " + s.items[0] + " of a " + found->second.word);
    static const std::map<std::string, int> kLeast{{"PLANE", 3},  {"CYLNDR", 5}, {"CIRCLE", 3},
                                                   {"SPHERE", 4}, {"CONE", 6},   {"LINE", 2},
                                                   {"POINT", 1},  {"TORUS", 7}};
    wanted_ = static_cast<int>(s.number(2));
    const auto least = kLeast.find(s.items[0]);
    if (least != kLeast.end() && wanted_ < least->second)
      fault("line " + std::to_string(s.line) + ": " + s.items[0] + " of " +
            std::to_string(wanted_) + " touches");
    open_ = label;
    counted_ = 0;
    points_[label].clear();
  }

  void endMeasure(const Said& s) {
    if (open_.empty()) refuse(s, "without a block");
    if (counted_ != wanted_)
      fault("line " + std::to_string(s.line) + ": " + std::to_string(counted_) + " touches, " +
            std::to_string(wanted_) + " were announced");
    open_.clear();
  }

  void touch(const Said& s) {
    if (open_.empty()) refuse(s, "without a block");
    if (!s.has(0, "CART")) refuse(s, "knows CART");
    if (!compensated_) refuse(s, "without PRCOMP/ON would be taken for the ball");
    const V point = vector(s, 1, length_), normal = unit(s, 4);
    const double radius = now_.ball / 2;
    ++counted_;
    if (manual_) {
      // The operator finds the place on the part itself, wherever that lies.
      ball_ = world_.lies * (point + radius * normal);
      event(Did::ByHand, s);
      done_.touched[open_].push_back(point);
      points_[open_].push_back(world_.lies * point);
      by_hand_left_ = true;
      return;
    }
    if (by_hand_left_) leftByHand(s);
    if (approach_ <= 0 || retract_ <= 0 || search_ <= 0)
      refuse(s, "without SNSET of approach, retract and search");
    const auto at = [&](double away) -> V { return system_ * V(point + (radius + away) * normal); };
    move(s, at(approach_), Did::Approach, false);
    move(s, at(0), Did::Touch, true);
    const V touched = world_.lies.inverse() * (system_ * point);
    done_.touched[open_].push_back(touched);
    points_[open_].push_back(system_ * point);
    move(s, at(retract_), Did::Retract, true);
  }

  void go(const Said& s) {
    const std::size_t at = s.has(0, "CART") ? 1 : 0;
    if (manual_) refuse(s, "in manual mode");
    if (by_hand_left_) leftByHand(s);
    move(s, system_ * vector(s, at, length_), Did::Go, false);
  }

  void leftByHand(const Said& s) {
    fault("line " + std::to_string(s.line) +
          ": moves from where the operator touched last, on the "
          "surface");
    by_hand_left_ = false;
  }

  // D()=DATSET/MCS, RECALL/D(), D()=TRANS/XORIG,x,..., D()=ROTATE/ZAXIS,angle, D()=LOCATE/...
  void system(const Said& s) {
    if (!open_.empty()) refuse(s, "stands within a block of measuring");
    if (s.word == "RECALL") {
      const std::string label = labelIn(s, 0, "D");
      if (systems_.count(label) == 0) refuse(s, "recalls what is not defined");
      system_ = systems_[label];
      return;
    }
    if (s.kind != "D") refuse(s, "names no system");
    if (s.word == "DATSET") {
      if (!s.has(0, "MCS")) refuse(s, "knows MCS");
      system_ = T::Identity();
    } else if (s.word == "TRANS") {
      for (std::size_t i = 0; i + 1 < s.items.size(); i += 2) {
        const int axis = s.has(i, "XORIG") ? 0 : s.has(i, "YORIG") ? 1 : s.has(i, "ZORIG") ? 2 : 3;
        if (axis > 2) refuse(s, "names no origin");
        system_ = system_ * Eigen::Translation3d(s.number(i + 1) * length_ * V::Unit(axis));
      }
    } else if (s.word == "ROTATE") {
      const int axis = s.has(0, "XAXIS") ? 0 : s.has(0, "YAXIS") ? 1 : s.has(0, "ZAXIS") ? 2 : 3;
      if (axis > 2) refuse(s, "names no axis");
      system_ = system_ * Eigen::AngleAxisd(s.number(1) * angle_, V::Unit(axis));
    } else {
      locate(s);
    }
    systems_[s.label] = system_;
  }

  void locate(const Said& s) {
    if (!s.has(0, "XYZDIR") || !s.has(1, "XYZAXS")) refuse(s, "knows XYZDIR,XYZAXS");
    std::vector<std::pair<Nominal, std::vector<V>>> by;
    for (std::size_t i = 2; i < s.items.size(); ++i) {
      const std::string label = labelIn(s, i, "FA");
      if (features_.count(label) == 0 || points_[label].empty())
        refuse(s, "by " + label + ", which is not measured");
      by.push_back({features_[label], points_[label]});
    }
    const Located found = located(system_, by);
    system_ = found.moved;
    const T off = world_.lies.inverse() * system_;
    const double turned = Eigen::AngleAxisd(off.linear()).angle() / kDegree;
    if (off.translation().norm() > 1e-4 || turned > 1e-4)
      fault("line " + std::to_string(s.line) + ": the frame is " +
            std::to_string(off.translation().norm()) + " mm and " + std::to_string(turned) +
            " degrees beside the part; " + std::to_string(found.open) + " ways are open");
  }

  void text(const Said& s) {
    if (s.items.size() < 2) refuse(s, "says nothing");
    if (s.items[0] != "OPER") return;
    const std::string words = s.items.back();
    if (words.find("clear") != std::string::npos) driveClear();
    if (world_.reads) world_.reads(words, space_);
  }

  // Along the shank until all of the probe is out, then above everything.
  void driveClear() {
    ball_.z() = std::max(ball_.z(), space_.top().z() + 40);
    by_hand_left_ = false;
  }

  void datum(const Said& s) {
    if (s.items.size() < 2) refuse(s, "defines no datum");
    auto& of = done_.datums[labelIn(s, s.items.size() - 1, "DAT")];
    for (std::size_t i = 0; i + 1 < s.items.size(); ++i)
      of.push_back(labelIn(s, i, "FA"));
  }

  void output(const Said& s) {
    std::vector<std::string> features, tolerances;
    for (std::size_t i = 0; i < s.items.size(); ++i)
      if (s.items[i].rfind("TA(", 0) == 0)
        tolerances.push_back(labelIn(s, i, "TA"));
      else
        features.push_back(labelIn(s, i, "FA"));
    for (const std::string& f : features)
      if (points_[f].empty())
        fault("line " + std::to_string(s.line) + ": " + f + " is not measured");
    for (const std::string& t : tolerances) {
      if (done_.tolerances.count(t) == 0) refuse(s, "of what is not defined");
      for (const std::string& f : features)
        done_.results.push_back({t, f});
    }
  }

  void event(Did did, const Said& s) {
    done_.events.push_back({did, s.line, ball_, world_.lies.inverse() * ball_, selected_, open_});
  }

  // What touches may come as near as the ball does; all else keeps its distance.
  void move(const Said& s, const V& to, Did did, bool touching) {
    if (selected_.empty()) refuse(s, "without a sensor");
    const double of_ball = touching ? -world_.contact : world_.margin;
    if (const auto hit = space_.meets(rods_, ball_, to, world_.margin, of_ball))
      fault("line " + std::to_string(s.line) + ": the " + hit->rod + " meets " + hit->solid + " (" +
            std::to_string(hit->distance) + " mm) at " + std::to_string(hit->share) +
            " of the way");
    ball_ = to;
    event(did, s);
  }

  const World& world_;
  Space space_;
  Done done_;
  V ball_;
  double length_ = 0, angle_ = 0, approach_ = 0, retract_ = 0, search_ = 0;
  bool compensated_ = false, manual_ = false, macro_ = false, by_hand_left_ = false;
  T system_ = T::Identity();
  std::map<std::string, T> systems_;
  std::map<std::string, Nominal> features_;
  std::map<std::string, Sensor> sensors_;
  std::map<std::string, std::vector<V>> points_; // machine coordinates
  std::string selected_, open_;
  Sensor now_;
  std::vector<Capsule> rods_;
  int wanted_ = 0, counted_ = 0;
};

} // namespace

Done run(const std::string& program, const World& world) {
  return Machine(world).run(program);
}

} // namespace dmis_machine
