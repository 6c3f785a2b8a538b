// Lines of the inspection-equipment protocol I++ DME, as far as a run needs them: what is said, not
// what it means. A command is "00012 GoTo(X(1), Y(2), Z(3))"; to it come "00012 &" when it is
// taken, any number of "00012 # X(1), Y(2)" with data, "00012 ! Error(...)" where it failed, and
// "00012 %" at the end. docs/machine.md lists the commands.
#pragma once

#include "base/error.h"
#include <optional>
#include <string>
#include <vector>

namespace alder {

// Name(arguments): numbers, texts in quotes, bare words, or calls again.
struct DmeCall {
  std::string name;
  std::vector<double> numbers;
  std::vector<std::string> texts;
  std::vector<DmeCall> calls;
  std::vector<std::string> words;                       // MachineCsy
  const DmeCall* find(const std::string& wanted) const; // among the calls within
  // The first number of a call within, X(12.5) say.
  std::optional<double> number(const std::string& wanted) const;
};

struct DmeLine {
  std::string tag;                // "00012", of an event "E0001"
  char mark = ' ';                // ' ' of a command, else one of & % # !
  std::vector<DmeCall> calls;     // the command, or the data
  std::vector<std::string> texts; // data that are texts alone, of a list of tools
};

// Error says what of the line cannot be read.
Result<DmeLine> readDmeLine(const std::string& text);
std::string dmeText(const DmeLine& line); // without an end of line

DmeCall dmeCall(std::string name, std::vector<double> numbers = {},
                std::vector<std::string> texts = {}, std::vector<DmeCall> calls = {});

// Numbers of errors as they are published.
inline constexpr int kDmeEmergencyStop = 500, kDmeUnsupported = 501, kDmeBadArgument = 509,
                     kDmeErrorState = 1000, kDmeIllegalTouch = 1001, kDmeNotHomed = 1005,
                     kDmeSurfaceNotFound = 1006, kDmeOutOfVolume = 1008, kDmeToolNotFound = 1502,
                     kDmeCollision = 2504;

} // namespace alder
