#include "base/random.h"
#include "exchange/dmis/dmis_writer.h"
#include "judge/judge.h"
#include "made_parts.h"
#include "made_routine.h"
#include "plan/id_text.h"
#include "plan/repeats/repeat.h"
#include "random_parts.h"
#include "results.h"
#include "support.h"
#include <set>
#include <sstream>

using namespace alder;

// What a program makes a machine do, carried out by an interpreter that shares no code with the
// writer: every place of the proved way, every touch, no clash, the same requirements.
class DmisMachineTest : public QObject {
  Q_OBJECT

  static std::vector<std::array<Vec3, 3>> trianglesOf(const Mesh& mesh) {
    std::vector<std::array<Vec3, 3>> all;
    for (const auto& t : mesh.triangles)
      all.push_back({mesh.vertices[static_cast<std::size_t>(t[0])],
                     mesh.vertices[static_cast<std::size_t>(t[1])],
                     mesh.vertices[static_cast<std::size_t>(t[2])]});
    return all;
  }

  // Tips of the bench by what a sensor says of itself: number of the stylus, rods as they stand.
  static std::pair<int, std::vector<dmis_machine::Capsule>>
  tipOf(const Plan& plan, const dmis_machine::Sensor& sensor) {
    int number = -1;
    for (const Stylus& stylus : plan.bench.styli) {
      ++number;
      for (const Tip& tip : stylus.tips) {
        if (std::abs(tip.ball_diameter - sensor.ball) > 1e-6) continue;
        for (double a = -180; a <= 180; a += 2.5)
          for (double b = -180; b <= 180; b += 2.5) {
            if (sensor.angles && (std::abs(a - sensor.a) > 1e-6 || std::abs(b - sensor.b) > 1e-6))
              continue;
            const Eigen::Matrix3d turn = (Eigen::AngleAxisd(radians(b), Vec3::UnitZ()) *
                                          Eigen::AngleAxisd(-radians(a), Vec3::UnitX()))
                                             .matrix();
            if ((turn * tip.pivot_to_ball - sensor.offset).norm() > 1e-3) continue;
            std::vector<dmis_machine::Capsule> rods;
            const double ball = tip.disc() ? tip.disc_thickness : tip.ball_diameter;
            rods.push_back({Vec3::Zero(), Vec3::Zero(), ball / 2, "ball"});
            for (const Rod& rod : tip.rods)
              rods.push_back({turn * rod.a, turn * rod.b, rod.diameter / 2, rod.part});
            return {number, rods};
          }
      }
    }
    return {-1, {}};
  }

  static dmis_machine::World worldOf(const Plan& plan, const Way& way, const Frame& lies) {
    dmis_machine::World world;
    dmis_machine::Solid part{"part", trianglesOf(plan.part->mesh)};
    part.placed = lies;
    world.lies = lies;
    world.solids.push_back(part);
    for (const FixtureBody& body : plan.bench.fixture.bodies) {
      dmis_machine::Solid now{body.name, trianglesOf(body.mesh)},
          other{body.name, trianglesOf(body.other)};
      other.away = true;
      world.solids.push_back(now);
      if (body.can_open) world.solids.push_back(other);
    }
    world.rods = [&plan](const dmis_machine::Sensor& s) { return tipOf(plan, s).second; };
    world.reads = [&plan](const std::string& words, dmis_machine::Space& space) {
      for (const FixtureBody& body : plan.bench.fixture.bodies)
        if (body.can_open && (words.find("open " + body.name) != std::string::npos ||
                              words.find("close " + body.name) != std::string::npos))
          for (auto& solid : space.solids)
            if (solid.name == body.name) solid.away = !solid.away;
    };
    world.swaps = [&plan, behind = behindSwaps(way), n = std::make_shared<std::size_t>(0)](
                      const dmis_machine::Sensor& from, const dmis_machine::Sensor& to) {
      const auto stylus = [&](const dmis_machine::Sensor& sensor) {
        return tipOf(plan, sensor).first;
      };
      if (stylus(from) == stylus(to) || *n >= behind.size()) return std::optional<Vec3>();
      return std::optional(behind[(*n)++]);
    };
    if (!way.positions.empty()) world.start = way.positions.front().ball;
    return world;
  }

