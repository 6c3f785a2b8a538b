#include "base/units.h"
#include "exchange/dmis/dmis_definitions.h"
#include "exchange/dmis/dmis_text.h"
#include "exchange/dmis/dmis_writer.h"
#include "plan/steps/step_edit.h"
#include "support.h"
#include <map>
#include <set>
#include <sstream>

using namespace alder;

// The program as another reader would take it: statement by statement.
class DmisTest : public QObject {
  Q_OBJECT

  // Continued lines joined, comments apart.
  static std::vector<std::string> statements(const std::string& program,
                                             std::vector<std::string>* notes = nullptr) {
    std::vector<std::string> all;
    std::istringstream in(program);
    std::string line, whole;
    while (std::getline(in, line)) {
      const auto from = line.find_first_not_of(' ');
      if (from == std::string::npos) continue;
      line = line.substr(from);
      if (line.starts_with("$$")) {
        if (notes) notes->push_back(line.substr(2));
        continue;
      }
      const bool goes_on = line.back() == '$';
      whole += goes_on ? line.substr(0, line.size() - 1) : line;
      if (goes_on) continue;
      all.push_back(whole);
      whole.clear();
    }
    return all;
  }
  static std::vector<double> numbers(const std::string& statement) {
    std::vector<double> all;
    std::istringstream in(statement.substr(statement.find('/') + 1));
    std::string word;
    while (std::getline(in, word, ','))
      try {
        all.push_back(std::stod(word));
      } catch (const std::exception&) {
        continue; // a word
      }
    return all;
  }
  static std::string between(const std::string& s, const std::string& open) {
    const auto from = s.find(open);
    if (from == std::string::npos) return {};
    const auto begin = from + open.size();
    return s.substr(begin, s.find(')', begin) - begin);
  }
  static const std::vector<std::string>& heron() {
    static const auto all = statements(dmisProgram(test::heronPlan(), test::heronWay()));
    return all;
  }

