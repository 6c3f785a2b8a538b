// What a report can say: the requirements with their figures, and what is known of part, run and
// machine. Layouts choose from it (report/layout), the composer sets it on pages.
#pragma once

#include "paper/symbol.h"
#include "report/deviation_plot.h"
#include "report/history_table.h"
#include <string>
#include <vector>

namespace alder {

// What a deviation is drawn at. CAD frame, mm.
struct SeenPoint {
  Vec3 place = Vec3::Zero(), outward = Vec3::UnitZ();
  double deviation = 0; // mm, outward positive
  bool contact = false; // one of those that hold the zone
};

// An axis, centre or middle plane: places on the nominal one, and how far the actual one lies off
// there. CAD frame, mm.
struct SeenDerived {
  FeatureId feature;
  std::string number;  // of the member; empty: there is one alone
  Points nominal, off; // as many of each
  bool axis = false;   // places along a line, in order
  double allowed = 0;  // width of the zone
  bool round = true;   // its diameter
  Verdict verdict = Verdict::Unmeasured;
  std::optional<Vec3> across; // of a planar zone: its normal, where it is known
};

// A figure as it is shown, with the requirement's decimals, and as a number in the same unit.
struct ReportFigure {
  std::string text; // empty: there is none
  double value = 0;
  int decimals = 3;
  bool empty() const { return text.empty(); }
};

struct ReportRow {
  RequirementId requirement;
  FeatureId feature; // of a member of a pattern; invalid: the requirement itself
  FeatureId worst;   // of its features; invalid where none was judged
  int balloon = 0;
  std::string number;         // "7", of a member "7.3"
  std::string text, features; // callout; what it is about
  std::string zone, key;      // field of the drawing; class of a key characteristic
  std::string unit;           // "mm", "°" or none
  std::string group;          // "Form", "Sizes": by kind
  ReportFigure nominal, lower, upper, actual, deviation;
  std::optional<double> share;       // of the tolerance; none of a single limit
  std::optional<double> uncertainty; // expanded, in the unit
  Verdict verdict = Verdict::Unmeasured;
  std::string how;
  std::vector<ReportRow> members; // of a pattern whose features count each by itself
  std::optional<DeviationPlot> plot;
  std::vector<SeenPoint> points;    // of the worst feature
  std::vector<SeenDerived> derived; // of all features
  double zone_width = 0;            // that its deviations are drawn by, mm
};

// Who approved this report, if anybody; and what of it is otherwise since then: "routine, points".
struct ApprovalState {
  std::string by, on, changed;
  bool given() const { return !by.empty(); }
  bool holds() const { return given() && changed.empty(); }
};

struct ReportModel {
  std::string title, part, bench, date, part_serial;
  std::vector<std::pair<std::string, std::string>> header; // of the part: what, and which
  std::string operated_by;                                 // empty: nobody was asked
  std::string
      standard; // that the requirements are judged by, with the balloons of those by another
  std::vector<ReportRow> rows;
  std::vector<std::string> tips;  // a line each: what is known of those that touched
  std::vector<std::string> again; // the same: what was measured again, and when
  std::vector<std::string> steps, frames, documents; // the same: of the routine
  std::vector<JudgedPart> parts;                     // measured up to this one, in order
  ApprovalState approval;
  int within = 0, near = 0, not_proved = 0, outside = 0, unmeasured = 0;
  int count(Verdict verdict) const;
};

ReportModel reportOf(const Plan& plan, const std::vector<Evaluation>& evaluations,
                     const Measurements& measured = {});

// What is known of one measured part, with those before it.
struct ReportSource {
  std::vector<Evaluation> evaluations;
  Measurements measured;
  std::string serial, operated_by;
  std::vector<std::string> again;
  std::vector<JudgedPart> parts;
  std::string routine_digest, points_digest; // see plan/approval.h; empty: nobody asks
};
ReportModel reportOf(const Plan& plan, const ReportSource& source);
std::string reportTable(const ReportModel& model); // comma-separated values

} // namespace alder
