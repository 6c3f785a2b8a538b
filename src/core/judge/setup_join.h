// Points of several set-ups brought into one frame, that of the first, by the features that are
// touched in both; points of portions put to their features. Lengths mm.
#pragma once

#include "judge/measurement.h"

namespace alder {

// How a set-up fits to those before it.
struct SetupJoin {
  SetupId setup;
  Frame placement = Frame::Identity(); // frame of its points -> that of the first set-up
  // By how much the joining features disagree beyond their own form: root mean square of all, and
  // of the feature that is worst.
  double misfit = 0, worst = 0;
  FeatureId worst_feature;
  std::string why; // it cannot be joined, one sentence; empty: it is
};

struct Joined {
  Measurements measured;
  std::vector<SetupJoin> joins; // of all but the first, in order
};

// Surfaces common to both are associated with the points of all set-ups together by least squares,
// and each set-up is moved as a rigid body so that its points fit them best, until nothing moves
// (alternating minimisation of one sum of squares; each step lessens it). Set-ups that cannot be
// joined keep their points where they were.
Joined joinedSetups(const Plan& plan, const Measurements& measured);

// Why what the requirement needs cannot be judged together; empty: it can.
std::string whyApart(const Plan& plan, const Requirement& requirement,
                     const std::vector<SetupJoin>& joins);

// All that the requirement needs as one set-up alone touched it, features that join it included:
// for where set-ups cannot be joined. None: no set-up touches all of it.
struct InOneSetup {
  SetupId setup;
  Measurements measured;
};
std::optional<InOneSetup> inOneSetup(const Plan& plan, const Requirement& requirement,
                                     const Measurements& measured);

// " set-up 2 joined with a misfit of 0.0012 mm.": what its figure owes to joins; empty: nothing.
std::string joinWords(const Plan& plan, const Requirement& requirement,
                      const std::vector<SetupJoin>& joins);

// Whether there is anything to put together.
bool hasPortions(const Specification& spec);

} // namespace alder