 private slots:
  void figuresAndWords() {
    QCOMPARE(dmis::figure(0), std::string("0"));
    QCOMPARE(dmis::figure(-1e-9), std::string("0"));
    QCOMPARE(dmis::figure(12.5), std::string("12.5"));
    QCOMPARE(dmis::figure(-0.333333333), std::string("-0.333333"));
    QCOMPARE(dmis::figure(1e7), std::string("10000000"));
    QCOMPARE(dmis::quoted("it's\ntwo"), std::string("'it''s two'"));
    QCOMPARE(dmis::ascii("Bore ø32 · 2, 90°, 漢"), std::string("Bore dia 32 - 2, 90 deg, ?"));
  }
  void longStatementsGoOn() {
    dmis::Program p;
    std::string list = "GOTO/1";
    for (int i = 2; i < 60; ++i)
      list += "," + std::to_string(i);
    p.add(list);
    p.add("TEXT/OPER,'" + std::string(120, 'x') + "'"); // words stay whole
    std::istringstream in(p.text());
    std::string line;
    while (std::getline(in, line))
      QVERIFY(line.size() <= 81 || line.find("xxx") != std::string::npos);
    const auto all = statements(p.text());
    QCOMPARE(all.size(), 2u);
    QCOMPARE(all[0], list);
  }
  void beginsAndEnds() {
    QVERIFY(heron().front().starts_with("DMISMN/"));
    QCOMPARE(heron().back(), std::string("ENDFIL"));
    QVERIFY(std::count(heron().begin(), heron().end(), "UNITS/MM,ANGDEC") == 1);
    const std::string program = dmisProgram(test::heronPlan(), test::heronWay());
    QVERIFY(std::all_of(program.begin(), program.end(),
                        [](char c) { return static_cast<unsigned char>(c) < 0x80; }));
    // Ever the same.
    QCOMPARE(dmisProgram(test::heronPlan(), test::heronWay()),
             dmisProgram(test::heronPlan(), test::heronWay()));
  }
  // What is used was defined before it.
  void labelsAreDefinedFirst() {
    std::set<std::string> defined;
    for (const std::string& s : heron()) {
      const auto equals = s.find(")=");
      for (const char* kind : {"F(", "FA(", "T(", "TA(", "S(", "DAT("}) {
        for (auto at = s.find(kind); at != std::string::npos; at = s.find(kind, at + 1)) {
          if (at > 0 && std::isalpha(static_cast<unsigned char>(s[at - 1]))) continue;
          const std::string label = between(s.substr(at), kind);
          const std::string key = std::string(1, kind[0]) + label;
          const bool definition = at == 0 && equals != std::string::npos;
          if (definition || s.starts_with("DATDEF")) defined.insert(key);
          // Tolerances name the datums of the drawing, which are measured later.
          if (s.find("=TOL/") != std::string::npos && kind[0] == 'D') continue;
          QVERIFY2(defined.count(key), s.c_str());
        }
      }
    }
  }
  // Each feature with as many points as its block says, its own ones, in order.
  void touchesAreThePlans() {
    const Plan& plan = test::heronPlan();
    std::map<int, int> blocks;
    const Feature* feature = nullptr;
    int left = 0, at = 0;
    bool manual = false;
    for (const std::string& s : heron()) {
      if (s == "MODE/MAN") manual = true;
      if (s == "MODE/PROG,MAN") manual = false;
      if (s.starts_with("MEAS/")) {
        QVERIFY(!feature);
        feature = &plan.features[static_cast<std::size_t>(std::stoi(between(s, "F(F")))];
        left = static_cast<int>(numbers(s).back());
        at = 0;
        if (!manual) {
          ++blocks[feature->id.value];
          QCOMPARE(left, static_cast<int>(feature->touches.size()));
        }
      }
      if (s.starts_with("PTMEAS/")) {
        QVERIFY(feature);
        const auto n = numbers(s);
        QCOMPARE(n.size(), 6u);
        const Vec3 place(n[0], n[1], n[2]), normal(n[3], n[4], n[5]);
        --left;
        if (manual) {
          QVERIFY(std::any_of(feature->touches.begin(), feature->touches.end(),
                              [&](auto& t) { return (t.point - place).norm() < 2e-6; }));
          continue;
        }
        const Touch& t = feature->touches[static_cast<std::size_t>(at++)];
        QVERIFY((t.point - place).norm() < 2e-6 && (t.normal - normal).norm() < 2e-6);
      }
      if (s == "ENDMES") {
        QCOMPARE(left, 0);
        feature = nullptr;
      }
    }
    QCOMPARE(blocks.size(), plan.features.size());
    for (const auto& [id, count] : blocks)
      QCOMPARE(count, 1);
  }
  // The places between are those of the proved way, in the frame of the part.
  void placesAreThoseOfTheWay() {
    const Plan& plan = test::heronPlan();
    const Frame back = plan.placement.inverse();
    std::vector<Vec3> proved;
    for (const Position& p : test::heronWay().positions)
      proved.push_back(back * p.ball);
    // After the touches by hand also the place high above where the way goes on.
    double top = 0;
    for (const Position& p : test::heronWay().positions)
      top = std::max(top, p.ball.z());
    for (const Position& p : test::heronWay().positions)
      for (const Position& high : test::heronWay().positions)
        if (p.feature == plan.alignment.back() && high.access == p.access &&
            high.ball.z() > top - 200)
          proved.push_back(back * Vec3(p.ball.x(), p.ball.y(), high.ball.z()));
    int places = 0;
    bool aligned = false, machine = false;
    for (const std::string& s : heron()) {
      aligned |= s.starts_with("D(ROUGH)");
      if (s.starts_with("RECALL/")) machine = s == "RECALL/D(MACHINE)";
      if (!s.starts_with("GOTO/")) continue;
      QVERIFY(aligned);
      const auto n = numbers(s);
      const Vec3 said(n[0], n[1], n[2]), place = machine ? back * said : said;
      QVERIFY(std::any_of(proved.begin(), proved.end(),
                          [&](const Vec3& p) { return (p - place).norm() < 2e-6; }));
      ++places;
    }
    QVERIFY(places > 50);
  }
  void everyRequirementIsAnswered() {
    const Plan& plan = test::heronPlan();
    const std::string program = dmisProgram(plan, test::heronWay());
    for (const Requirement& r : plan.spec.requirements) {
      const std::string label = "T(" + dmis::toleranceLabel(r) + ")=TOL/";
      std::string why;
      const bool defined = dmis::toleranceDefinition(plan, r, why).has_value();
      QCOMPARE(program.find(label) != std::string::npos, defined);
      QCOMPARE(program.find(",TA(" + dmis::toleranceLabel(r) + ")") != std::string::npos, defined);
      if (!defined) QVERIFY(!why.empty());
    }
    QVERIFY(program.find("TOL/POS,2D,0.25,MMC,DAT(A)") != std::string::npos);
  }
  void featuresInItsWords() {
    Plan plan = test::heronPlan();
    const FeatureId id{1};
    auto& ideal = plan.spec.features[1].ideal;
    ideal = {SurfaceType::Cone, Vec3(0, 0, 10), Vec3::UnitZ(), 20, radians(45), 5, true};
    // The vertex of a right cone lies half a diameter behind.
    QCOMPARE(dmis::featureDefinition(plan, id),
             std::string("F(F1)=FEAT/CONE,INNER,CART,0,0,0,0,0,1,90"));
    ideal = {SurfaceType::Slot, Vec3(1, 2, 3), Vec3::UnitX(), 6, 0, 0, true};
    QCOMPARE(dmis::featureDefinition(plan, id),
             std::string("F(F1)=FEAT/PARPLN,INNER,MIDPL,CART,1,2,3,1,0,0,6"));
    ideal = {SurfaceType::Sphere, Vec3(1, 2, 3), Vec3::UnitX(), 0, 0, 0, false};
    QCOMPARE(dmis::featureWord(ideal), std::string("POINT"));
    ideal = {SurfaceType::Cylinder, Vec3(1, 2, 3), Vec3::UnitX(), 8, 0, 0, true};
    QCOMPARE(dmis::featureWord(ideal), std::string("CIRCLE"));
  }
  // What the operator does stands where he does it, also in the middle of a feature.
  void stepsAreWritten() {
    Plan plan = test::heronPlan();
    const auto put = [&](std::size_t at, StepBody body) {
      RoutineStep s;
      s.body = std::move(body);
      VERIFY_OK(applyEdit(plan, *insertSteps(plan, {s}, at, 0)));
    };
    put(9, WaitStep{"turn the operator's knob", "", true, 5});
    VERIFY_OK(applyEdit(plan, *putWithinNext(plan, plan.steps[9].id)));
    Steps steps = plan.steps;
    steps[10].before = 2;
    VERIFY_OK(applyEdit(plan, *stepsBecome(plan, steps)));
    put(0, AskStep{"Temperature", true, "°C"});
    put(12, NoteStep{"by the book"});
    VERIFY_OK(applyEdit(plan, *enableSteps(plan, {plan.steps.back().id}, false)));
    const auto way = routePlan(plan, obstaclesOf(plan));
    VERIFY_OK(way);
    std::vector<std::string> notes;
    const auto all = statements(dmisProgram(plan, *way), &notes);
    const auto index = [&](const std::string& part) {
      return std::find_if(all.begin(), all.end(),
                          [&](const std::string& s) { return s.find(part) != std::string::npos; }) -
             all.begin();
    };
    const auto wait = index("TEXT/OPER,'Wait: turn the operator''s knob'");
    QVERIFY(wait < static_cast<long>(all.size()));
    int points = 0, ends = 0;
    for (auto i = wait; !all[static_cast<std::size_t>(i)].starts_with("MEAS/"); --i) {
      points += all[static_cast<std::size_t>(i)].starts_with("PTMEAS/");
      ends += all[static_cast<std::size_t>(i)] == "ENDMES";
    }
    QCOMPARE(points, 2);
    QCOMPARE(ends, 0);
    QVERIFY(index("TEXT/QUERY,(ANSWER1)") < index("MEAS/"));
    QVERIFY(std::any_of(notes.begin(), notes.end(), [](const std::string& n) {
      return n.find("by the book") != std::string::npos;
    }));
    QVERIFY(std::any_of(notes.begin(), notes.end(), [](const std::string& n) {
      return n.find("left out: Measure") != std::string::npos;
    }));
  }
  void withoutAFrameThePartIsPlaced() {
    Plan plan = test::heronPlan();
    plan.alignment.clear();
    const auto way = routePlan(plan, test::heronObstacles());
    VERIFY_OK(way);
    const std::string program = dmisProgram(plan, *way);
    QVERIFY(program.find("D(PLANNED)=TRANS/XORIG,") != std::string::npos);
    QVERIFY(program.find("LOCATE") == std::string::npos);
    QVERIFY(program.find("GOTO/") != std::string::npos);
  }
};
ALDER_TEST(DmisTest)
#include "dmis_test.moc"