  // Behind the n-th swap at the rack: in front of it, where the machine's own way ends.
  static std::vector<Vec3> behindSwaps(const Way& way) {
    std::vector<Vec3> all;
    for (std::size_t i = 1; i < way.positions.size(); ++i)
      if (way.positions[i - 1].bare && !way.positions[i].bare)
        all.push_back(way.positions[i + 1 < way.positions.size() ? i + 1 : i].ball);
    return all;
  }

  struct Place {
    std::string what;
    Vec3 part;
    bool fixed = false;          // a place of the machine: `part` is in its coordinates
    Vec3 machine = Vec3::Zero(); // of what was done
  };
  // Of the proved way, as far as the program moves by itself: not by hand, not at the rack.
  static std::vector<Place> plannedPlaces(const Plan& plan, const Way& way) {
    std::vector<Place> all;
    const Frame back = plan.placement.inverse();
    bool by_hand = std::any_of(way.steps.begin(), way.steps.end(),
                               [](const alder::Step& s) { return s.kind == StepKind::Manual; });
    const StepsDone steps = stepsDone(plan);
    // About the reference sphere the program goes all the way, and touches in a macro.
    const auto atSphere = [&](const alder::Step& s) {
      for (const RoutineStep& own : steps.steps)
        if (own.id == s.does) return std::holds_alternative<QualifyStep>(own.body);
      return false;
    };
    const auto isRackHop = [&](const alder::Step& s) {
      for (int i = s.first; i <= s.last; ++i)
        if (way.positions[static_cast<std::size_t>(i)].bare) return true;
      const auto at = static_cast<std::size_t>(&s - way.steps.data());
      const auto bare = [&](std::size_t k) {
        return k < way.steps.size() && way.steps[k].kind == StepKind::Swap &&
               way.steps[k].first <= way.steps[k].last &&
               way.positions[static_cast<std::size_t>(way.steps[k].first)].bare;
      };
      return bare(at + 1) || (at > 0 && bare(at - 1));
    };
    for (const alder::Step& s : way.steps) {
      if (s.left_out) continue;
      if (s.kind == StepKind::UseFrame) by_hand = false;
      if (atSphere(s) &&
          (s.kind == StepKind::Qualify || (s.kind == StepKind::Hop && !isRackHop(s)))) {
        for (int i = s.first; i <= s.last; ++i) {
          const Position& p = way.positions[static_cast<std::size_t>(i)];
          if (!p.contact) all.push_back({"go", p.fixed ? p.ball : back * p.ball, p.fixed});
        }
        continue;
      }
      for (int i = s.first; i <= s.last; ++i) {
        const Position& p = way.positions[static_cast<std::size_t>(i)];
        if (s.kind == StepKind::Manual && p.contact) all.push_back({"by hand", back * p.ball});
        // Fixed places at the rack, but for those down at its ports.
        if (p.fixed && !p.bare && s.kind == StepKind::Hop) {
          double high = -1e300;
          for (int k = s.first; k <= s.last; ++k)
            high = std::max(high, way.positions[static_cast<std::size_t>(k)].ball.z());
          if (p.ball.z() > high - 1e-6) all.push_back({"go", p.ball, true});
        }
        if (by_hand || p.bare || p.fixed || p.kind == MoveKind::Turn || p.kind == MoveKind::Swap ||
            p.kind == MoveKind::Qualify)
          continue;
        const bool touches = p.kind == MoveKind::Approach || p.kind == MoveKind::Touch ||
                             p.kind == MoveKind::Retract;
        all.push_back({p.contact ? "touch" : touches ? "near" : "go", back * p.ball});
      }
    }
    return all;
  }
  // A place that is gone to twice is one.
  static std::vector<Place> once(const std::vector<Place>& all) {
    std::vector<Place> out;
    for (const Place& p : all)
      if (out.empty() || (out.back().part - p.part).norm() > 1e-4 || p.what == "touch" ||
          p.what == "by hand")
        out.push_back(p);
    return out;
  }
  static std::vector<Place> donePlaces(const dmis_machine::Done& done) {
    std::vector<Place> all;
    for (const dmis_machine::Event& e : done.events) {
      using D = dmis_machine::Did;
      if (e.did == D::Sensor) continue;
      all.push_back({e.did == D::ByHand  ? "by hand"
                     : e.did == D::Touch ? "touch"
                     : e.did == D::Go    ? "go"
                                         : "near",
                     e.part, false, e.machine});
    }
    return all;
  }

