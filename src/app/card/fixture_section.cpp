// The fixture, body by body: measures of kit pieces, clamps opened and closed, bodies added and
// taken away. Every change is one of the bench's file.
#include "bench/kit.h"
#include "card/card.h"
#include "card/fields.h"
#include "card/words.h"
#include <QFileDialog>
#include <algorithm>

namespace alder::app {

namespace {

// All bodies of the file, in `fixture` and `fixtures`.
template <class Visit> void eachBody(Json& bench, const Visit& visit) {
  const auto in = [&](Json& fixture) {
    if (!fixture.is_object() || !fixture.contains("bodies")) return;
    Json& bodies = fixture["bodies"];
    for (std::size_t i = 0; i < bodies.size(); ++i)
      if (visit(bodies, i)) return;
  };
  if (bench.contains("fixture")) in(bench["fixture"]);
  if (bench.contains("fixtures"))
    for (Json& f : bench["fixtures"])
      in(f);
}

void withBody(Json& bench, const std::string& name, const std::function<void(Json&)>& change) {
  eachBody(bench, [&](Json& bodies, std::size_t i) {
    if (bodies[i].value("name", "") != name) return false;
    change(bodies[i]);
    return true;
  });
}

Json bodyNamed(const Bench& bench, const std::string& name) {
  Json json = Json::parse(bench.json, nullptr, false), found;
  if (json.is_object()) withBody(json, name, [&](Json& body) { found = body; });
  return found;
}

// "rest 4" after "rest 3".
std::string freeName(const Bench& bench, const std::string& stem) {
  for (int k = 1;; ++k) {
    const std::string name = fmt::format("{} {}", stem, k);
    if (std::none_of(bench.fixture.bodies.begin(), bench.fixture.bodies.end(),
                     [&](const FixtureBody& b) { return b.name == name; }))
      return name;
  }
}

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
      const QString path = QFileDialog::getOpenFileName(this, "Fixture", {},
                                                        "Solids (*.step *.stp *.stl *.STEP *.STL)");
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
  const std::string name = freeName(plan.bench, piece);
  if (document_.editBench("Add " + text(name), [&](Json& bench) {
        bench["fixture"]["bodies"].push_back(kitPiece(piece, name, at));
      }))
    document_.setBenchFocus({-1, name});
}

void Card::bodyFields(const FixtureBody& body) {
  const Json json = bodyNamed(document_.plan().bench, body.name);
  if (json.is_null()) {
    paragraph("Put under the part because the bench names no fixture.");
    return;
  }
  const auto set = [this, name = body.name](const QString& what,
                                            const std::function<void(Json&)>& change) {
    return document_.editBench(what, [&](Json& bench) { withBody(bench, name, change); });
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
    Json copy = json;
    const std::string stem(name(body.kind));
    const std::string fresh = freeName(document_.plan().bench, stem);
    copy["name"] = fresh;
    if (copy.contains("at")) copy["at"][0] = copy["at"][0].get<double>() + 40;
    if (document_.editBench("Add " + text(fresh), [&](Json& bench) {
          bench["fixture"]["bodies"].push_back(std::move(copy));
        }))
      document_.setBenchFocus({-1, fresh});
  });
  link("Take it away", "dropBody", [this, name = body.name] {
    document_.setBenchFocus({});
    document_.editBench("Take away " + text(name), [&](Json& bench) {
      eachBody(bench, [&](Json& bodies, std::size_t i) {
        if (bodies[i].value("name", "") != name) return false;
        bodies.erase(i);
        return true;
      });
    });
  });
}

} // namespace alder::app
