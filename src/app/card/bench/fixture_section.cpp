// The fixture, body by body: measures of kit pieces, clamps opened and closed, bodies added and
// taken away. Every change is one of the bench's file.
#include "bench/bench_edit.h"
#include "bench/kit.h"
#include "card/card.h"
#include "card/fields.h"
#include "card/words.h"
#include "document/file_kinds.h"
#include <QFileDialog>
#include <algorithm>

namespace alder::app {

namespace {

// "jaw_height_mm" to "jaw height".
QString wordsOf(const std::string& key) {
  QString words = text(key);
  words.replace(QRegularExpression("_(mm|deg)$"), "");
  return words.replace('_', ' ');
}

} // namespace

void Card::fixtureSection() {
  const Plan& plan = document_.plan();
  head("Fixture");
  const std::string& focus = document_.benchFocus().body;
  for (std::size_t i = 0; i < plan.bench.fixture.bodies.size(); ++i) {
    const FixtureBody& b = plan.bench.fixture.bodies[i];
    link(text(b.name) + (b.open ? " · open" : "") + (b.name == focus ? "  ▾" : ""),
         QString("body%1").arg(i).toLatin1(), [this, name = b.name, focus] {
           Document::BenchFocus next;
           if (name != focus) next.body = name;
           document_.setBenchFocus(next);
         });
    if (b.name == focus) bodyFields(b);
  }
  if (plan.bench.fixture.bodies.empty()) paragraph("none");
  QStringList pieces{"choose"};
  for (const auto& p : kitPieces())
    pieces << text(p);
  pieces << "from a file …";
  choice("add", "addPiece", pieces, 0, [this](int index) {
    if (index == 0) return;
    if (index > static_cast<int>(kitPieces().size())) {
      const QString path = QFileDialog::getOpenFileName(
          this, "Fixture", {}, "Solids (" + kPartPatterns + " " + kMeshPatterns + ")");
      if (!path.isEmpty()) document_.addFixtureFile(path);
      return;
    }
    addPiece(kitPieces()[static_cast<std::size_t>(index) - 1]);
  });
}

// Beside the part, where it can be seen and moved from.
void Card::addPiece(const std::string& piece) {
  const Plan& plan = document_.plan();
  const Box3 box = transformed(plan.part->mesh.box(), plan.placement);
  Vec3 at(std::round(box.max().x() + 30), std::round(box.center().y()), 0);
  for (const FixtureBody& b : plan.bench.fixture.bodies) // on the plate if there is one
    if (b.kind == FixtureKind::Plate && b.mesh.box().max().z() < box.min().z())
      at.z() = b.mesh.box().max().z();
  const std::string name = freeBodyName(plan.bench, piece);
  if (document_.editBench("Add " + text(name),
                          [&](Json& bench) { addBody(bench, kitPiece(piece, name, at)); }))
    document_.setBenchFocus({-1, name});
}

void Card::bodyFields(const FixtureBody& body) {
  const Json json = bodyOf(document_.plan().bench, body.name);
  if (json.is_null()) {
    paragraph("Put under the part because the bench names no place for it.");
    link("Remove it", "dropBody", [this] {
      document_.setBenchFocus({});
      document_.dropSupports();
    });
    return;
  }
  const auto set = [this, name = body.name](const QString& what,
                                            const std::function<void(Json&)>& change) {
    return document_.editBench(what, [&](Json& bench) { changeBody(bench, name, change); });
  };
  const auto changed = "Change " + text(body.name);
  if (json.contains("at"))
    for (std::size_t k = 0; k < 3; ++k)
      quantity(QString("at %1").arg("XYZ"[k]), QString("at%1").arg("XYZ"[k]).toLatin1(),
               Quantity::Length, 2, json["at"][k].get<double>(),
               [set, changed, k](double v) { set(changed, [k, v](Json& b) { b["at"][k] = v; }); });
  for (const auto& [key, value] : json.items()) {
    if (!value.is_number()) continue;
    const bool angle = key.ends_with("_deg");
    quantity(wordsOf(key), ("piece_" + key).c_str(), angle ? Quantity::Angle : Quantity::Length, 2,
             angle ? radians(value.get<double>()) : value.get<double>(),
             [set, changed, key = key, angle](double v) {
               set(changed, [&](Json& b) { b[key] = angle ? shownDegrees(v) : v; });
             });
  }
  if (body.can_open)
    choice("it is", "bodyOpen", {"closed", "open"}, body.open ? 1 : 0, [set, body](int index) {
      set((index == 1 ? "Open " : "Close ") + text(body.name),
          [index](Json& b) { b["open"] = index == 1; });
    });
  link("Another one like it", "copyBody", [this, json, body] {
    const std::string fresh = freeBodyName(document_.plan().bench, std::string(name(body.kind)));
    if (document_.editBench("Add " + text(fresh),
                            [&](Json& bench) { addBody(bench, copyOfBody(json, fresh)); }))
      document_.setBenchFocus({-1, fresh});
  });
  link("Remove it", "dropBody", [this, name = body.name] {
    document_.setBenchFocus({});
    document_.editBench("Remove " + text(name), [&](Json& bench) { dropBody(bench, name); });
  });
}

} // namespace alder::app
