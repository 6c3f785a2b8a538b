#include "exchange/dmis/dmis_reading.h"

#include "exchange/dmis/dmis_constructions.h"
#include "exchange/dmis/dmis_matching.h"
#include <algorithm>
#include <set>

namespace alder {
namespace dmis {
namespace {

// Statements that set what the machine does by itself here, or that say nothing of the routine.
const std::set<std::string> kSilent{"DMISMN", "FILNAM", "PRCOMP", "TECOMP", "FLY",    "FEDRAT",
                                    "ACLRAT", "ENDFIL", "DECL",   "DATDEF", "ENDMES", "DISPLY"};

} // namespace

Reading::Reading(const std::string& program, const std::string& label, Plan base)
    : statements_(statementsOf(program))
    , label_(label)
    , systems_(base.placement) {
  read_.plan = std::move(base);
  part_ = MeshTree(read_.plan.part->mesh);
  for (const Feature& f : read_.plan.features)
    if (!f.touches.empty()) planned_[f.id] = f.touches;
  for (Feature& f : read_.plan.features)
    f.touches.clear(), f.why_not = "the program does not measure it";
  read_.plan.steps.clear();
  read_.plan.alignment.clear();
  read_.plan.frames.clear();
  for (const Feature& f : read_.plan.features) // as they were, for what the program leaves open
    if (f.access.valid()) access_of_[f.id] = f.access;
  for (Feature& f : read_.plan.features)
    f.access = {}, f.entry = HopMode::Proposed, f.waypoints.clear();
}

Result<ProgramRead> Reading::run() {
  const bool program = std::any_of(statements_.begin(), statements_.end(), [](const auto& s) {
    return s.word == "DMISMN" || s.word == "DMISMD" || s.word == "FILNAM";
  });
  if (!program) return fail("{}: holds no DMIS program; it would begin with DMISMN.", label_);
  for (const Flowing& f : carriedOut(statements_)) {
    const Statement& s = f.statement;
    if (s.comment) {
      comment(s);
      continue;
    }
    const bool fresh = lines_.try_emplace(s.line, ProgramLine{s.line, s.text}).second;
    if (f.fate == Flowing::Fate::LeftOut && !fresh) continue;
    if (f.fate == Flowing::Fate::Done) {
      statement(s);
    } else if (f.fate == Flowing::Fate::Undecided) {
      remark(s, f.why);
      keep(s);
    } else {
      ++read_.understood;
      if (f.fate == Flowing::Fate::LeftOut) {
        lines_[s.line].taken = Taken::LeftOut;
        lines_[s.line].remark = f.why;
      }
    }
  }
  finish();
  return std::move(read_);
}

Plan& Reading::plan() {
  return read_.plan;
}

void Reading::statement(const Statement& s) {
  const std::string name = std::exchange(last_comment_, {});
  planned_way_ &= s.word == "TEXT" || s.word == "GOTO" || s.word == "RECALL";
  if (planned_way_) {
    ++read_.understood;
    return;
  }
  const int kept = read_.kept;
  own_place_ &= s.word == "TRANS" || s.word == "ROTATE" || s.word == "RECALL";
  if (s.word == "UNITS")
    units(s);
  else if (s.word == "SNSDEF")
    sensor(s);
  else if (s.word == "SNSLCT")
    select(s);
  else if (s.word == "FEAT" && s.kind == "F")
    feature(s, name);
  else if (s.word == "TOL" && s.kind == "T")
    tolerance(s);
  else if (s.word == "OUTPUT" || s.word == "EVAL")
    output(s);
  else if (s.word == "CONST")
    construct(s, name);
  else if (s.word == "MODE")
    mode(s);
  else if (s.word == "SNSET")
    setting(s);
  else if (s.word == "MEAS")
    measure(s);
  else if (s.word == "ENDMES") {
    if (measuring_) measuring_->raw.push_back(s);
    endMeasure();
  } else if (s.word == "PTMEAS")
    touch(s);
  else if (s.word == "GOTO")
    goTo(s);
  else if (s.word == "GOTARG")
    target_ = s;
  else if (s.word == "ENDGO" && target_)
    goTo(*std::exchange(target_, std::nullopt));
  else if (s.word == "LOCATE")
    locate(s, name);
  else if (s.word == "TRANS" || s.word == "ROTATE" || s.word == "DATSET" || s.word == "SAVE" ||
           s.word == "RECALL")
    system(s);
  else if (s.word == "TEXT")
    text(s);
  else if (kSilent.count(s.word) == 0)
    keep(s);
  if (s.word == "DATDEF") datum(s);
  if (s.word == "PRCOMP") compensated_ = !s.is(0, "OFF");
  read_.understood += read_.kept == kept;
}

void Reading::units(const Statement& s) {
  if (!readUnits(s, units_)) remark(s, "angles in degrees, minutes and seconds are not read");
}

void Reading::system(const Statement& s) {
  if (s.word != "SAVE") endMeasure();
  std::string why;
  const bool followed = systems_.take(s, units_, why);
  if (!why.empty())
    remark(s, why + (followed ? "" : "; places are left out until one that is known counts again"));
  const bool placed = s.word == "TRANS" || s.word == "ROTATE";
  if (followed && placed && !own_place_ && !moved_told_) {
    moved_told_ = true;
    remark(s, "places count in this system; the part is taken to lie as this routine has it");
  }
  if (!followed) keep(s);
}

// Numbers as they are meant now; false, and a note, where that is not known.
bool Reading::meant(const Statement& s) {
  const auto system = systems_.toPart();
  if (system)
    units_.system = *system;
  else
    keep(s);
  return system.has_value();
}

void Reading::sensor(const Statement& s) {
  std::string why;
  const auto access = accessFor(plan(), s, units_, why);
  if (access)
    sensors_[keyOf(s.label)] = *access;
  else
    keep(s);
  if (!why.empty()) remark(s, "sensor " + s.label + ": " + why);
}

void Reading::select(const Statement& s) {
  body_ = true;
  endMeasure();
  const auto ref = s.arguments.empty() ? std::nullopt : referenceIn(s.arguments[0]);
  const auto found = ref ? sensors_.find(keyOf(ref->label)) : sensors_.end();
  if (found != sensors_.end()) {
    access_ = found->second;
    return;
  }
  // Not the one before: what is measured with it is asked for.
  access_ = {};
  remark(s, "selects a sensor that is not defined; the tips of what follows are chosen here");
  keep(s);
}

void Reading::feature(const Statement& s, const std::string& name) {
  systems_.nominalsHere();
  if (!meant(s)) return;
  if (const auto id = featureFor(plan(), s, units_, name)) features_[keyOf(s.label)] = *id;
  if (!name.empty()) names_[keyOf(s.label)] = name;
  // What is not found by its geometry may be by its touches.
}

std::optional<FeatureId> Reading::labelled(const std::string& argument) const {
  const auto ref = referenceIn(argument);
  if (!ref || (ref->kind != "F" && ref->kind != "FA")) return {};
  const auto found = features_.find(keyOf(ref->label));
  return found == features_.end() ? std::nullopt : std::optional(found->second);
}

void Reading::tolerance(const Statement& s) {
  // Datums may be features, which are known once they are measured: then when results are asked
  // for.
  const bool later = std::any_of(s.arguments.begin(), s.arguments.end(), [](const auto& a) {
    const auto ref = referenceIn(a);
    return ref && (ref->kind == "FA" || ref->kind == "F");
  });
  if (later) {
    late_[keyOf(s.label)] = {s, units_};
    return;
  }
  if (requirements_.define(keyOf(s.label), s, units_)) return;
  remark(s, (s.arguments.empty() ? "it" : s.arguments[0]) + " is no tolerance that is read");
  keep(s);
}

// A tolerance whose datums are features, now that these are known.
void Reading::defineLate(const std::string& label) {
  const auto late = late_.find(label);
  if (late == late_.end()) return;
  Statement s = late->second.first;
  const Units units = late->second.second;
  late_.erase(late);
  for (std::string& a : s.arguments) {
    const auto ref = referenceIn(a);
    if (!ref || (ref->kind != "FA" && ref->kind != "F")) continue;
    const auto id = labelled(a);
    if (!id) {
      remark(s, "its datum " + ref->label + " is no feature of this part");
      return keep(s);
    }
    a = "DAT(" + letterOf(s, *id) + ")";
  }
  if (!requirements_.define(label, s, units)) keep(s);
}

// The datum that is this feature; where there is none it gets the next free letter.
std::string Reading::letterOf(const Statement& s, FeatureId id) {
  Specification& spec = plan().spec;
  for (const Datum& d : spec.datums)
    if (d.features == std::vector<FeatureId>{id} && d.targets.empty()) return d.letter;
  std::string letter = "A";
  while (spec.datum(letter))
    letter = letter.back() < 'Z' ? letter.substr(0, letter.size() - 1) + char(letter.back() + 1)
                                 : letter + "A";
  spec.datums.push_back({letter, {id}, {}});
  remark(s, plan().nominal(id).name + " is datum " + letter + " for it");
  return letter;
}

void Reading::construct(const Statement& s, const std::string& name) {
  body_ = true;
  endMeasure();
  const auto ref = s.arguments.size() > 1 ? referenceIn(s.arguments[1]) : std::nullopt;
  if (!ref || ref->kind != "F") return keep(s);
  const std::string label = keyOf(ref->label);
  const std::string called = !name.empty()             ? name
                             : names_.count(label) > 0 ? names_[label]
                                                       : ref->label;
  const auto id = constructedBy(plan(), s, called,
                                [this](const std::string& argument) { return labelled(argument); });
  if (!id) {
    remark(s, id.error().message);
    features_.erase(label); // not what its nominal may have been taken for
    return keep(s);
  }
  features_[label] = *id;
  own_.erase(label);
}

void Reading::datum(const Statement& s) {
  if (s.arguments.size() < 2) return;
  const auto letter = referenceIn(s.arguments.back());
  if (!letter || plan().spec.datum(letter->label)) return;
  std::vector<FeatureId> features;
  for (std::size_t i = 0; i + 1 < s.arguments.size(); ++i) {
    const auto id = labelled(s.arguments[i]);
    if (!id) return remark(s, "datum " + letter->label + " is of what is no feature of this part");
    features.push_back(*id);
  }
  plan().spec.datums.push_back({letter->label, features, {}});
}

void Reading::output(const Statement& s) {
  body_ = true;
  endMeasure();
  std::vector<FeatureId> ids;
  std::vector<std::string> tolerances;
  std::vector<OwnKind> own;
  bool known = true;
  for (const std::string& a : s.arguments) {
    const auto ref = referenceIn(a);
    if (ref && (ref->kind == "TA" || ref->kind == "T")) {
      tolerances.push_back(keyOf(ref->label));
      continue;
    }
    const auto id = labelled(a);
    known &= id.has_value();
    if (id) ids.push_back(*id);
    if (id && own_.count(keyOf(ref->label)) > 0) own.push_back(own_.at(keyOf(ref->label)).kind);
  }
  for (const std::string& t : tolerances) {
    defineLate(t);
    known &= requirements_.knows(t);
  }
  if (!known || tolerances.empty() || ids.empty()) return keep(s);
  for (const std::string& t : tolerances) {
    const Characteristic asked = requirements_.kind(t);
    if (std::all_of(own.begin(), own.end(), [&](OwnKind k) { return answers(k, asked); })) {
      requirements_.output(t, ids);
      continue;
    }
    remark(s, fmt::format("{} is not worked out of a line or a point here", alder::name(asked)));
    keep(s);
  }
}

void Reading::mode(const Statement& s) {
  body_ = true;
  endMeasure();
  by_hand_ = s.is(0, "MAN");
}

void Reading::setting(const Statement& s) {
  const auto value = s.number(1);
  if (!value) return keep(s);
  if (s.is(0, "APPRCH"))
    approach_ = *value * units_.length;
  else if (s.is(0, "RETRCT"))
    retract_ = *value * units_.length;
  else if (s.is(0, "SEARCH"))
    search_ = *value * units_.length;
  else
    keep(s);
}

void Reading::locate(const Statement& s, const std::string& name) {
  body_ = true;
  endMeasure();
  std::vector<FeatureId> ids;
  bool known = !s.arguments.empty();
  for (const std::string& a : s.arguments) {
    if (!referenceIn(a)) continue;
    const auto id = labelled(a);
    known &= id.has_value();
    if (id) ids.push_back(*id);
  }
  std::string why;
  systems_.take(s, units_, why);
  for (FeatureId id : ids)
    if (plan().nominal(id).isConstructed()) {
      remark(s, plan().nominal(id).name + " is no feature that a frame is found by here");
      return keep(s);
    }
  if (!known || ids.empty()) return keep(s);
  if (plan().alignment.empty()) {
    plan().alignment = ids;
    return;
  }
  if (plan().alignment == ids && !name.starts_with("Use frame ")) return; // the precise one
  if (auto own = ownFrameOf(ids)) {
    if (!plan().frame(own->first.name)) plan().frames.push_back(own->first);
    addStep(own->second);
    return;
  }
  PartFrame frame;
  frame.name = name.starts_with("Use frame ") ? name.substr(10) : s.label;
  for (FeatureId id : ids)
    frame.stages.push_back({{id}, ""});
  if (!plan().frame(frame.name)) plan().frames.push_back(frame);
  addStep(useFrame(frame.name));
}

void Reading::finish() {
  endMeasure();
  for (auto& [line, of] : lines_)
    read_.lines.push_back(std::move(of));
  requirements_.addTo(plan());
  // A part frame of features that are not measured could not be found.
  for (FeatureId id : plan().alignment)
    if (!plan().feature(id).covered())
      read_.remarks.push_back(fmt::format("{}: {} is to find the part, but the program does not "
                                          "measure it; the part is found without it",
                                          label_, plan().nominal(id).name));
  std::erase_if(plan().alignment, [&](FeatureId id) { return !plan().feature(id).covered(); });
  for (const std::string& remark : read_.remarks)
    plan().notes.push_back({0, remark});
}

} // namespace dmis

Result<ProgramRead> readDmis(const std::string& program, const std::string& label, Plan base) {
  return dmis::Reading(program, label, std::move(base)).run();
}

} // namespace alder
