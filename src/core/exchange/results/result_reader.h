// Results in a file, read by the description of its kind.
#pragma once

#include "exchange/results/file_kind.h"
#include "exchange/routine/feature_search.h"
#include <map>

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
  std::string uuid = {};              // of its characteristic, where the file has such
  RequirementId requirement = {};     // that this is; see joined_results.h
  friend bool operator==(const StatedResult&, const StatedResult&) = default;
};

// As the file calls it: number, feature, name and what of it.
std::string calledIn(const StatedResult& value);

// Measured points of one feature, in the CAD frame of the part.
struct StatedPoints {
  int line = 0;
  std::string uuid, name;              // of the feature
  std::optional<SoughtFeature> sought; // how large and where it is
  std::vector<std::string> rows;       // by the columns of the part, as in a run's table
  std::vector<int> numbers;            // of the touch of each, from 1
  Points places;                       // mm
  Points nominals, normals;            // empty: the file does not say them
};

struct ResultsOfPart {
  std::string serial, date, operated_by, machine;
  std::vector<StatedResult> values;
  std::vector<std::string> head;    // lines above the table of a run of ours
  std::string columns;              // of the points
  std::vector<StatedPoints> points; // empty: the file has none
  // Of a routine that they were joined to: its run, and what is judged of it, mm or degrees.
  std::string run;
  std::map<RequirementId, double> judged;
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