  // The lines to the one that a fault names.
  static std::string around(const std::string& program, const std::string& fault) {
    const int line = std::atoi(fault.c_str() + std::string_view("line ").size());
    std::string text;
    std::istringstream in(program);
    int number = 0;
    for (std::string each; std::getline(in, each) && number < line;)
      if (++number > line - 4) text += "    " + each + "\n";
    return text;
  }

  // Empty, or what is wrong first.
  static std::string compared(const std::string& program, const Plan& plan, const Way& way,
                              const Frame& lies) {
    const auto done = dmis_machine::run(program, worldOf(plan, way, lies));
    std::string wrong;
    for (const std::string& f : done.faults)
      wrong += f + "\n" + around(program, f);
    const auto planned = once(plannedPlaces(plan, way)), did = once(donePlaces(done));
    std::size_t k = 0;
    for (std::size_t i = 0; i < planned.size(); ++i) {
      const auto same = [&](std::size_t at) {
        return at < did.size() &&
               ((planned[i].fixed ? did[at].machine : did[at].part) - planned[i].part).norm() <
                   1e-4;
      };
      // Behind the touches by hand the operator's own way comes first.
      if (i > 0 && planned[i - 1].what == "by hand" && planned[i].what != "by hand")
        while (k < did.size() && !same(k) && did[k].what == "go")
          ++k;
      if (!same(k)) {
        const Vec3 wanted = planned[i].part;
        wrong += fmt::format("place {} of {} ({}): {:.4f},{:.4f},{:.4f} is not gone to", i + 1,
                             planned.size(), planned[i].what, wanted.x(), wanted.y(), wanted.z());
        if (k < did.size())
          wrong += fmt::format(", but {} {:.4f},{:.4f},{:.4f}", did[k].what, did[k].part.x(),
                               did[k].part.y(), did[k].part.z());
        return wrong + "\n";
      }
      ++k;
    }
    if (k < did.size()) wrong += fmt::format("{} places more than planned\n", did.size() - k);
    return wrong;
  }
  static void right(const Plan& plan, const Way& way, const Frame& lies) {
    const std::string wrong = compared(dmisProgram(plan, way), plan, way, lies);
    QVERIFY2(wrong.empty(), wrong.substr(0, 3000).c_str());
  }
  // The words of a tolerance, by a table of our own here, and each feature of it in a result.
  static std::string saidOf(const Plan& plan, const Requirement& r) {
    using K = Characteristic;
    const auto n = [](double v) {
      std::string text = fmt::format("{:.6f}", v);
      while (text.back() == '0')
        text.pop_back();
      if (text.back() == '.') text.pop_back();
      return text == "-0" ? std::string("0") : text;
    };
    const auto m = [](MaterialModifier x) {
      return std::string(x == MaterialModifier::Maximum ? "MMC"
                         : x == MaterialModifier::Least ? "LMC"
                                                        : "RFS");
    };
    std::string plain, modified = "," + m(r.material);
    for (const DatumReference& d : r.datums) {
      std::string letters;
      for (const std::string& l : d.letters)
        letters += (letters.empty() ? "" : "-") + l;
      plain += ",DAT(" + letters + ")";
      modified += ",DAT(" + letters + ")," + m(d.material);
    }
    const std::map<K, std::string> alone{{K::Straightness, "STRGHT"},
                                         {K::Flatness, "FLAT"},
                                         {K::Roundness, "CIRLTY"},
                                         {K::Cylindricity, "CYLCTY"}};
    const std::map<K, std::string> with_datums{
        {K::Coaxiality, "CONCEN"}, {K::CircularRunout, "CRNOUT"}, {K::TotalRunout, "TRNOUT"}};
    const std::map<K, std::string> with_modifiers{
        {K::Parallelism, "PARLEL"}, {K::Perpendicularity, "PERP"}, {K::Symmetry, "SYM"}};
    if (alone.count(r.kind)) return alone.at(r.kind) + "," + n(r.tolerance);
    if (with_datums.count(r.kind)) return with_datums.at(r.kind) + "," + n(r.tolerance) + plain;
    if (with_modifiers.count(r.kind))
      return with_modifiers.at(r.kind) + "," + n(r.tolerance) + modified;
    if (r.kind == K::Position)
      return std::string("POS,") + (r.zone == Zone::Spherical ? "3D," : "2D,") + n(r.tolerance) +
             modified;
    if (r.kind == K::Size) {
      const auto type = plan.nominal(r.features.front()).ideal.type;
      return std::string(r.radius                    ? "RAD,"
                         : type == SurfaceType::Slot ? "WIDTH,"
                                                     : "DIAM,") +
             n(r.lower - r.nominal) + "," + n(r.upper - r.nominal);
    }
    return {};
  }
  static void requirementsAreSaid(const Plan& plan, const Way& way) {
    const auto done = dmis_machine::run(dmisProgram(plan, way), worldOf(plan, way, plan.placement));
    int compared = 0;
    for (const Requirement& r : plan.spec.requirements) {
      if (!whyNotCovered(plan, r).empty() || r.kind == Characteristic::Value) continue;
      const std::string label = fmt::format("T{}", r.balloon);
      const auto said = done.tolerances.find(label);
      QVERIFY2(said != done.tolerances.end(), label.c_str());
      if (const std::string wanted = saidOf(plan, r); !wanted.empty()) {
        QCOMPARE(said->second, wanted);
        ++compared;
      }
      std::set<std::string> features;
      for (const auto& [tolerance, feature] : done.results)
        if (tolerance == label) features.insert(feature);
      QCOMPARE(features.size(), r.features.size());
    }
    QVERIFY(compared > 0);
  }

