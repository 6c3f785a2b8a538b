#include "exchange/step/step_export.h"

#include "exchange/step/pmi_records.h"
#include "exchange/step/step_schema.h"
#include "part/pmi/schema.h"
#include "part/pmi/teller.h"
#include "requirement/from_pmi.h"
#include <algorithm>
#include <fmt/format.h>

namespace alder {
namespace {

// What stands behind a letter to tell the components apart is not in the file.
std::string inFile(const std::string& letter) {
  return letter.substr(0, letter.find('('));
}

std::string title(const Specification& spec, const Requirement& r) {
  return fmt::format("{} ({})", r.balloon, describe(spec, r));
}

class Exporter {
 public:
  Exporter(const PartModel& part, const Specification& spec, const std::vector<Note>& notes,
           const PlainStep& plain, const StepText& text, const StepShape& shape)
      : part_(part)
      , spec_(spec)
      , notes_(notes)
      , text_(text)
      , shape_(shape) {
    for (const auto& [now, original] : plain.was)
      numbers_[original] = now;
    was_ = specificationFromPmi(part, ignored_);
    // A copy of a requirement may still say where its original stands.
    std::set<EntityNumber> taken;
    for (const Requirement& r : spec_.requirements) {
      const bool first = r.entity != 0 && wasOf(r.entity) && taken.insert(r.entity).second;
      entities_[r.id] = first ? r.entity : 0;
    }
  }

  StepExport run() {
    compare();
    // What is taken out may take with it what stays: that is then written anew.
    for (;;) {
      StepEdit edit = withoutOld();
      if (takesOthers(edit)) continue;
      edit.removeLeftOver();
      out_.removed = static_cast<int>(removed_.size());
      tellLost(edit);
      toAp242(text_, edit);
      write(edit);
      out_.bytes = withSchema(edit.text(), text_);
      return std::move(out_);
    }
  }

 private:
  int numberOf(EntityNumber original) const {
    const auto found = numbers_.find(original);
    return found == numbers_.end() ? static_cast<int>(original) : found->second;
  }
  const Requirement* wasOf(EntityNumber entity) const {
    for (const Requirement& r : was_.requirements)
      if (r.entity == entity) return &r;
    return nullptr;
  }

  // Which requirements and datums are as they stand in the file.
  void compare() {
    for (const Datum& d : was_.datums) {
      const Datum* now = spec_.datum(d.letter);
      if (now && sameDatum(was_, d, spec_, *now)) continue;
      // The reader numbers those of one letter as they come: all of them are written.
      for (const Datum& other : was_.datums)
        if (inFile(other.letter) == inFile(d.letter)) changed_datums_.insert(other.letter);
    }
    const RequirementEntities were = entitiesOf(was_);
    for (const Requirement& r : spec_.requirements) {
      const Requirement* was = entities_[r.id] == 0 ? nullptr : wasOf(entities_[r.id]);
      if (!was) continue;
      const auto other = differences(statedOf(was_, *was, were), statedOf(spec_, r, entities_));
      if (other.empty() && cannotBeStated(was_, *was) == cannotBeStated(spec_, r))
        kept_.insert(r.entity);
    }
  }

  bool onChangedDatum(const Requirement& r) const {
    for (const DatumReference& d : r.datums)
      for (const std::string& letter : d.letters)
        if (changed_datums_.count(letter) > 0) return true;
    return false;
  }

  StepEdit withoutOld() {
    StepEdit edit(text_);
    removed_.clear();
    for (const Requirement& r : was_.requirements) {
      if (onChangedDatum(r)) kept_.erase(r.entity);
      if (kept_.count(r.entity) > 0) continue;
      edit.remove(numberOf(r.entity));
      removed_.insert(r.entity);
    }
    for (const PmiDatum& d : part_.pmi.datums) {
      if (changed_datums_.count(d.letter) == 0) continue;
      for (const EntityNumber made_of : d.made_of) {
        const StepInstance* instance = text_.instance(numberOf(made_of));
        if (instance && (instance->is("DATUM") || instance->is("PLACED_DATUM_TARGET_FEATURE") ||
                         instance->is("DATUM_TARGET")))
          edit.remove(numberOf(made_of));
      }
    }
    return edit;
  }

