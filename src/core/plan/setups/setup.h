// Set-ups of a routine: each is one standing of the part with its fixture, touches by hand, order
// and shell. One of them is worked on at a time; its content is in the fields of the plan.
#pragma once

#include "bench/json_fields.h"
#include "plan/standing/support.h"
#include "plan/steps/steps.h"

namespace alder {

struct Plan;

// Sides of the safe shell: clearance planes round part and fixture, offset outward. The table side
// is barred.
struct Shell {
  Vec3 offset_low = Vec3::Constant(10);
  Vec3 offset_high = Vec3::Constant(10);
  // Sides that are not left through nor passed by: left, front, right, back. The top always is
  // allowed.
  std::array<bool, 4> barred{};
  // Its own frame: turned about the vertical, from the machine's X or, with the part, from the
  // part's; rad.
  double turned = 0;
  bool with_part = false;
  // The ball runs along the clearance planes and changes over where two meet, rather than the
  // shortest way outside.
  bool planes = false;
  friend bool operator==(const Shell&, const Shell&) = default;
};

// By how much features that are touched in two set-ups may disagree, mm, when these are joined.
inline constexpr double kMostMisfit = 0.02;

struct Setup {
  SetupId id{0};
  std::string name;
  std::string how; // what the operator does before it, beside what stands under the part
  double most_misfit = kMostMisfit;
  // Of a set-up that is not being worked on; else these are in the plan.
  Frame placement = Frame::Identity(); // CAD frame of the part in the machine frame
  Supports supports;
  Json fixture; // `fixture` and `fixtures` of the bench's file
  Steps steps;
  std::vector<FeatureId> alignment;
  Shell shell;
  friend bool operator==(const Setup&, const Setup&);
};

// Every set-up with its content, in the order in which they are run; of a routine without any the
// one that it is.
std::vector<Setup> setupsOf(const Plan& plan);
// The one of a routine that has no others, about which nothing is said.
bool isAlone(const std::vector<Setup>& setups);
// The same routine with another set-up to work on. The set-up is one of the plan's.
Plan inSetup(const Plan& plan, SetupId id);
// Sets the fields of the plan from this one; error where its fixture cannot be read.
Done workOn(Plan& plan, const Setup& setup);
// The first: the one whose frame the others are brought to.
SetupId firstSetup(const Plan& plan);
std::size_t setupCount(const Plan& plan);
// "set-up 2"; with the one that is worked on where none is given.
std::string nameOfSetup(const Plan& plan, SetupId id);

// Ids are there once, the one that is worked on is among them, names are not empty.
Done validate(const std::vector<Setup>& setups);

} // namespace alder