  // Where it lies a little beside what was planned, as an operator lays it down.
  static Frame beside(const Plan& plan) {
    const Eigen::Translation3d middle(plan.placement * plan.part->mesh.box().center());
    Frame off = Frame::Identity();
    off.translation() = Vec3(1.5, -2, 0.4);
    off.linear() = Eigen::AngleAxisd(radians(0.6), Vec3(0.1, 0.2, 1).normalized()).matrix();
    return middle * off * middle.inverse() * plan.placement;
  }

 private slots:
  void theHeron() {
    right(test::heronPlan(), test::heronWay(), test::heronPlan().placement);
    requirementsAreSaid(test::heronPlan(), test::heronWay());
  }

  // It would find what is wrong: each of these programs would touch elsewhere, clash, or stop.
  void whatIsWrongIsSeen_data() {
    QTest::addColumn<QString>("was");
    QTest::addColumn<QString>("is");
    QTest::addColumn<QString>("told"); // empty: the places say it
    const auto row = [](const char* name, const char* was, const char* is, const char* told) {
      QTest::newRow(name) << QString(was) << QString(is) << QString(told);
    };
    row("another approach", "SNSET/APPRCH,", "SNSET/APPRCH,1", "");
    row("no place planned", "D(PLANNED)=TRANS", "D(PLANNED)=ROTATE/XAXIS,180\nD(PLANNED)=TRANS",
        "beside the part");
    row("one place less", "GOTO/30,", "$$ ", "");
    row("one touch less", "  PTMEAS/CART,26,11.403146,32.666667,1,0,0\n", "", "were announced");
    row("a touch from the other side", "PTMEAS/CART,26,11.403146,32.666667,1,0,0",
        "PTMEAS/CART,26,11.403146,32.666667,-1,0,0", "meets part");
    row("another sensor", "SNSLCT/S(S3)", "SNSLCT/S(S4)", "");
    row("the wrong units", "UNITS/MM", "UNITS/CM", "");
    row("not left by hand", "TEXT/OPER,'Drive the probe clear", "TEXT/OPER,'Drive", "touched last");
    row("through the part", "GOTO/30,11.403146,29.333333", "GOTO/0,0,-30", "meets");
    row("no frame", "D(ROUGH)=LOCATE/XYZDIR,XYZAXS", "D(ROUGH)=LOCATE/XYZDIR,NOROT",
        "knows XYZDIR");
    row("a name that is not defined", "D(PART)=LOCATE/XYZDIR,XYZAXS,FA(F0)",
        "D(PART)=LOCATE/XYZDIR,XYZAXS,FA(F99)", "not measured");
  }
  void whatIsWrongIsSeen() {
    QFETCH(QString, was);
    QFETCH(QString, is);
    QFETCH(QString, told);
    QString program = QString::fromStdString(dmisProgram(test::heronPlan(), test::heronWay()));
    QVERIFY2(program.contains(was), qPrintable(was));
    program.replace(program.lastIndexOf(was), was.size(), is);
    const QString wrong = QString::fromStdString(compared(
        program.toStdString(), test::heronPlan(), test::heronWay(), test::heronPlan().placement));
    QVERIFY(!wrong.isEmpty());
    QVERIFY2(wrong.contains(told), qPrintable(wrong));
  }

