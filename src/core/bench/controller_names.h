// How the controller of a machine calls the tips of the bench, and how it counts head angles.
#pragma once

#include "bench/json_fields.h"
#include "bench/stylus.h"

namespace alder {

// A tip under the controller's name: at all head angles, or at these alone where the controller
// knows each posture as a tool of its own.
struct ControllerTool {
  std::string stylus, tip;
  std::optional<double> a, b; // rad, ours; both or neither
  std::string name;           // printable ASCII without quotation marks
  friend bool operator==(const ControllerTool&, const ControllerTool&) = default;
};

// Theirs = sign * ours + zero, rad.
struct ControllerAngle {
  double sign = 1, zero = 0;
  double theirs(double ours) const { return sign * ours + zero; }
  double ours(double theirs) const { return sign * (theirs - zero); } // sign is 1 or -1
};

struct ControllerNames {
  std::vector<ControllerTool> tools;                     // that the bench names
  std::vector<std::pair<std::string, std::string>> tips; // all of the bench: stylus, tip
  ControllerAngle a, b;
  bool turns = true; // false: a fixed head, whose angles are neither asked nor told

  // The tool for a tip at these angles, that for this posture before that for all. Nothing: the
  // bench does not say.
  const ControllerTool* toolFor(const std::string& stylus, const std::string& tip, double a,
                                double b) const;
  const ControllerTool* named(const std::string& name) const;
  // The stylus and the tip that a tool is: as the bench names it, else by the name that a tip has
  // where nobody named it. Nothing: none, or several.
  std::optional<std::pair<std::string, std::string>> tipOf(const std::string& tool) const;
  // The name of a tip that nobody named: "stylus/tip" in ASCII; empty where others have the same.
  std::string plainName(const std::string& stylus, const std::string& tip) const;
};

// Printable ASCII, as the protocol has it: every other character becomes an underscore.
std::string asciiName(const std::string& text);

// The bench's "controller"; a name that is not among `styli` is a complaint.
ControllerNames readControllerNames(const JsonFields& f, const std::vector<Stylus>& styli);
// Puts a name into a bench's file, instead of one for the same tip and angles; empty: none.
void nameController(Json& bench, const ControllerTool& tool);

} // namespace alder
