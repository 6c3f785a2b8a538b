#include "base/files.h"
#include "base/units.h"
#include "exchange/qif/qif_file.h"
#include "exchange/qif/qif_reading.h"
#include "exchange/qif/qif_words.h"
#include "plan/constructions/constructed_feature.h"
#include "plan/feature_edit.h"
#include <algorithm>
#include <cstring>

namespace alder {
namespace qif {
namespace {

constexpr std::size_t kMostKept = 16u << 20; // bytes of what was not understood

using UnitsByName = std::map<std::string, double>;

// mm, and radians, to one of them.
UnitsByName knownLengths() {
  return {{"mm", 1},          {"millimeter", 1},  {"millimetre", 1}, {"inch", kMmPerInch},
          {"in", kMmPerInch}, {"m", 1000},        {"meter", 1000},   {"metre", 1000},
          {"cm", 10},         {"centimeter", 10}, {"micron", 1e-3},  {"foot", 12 * kMmPerInch}};
}
UnitsByName knownAngles() {
  return {{"degree", radians(1)}, {"deg", radians(1)}, {"radian", 1}, {"rad", 1}};
}

std::string unitName(Node unit) {
  const std::string name = wordsOf(unit, "UnitName");
  return name.empty() ? wordsOf(unit, "SIUnitName") : name;
}

// With those of the file. A factor is written with as many digits as its writer cared for: near
// that of a unit of this name it is that. Without a factor the name says it.
void addUnits(Node units, const char* quantity, double si, UnitsByName& all) {
  for (const Node group : units.children())
    for (const Node unit : group.children(quantity)) {
      const auto factor = numberIn(unit.child("UnitConversion").child("Factor"));
      if (!factor || !(*factor > 0)) continue;
      const double said = *factor * si;
      double& known = all.try_emplace(unitName(unit), said).first->second;
      if (std::abs(known - said) > 1e-3 * said) known = said;
    }
}

} // namespace

Units::Units(const Source& source)
    : angle_(radians(1))
    , lengths_(knownLengths())
    , angles_(knownAngles()) {
  const Node units = source.root().child("FileUnits"), primary = units.child("PrimaryUnits");
  addUnits(units, "LinearUnit", 1000, lengths_);
  addUnits(units, "AngularUnit", 1, angles_);
  if (const Node unit = primary.child("LinearUnit")) {
    name_ = unitName(unit);
    const auto known = lengths_.find(name_);
    length_ = known != lengths_.end() ? known->second : 1000; // the metre that all refer to
  }
  if (const Node unit = primary.child("AngularUnit")) {
    const auto known = angles_.find(unitName(unit));
    angle_ = known != angles_.end() ? known->second : 1;
  }
  degrees_ = angle_ == radians(1);
}

double Units::length(Node value) const {
  const auto named = lengths_.find(value.attribute("linearUnit").value());
  return named == lengths_.end() ? length_ : named->second;
}

double Units::angle(Node value) const {
  const auto named = angles_.find(value.attribute("angularUnit").value());
  return named == angles_.end() ? angle_ : named->second;
}

Reading::Reading(const Source& source, Plan& plan, KeptQif& kept, ReadOnto onto)
    : source_(source)
    , plan_(plan)
    , kept_(kept)
    , onto_(onto)
    , units_(source)
    , part_(plan.part->mesh) {
  kept_.document = wordsOf(source.root(), "QPId");
  kept_.id_max = source.id_max;
}

void Reading::isThing(Node node, Thing thing, int number) {
  if (!node) return;
  const std::string key = keyOf(thing, number);
  if (const auto id = ownId(node)) kept_.ids.emplace(key, *id);
  if (const std::string uuid = wordsOf(node, "QPId"); !uuid.empty()) kept_.uuids.emplace(key, uuid);
}

namespace {

// "CylinderFeatureItem 32: hole one"
std::string wordsFor(Node node) {
  const std::string id = node.attribute("id").value();
  std::string words = std::string(node.name()) + (id.empty() ? "" : " " + id);
  for (const char* name : {"FeatureName", "Description", "Name", "DatumLabel", "DatumTargetLabel"})
    if (const std::string said = wordsOf(node, name); !said.empty()) return words + ": " + said;
  return words;
}

} // namespace

void Reading::tell(Node node, Taken taken, const std::string& remark) {
  if (!node) return;
  const int line = source_.lineOf(node);
  ++(taken == Taken::Over ? over_ : notes_);
  lines_.emplace_back(line, ProgramLine{line, wordsFor(node), taken, remark});
  if (taken != Taken::Over && !remark.empty())
    remarks_.push_back(fmt::format("{}: {}: {}; it is kept as it stands", source_.at(node),
                                   wordsFor(node), remark));
}

// Of something that is taken over.
void Reading::remark(Node node, const std::string& text) {
  const int line = source_.lineOf(node);
  lines_.emplace_back(line, ProgramLine{line, wordsFor(node), Taken::Over, text});
  remarks_.push_back(source_.at(node) + ": " + text);
}

void Reading::keep(Node node, const std::string& within) {
  if (!node) return;
  const std::string what = std::string(node.parent().name()) + "/" + node.name();
  Kept& told = kept_told_[what];
  if (told.count++ == 0) {
    told.line = source_.lineOf(node);
    kept_order_.push_back(what);
  }
  keepQuietly(node, within);
}

void Reading::keepQuietly(Node node, const std::string& within) {
  // Where it is written again all counts in mm and degrees.
  if (!node || !units_.own()) return;
  std::string before;
  for (Node next = node.next_sibling(); next && before.empty(); next = next.next_sibling())
    if (next.type() == pugi::node_element) before = next.name();
  pugi::xml_document copy;
  Node alone = copy.append_copy(node);
  for (const auto& attribute : source_.root().attributes())
    if (std::strncmp(attribute.name(), "xmlns:", 6) == 0 && !alone.attribute(attribute.name()))
      alone.append_attribute(attribute.name()).set_value(attribute.value());
  std::string xml = xmlOf(alone);
  kept_bytes_ += xml.size();
  if (kept_bytes_ > kMostKept) {
    if (kept_bytes_ - xml.size() <= kMostKept)
      remark(node, "this and what follows is too much to be kept; it will not be written again");
    return;
  }
  kept_.elements.push_back({within, before, std::move(xml)});
}

void Reading::keepAll(const std::vector<Node>& nodes, const std::vector<const char*>& lists) {
  for (std::size_t i = 0; i < nodes.size() && i < lists.size(); ++i)
    keepQuietly(nodes[i], lists[i]);
}

void Reading::keepRest(Node node, Thing thing, int number,
                       std::initializer_list<const char*> known) {
  if (!node) return;
  const std::string key = keyOf(thing, number);
  for (const Node child : node.children()) {
    if (child.type() != pugi::node_element) continue;
    const auto named = [&](const char* name) { return std::strcmp(child.name(), name) == 0; };
    if (std::any_of(known.begin(), known.end(), named)) continue;
    if (!named("Attributes")) {
      keep(child, key);
      continue;
    }
    for (const Node one : child.children())
      if (!std::string_view(one.attribute("name").value()).starts_with("alderpoint."))
        keep(one, key + "/Attributes");
  }
}

// Of machine, tips and part the ids alone: what they are is the bench's and the model's.
void Reading::resources() {
  const Node resources = source_.root().child("MeasurementResources");
  for (const Node device : resources.child("MeasurementDevices").children())
    if (wordsOf(device, "Name") == plan_.bench.machine.name) isThing(device, Thing::Machine, 0);
  const auto& styli = plan_.bench.styli;
  for (const Node tip : resources.child("ProbeTips").children())
    for (std::size_t s = 0; s < styli.size(); ++s)
      for (std::size_t t = 0; t < styli[s].tips.size(); ++t)
        if (wordsOf(tip, "StylusName") == styli[s].name &&
            wordsOf(tip, "Name") == styli[s].tips[t].name)
          isThing(tip, Thing::Tip, tipNumber({static_cast<int>(s), static_cast<int>(t), 0, 0}));
  isThing(source_.root().child("Product").child("PartSet").child("Part"), Thing::Part, 0);
}

// What stands in the file beside features, datums, characteristics and plan.
void Reading::sections() {
  static const std::map<std::string, std::vector<const char*>> kKnown{
      {"QPId", {}},
      {"Header", {"Application", "Description"}},
      {"PreInspectionTraceability", {"SerialNumber", "OperatorName", "MachineName"}},
      {"FileUnits", {"PrimaryUnits", "OtherUnits"}},
      {"MeasurementResources", {"MeasurementDevices", "ProbeTips"}},
      {"DatumDefinitions", {"DatumDefinition"}},
      {"DatumTargetDefinitions",
       {"PointDatumTargetDefinition", "LineDatumTargetDefinition",
        "CircularAreaDatumTargetDefinition"}},
      {"DatumReferenceFrames", {"DatumReferenceFrame"}},
      {"Product", {"PartSet", "RootPartIds", "RootPart"}},
      {"Features", {"FeatureDefinitions", "FeatureNominals", "FeatureItems"}},
      {"Characteristics",
       {"FormalStandard", "CharacteristicDefinitions", "CharacteristicNominals",
        "CharacteristicItems"}},
      {"MeasurementPlan", {"Attributes", "Name", "Actions", "PlanRoot"}},
      {"MeasurementsResults", {"MeasurementResultsSet"}},
      {"Statistics", {"StatisticalStudyResults"}}};
  for (const Node section : source_.root().children()) {
    if (section.type() != pugi::node_element) continue;
    const auto known = kKnown.find(section.name());
    if (known == kKnown.end()) {
      keep(section, "");
      continue;
    }
    if (known->first == "MeasurementPlan") continue; // with the plan
    for (const Node child : section.children())
      if (child.type() == pugi::node_element &&
          std::none_of(known->second.begin(), known->second.end(),
                       [&](const char* name) { return std::strcmp(child.name(), name) == 0; }))
        keep(child, section.name());
  }
  resources();
  nameFrames();
  const Node results = source_.root().child("MeasurementsResults").child("MeasurementResultsSet");
  const auto parts = std::distance(results.begin(), results.end());
  if (parts > 0)
    remark(results, fmt::format("results of {} {}; they are brought in by themselves", parts,
                                parts == 1 ? "part" : "parts"));
  if (const Node statistics = source_.root().child("Statistics"))
    remark(statistics, "statistics are worked out anew");
}

std::vector<ProgramLine> Reading::lines() {
  for (const std::string& what : kept_order_) {
    const Kept& k = kept_told_.at(what);
    const std::string words = what + (k.count > 1 ? fmt::format(" ({} times)", k.count) : "");
    lines_.emplace_back(k.line, ProgramLine{k.line, words, Taken::Note, keptWords()});
  }
  std::stable_sort(lines_.begin(), lines_.end(),
                   [](const auto& a, const auto& b) { return a.first < b.first; });
  std::vector<ProgramLine> lines;
  for (auto& [line, told] : lines_)
    lines.push_back(std::move(told));
  return lines;
}

std::string Reading::keptWords() const {
  return "is not understood; it is " +
         (units_.own() ? std::string("kept as it stands")
                       : "not written again, as the file counts in " + units_.name());
}

std::vector<std::string> Reading::remarks() {
  std::vector<std::string> all = std::move(remarks_);
  for (const std::string& what : kept_order_) {
    const Kept& k = kept_told_.at(what);
    all.push_back(fmt::format("{}, line {}: {}{} {}", source_.label, k.line, what,
                              k.count > 1 ? fmt::format(" ({} times)", k.count) : "", keptWords()));
  }
  return all;
}

// Requirements of the model that the file has not, and features that nothing in it is about; the
// rest in the order of the file.
std::vector<std::string> Reading::dropOthers() {
  Table<Requirement>& all = plan_.spec.requirements;
  std::vector<std::string> dropped;
  std::vector<Requirement> in_order;
  for (const RequirementId id : settled_)
    in_order.push_back(all.at(id));
  for (const Requirement& r : all)
    if (std::find(settled_.begin(), settled_.end(), r.id) == settled_.end())
      dropped.push_back(describe(plan_.spec, r));
  while (!all.empty())
    all.erase(all.back().id);
  for (Requirement& r : in_order)
    all.push_back(std::move(r));
  std::vector<FeatureId> features;
  for (const NominalFeature& f : plan_.spec.features)
    if (!taken_.contains(f.id)) features.push_back(f.id);
  for (const FeatureId id : features)
    (void)removeFeature(plan_, {id}); // what others stand on stays
  return dropped;
}

} // namespace qif

bool isQif(std::string_view text) {
  return qif::looksLikeQif(text);
}

bool holdsQifResults(const std::string& path) {
  const auto text = readFile(path);
  return text && isQif(*text) && text->find("MeasurementResults") != std::string::npos;
}

Result<ProgramRead> readQif(const std::string& text, const std::string& label, Plan base,
                            ReadOnto onto, const Progress& progress) {
  using namespace qif;
  auto source = readSource(text, label);
  if (!source) return pass(source.error());
  const Node root = (*source)->root();
  const Node asked = root.child("Characteristics");
  if (!root.child("Features") && !asked && !root.child("MeasurementPlan"))
    return fail("{}: holds no features, characteristics or plan; if it holds results, bring them "
                "in as such.",
                label);
  ProgramRead read;
  read.plan = std::move(base);
  Plan& plan = read.plan;
  const bool bare = onto == ReadOnto::Part;
  const bool says = asked.child("CharacteristicItems").first_child() ||
                    asked.child("CharacteristicNominals").first_child();
  if (bare && says) plan.spec.datums.clear(); // those of the file count
  Reading reading(**source, plan, read.qif, onto);
  reading.features();
  reading.datums();
  reading.characteristics();
  std::vector<std::string> dropped;
  if (bare && says) dropped = reading.dropOthers();
  if (auto done = reading.plan(progress); !done) return fail("{}: {}", label, done.error().message);
  reading.sections();
  read.lines = reading.lines();
  read.remarks = reading.remarks();
  for (const std::string& requirement : dropped) {
    read.remarks.push_back(
        fmt::format("{}: does not ask for {}, as the model does", label, requirement));
    read.lines.push_back(
        {0, requirement, Taken::LeftOut, "the model asks for it, the file does not"});
  }
  read.understood = reading.over(), read.kept = reading.notes();
  for (const std::string& remark : read.remarks)
    plan.notes.push_back({0, remark});
  return read;
}

} // namespace alder