  // Ten drawn by lot, which no one here has chosen.
  void partsByLot_data() {
    QTest::addColumn<int>("seed");
    for (int i = 1; i <= 10; ++i)
      QTest::newRow(fmt::format("part {}", i).c_str()) << i;
  }
  void partsByLot() {
    QFETCH(int, seed);
    const auto made = test::randomPart(static_cast<unsigned>(seed));
    VERIFY_OK(made);
    const auto job = test::jobFor(made->step);
    VERIFY_OK(job);
    right(job->plan, job->way, job->plan.placement);
    requirementsAreSaid(job->plan, job->way);
  }

  // Steps that touch nothing, in odd places: the way round them is said, too.
  void routinesByLot_data() {
    QTest::addColumn<int>("seed");
    for (int i = 1; i <= 12; ++i)
      QTest::newRow(fmt::format("routine {}", i).c_str()) << i;
  }
  void routinesByLot() {
    QFETCH(int, seed);
    Plan plan = test::routineByLot(static_cast<unsigned>(seed));
    if (seed % 3 == 0) plan.bench.rack.reset(); // styli are swapped by hand
    const auto way = routePlan(plan, obstaclesOf(plan));
    VERIFY_OK(way);
    right(plan, *way, plan.placement);
  }

  // Nothing is touched by hand: the part lies as planned.
  void withoutTouchesByHand() {
    Plan plan = test::heronPlan();
    plan.alignment.clear();
    const auto way = routePlan(plan, obstaclesOf(plan));
    VERIFY_OK(way);
    QVERIFY(std::none_of(way->steps.begin(), way->steps.end(),
                         [](const alder::Step& s) { return s.kind == StepKind::Manual; }));
    const std::string program = dmisProgram(plan, *way);
    QVERIFY(program.find("MODE/MAN") == std::string::npos);
    right(plan, *way, plan.placement);
  }

  void everyKindOfStep_data() {
    QTest::addColumn<bool>("rack");
    QTest::newRow("with a rack") << true;
    QTest::newRow("without") << false;
  }
  void everyKindOfStep() {
    QFETCH(bool, rack);
    const Plan plan = test::routineOfEveryKind(rack);
    std::set<std::size_t> kinds;
    for (const RoutineStep& step : plan.steps)
      kinds.insert(step.body.index());
    QCOMPARE(kinds.size(), std::variant_size_v<StepBody>);
    const auto way = routePlan(plan, obstaclesOf(plan));
    VERIFY_OK(way);
    right(plan, *way, plan.placement);
  }

