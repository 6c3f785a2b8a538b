// What a QIF file begins with: who wrote it, of which part and machine, in which units, and with
// which tips.
#include "exchange/qif/qif_writing.h"

#include "base/hash.h"
#include "base/units.h"
#include <filesystem>

namespace alder::qif {
namespace {

void writeUnit(Node units, const char* kind, const char* si, const char* unit, double factor) {
  const Node node = add(units, kind);
  add(node, "SIUnitName", si);
  add(node, "UnitName", unit);
  add(add(node, "UnitConversion"), "Factor", factor);
}

std::string cadName(const Plan& plan) {
  const std::string name = plan.part->name.empty() ? plan.name : plan.part->name;
  return std::filesystem::path(name).filename().string();
}

} // namespace

void writeHead(Writing& w, Node root, const std::vector<WrittenPart>& parts) {
  const Node header = add(root, "Header");
  const Node application = add(header, "Application");
  add(application, "Name", "Alderpoint");
  add(header, "Description", w.plan.name);
  if (!parts.empty()) {
    const Node trace = add(root, "PreInspectionTraceability");
    if (parts.size() == 1) add(trace, "SerialNumber", parts.front().name);
    if (parts.size() == 1 && !parts.front().operated_by.empty())
      add(trace, "OperatorName", parts.front().operated_by);
    add(trace, "MachineName", w.plan.bench.machine.name);
  }
  const Node units = add(add(root, "FileUnits"), "PrimaryUnits");
  writeUnit(units, "AngularUnit", "radian", "degree", kPi / 180);
  writeUnit(units, "LinearUnit", "meter", "mm", 0.001);
}

void writeResources(Writing& w, Node root) {
  const Node resources = add(root, "MeasurementResources");
  const Node devices = add(resources, "MeasurementDevices");
  const Node machine = w.element(devices, "CartesianCMM", Thing::Machine, 0);
  add(machine, "Name", w.plan.bench.machine.name);
  setCount(devices);
  const Node tips = add(resources, "ProbeTips");
  const auto& styli = w.plan.bench.styli;
  for (std::size_t s = 0; s < styli.size(); ++s)
    for (std::size_t t = 0; t < styli[s].tips.size(); ++t) {
      const Access access{static_cast<int>(s), static_cast<int>(t), 0, 0};
      const Node tip = w.element(tips, "ProbeTip", Thing::Tip, tipNumber(access));
      add(tip, "Name", styli[s].tips[t].name);
      add(tip, "StylusName", styli[s].name);
      add(tip, "Diameter", styli[s].tips[t].ball_diameter);
    }
  setCount(tips);
}

void writeProduct(Writing& w, Node root) {
  const Node product = add(root, "Product");
  const Node set = add(product, "PartSet");
  const Node part = w.element(set, "Part", Thing::Part, 0);
  add(part, "Name", w.plan.name);
  if (w.plan.part) {
    const Node model = add(add(part, "DefinitionExternal"), "DigitalModel");
    add(model, "Name", cadName(w.plan));
    add(model, "Format", w.plan.part->schema);
    add(model, "Hash", hashText(hashOfLong(w.plan.part->bytes)));
  }
  setCount(set);
  addIds(product, "RootPartIds", {w.ids.of(Thing::Part, 0)});
}

} // namespace alder::qif
