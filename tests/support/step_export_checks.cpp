#include "step_export_checks.h"

#include "exchange/step/step_export.h"
#include "made_specification.h"
#include "part/step_text.h"
#include "requirement/from_pmi.h"
#include "requirement/limits.h"
#include <algorithm>
#include <fmt/format.h>
#include <fmt/ranges.h>

namespace alder::test {
namespace {

struct Read {
  PartModel part;
  Specification spec;
  std::vector<Note> notes;
};

Read readCase(const std::string& file) {
  auto part = pmiPartOf(file);
  if (!part) return {};
  Read read{std::move(*part), {}, {}};
  read.notes = read.part.notes;
  read.spec = specificationFromPmi(read.part, read.notes);
  return read;
}

std::string lines(const std::vector<std::string>& all) {
  return fmt::format("{}", fmt::join(all, "\n  "));
}

// What is read back differs and nothing was told of it.
std::string readBackOf(const StepExport& written, const Read& was, const Specification& spec) {
  const auto read = pmiPartOf(written.bytes);
  if (!read) return "not read back: " + read.error().message;
  const auto other = differencesReadBack(written, was.part, spec, *read);
  if (other.empty()) return {};
  return lines(other) + "\n told: " + lines(written.told);
}

bool isTold(const StepExport& written, const Requirement& r) {
  return std::any_of(written.told.begin(), written.told.end(), [&](const std::string& line) {
    return line.starts_with(std::to_string(r.balloon) + " ");
  });
}

// Of all that is not told, each requirement stands in the file.
std::string standsOf(const StepExport& written, const Specification& spec) {
  for (const Requirement& r : spec.requirements)
    if (written.entities.count(r.id) == 0 && !isTold(written, r))
      return fmt::format("{} ({}) does not stand in it", r.balloon, describe(spec, r));
  return {};
}

// Notes that the file had on requirements which were not touched.
std::string sameNotes(const Read& was, const StepExport& written, EntityNumber but) {
  const auto read = pmiPartOf(written.bytes);
  if (!read) return "not read back: " + read.error().message;
  std::vector<Note> now = read->notes;
  specificationFromPmi(*read, now);
  for (const Note& n : was.notes)
    if (!n.on.empty() && std::count(n.on.begin(), n.on.end(), but) == 0 &&
        std::find(now.begin(), now.end(), n) == now.end())
      return fmt::format("a note is gone: #{} {}", n.entity, n.text);
  return {};
}

} // namespace

std::string exportUnchanged(const PmiCase& c) {
  const Read was = readCase(pmiFile(c.records));
  const auto written = stepWithRequirements(was.part, was.spec, was.notes);
  if (!written) return written.error().message;
  if (written->bytes != plainStep(was.part.bytes).bytes) return "other bytes";
  if (written->written != 0 || written->removed != 0) return "written without need";
  return readBackOf(*written, was, was.spec);
}

std::string exportCorrected(const PmiCase& c) {
  const Read was = readCase(pmiFile(c.records));
  Specification spec = was.spec;
  EntityNumber entity = 0;
  for (Requirement& r : spec.requirements) {
    if (r.entity != 60) continue;
    entity = r.entity;
    r.fit.clear();
    r.tolerance *= 1.25;
    (hasUpper(r) ? r.upper : r.lower) += 0.0125;
  }
  const auto written = stepWithRequirements(was.part, spec, was.notes);
  if (!written) return written.error().message;
  if (entity != 0 && written->written == 0 && written->told.empty()) return "not written";
  // A requirement that the model only half says is half known here too.
  if (std::string wrong = standsOf(*written, spec); !wrong.empty()) return wrong;
  if (std::string wrong = sameNotes(was, *written, entity); !wrong.empty()) return wrong;
  return readBackOf(*written, was, spec);
}

std::string exportWithout(const PmiCase& c) {
  const Read was = readCase(pmiFile(c.records));
  Specification spec = was.spec;
  for (const Requirement& r : was.spec.requirements)
    if (r.entity == 60) spec.requirements.erase(r.id);
  for (Requirement& r : spec.requirements)
    if (!spec.requirements.holds(r.upper_segment)) r.upper_segment = {};
  const auto written = stepWithRequirements(was.part, spec, was.notes);
  if (!written) return written.error().message;
  if (std::string wrong = readBackOf(*written, was, spec); !wrong.empty()) return wrong;
  const Read now = readCase(written->bytes);
  const bool was_there = was.spec.requirements.size() != spec.requirements.size();
  for (const Requirement& r : now.spec.requirements)
    if (was_there && r.entity == 60) return "still there";
  if (now.spec.requirements.size() != written->entities.size())
    return fmt::format("{} requirements instead of {}", now.spec.requirements.size(),
                       written->entities.size());
  return sameNotes(was, *written, 60);
}

std::string exportWithOtherDatum(const PmiCase& c) {
  const Read was = readCase(pmiFile(c.records));
  Specification spec = was.spec;
  FeatureId other;
  for (const NominalFeature& f : spec.features)
    if (f.faces == std::vector{FaceId{1}}) other = f.id;
  if (!other.valid()) { // the face on top is of no requirement yet
    other = spec.features.next();
    spec.features.push_back({other, "Top", was.part.face(FaceId{1}).ideal, {FaceId{1}}});
  }
  for (Datum& d : spec.datums)
    if (d.letter == "A") d.features = {other}, d.targets.clear();
  const auto written = stepWithRequirements(was.part, spec, was.notes);
  if (!written) return written.error().message;
  if (std::string wrong = standsOf(*written, spec); !wrong.empty()) return wrong;
  return readBackOf(*written, was, spec);
}

std::string exportMade(std::uint64_t seed, const std::string& length_unit,
                       const std::string& angle_unit) {
  std::string file = pmiFile("");
  const std::string units = "GLOBAL_UNIT_ASSIGNED_CONTEXT((#1,#5))";
  file.replace(file.find(units), units.size(),
               fmt::format("GLOBAL_UNIT_ASSIGNED_CONTEXT(({},{}))", length_unit, angle_unit));
  const Read was = readCase(file);
  const Specification spec = madeSpecification(was.part, seed);
  const auto written = stepWithRequirements(was.part, spec, {});
  if (!written) return written.error().message;
  if (!written->told.empty()) return "told: " + lines(written->told);
  if (written->entities.size() != spec.requirements.size()) return "not all stand in it";
  if (std::string wrong = readBackOf(*written, was, spec); !wrong.empty()) return wrong;
  const Read now = readCase(written->bytes);
  if (now.spec.requirements.size() != spec.requirements.size())
    return fmt::format("{} requirements instead of {}", now.spec.requirements.size(),
                       spec.requirements.size());
  for (const Note& n : now.notes)
    if (!n.on.empty()) return fmt::format("a note on what was written: #{} {}", n.entity, n.text);
  // Written again as it is now, nothing changes.
  const auto again = stepWithRequirements(now.part, now.spec, {});
  if (!again) return again.error().message;
  return again->bytes == written->bytes ? "" : "written again it is another file";
}

} // namespace alder::test