  // The points that the program touches, each feature tilted, grown and rough by lot: its results,
  // worked out by least squares from its own words, are within or outside as they are here. Near a
  // limit two ways of fitting may differ.
  static void verdictsAgree(const Plan& plan, const Way& way, int& within, int& outside) {
    const std::string program = dmisProgram(plan, way);
    const auto done = dmis_machine::run(program, worldOf(plan, way, plan.placement));
    for (int seed = 1; seed <= 12; ++seed) {
      Random random(static_cast<std::uint64_t>(seed));
      std::map<std::string, std::vector<Vec3>> theirs;
      Measurements ours;
      for (FeatureId id : measuringOrder(plan.steps)) {
        const Feature& f = plan.feature(id);
        const auto touched = done.touched.find(fmt::format("F{}", id.value));
        QVERIFY(touched != done.touched.end() && touched->second.size() >= f.touches.size());
        // Those by hand come before.
        std::vector<Vec3> points(touched->second.end() -
                                     static_cast<std::ptrdiff_t>(f.touches.size()),
                                 touched->second.end());
        Vec3 middle = Vec3::Zero();
        for (const Vec3& p : points)
          middle += p / static_cast<double>(points.size());
        const auto lot = [&](double most) { return random.uniform(-most, most); };
        const Vec3 turn(lot(2e-3), lot(2e-3), lot(2e-3));
        const double grown = lot(0.05), rough = random.uniform() < 0.5 ? 0.002 : 0.06;
        MeasuredFeature& m = ours[id];
        for (std::size_t i = 0; i < points.size(); ++i) {
          const Vec3 by = turn.cross(points[i] - middle) +
                          (grown + rough * random.uniform()) * f.touches[i].normal;
          points[i] += by;
          m.rows.push_back(f.touches[i].row);
          m.faces.push_back(f.touches[i].face);
          m.nominals.push_back(f.touches[i].point);
        }
        m.points = points;
        theirs[touched->first] = std::move(points);
      }
      const auto evaluations = judgeAll(plan, ours);
      for (const auto& result : dmis_machine::resultsOf(done, theirs)) {
        const Requirement& r = test::balloon(plan, std::stoi(result.tolerance.substr(1)));
        const bool planar_axis = isOrientation(r.kind) && r.zone != Zone::Diametral &&
                                 done.nominals.at(result.feature).word == "CYLNDR";
        const bool plain = r.association == AssociateBy::Standard && !r.filtering &&
                           r.projected == 0 && !r.envelope;
        if (planar_axis || !plain) continue;
        const Evaluation* e = evaluationOf(evaluations, r.id);
        QVERIFY(e && e->actual);
        const double room = std::min(result.actual - result.lower, result.upper - result.actual) /
                            (result.upper - result.lower);
        constexpr double kNear = 0.25; // of the tolerance
        if (std::abs(room) < kNear) continue;
        // Of several features the worst counts.
        if (room > 0 && r.features.size() > 1) continue;
        const bool out = e->verdict == Verdict::Outside;
        QVERIFY2(out == (room < 0),
                 fmt::format("{}: {:.4f} in {:g} to {:g} of {} is {:.4f} here: {}",
                             describe(plan.spec, r), result.actual, result.lower, result.upper,
                             result.feature, *e->actual, e->how)
                     .c_str());
        ++(out ? outside : within);
      }
    }
  }
  void verdicts() {
    int within = 0, outside = 0;
    verdictsAgree(test::heronPlan(), test::heronWay(), within, outside);
    for (int i = 0; i < 2; ++i) {
      const auto step = i == 0 ? test::bracketStep("mm", 1) : test::shaftStep("mm", 0);
      VERIFY_OK(step);
      const auto job = test::jobFor(*step);
      VERIFY_OK(job);
      verdictsAgree(job->plan, job->way, within, outside);
    }
    QVERIFY2(within > 30 && outside > 30, fmt::format("{} {}", within, outside).c_str());
  }

  void madeParts_data() {
    QTest::addColumn<int>("which");
    for (int i = 0; i < 5; ++i)
      QTest::newRow(fmt::format("part {}", i + 1).c_str()) << i;
  }
  void madeParts() {
    QFETCH(int, which);
    const auto step = which == 0   ? test::bracketStep("MM", 0)
                      : which == 1 ? test::bracketStep("INCH", 1)
                      : which == 2 ? test::shaftStep("MM", 0)
                      : which == 3 ? test::shaftStep("INCH", 1)
                                   : test::plateStep(1.3);
    VERIFY_OK(step);
    const auto job = test::jobFor(*step);
    VERIFY_OK(job);
    right(job->plan, job->way, job->plan.placement);
    if (!QTest::currentTestFailed() && which != 2 && which != 3)
      right(job->plan, job->way, beside(job->plan));
  }
};

ALDER_TEST(DmisMachineTest)
#include "dmis_machine_test.moc"
