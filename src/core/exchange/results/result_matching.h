// Which requirement a value of a file proves: by number, name, nominal with limits, what is
// measured and place in the order.
#pragma once

#include "exchange/results/result_reader.h"
#include "plan/plan.h"
#include <map>

namespace alder {

// A value as a file calls it, for what is decided to hold for the next file too.
struct ValueKey {
  std::string text;      // id, feature, name and axis, as plainWord leaves them
  std::size_t again = 0; // how many values before it in the part are called the same
  friend bool operator==(const ValueKey&, const ValueKey&) = default;
  friend auto operator<=>(const ValueKey&, const ValueKey&) = default;
};
std::vector<ValueKey> keysOf(const ResultsOfPart& part);

// What a person decided, or let stand.
struct MatchDecision {
  std::string kind; // of file
  ValueKey key;
  RequirementId requirement;          // invalid: it proves none
  std::vector<std::string> let_stand; // conflicts that were seen
  friend bool operator==(const MatchDecision&, const MatchDecision&) = default;
};

enum class MatchState {
  Settled,    // counts
  Waits,      // for a person: doubtful, or something speaks against it
  Coordinate, // of a place that is judged by its position
  Left,       // proves no requirement
};
std::string_view name(MatchState state); // "settled", "waits", "coordinate", "left"

struct ResultMatch {
  std::size_t value = 0;              // of the part
  RequirementId requirement;          // invalid: none
  RequirementId coordinate_of;        // a coordinate of the place that this requirement is about
  double sure = 0;                    // 0 to 1
  std::string why;                    // one sentence
  std::vector<std::string> conflicts; // what speaks against it, a sentence each
  bool decided = false;               // by a person, now or for a file before
  bool let_stand = false;             // its conflicts were seen by one
  bool identified = false;            // the file says itself which requirement it is of
  // It counts without being asked about.
  bool settled() const {
    return requirement.valid() && (conflicts.empty() || let_stand) &&
           (decided || sure >= kSureEnough);
  }
  MatchState state() const {
    return coordinate_of.valid()  ? MatchState::Coordinate
           : !requirement.valid() ? MatchState::Left
           : settled()            ? MatchState::Settled
                                  : MatchState::Waits;
  }
  static constexpr double kSureEnough = 0.75;
};

struct PartMatches {
  std::vector<ResultMatch> matches;   // one for each value, in its order
  std::vector<RequirementId> missing; // requirements without a value
  // Figures that the part has already, mm or degrees; another one for it is told.
  std::map<RequirementId, double> known;
};

PartMatches matchResults(const Specification& spec, const ResultsOfPart& part,
                         const std::string& kind, const std::vector<MatchDecision>& decisions,
                         std::map<RequirementId, double> known = {});
// The value laid on another requirement, or on none, by a person.
void decide(const Specification& spec, const ResultsOfPart& part, PartMatches& matches,
            std::size_t value, RequirementId requirement);
// A person saw what speaks against it, and lets it count; or not any more. Of a value without
// requirement nothing changes.
void letStand(ResultMatch& match, bool stands);
// What a person decided of the same values before, laid on them again; what was let stand stands
// only where it is the same. Of other values nothing.
void decideAsBefore(const Specification& spec, const ResultsOfPart& part, const PartMatches& before,
                    PartMatches& now);

struct MatchCounts {
  std::size_t settled = 0, waiting = 0, coordinates = 0, left = 0;
};
MatchCounts countsOf(const PartMatches& matches);
MatchCounts countsOf(const std::vector<PartMatches>& parts);

// What stands there now, to be used for the next file. Matches that were settled by themselves are
// kept too: the next file is not asked about either.
std::vector<MatchDecision> decisionsOf(const ResultsOfPart& part, const PartMatches& matches,
                                       const std::string& kind);

// What the requirement and the file say differently, a sentence each.
std::vector<std::string> conflictsOf(const Specification& spec, const StatedResult& value,
                                     const Requirement& requirement);

} // namespace alder
