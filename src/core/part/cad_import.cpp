#include "part/cad_import.h"

#include "part/cad_kind.h"
#include "part/plain_import.h"
#include "part/step_import.h"

namespace alder {

Result<PartPtr> importCad(std::string bytes, const std::string& label, const Progress& progress,
                          const BodyChoice& choice) {
  const auto kind = cadKindOf(bytes);
  if (kind == CadKind::Iges) return importIges(std::move(bytes), label, progress, choice);
  if (kind == CadKind::Brep) return importBrep(std::move(bytes), label, progress, choice);
  if (kind && isMesh(*kind))
    return fail("{}: a mesh ({}) has no surfaces that can be measured; open STEP, IGES or BREP. It "
                "can be a fixture, or a scan that is judged.",
                label, name(*kind));
  return importStep(std::move(bytes), label, progress, choice);
}

} // namespace alder
