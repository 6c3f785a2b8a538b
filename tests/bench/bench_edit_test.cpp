#include "bench/bench_edit.h"
#include "bench/kit.h"
#include "heron.h"
#include "support.h"

using namespace alder;

namespace {

// Every change must leave a file that is read again.
Bench edited(const std::function<void(Json&)>& change) {
  Json json = Json::parse(demo::benchJson(true));
  change(json);
  auto bench = readBench(json.dump(), "edited");
  if (!bench) qFatal("%s", bench.error().message.c_str());
  return *bench;
}

} // namespace

class BenchEditTest : public QObject {
  Q_OBJECT
 private slots:
  void bodies() {
    const Bench bench = test::heronBench();
    QCOMPARE(freeBodyName(bench, "rest"), std::string("rest 4"));
    QVERIFY(bodyOf(bench, "pedestal").is_null());
    const Json clamp = bodyOf(bench, "clamp 1");
    QCOMPARE(clamp.value("kind", ""), std::string("clamp"));
    QCOMPARE(edited([](Json& j) { QVERIFY(dropBody(j, "rest 2")); }).fixture.bodies.size(),
             std::size_t(5));
    Json json = Json::parse(bench.json);
    QVERIFY(!dropBody(json, "nobody"));
    QVERIFY(!changeBody(json, "nobody", [](Json&) {}));
    QCOMPARE(json.dump(), Json::parse(bench.json).dump());
    // also of further fixtures
    const Bench more = edited([](Json& j) {
      j["fixtures"] = {{{"name", "side"}, {"bodies", {kitPiece("vice", "vice", Vec3::Zero())}}}};
      QVERIFY(changeBody(j, "vice", [](Json& b) { b["opening_mm"] = 80; }));
    });
    QVERIFY(bodyOf(more, "vice").value("opening_mm", 0.0) == 80);
  }
  // A copy stands beside, open or closed, whatever it is made of.
  void copies() {
    const Bench bench = test::heronBench();
    for (const FixtureBody& body : bench.fixture.bodies)
      for (const bool open : {false, true}) {
        if (open && !body.can_open) continue;
        const Bench both = edited([&](Json& j) {
          Json own = bodyOf(bench, body.name);
          own["open"] = open;
          changeBody(j, body.name, [&](Json& b) { b = own; });
          addBody(j, copyOfBody(own, "copy"));
        });
        const FixtureBody& copy = both.fixture.bodies.back();
        const auto same = std::find_if(both.fixture.bodies.begin(), both.fixture.bodies.end(),
                                       [&](const auto& b) { return b.name == body.name; });
        const Vec3 off = copy.mesh.box().min() - same->mesh.box().min();
        NEAR((off - Vec3(40, 0, 0)).norm(), 0.0, 1e-9);
      }
  }
  void styli() {
    const Bench renamed = edited([](Json& j) { renameStylus(j, 1, "longest"); });
    QVERIFY(renamed.rack->portOf("longest") && !renamed.rack->portOf("long ø4"));
    const Bench fewer = edited([](Json& j) { dropStylus(j, 1); });
    QCOMPARE(fewer.styli.size(), std::size_t(2));
    QCOMPARE(fewer.rack->ports.size(), std::size_t(2));
    const Bench more = edited([](Json& j) { copyStylus(j, 0, "another"); });
    QCOMPARE(more.styli.back().tips[0].pivot_to_ball, more.styli[0].tips[0].pivot_to_ball);
    const Bench forked = edited([](Json& j) { addTip(j, 0); });
    const Tip& side = forked.styli[0].tips[1];
    NEAR((side.pivot_to_ball - Vec3(0, 32, -78)).norm(), 0.0, 1e-12);
    const Bench longer = edited([](Json& j) { addElement(j["styli"][0]["tips"][0]); });
    NEAR(longer.styli[0].length(), 52.0, 1e-12);
    QCOMPARE(longer.styli[0].tips[0].elements[1].part, std::string("extension"));
  }
};
ALDER_TEST(BenchEditTest)
#include "bench_edit_test.moc"
