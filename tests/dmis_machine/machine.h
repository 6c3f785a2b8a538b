// Carries out a program by ISO 22093 statement by statement, as the standard says it and not as our
// writer means it: modal state, coordinate systems, sensors, blocks of measuring. A ball and its
// shank move through a made world; what they meet is told. Shares no code with writer or reader.
#pragma once

#include "locate.h"
#include "space.h"
#include "statements.h"
#include <functional>
#include <map>

namespace dmis_machine {

// Of a sensor as it is defined; the machine knows the solid behind it.
struct Sensor {
  double a = 0, b = 0;  // degrees, where they are given
  bool angles = false;  // POL
  V offset = V::Zero(); // from the mount to the ball, as the head stands
  V direction = V::Zero();
  double ball = 0;
};

struct World {
  std::vector<Solid> solids; // in machine coordinates; the first is the part, placed by `lies`
  T lies = T::Identity();    // the part's own coordinates in the machine, where it really lies
  std::function<std::vector<Capsule>(const Sensor&)> rods; // about the ball
  // Where the machine leaves the ball when it has swapped one for the other; nothing where they
  // hang at the same stylus, and the head turns.
  std::function<std::optional<V>(const Sensor& from, const Sensor& to)> swaps;
  // What an operator does who reads the words, apart from driving clear.
  std::function<void(const std::string& words, Space& space)> reads;
  V start = V::Zero();   // of the ball
  double margin = 0.0;   // nothing comes nearer but the ball to what it touches
  double contact = 0.05; // what the ball may seem to be within a surface of flat triangles
};

enum class Did { Go, Approach, Touch, Retract, Sensor, ByHand };
struct Event {
  Did did = Did::Go;
  int line = 0;
  V machine = V::Zero(); // of the ball's centre
  V part = V::Zero();    // the same in the part's own coordinates, where it really lies
  std::string sensor, feature;
};

struct Done {
  std::vector<Event> events;
  std::vector<std::string> faults; // "line 12: ..."; a machine would stop there, or clash
  std::map<std::string, std::vector<V>> touched; // by label of the feature, part coordinates
  std::map<std::string, std::string> tolerances; // by label, items of TOL joined by commas
  std::vector<std::pair<std::string, std::string>> results; // tolerance, feature
  std::map<std::string, Nominal> nominals;
  std::map<std::string, std::vector<std::string>> datums; // features, by letter
};

// Goes to the end whatever happens; at most 200 faults are told.
Done run(const std::string& program, const World& world);

} // namespace dmis_machine
