// One handler a command. Each returns the exit status: 0 done, 1 the answer is no (a clash, a
// requirement outside); bad input is an error, printed as one line with status 2.
#pragma once

#include "base/error.h"
#include "route/setup_ways.h"
#include <cstdint>
#include <string>
#include <vector>

namespace alder {
class RunDatabase;
}

namespace alder::batch {

struct FitOptions {
  std::string shape, criterion = "ls", points;
  bool json = false;
};
struct DraftOptions {
  std::string part, bench, output, start; // the last: a template
  std::string drawing;
  std::vector<std::string> bodies; // that are the part; none: those that the file shows
  bool json = false;
};
struct RoutineOptions {
  std::string routine, setup; // of one set-up, by name or number
  bool json = false;
};
struct RunOptions {
  std::string routine, setup, defects, output;
  std::string machine; // HOST:PORT; else within this program
  std::string journal; // kept there as it goes; gone on with where it is there
  std::uint64_t seed = 1;
  int retries = 0; // after faults
  bool by_hand = false, clear = false, home = false;
  std::vector<std::string> tools; // "stylus/tip=NAME"
  std::string database, part;     // kept there too, under this name
};
struct HistoryOptions {
  std::string routine, database, output;
};
struct QualifyOptions {
  std::string routine, output;
  std::uint64_t seed = 1;
  bool moved = false, json = false;
};
struct ReachOptions {
  std::string routine, feature, stylus;
  bool json = false;
};
struct JudgeOptions {
  std::string routine, points;
  std::string results, part; // a file of results, and which of its parts
  bool json = false;
};
struct EvaluateOptions {
  std::string sheet;
  bool json = false;
};
struct ReadOptions {
  std::string program, part, bench, output;
  bool json = false;
};
struct CorrectOptions {
  std::string routine, points, target, order = "xyz", form; // template
  bool in_machine = false;
};
struct ResultsOptions {
  std::vector<std::string> files;
  std::string part, kind, kind_output, name, output; // kind: a description; name: for a new one
  bool let_stand = false, json = false;
};
struct CloudOptions {
  std::string file, part, unit, fit = "ls", name, output, points; // points: the gathered ones
  double edge = 0.5, reach = 1, cell = 0;
  bool json = false;
};
struct DrawingOptions {
  std::string file, part, unit;
  bool json = false;
};
struct BalloonsOptions {
  std::string routine, drawing, output; // drawing: by name; else the first
};
struct ListOptions {
  std::string file, part, unit, output; // part: a routine or a model
  bool json = false;
};
struct ReviseOptions {
  std::string routine, part, drawing, output;
  std::string replaces; // which of the routine's drawings, where it has several
  bool json = false;
};
struct ExportOptions {
  std::string routine, setup, target, points;
};

Result<int> fit(const FitOptions& options);
struct ReportOptions {
  std::string routine, layout = "full", output = "{routine} {serial}.pdf";
  std::vector<std::string> points;
};

struct ArticleOptions {
  std::string routine, points, data, baseline, output;
  bool keep = false, json = false;
};

Result<int> draft(const DraftOptions& options);
Result<int> rehearse(const RoutineOptions& options);
Result<int> run(const RunOptions& options);
Result<int> qualify(const QualifyOptions& options);
Result<int> reach(const ReachOptions& options);
Result<int> judge(const JudgeOptions& options);
Result<int> evaluate(const EvaluateOptions& options);
Result<int> readProgram(const ReadOptions& options);
Result<int> history(const HistoryOptions& options);
Result<int> correct(const CorrectOptions& options);
// 1 where a value waits for a person: doubtful, or something speaks against it.
Result<int> results(const ResultsOptions& options);
Result<int> cloud(const CloudOptions& options);
Result<int> drawing(const DrawingOptions& options);
Result<int> balloons(const BalloonsOptions& options);
// 1 where a row was not taken over.
Result<int> list(const ListOptions& options);
// 1 where anything differs.
Result<int> revise(const ReviseOptions& options);
Result<int> exportTo(const ExportOptions& options);
// 1 where a part is outside its limits.
Result<int> report(const ReportOptions& options);
// 1 where the forms of a first article lack something.
Result<int> article(const ArticleOptions& options);

// rehearse_command.cpp: of all set-ups, or of the one named.
Result<std::vector<SetupWay>> waysOf(const Plan& plan, const std::string& setup);
Result<int> exportToMachine(const ExportOptions& options);

// drawing_command.cpp: the routine begun from a model, and a drawing where its path is given.
Result<Plan> begunFromDrawing(Plan begun, const std::string& path);

// history_command.cpp
Result<RunDatabase> openDatabase(const std::string& where);

} // namespace alder::batch