  bool takesOthers(const StepEdit& edit) {
    const auto touched = [&](EntityNumber entity) {
      return edit.isRemoved(numberOf(entity)) || edit.isChanged(numberOf(entity));
    };
    bool any = false;
    for (auto at = kept_.begin(); at != kept_.end();) {
      if (!touched(*at)) {
        ++at;
        continue;
      }
      at = kept_.erase(at);
      any = true;
    }
    for (const PmiDatum& d : part_.pmi.datums)
      if (std::any_of(d.made_of.begin(), d.made_of.end(), touched))
        any |= changed_datums_.insert(d.letter).second;
    return any;
  }

  void write(StepEdit& edit) {
    PmiRecords records(edit, shape_, spec_);
    for (const Datum& d : spec_.datums) {
      const PmiDatum* stands = standingDatum(d.letter);
      if (stands) {
        records.known(d.letter, numberOf(stands->entity));
      } else if (const std::string why = cannotBeStated(spec_, d); !why.empty()) {
        out_.told.push_back(fmt::format("Datum {} {}: not written.", d.letter, why));
      } else {
        records.datum(d);
      }
    }
    for (const Requirement& r : spec_.requirements)
      writeOne(records, r);
    relate(records);
  }

  const PmiDatum* standingDatum(const std::string& letter) const {
    if (changed_datums_.count(letter) > 0) return nullptr;
    for (const PmiDatum& d : part_.pmi.datums)
      if (d.letter == letter) return &d;
    return nullptr;
  }

  void writeOne(PmiRecords& records, const Requirement& r) {
    const EntityNumber entity = entities_[r.id];
    const auto say = [&](const std::string& what) {
      out_.told.push_back(title(spec_, r) + " " + what);
    };
    if (entity != 0 && kept_.count(entity) > 0) {
      out_.entities[r.id] = numberOf(entity);
      ++out_.kept;
    } else if (const std::string why = unstatable(r); !why.empty()) {
      return say(why + ": not written.");
    } else {
      out_.entities[r.id] = records.requirement(r);
      ++out_.written;
      if (entity != 0) {
        --out_.removed;
        for (const Note& n : notes_)
          if (std::count(n.on.begin(), n.on.end(), entity) > 0)
            say("is written as the routine has it; of the model is gone: " + n.text + ".");
      }
    }
    for (const std::string& each : judgedBy(r))
      say("is written without " + each + ".");
  }

  std::string unstatable(const Requirement& r) const {
    if (std::string why = cannotBeStated(spec_, r); !why.empty()) return why;
    for (FeatureId f : r.features)
      for (FaceId face : spec_.feature(f).faces)
        if (shape_.home(face).face == 0)
          return "is of a face that the file does not name (" + spec_.feature(f).name + ")";
    return {};
  }

  void relate(PmiRecords& records) {
    const auto stays = [&](const Requirement& r) { return kept_.count(entities_[r.id]) > 0; };
    for (const Requirement& r : spec_.requirements) {
      if (out_.entities.count(r.id) == 0 || isDimension(r.kind)) continue;
      const auto number = [&](RequirementId id) { return static_cast<int>(out_.entities.at(id)); };
      if (r.upper_segment.valid()) {
        if (out_.entities.count(r.upper_segment) == 0)
          out_.told.push_back(title(spec_, r) + " is written without the segment above it.");
        else if (!stays(r) || !stays(spec_.requirement(r.upper_segment)))
          records.segments(number(r.upper_segment), number(r.id));
      }
      std::vector<const Requirement*> group = heldTogether(spec_, r);
      const auto left_out =
          std::erase_if(group, [&](const auto* x) { return out_.entities.count(x->id) == 0; });
      if (left_out > 0)
        out_.told.push_back(title(spec_, r) + " is written without one that is held together "
                                              "with it.");
      if (group.size() < 2 || group.front() != &r ||
          std::all_of(group.begin(), group.end(), [&](const auto* x) { return stays(*x); }))
        continue; // once for the group, by the first of it
      for (std::size_t i = 1; i < group.size(); ++i)
        records.together(number(group[i - 1]->id), number(group[i]->id));
    }
  }

