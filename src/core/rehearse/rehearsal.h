// Plays the way against part, fixture, table and the machine's travel. Every straight move is
// checked as a whole, so there is no gap between samples; a head turn is checked as the ball that
// everything turning stays inside.
#pragma once

#include "base/progress.h"
#include "route/time_model.h"
#include <array>
#include <unordered_map>

namespace alder {

struct Clash {
  int step = 0;     // index into the way's steps
  int position = 0; // the move that ends here
  double seconds = 0;
  std::string moving, still;
  double depth = 0; // mm
};

struct Rehearsal {
  std::vector<double> times; // seconds at each position
  std::vector<Clash> clashes;
  double seconds = 0;
  double path = 0;            // length of the ball's way, mm
  double least_clearance = 0; // of all moves, touching balls left out, mm
  int least_at = -1;          // position where it is found
  bool clear() const { return clashes.empty(); }
};

// What rehearsing a move came to, kept for the next rehearsal: only moves that are new are checked
// again. Holds for one set of obstacles and one bench; begin anew when these change.
class MoveMemory {
 public:
  struct Answer {
    std::optional<Encounter> nearest, overrun;
  };
  using Key = std::array<double, 13>; // from, to, head angles, tip, what is allowed, fixture
  const Answer* find(const Key& key) const;
  void keep(std::vector<std::pair<Key, Answer>> answers); // in place of those before

 private:
  struct Hash {
    std::size_t operator()(const Key& key) const;
  };
  std::unordered_map<Key, Answer, Hash> answers_;
};

Result<Rehearsal> rehearse(const Plan& plan, const Obstacles& obstacles, const Way& way,
                           const Progress& progress = {}, MoveMemory* memory = nullptr);

} // namespace alder
