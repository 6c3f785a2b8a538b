// What a machine is handed and what programs of others are read from: the one place that knows
// which kinds there are.
#pragma once

#include "exchange/qif/qif_kept.h"
#include "route/way.h"

namespace alder {

// A name that ends so is of a file for a machine: "path.csv", ".dmi".
bool isMachineFile(const std::string& target);
// `times`: seconds from the start, one a position of the way.
Result<std::string> machineFile(const std::string& target, const Plan& plan, const Way& way,
                                const std::vector<double>& times);

// What became of a statement: it means here what it says; it stands as a note in its place; or it
// is not done here, and the remark says why.
enum class Taken { Over, Note, LeftOut };
std::string_view name(Taken taken); // "taken over", "note", "left out"
struct ProgramLine {
  int line = 0; // where it begins, from 1
  std::string statement;
  Taken taken = Taken::Over;
  std::string remark = {}; // what is to be known of it, also of one that was taken over
};

struct ProgramRead {
  Plan plan;
  std::vector<ProgramLine> lines;   // every statement but comments, or element, in order
  int understood = 0, kept = 0;     // statements; the latter as notes
  std::vector<std::string> remarks; // with line numbers: what could not be taken as it stands
  KeptQif qif = {};                 // for the project
};
// What a program is read onto: a routine of a person, or a bare part with what its model asks for.
enum class ReadOnto { Routine, Part };
// `base` gives part, bench, placement and features; its touches, steps and part frame are replaced
// by those of the program, requirements of the program are added where it has none like them.
// A QIF document may also say what is required; see exchange/qif/qif_file.h.
// Error when the text holds no program.
Result<ProgramRead> readProgram(const std::string& text, const std::string& label, Plan base,
                                ReadOnto onto = ReadOnto::Routine);

} // namespace alder