  // What is not one of the requirements goes with a datum that it refers to; callouts that are
  // drawn keep their text.
  void tellLost(const StepEdit& edit) {
    std::set<int> known;
    for (const EntityNumber entity : removed_)
      known.insert(numberOf(entity));
    text_.eachInstance([&](const StepInstance& instance) {
      if (!edit.isRemoved(instance.id) || known.count(instance.id) > 0) return;
      const auto requirement =
          std::find_if(instance.records.begin(), instance.records.end(), [](const StepRecord& r) {
            const SchemaEntity* entity = schemaEntity(r.type);
            return entity && isRequirement(*entity);
          });
      if (requirement != instance.records.end())
        out_.told.push_back(fmt::format("#{} of the model, which is none of the requirements, is "
                                        "taken out with what it refers to ({}).",
                                        instance.id, inWords(requirement->type)));
    });
    int callouts = 0;
    for (const auto* type : {"DRAUGHTING_MODEL_ITEM_ASSOCIATION",
                             "DRAUGHTING_MODEL_ITEM_ASSOCIATION_WITH_PLACEHOLDER"})
      for (int id : text_.ofType(type))
        callouts += edit.isRemoved(id) ? 1 : 0;
    if (callouts > 0)
      out_.told.push_back(
          fmt::format("{} drawn in the model {} as before and belong{} to no requirement any more.",
                      callouts == 1 ? "A callout" : fmt::format("{} callouts", callouts),
                      callouts == 1 ? "is" : "are", callouts == 1 ? "s" : ""));
  }

  const PartModel& part_;
  const Specification& spec_;
  const std::vector<Note>& notes_;
  const StepText& text_;
  const StepShape& shape_;
  std::map<EntityNumber, int> numbers_; // of the plain file, where they differ
  std::vector<Note> ignored_;
  Specification was_;
  RequirementEntities entities_; // in the file as it was
  std::set<EntityNumber> kept_, removed_;
  std::set<std::string> changed_datums_;
  StepExport out_;
};

} // namespace

Result<StepExport> stepWithRequirements(const PartModel& part, const Specification& spec,
                                        const std::vector<Note>& notes) {
  if (part.bytes.empty()) return fail("the routine has no STEP file of its part.");
  const PlainStep plain = plainStep(part.bytes);
  const auto text = StepText::parse(plain.bytes);
  if (!text) return pass(text.error());
  const auto shape = StepShape::find(*text, plain, part);
  if (!shape) return pass(shape.error());
  return Exporter(part, spec, notes, plain, *text, *shape).run();
}

std::vector<std::string> differencesReadBack(const StepExport& written, const PartModel& part,
                                             const Specification& spec, const PartModel& read) {
  if (part.faces.size() != read.faces.size())
    return {fmt::format("Read back it has {} faces instead of {}.", read.faces.size(),
                        part.faces.size())};
  std::vector<std::string> told;
  std::vector<Note> notes = read.notes;
  const Specification again = specificationFromPmi(read, notes);
  const RequirementEntities now = entitiesOf(again);
  for (const Requirement& r : spec.requirements) {
    const auto entity = written.entities.find(r.id);
    if (entity == written.entities.end()) continue;
    const auto found =
        std::find_if(again.requirements.begin(), again.requirements.end(),
                     [&](const Requirement& x) { return x.entity == entity->second; });
    if (found == again.requirements.end()) {
      told.push_back(title(spec, r) + " is not read back.");
      continue;
    }
    const auto other =
        differences(statedOf(spec, r, written.entities), statedOf(again, *found, now));
    if (!other.empty())
      told.push_back(
          fmt::format("{} is read back with {}.", title(spec, r), fmt::join(other, ", ")));
    for (const DatumReference& d : r.datums)
      for (const std::string& letter : d.letters) {
        const Datum *wanted = spec.datum(letter), *got = again.datum(letter);
        if (wanted && (!got || !sameDatum(spec, *wanted, again, *got)))
          told.push_back(
              fmt::format("Datum {} of {} is read back as another one.", letter, title(spec, r)));
      }
  }
  return told;
}

} // namespace alder
