#include "bench/bench_edit.h"
#include "heron.h"
#include "support.h"

using namespace alder;

// How a controller calls the tips of the bench.
class ControllerNamesTest : public QObject {
  Q_OBJECT
 private:
  static Json bench() { return Json::parse(demo::benchJson(true)); }
  static ControllerNames names(const Json& json) {
    const auto bench = readBench(json.dump(), "bench");
    if (!bench) qFatal("%s", bench.error().message.c_str());
    return bench->controller;
  }

 private slots:
  void plainNames() {
    QCOMPARE(asciiName("short ø3/1"), std::string("short _3/1"));
    QCOMPARE(asciiName("a\"b\tc"), std::string("a_b_c"));
    ControllerNames n;
    n.tips = {{"short ø3", "1"}, {"star", "+X"}, {"short Ø3", "1"}};
    QCOMPARE(n.plainName("star", "+X"), std::string("star/+X"));
    QVERIFY(n.plainName("short ø3", "1").empty()); // two are alike
    QVERIFY(!n.tipOf("short _3/1"));
    QVERIFY(n.tipOf("star/+X") == std::pair(std::string("star"), std::string("+X")));
    QVERIFY(!n.tipOf("none"));
  }

  // What is named is read again, in the place of what was named before.
  void namedAndReadAgain() {
    Json json = bench();
    const std::string stylus = json["styli"][0]["name"];
    const std::string tip = json["styli"][0]["tips"][0].value("name", "1");
    nameController(json, {stylus, tip, {}, {}, "T1"});
    nameController(json, {stylus, tip, radians(90), radians(-30), "T1A90"});
    nameController(json, {stylus, tip, radians(90), radians(-30), "T1A90B"});
    nameController(json, {stylus, tip, {}, {}, "T9"});
    json["controller"]["a"] = {{"sign", -1}, {"zero_deg", 90}};
    const ControllerNames n = names(json);
    QCOMPARE(n.tools.size(), std::size_t(2));
    QCOMPARE(n.toolFor(stylus, tip, 0, 0)->name, std::string("T9"));
    QCOMPARE(n.toolFor(stylus, tip, radians(90), radians(-30))->name, std::string("T1A90B"));
    QVERIFY(!n.toolFor("nobody", tip, 0, 0));
    QVERIFY(n.tipOf("T9") == std::pair(stylus, tip));
    for (const double a : {-1.0, 0.0, 0.7}) {
      NEAR(n.a.theirs(a), radians(90) - a, 1e-12);
      NEAR(n.a.ours(n.a.theirs(a)), a, 1e-12);
      NEAR(n.b.theirs(a), a, 1e-12);
    }
    QVERIFY(n.turns);
    nameController(json, {stylus, tip, {}, {}, ""});
    QVERIFY(!names(json).toolFor(stylus, tip, 0, 0));
    QVERIFY(names(json).toolFor(stylus, tip, radians(90), radians(-30)));
  }

  // Names follow the styli and tips; what is gone is not named any more.
  void theyFollowTheStyli() {
    Json json = bench();
    const std::string first = json["styli"][0]["name"], star = json["styli"][2]["name"];
    const std::string tip = json["styli"][0]["tips"][0].value("name", "1");
    const std::string side = json["styli"][2]["tips"][1].value("name", "");
    nameController(json, {first, tip, {}, {}, "T1"});
    nameController(json, {star, side, {}, {}, "T2"});
    renameStylus(json, 0, "stub");
    QVERIFY(names(json).toolFor("stub", tip, 0, 0));
    dropTip(json, 2, 1);
    QVERIFY(!names(json).toolFor(star, side, 0, 0));
    dropStylus(json, 0);
    QVERIFY(names(json).tools.empty());
  }

  void complaints() {
    const auto told = [](const std::function<void(Json&)>& change) {
      Json json = bench();
      const std::string stylus = json["styli"][0]["name"];
      const std::string tip = json["styli"][0]["tips"][0].value("name", "1");
      nameController(json, {stylus, tip, {}, {}, "T1"});
      change(json["controller"]);
      const auto read = readBench(json.dump(), "bench.json");
      return read ? std::string() : read.error().message;
    };
    QCOMPARE(told([](Json&) {}), std::string());
    const auto complains = [&](const char* of, const std::function<void(Json&)>& change) {
      const std::string message = told(change);
      QVERIFY2(message.find("bench.json") != std::string::npos &&
                   message.find(of) != std::string::npos,
               message.c_str());
    };
    complains("styli", [](Json& c) { c["tools"][0]["stylus"] = "nobody"; });
    complains("no tip", [](Json& c) { c["tools"][0]["tip"] = "nobody"; });
    complains("ASCII", [](Json& c) { c["tools"][0]["tool"] = "ø3"; });
    complains("ASCII", [](Json& c) { c["tools"][0]["tool"] = ""; });
    complains("a_deg", [](Json& c) { c["tools"][0]["a_deg"] = 90; });
    complains("twice", [](Json& c) { c["tools"].push_back(c["tools"][0]); });
    complains("sign", [](Json& c) { c["a"] = {{"sign", 2}}; });
  }
};
ALDER_TEST(ControllerNamesTest)
#include "controller_names_test.moc"
