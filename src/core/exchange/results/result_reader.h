// Results in a file, read by the description of its kind.
#pragma once

#include "exchange/results/file_kind.h"

namespace alder {

// One value of a file with what stands by it. Lengths in mm, angles in degrees.
struct StatedResult {
  int line = 0; // counted from 1, of the actual value
  std::string name, feature, axis, id, datums, status;
  std::optional<double> nominal, actual, deviation;
  std::optional<double> upper, lower; // limits themselves
  std::optional<double> tolerance;    // where the file gives a width alone
  bool degrees = false;               // an angle
  bool from_deviation = false;        // the actual value is nominal and deviation added
  double last_digit = 0;              // of the actual value, mm or degrees
  friend bool operator==(const StatedResult&, const StatedResult&) = default;
};

// As the file calls it: number, feature, name and what of it.
std::string calledIn(const StatedResult& value);

struct ResultsOfPart {
  std::string serial, date, operated_by, machine;
  std::vector<StatedResult> values;
};

struct ReadSpan {
  std::size_t from = 0, to = 0; // bytes of the line
  ResultRole role = ResultRole::None;
};

// What became of a line.
struct ReadLine {
  LineUse use = LineUse::Passed;
  bool not_read = false; // holds figures, and nothing of them was read
  std::vector<ReadSpan> spans;
};

struct ResultsRead {
  std::vector<ReadLine> lines; // one for each of the file
  std::vector<ResultsOfPart> parts;
  std::vector<std::string> remarks; // what does not agree within the file, a sentence each
  std::size_t notRead() const;      // lines with figures that were passed over
  std::size_t values() const;
};

ResultsRead readResults(const ResultText& text, const FileKind& kind);

} // namespace alder
