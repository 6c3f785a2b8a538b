// Styli, built from elements between ball and head. Every change is one of the bench's file.
#include "bench/bench_edit.h"
#include "card/card.h"
#include "card/fields.h"
#include "card/words.h"
#include <algorithm>

namespace alder::app {

namespace {

QStringList partWords() {
  return {"shaft", "extension", "joint", "module", "probe"};
}

} // namespace

void Card::stylusSection() {
  const Plan& plan = document_.plan();
  head("Styli");
  const int focus = document_.benchFocus().stylus;
  for (std::size_t i = 0; i < plan.bench.styli.size(); ++i) {
    const Stylus& s = plan.bench.styli[i];
    const int index = static_cast<int>(i);
    link(QString("%1 · %2 mm · %3 g%4")
             .arg(text(s.name))
             .arg(s.length(), 0, 'f', 0)
             .arg(s.grams(), 0, 'f', 1)
             .arg(index == focus ? "  ▾" : ""),
         QString("stylus%1").arg(i).toLatin1(), [this, index, focus] {
           document_.setBenchFocus({index == focus ? -1 : index, ""});
         });
    if (index == focus) stylusFields(s, i);
  }
}

void Card::stylusFields(const Stylus& s, std::size_t index) {
  auto* called = new QLineEdit(text(s.name));
  called->setObjectName("stylusName");
  connect(called, &QLineEdit::editingFinished, this, [this, called, s, index] {
    const std::string fresh = called->text().trimmed().toStdString();
    if (fresh.empty() || fresh == s.name) return;
    document_.editBench("Name the stylus", [&](Json& bench) { renameStylus(bench, index, fresh); });
  });
  row("name", called);
  for (std::size_t t = 0; t < s.tips.size(); ++t)
    tipFields(s, index, t);
  link("Another tip", "addTip", [this, s, index] {
    document_.editBench("Add a tip to " + text(s.name), [&](Json& bench) { addTip(bench, index); });
  });
  link("Another stylus like it", "copyStylus", [this, s, index] {
    const int next = static_cast<int>(document_.plan().bench.styli.size());
    const std::string fresh = fmt::format("{}, {}", s.name, next + 1);
    if (document_.editBench("Add a stylus",
                            [&](Json& bench) { alder::copyStylus(bench, index, fresh); }))
      document_.setBenchFocus({next, ""});
  });
  link("Remove it", "dropStylus", [this, s, index] {
    document_.setBenchFocus({});
    document_.editBench("Remove " + text(s.name),
                        [&](Json& bench) { alder::dropStylus(bench, index); });
  });
}

void Card::tipFields(const Stylus& s, std::size_t index, std::size_t t) {
  const Tip& tip = s.tips[t];
  const auto id = [&](const char* what, std::size_t element = 99) {
    return element == 99 ? QString("tip%1_%2").arg(t).arg(what).toLatin1()
                         : QString("tip%1_%2%3").arg(t).arg(what).arg(element).toLatin1();
  };
  const auto set = [this, index, t, s](const std::function<void(Json&)>& change) {
    return document_.editBench("Change " + text(s.name),
                               [&](Json& bench) { change(bench["styli"][index]["tips"][t]); });
  };
  if (s.tips.size() > 1) head("Tip " + text(tip.name));
  quantity("ball ø", id("ball"), Quantity::Length, 3, tip.ball_diameter,
           [set](double v) { set([v](Json& j) { j["ball_diameter_mm"] = v; }); });
  quantity(
      "disc, thick", id("disc"), Quantity::Length, 2, tip.disc_thickness,
      [set](double v) {
        set([v](Json& j) {
          if (v > 0)
            j["disc_thickness_mm"] = v;
          else
            j.erase("disc_thickness_mm");
        });
      },
      "a ball");
  if (s.tips.size() > 1 || tip.direction != -Vec3::UnitZ())
    for (int k = 0; k < 3; ++k)
      quantity(QString("points along %1").arg("XYZ"[k]), id("along", static_cast<std::size_t>(k)),
               Quantity::Plain, 3, tip.direction[k], [set, tip, k](double v) {
                 Vec3 d = tip.direction;
                 d[k] = v;
                 set([d](Json& j) { j["direction"] = toJson(d); });
               });
  for (std::size_t e = 0; e < tip.elements.size(); ++e)
    elementFields(tip, t, e, set);
  const ControllerTool* named = document_.plan().bench.controller.toolFor(s.name, tip.name, 1e9, 0);
  auto* tool = new QLineEdit(named ? text(named->name) : QString());
  tool->setObjectName(id("tool"));
  tool->setPlaceholderText(text(asciiName(s.name + "/" + tip.name)));
  tool->setToolTip("What the machine's controller calls this tip. The machine that a run finds "
                   "lists its tools, and asks for what it does not know.");
  connect(tool, &QLineEdit::editingFinished, this, [this, tool, s, tip] {
    const std::string fresh = tool->text().trimmed().toStdString();
    const ControllerTool* before =
        document_.plan().bench.controller.toolFor(s.name, tip.name, 1e9, 0);
    if (fresh == (before ? before->name : "")) return;
    document_.editBench("Name a tool", [&](Json& bench) {
      nameController(bench, {s.name, tip.name, {}, {}, fresh});
    });
  });
  row("tool name", tool);
  link("Add an element above the shaft", id("addElement"), [set] { set(addElement); });
  if (s.tips.size() > 1)
    link("Remove this tip", id("dropTip"), [this, index, t, s] {
      document_.editBench("Remove a tip", [&](Json& bench) { alder::dropTip(bench, index, t); });
    });
}

void Card::elementFields(const Tip& tip, std::size_t t, std::size_t e,
                         const std::function<bool(const std::function<void(Json&)>&)>& set) {
  const Element& element = tip.elements[e];
  const auto id = [&](const char* what) {
    return QString("tip%1_element%2_%3").arg(t).arg(e).arg(what).toLatin1();
  };
  const auto change = [set, e](const std::function<void(Json&)>& how) {
    set([&](Json& j) { how(j["elements"][e]); });
  };
  choice(QString("%1 from the ball").arg(e + 1), id("part"), partWords() << "remove it",
         static_cast<int>(partWords().indexOf(text(element.part))), [change, set, e](int index) {
           if (index == partWords().size())
             set([e](Json& j) { j["elements"].erase(e); });
           else
             change([index](Json& j) { j["part"] = partWords()[index].toStdString(); });
         });
  quantity("    length", id("length"), Quantity::Length, 2, element.length,
           [change](double v) { change([v](Json& j) { j["length_mm"] = v; }); });
  quantity("    ø", id("diameter"), Quantity::Length, 2, element.diameter,
           [change](double v) { change([v](Json& j) { j["diameter_mm"] = v; }); });
  quantity(
      "    ø at its far end", id("far"), Quantity::Length, 2,
      element.diameter == element.diameter_far ? 0 : element.diameter_far,
      [change](double v) {
        change([v](Json& j) {
          if (v > 0)
            j["diameter_far_mm"] = v;
          else
            j.erase("diameter_far_mm");
        });
      },
      "same");
  quantity("    weight in g", id("weight"), Quantity::Plain, 1, element.grams,
           [change](double v) { change([v](Json& j) { j["weight_g"] = v; }); });
}

} // namespace alder::app
