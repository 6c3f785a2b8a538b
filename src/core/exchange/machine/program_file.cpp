#include "exchange/machine/program_file.h"

#include "exchange/dmis/dmis_reader.h"
#include "exchange/dmis/dmis_writer.h"
#include "exchange/machine/path_table.h"
#include "exchange/qif/qif_file.h"

namespace alder {

bool isMachineFile(const std::string& target) {
  return target.ends_with("path.csv") || target.ends_with(".dmi");
}

Result<std::string> machineFile(const std::string& target, const Plan& plan, const Way& way,
                                const std::vector<double>& times) {
  if (target.ends_with(".dmi")) return dmisProgram(plan, way);
  if (target.ends_with("path.csv")) return pathTable(plan, way, times);
  return fail("{}: no machine is handed such a file; use .dmi or a name that ends in path.csv.",
              target);
}

Result<ProgramRead> readProgram(const std::string& text, const std::string& label, Plan base,
                                ReadOnto onto) {
  if (isQifFile(label) || isQif(text)) return readQif(text, label, std::move(base), onto);
  return readDmis(text, label, std::move(base));
}

std::string_view name(Taken taken) {
  return taken == Taken::Over ? "taken over" : taken == Taken::Note ? "note" : "left out";
}

} // namespace alder
