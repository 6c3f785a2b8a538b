#include "revision/read_drawing.h"

#include "base/files.h"
#include "sheet/sheet_file.h"
#include <algorithm>
#include <filesystem>

namespace alder {
namespace {

const DrawingFile* placeOf(const Plan& plan, const std::string& name, const std::string& replaces) {
  const auto called = [&](const std::string& wanted) -> const DrawingFile* {
    for (const DrawingFile& d : plan.drawings)
      if (d.name == wanted) return &d;
    return nullptr;
  };
  if (const DrawingFile* own = called(name)) return own;
  if (!replaces.empty()) return called(replaces);
  return plan.drawings.size() == 1 ? &plan.drawings.front() : nullptr;
}

} // namespace

Result<RevisedDrawing> readRevisedDrawing(const Plan& plan, const PartModel& part,
                                          const std::string& path, const std::string& replaces,
                                          const Progress& progress) {
  RevisedDrawing d;
  d.file.name = std::filesystem::path(path).filename().string();
  const DrawingFile* old = placeOf(plan, d.file.name, replaces);
  if (!old && !replaces.empty()) return fail("The routine has no drawing {}.", replaces);
  auto bytes = readFile(path);
  if (!bytes) return pass(bytes.error());
  const auto sizes = sheetsOf(*bytes, d.file.name, progress);
  if (!sizes) return pass(sizes.error());
  auto sheets = readSheets(*bytes, d.file.name, 1, static_cast<int>(sizes->size()), progress);
  if (!sheets) return pass(sheets.error());
  d.file.bytes = std::make_shared<const std::string>(std::move(*bytes));
  if (old) d.replaces = old->name, d.file.unit = old->unit;
  ReadingSettings settings;
  settings.standard = plan.spec.standard;
  if (!d.file.unit.empty())
    settings.unit = d.file.unit == "in" ? LengthUnit::Inch : LengthUnit::Millimetre;
  d.reading = readingOf(*sheets, settings);
  d.ties = tiesOf(d.reading, *sheets, part);
  d.sheets = std::move(*sheets);
  return d;
}

} // namespace alder
