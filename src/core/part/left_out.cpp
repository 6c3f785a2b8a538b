#include "part/left_out.h"

#include <BRep_Builder.hxx>
#include <TopExp_Explorer.hxx>
#include <TopoDS_Compound.hxx>
#include <fmt/format.h>
#include <map>

namespace alder {
namespace {

class Dropper {
 public:
  explicit Dropper(PartModel& part)
      : part_(part) {}

  void run() {
    Pmi& pmi = part_.pmi;
    drop(pmi.datums, [this](PmiDatum& d) { return keeps(d.faces); });
    drop(pmi.dimensions, [this](PmiDimension& d) { return keeps(d.faces) && keeps(d.faces2); });
    drop(pmi.tolerances, [this](PmiTolerance& t) { return keeps(t.faces); });
    for (const auto& [body, count] : gone_)
      part_.notes.push_back(
          {0, fmt::format("{} tolerance{} or datum{} of {} {} not taken over: the body is left out",
                          count, count == 1 ? "" : "s", count == 1 ? "" : "s",
                          part_.bodies[static_cast<std::size_t>(body)].name,
                          count == 1 ? "is" : "are")});
  }

 private:
  template <class Item, class Keeps> void drop(std::vector<Item>& items, const Keeps& keeps) {
    std::erase_if(items, [&](Item& item) {
      body_ = -1;
      if (keeps(item)) return false;
      ++gone_[body_];
      return true;
    });
  }
  // Without the faces that are left out; false where it had others than those only.
  bool keeps(std::vector<FaceId>& faces) {
    if (faces.empty()) return true;
    std::erase_if(faces, [this](FaceId f) {
      if (part_.takes(f)) return false;
      body_ = part_.face(f).body;
      return true;
    });
    return !faces.empty();
  }

  PartModel& part_;
  int body_ = -1;
  std::map<int, int> gone_; // by body
};

} // namespace

void dropLeftOut(PartModel& part) {
  if (!leftOut(part).empty()) Dropper(part).run();
}

std::vector<int> leftOut(const PartModel& part) {
  std::vector<int> out;
  for (std::size_t b = 0; b < part.bodies.size(); ++b)
    if (part.bodies[b].left_out) out.push_back(static_cast<int>(b));
  return out;
}

TopoDS_Shape shapeTaken(const PartModel& part) {
  if (leftOut(part).empty()) return part.shape;
  TopoDS_Compound all;
  BRep_Builder builder;
  builder.MakeCompound(all);
  std::size_t body = 0;
  for (TopExp_Explorer s(part.shape, TopAbs_SOLID); s.More(); s.Next(), ++body)
    if (!part.bodies[body].left_out) builder.Add(all, s.Current());
  for (TopExp_Explorer f(part.shape, TopAbs_FACE, TopAbs_SOLID); f.More(); f.Next())
    if (!part.bodies[body].left_out) builder.Add(all, f.Current());
  return all;
}

Result<std::vector<int>> leftOutBut(const PartModel& part, const std::vector<std::string>& taken) {
  const auto isWithin = [&](int component, const std::string& name) {
    for (; component >= 0; component = part.components[static_cast<std::size_t>(component)].parent)
      if (part.components[static_cast<std::size_t>(component)].name == name) return true;
    return false;
  };
  std::vector<bool> keeps(part.bodies.size(), false);
  for (const std::string& name : taken) {
    bool found = false;
    for (std::size_t b = 0; b < part.bodies.size(); ++b)
      if (part.bodies[b].name == name || std::to_string(b + 1) == name ||
          isWithin(part.bodies[b].component, name))
        keeps[b] = found = true;
    if (found) continue;
    std::vector<std::string> names;
    for (const Body& b : part.bodies)
      names.push_back(b.name);
    return fail("there is no body \"{}\"; there are {}.", name, fmt::join(names, ", "));
  }
  std::vector<int> out;
  for (std::size_t b = 0; b < keeps.size(); ++b)
    if (!keeps[b]) out.push_back(static_cast<int>(b));
  return out;
}

} // namespace alder
