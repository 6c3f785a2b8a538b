#include "base/random.h"
#include "exchange/dmis/dmis_reader.h"
#include "exchange/dmis/dmis_statement.h"
#include "exchange/dmis/dmis_writer.h"
#include "made_routine.h"
#include "plan/steps/step_edit.h"
#include "support.h"
#include <set>

using namespace alder;

class DmisReaderTest : public QObject {
  Q_OBJECT
 private:
  static std::string written(const Plan& plan) {
    const auto way = routePlan(plan, obstaclesOf(plan));
    return way ? dmisProgram(plan, *way) : std::string();
  }
  // What a routine means: what is touched where and how, in which order, what comes between.
  static void compare(const Plan& given, const Plan& read) {
    QCOMPARE(read.alignment, given.alignment);
    QCOMPARE(read.steps.size(), given.steps.size());
    for (std::size_t i = 0; i < given.steps.size(); ++i) {
      const RoutineStep &a = given.steps[i], &b = read.steps[i];
      QCOMPARE(b.body.index(), a.body.index());
      QCOMPARE(b.depth, a.depth);
      QCOMPARE(b.before, a.before);
      if (!std::holds_alternative<MeasureStep>(a.body) && !std::holds_alternative<WaitStep>(a.body))
        QVERIFY(a.body == b.body);
      QVERIFY2(describe(read, b) == describe(given, a),
               (describe(read, b) + " is not " + describe(given, a)).c_str());
    }
    for (FeatureId id : measuringOrder(given.steps)) {
      const Feature &a = given.feature(id), &b = read.feature(id);
      QVERIFY2(a.touches.size() == b.touches.size(), given.nominal(id).name.c_str());
      for (std::size_t k = 0; k < a.touches.size(); ++k) {
        QVERIFY((a.touches[k].point - b.touches[k].point).norm() < 2e-6);
        QVERIFY((a.touches[k].normal - b.touches[k].normal).norm() < 2e-6);
        QVERIFY(a.touches[k].face == b.touches[k].face);
      }
      QCOMPARE(b.access.stylus, a.access.stylus);
      QCOMPARE(b.access.tip, a.access.tip);
      QVERIFY(std::abs(b.access.a - a.access.a) < 1e-9 && std::abs(b.access.b - a.access.b) < 1e-9);
      QVERIFY(std::abs(b.recipe.approach - a.recipe.approach) < 1e-6);
      QVERIFY(std::abs(b.recipe.search - a.recipe.search) < 1e-6);
    }
    QCOMPARE(read.spec.requirements.size(), given.spec.requirements.size());
    QCOMPARE(read.spec.datums, given.spec.datums);
  }

 private slots:
  void ourOwnRoutinesComeBack() {
    int groups = 0;
    for (unsigned seed = 0; seed < 12; ++seed) {
      const Plan plan = test::routineByLot(seed);
      const std::string program = written(plan);
      groups += program.find("$$ end of group") != std::string::npos;
      QVERIFY(!program.empty());
      const auto read = readDmis(program, "own.dmi", test::heronPlan());
      VERIFY_OK(read);
      QVERIFY2(read->kept == 0, std::to_string(seed).c_str());
      for (const std::string& remark : read->remarks)
        qWarning("%s", remark.c_str());
      QVERIFY(read->remarks.empty());
      compare(plan, read->plan);
      if (QTest::currentTestFailed()) return;
      // And once more: what was read is written and read alike.
      const auto again = readDmis(written(read->plan), "own.dmi", test::heronPlan());
      VERIFY_OK(again);
      compare(plan, again->plan);
      if (QTest::currentTestFailed()) return;
    }
    QVERIFY(groups > 3);
  }

  // How frames are found, for how long, and places of the fixture; what was changed in the program
  // counts more than what a comment says.
  void framesComeBack() {
    Plan plan = test::heronPlan();
    PartFrame cast{"cast \"ø\"", FrameFit::InsideBand, {}, "uv", Vec3(0, 0, 0.5), Vec3::Zero()};
    cast.stages.push_back({{plan.alignment[0]}, "", 2, Band{-0.1, 0.2}});
    cast.stages.push_back({{plan.alignment[1], plan.alignment[2]}, "xy"});
    plan.frames = {cast};
    Json bench = Json::parse(plan.bench.json);
    bench["fixture"]["frames"] = Json::array({toJson(KeptFrame{"left seat", plan.placement})});
    plan.bench = *readBench(bench.dump(), "bench");
    RoutineStep use;
    use.id = freeId(plan.steps);
    use.body = UseFrameStep{cast.name, 0.02, 4};
    plan.steps.insert(plan.steps.begin() + 5, use);
    use.id = freeId(plan.steps);
    use.body = UseFrameStep{"left seat"};
    plan.steps.insert(plan.steps.begin(), use);
    Plan base = test::heronPlan();
    base.bench = plan.bench;
    const std::string program = written(plan);
    const auto read = readDmis(program, "own.dmi", base);
    VERIFY_OK(read);
    QVERIFY(read->plan.frames == plan.frames);
    QVERIFY(read->remarks.empty());
    QCOMPARE(read->kept, 0);
    QCOMPARE(read->plan.steps.size(), plan.steps.size());
    for (const std::size_t at : {std::size_t{0}, std::size_t{6}})
      QVERIFY(read->plan.steps[at].body == plan.steps[at].body);
    // On a bench without that place it is a note, and the part lies as planned.
    const auto elsewhere = readDmis(program, "own.dmi", test::heronPlan());
    VERIFY_OK(elsewhere);
    QVERIFY(!elsewhere->remarks.empty());
    // Found from other features than the comment says.
    std::string edited = program;
    const auto at = edited.find("D(FRAME1)=LOCATE");
    const auto end = edited.find('\n', at);
    edited.replace(at, end - at, "D(FRAME1)=LOCATE/XYZDIR,XYZAXS,FA(F1)");
    const auto other = readDmis(edited, "own.dmi", base);
    VERIFY_OK(other);
    QCOMPARE(other->plan.frames.front().stages.size(), std::size_t(1));
    QVERIFY(other->plan.frames.front().fit == FrameFit::InOrder);
  }

  // Limits of a radius are said, and taken, as those of the radius.
  void radiusComesBack() {
    Plan plan = test::heronPlan();
    Requirement& r = *plan.spec.requirements.find(test::balloon(plan, 2).id);
    r.radius = true, r.fit.clear();
    r.nominal = 16, r.lower = 15.99, r.upper = 16.02, r.tolerance = r.upper - r.lower;
    const std::string program = written(plan);
    QVERIFY(program.find("=TOL/RAD,-0.01,0.02\n") != std::string::npos);
    Plan base = test::heronPlan();
    base.spec.requirements.erase(r.id);
    const auto read = readDmis(program, "own.dmi", base);
    VERIFY_OK(read);
    const Requirement& back = read->plan.spec.requirements.back();
    QVERIFY(back.radius && back.features == r.features);
    NEAR(back.nominal, 16.0, 1e-9);
    NEAR(back.lower, 15.99, 1e-9);
    NEAR(back.upper, 16.02, 1e-9);
  }

  // The way that was proved free is so again, place by place.
  void theWayComesBack() {
    const auto read = readDmis(written(test::heronPlan()), "own.dmi", test::heronPlan());
    VERIFY_OK(read);
    const Rehearsal before = test::rehearsed(test::heronPlan()),
                    after = test::rehearsed(read->plan);
    QVERIFY2(after.clear(), after.clear() ? "" : after.clashes.front().moving.c_str());
    QVERIFY(std::abs(after.path / before.path - 1) < 0.05);
    int led = 0;
    for (const Feature& f : read->plan.features)
      led += f.entry == HopMode::Led;
    QVERIFY(led > 10);
  }

  // From nothing but the model: the requirements come from the program.
  void requirementsComeFromTheProgram() {
    const Plan& given = test::heronPlan();
    Plan base = given;
    base.spec.requirements.clear();
    base.spec.datums.clear();
    const auto read = readDmis(written(given), "own.dmi", base);
    VERIFY_OK(read);
    int missing = 0;
    for (const Requirement& r : given.spec.requirements) {
      if (!whyNotCovered(given, r).empty() || r.kind == Characteristic::Value) continue;
      const bool there =
          std::any_of(read->plan.spec.requirements.begin(), read->plan.spec.requirements.end(),
                      [&](const Requirement& o) {
                        return o.kind == r.kind && o.features == r.features &&
                               std::abs(o.tolerance - r.tolerance) < 1e-5 &&
                               std::abs(o.upper - r.upper) < 1e-5 && o.material == r.material &&
                               o.datums.size() == r.datums.size() && o.zone == r.zone;
                      });
      if (!there) qWarning("%s", describe(r).c_str()), ++missing;
    }
    QCOMPARE(missing, 0);
    QCOMPARE(read->plan.spec.datums.size(), given.spec.datums.size());
  }

  // Another's program: inches, radians, other words in other places.
  void anothersProgram() {
    const std::string program = "DMISMN/'Other, with a comma',05.0\n"
                                "UNITS/INCH,ANGRAD\n"
                                "F(TOP)=FEAT/PLANE,CART,0,0,$\n"
                                "   0.787401575,0,0,1\n"
                                "F(NOWHERE)=FEAT/CYLNDR,INNER,CART,9,9,9,0,0,1,1\n"
                                "S(ONE)=SNSDEF/PROBE,INDEX,POL,0,0,0,0,-1,7.874015748,0.157480315\n"
                                "SNSLCT/S(ONE)\n"
                                "MODE/PROG,MAN\n"
                                "WKPLAN/XYPLAN\n"
                                "GOTO/0,0,6\n"
                                "MEAS/PLANE,F(TOP),3\n"
                                "PTMEAS/CART,2.1,0,0.787401575,0,0,1\n"
                                "PTMEAS/CART,0,2.1,0.787401575,0,0,1\n"
                                "TEXT/OPER,'Don''t lean on it'\n"
                                "PTMEAS/CART,-1.5,1.5,0.787401575,0,0,1\n"
                                "ENDMES\n"
                                "MEAS/CYLNDR,F(NOWHERE),1\n"
                                "PTMEAS/CART,9,9,9,1,0,0\n"
                                "ENDMES\n"
                                "T(FLATNESS)=TOL/FLAT,0.001\n"
                                "OUTPUT/FA(TOP),TA(FLATNESS)\n"
                                "ENDFIL\n";
    const auto read = readDmis(program, "other.dmi", test::heronPlan());
    VERIFY_OK(read);
    const Plan& plan = read->plan;
    const FeatureId top = test::named(plan, "Plane · 1");
    QCOMPARE(plan.feature(top).touches.size(), std::size_t(3));
    NEAR(plan.feature(top).touches[0].point.x(), 2.1 * 25.4, 1e-9);
    QCOMPARE(plan.bench.styli[static_cast<std::size_t>(plan.feature(top).access.stylus)].name,
             std::string("long ø4"));
    QCOMPARE(plan.feature(top).entry, HopMode::Proposed); // the operator has led there
    // What is not understood stands in its place with its line.
    std::vector<std::string> steps;
    for (const RoutineStep& s : plan.steps)
      steps.push_back(std::string(2 * static_cast<std::size_t>(s.depth), ' ') + describe(plan, s));
    const std::vector<std::string> expected{"Note: DMIS line 9: WKPLAN/XYPLAN",
                                            "Measure Plane · 1",
                                            "  Wait: Don't lean on it",
                                            "Note: DMIS line 17: MEAS/CYLNDR,F(NOWHERE),1",
                                            "Note: DMIS line 18: PTMEAS/CART,9,9,9,1,0,0",
                                            "Note: DMIS line 19: ENDMES"};
    QCOMPARE(steps, expected);
    QCOMPARE(read->remarks.size(), std::size_t(1));
    QVERIFY(read->remarks[0].find("other.dmi: line 17: NOWHERE") != std::string::npos);
    // What became of each statement, by its line.
    std::string notes;
    for (const ProgramLine& l : read->lines)
      if (l.taken != Taken::Over) notes += fmt::format("{}:{};", l.line, name(l.taken));
    QCOMPARE(notes, std::string("9:note;17:note;18:note;19:note;"));
    QCOMPARE(read->lines.size(), std::size_t(21));
    QCOMPARE(read->lines.back().statement, std::string("ENDFIL"));
    const std::string back = written(plan);
    // As comments: alive they would act in other units, systems and names.
    QVERIFY(back.find("$$ Note: DMIS line 9: WKPLAN/XYPLAN\n") != std::string::npos);
    QVERIFY(back.find("\nWKPLAN") == std::string::npos);
    QVERIFY(back.find("\nPTMEAS/CART,9,9,9,1,0,0\n") == std::string::npos);
    const auto again = readDmis(back, "again.dmi", plan);
    VERIFY_OK(again);
    QVERIFY(again->plan.steps.front().body == plan.steps.front().body);
    // The flatness is new beside the one the model has.
    NEAR(plan.spec.requirements.back().tolerance, 0.0254, 1e-9);
    QVERIFY(plan.spec.requirements.back().features == std::vector<FeatureId>{top});
  }

  // Coordinate systems are followed: the same touches said in other systems are the same.
  void systemsAreFollowed_data() {
    QTest::addColumn<QString>("before"); // what stands before the nominals
    QTest::addColumn<QString>("then");   // and before the touches
    QTest::addColumn<QString>("places"); // of the three touches
    QTest::addColumn<int>("touches");
    const auto row = [](const char* name, const char* before, const char* then, const char* places,
                        int touches) {
      QTest::newRow(name) << QString(before) << QString(then) << QString(places) << touches;
    };
    const char* plain = "53,0,20,0,0,1;0,53,20,0,0,1;-38,38,20,0,0,1";
    row("none", "", "", plain, 3);
    row("machine, then the part", "D(M)=DATSET/MCS\nD(P)=TRANS/XORIG,10,YORIG,20,ZORIG,30\n", "",
        plain, 3);
    row("origin moved", "", "D(Q)=TRANS/XORIG,10,ZORIG,20\n",
        "43,0,0,0,0,1;-10,53,0,0,0,1;-48,38,0,0,0,1", 3);
    row("turned", "", "D(Q)=ROTATE/ZAXIS,90\n", "0,-53,20,0,0,1;53,0,20,0,0,1;38,38,20,0,0,1", 3);
    row("turned and moved along", "", "D(Q)=ROTATE/ZAXIS,90\nD(R)=TRANS/XORIG,5\n",
        "-5,-53,20,0,0,1;48,0,20,0,0,1;33,38,20,0,0,1", 3);
    row("and recalled", "D(P)=ROTATE/ZAXIS,0\n", "D(Q)=ROTATE/ZAXIS,90\nRECALL/D(P)\n", plain, 3);
    row("saved under another name", "SAVE/D(S)\n", "D(Q)=ROTATE/XAXIS,90\nRECALL/D(S)\n", plain, 3);
    row("recalled, never defined", "", "RECALL/D(NONE)\n", plain, 0);
    row("not followed", "", "D(Q)=ROTATE/ZAXIS,FA(TOP),XDIR\n", plain, 0);
    row("lower case", "d(P)=rotate/zaxis,0\n", "d(Q)=rotate/zaxis,90\n",
        "0,-53,20,0,0,1;53,0,20,0,0,1;38,38,20,0,0,1", 3);
  }
  void systemsAreFollowed() {
    QFETCH(QString, before);
    QFETCH(QString, then);
    QFETCH(QString, places);
    QFETCH(int, touches);
    QString program = "DMISMN/'x',05.2\nUNITS/MM,ANGDEC\n" + before +
                      "F(TOP)=FEAT/PLANE,CART,0,0,20,0,0,1\nMODE/PROG,MAN\n" + then +
                      "MEAS/PLANE,F(TOP),3\n";
    for (const QString& place : places.split(';'))
      program += "PTMEAS/CART," + place + "\n";
    program += "ENDMES\nENDFIL\n";
    for (const char* end : {"\n", "\r\n", "\r"}) { // as files of others end their lines
      const auto read =
          readDmis(QString(program).replace("\n", end).toStdString(), "x.dmi", test::heronPlan());
      VERIFY_OK(read);
      const Feature& top = read->plan.feature(test::named(read->plan, "Plane · 1"));
      QCOMPARE(static_cast<int>(top.touches.size()), touches);
      if (touches == 0) {
        QVERIFY(!read->remarks.empty());
        QVERIFY(read->kept > 3);
        continue;
      }
      QVERIFY((top.touches[0].point - Vec3(53, 0, 20)).norm() < 1e-9);
      QVERIFY((top.touches[1].point - Vec3(0, 53, 20)).norm() < 1e-9);
      QVERIFY((top.touches[2].point - Vec3(-38, 38, 20)).norm() < 1e-9);
    }
  }

  // What was taken for something else: each is right, or a note with its line.
  void notTakenForAnother() {
    const std::string head = "DMISMN/'x',05.2\nUNITS/MM,ANGDEC\n"
                             "S(ONE)=SNSDEF/PROBE,INDEX,POL,0,0,0,0,-1,200,4\nSNSLCT/S(ONE)\n"
                             "F(TOP)=FEAT/PLANE,CART,0,0,20,0,0,1\nMODE/PROG,MAN\n";
    const std::string block = "MEAS/PLANE,F(TOP),3\nPTMEAS/CART,53,0,20,0,0,1\n"
                              "PTMEAS/CART,0,53,20,0,0,1\nPTMEAS/CART,-38,38,20,0,0,1\nENDMES\n";
    const auto read = [&](const std::string& between, const std::string& behind = "") {
      return *readDmis(head + between + block + behind + "ENDFIL\n", "x.dmi", test::heronPlan());
    };
    // Without compensation the places are the ball's.
    const std::string ball = "DMISMN/'x',05.2\nUNITS/MM,ANGDEC\nPRCOMP/OFF\n" +
                             head.substr(head.find("S(ONE)")) +
                             "MEAS/PLANE,F(TOP),1\nPTMEAS/CART,53,0,22,0,0,1\nENDMES\nENDFIL\n";
    const auto compensated = readDmis(ball, "x.dmi", test::heronPlan());
    VERIFY_OK(compensated);
    const FeatureId top = test::named(compensated->plan, "Plane · 1");
    NEAR(compensated->plan.feature(top).touches.at(0).point.z(), 20.0, 1e-9);
    // A sensor that is not defined is not the one before.
    const ProgramRead unknown = read("SNSLCT/S(TWO)\n");
    QVERIFY(!unknown.remarks.empty() &&
            unknown.remarks[0].find("not defined") != std::string::npos);
    QVERIFY(!unknown.plan.feature(top).access_forced);
    QVERIFY(read("").plan.feature(top).access_forced);
    // What the program does not set stays as the recipe has it.
    const double own = test::heronPlan().feature(top).recipe.approach;
    const Recipe back_only = read("SNSET/RETRCT,7\n").plan.feature(top).recipe;
    NEAR(back_only.approach, own, 1e-12);
    NEAR(back_only.retract, 7.0, 1e-12);
    NEAR(read("SNSET/APPRCH,6\n").plan.feature(top).recipe.approach, 6.0, 1e-12);
    // The angle of an angularity is no tolerance.
    const std::string out = "OUTPUT/FA(TOP),TA(A)\n";
    const ProgramRead angle = read("T(A)=TOL/ANGLR,35,0.12,RFS,DAT(A)\n", out);
    NEAR(angle.plan.spec.requirements.back().tolerance, 0.12, 1e-12);
    NEAR(read("T(A)=tol/flat,0.12\n", out).plan.spec.requirements.back().tolerance, 0.12, 1e-12);
    // A datum by its feature is the datum that this feature is.
    const ProgramRead by_feature = read("T(A)=TOL/PARLEL,0.12,RFS,FA(TOP)\n", out);
    const Requirement& parallel = by_feature.plan.spec.requirements.back();
    QVERIFY(parallel.kind == Characteristic::Parallelism);
    const Datum* datum = by_feature.plan.spec.datum(parallel.datums.at(0).letters.at(0));
    QVERIFY(datum && datum->features == std::vector<FeatureId>{top});
    // Of what is no feature: rather a note than no datum.
    const auto had = test::heronPlan().spec.requirements.size();
    const ProgramRead unknown_datum = read("T(A)=TOL/PARLEL,0.12,RFS,FA(NONE)\n", out);
    QCOMPARE(unknown_datum.plan.spec.requirements.size(), had);
    QVERIFY(unknown_datum.kept >= 1);
    QCOMPARE(read("GOTO/INCR,10,0,0,1\n").kept, 1);
  }

  // Whatever another's program holds, nothing of it is written back alive: only what the writer
  // says.
  void nothingOfAnothersIsAlive() {
    const std::string other =
        "DMISMN/'x',05.0\nUNITS/INCH,ANGDEC\nD(0)=DATSET/MCS\nV(1)=VFORM/ALL\nSNSET/CLRSRF,2.5\n"
        "WKPLAN/XYPLAN\nF(TOP)=FEAT/PLANE,CART,0,0,0.787401575,0,0,1\nCALL/M(CLEAR),1,2\n"
        "IF/(A .GT. 3)\nGOTO/INCR,4,0,0,1\nENDIF\nDO/I,1,3,1\nMODE/AUTO,PROG,MAN\n"
        "MEAS/PLANE,F(TOP),3\nPTMEAS/CART,2.1,0,0.787401575,0,0,1\nGOHOME\nRMEAS/PLANE,F(X),3\n"
        "PTMEAS/CART,0,2.1,0.787401575,0,0,1\nPTMEAS/CART,-1.5,1.5,0.787401575\nENDMES\nENDDO\n"
        "D(9)=LOCATE/ZDIR,ZAXIS,FA(TOP)\nRECALL/D(NOWHERE)\nGOTO/0,0,4\nF(C)=CONST/"
        "CIRCLE,BF,FA(A)\n"
        "T(1)=TOL/CORTOL,XAXIS,-0.1,0.1\nOUTPUT/FA(TOP),TA(1)\nCZONE/ON\nPAMEAS/DISTANCE\nENDFIL\n";
    static const std::set<std::string> kOurs{
        "DMISMN", "FILNAM", "UNITS",  "PRCOMP", "TECOMP", "FLY",    "FEDRAT", "ACLRAT", "DISPLY",
        "DATSET", "TRANS",  "ROTATE", "RECALL", "SNSDEF", "FEAT",   "TOL",    "MACRO",  "SNSLCT",
        "MODE",   "CALIB",  "ENDMES", "ENDMAC", "DATDEF", "OUTPUT", "TEXT",   "DECL",   "ENDFIL"};
    int notes = 0;
    for (int seed = 0; seed < 1000; ++seed) {
      Random random(static_cast<std::uint64_t>(seed));
      std::string program = other;
      for (int k = 0; k < (seed == 0 ? 0 : 6); ++k) {
        const auto at = 30 + static_cast<std::size_t>(random.uniform() *
                                                      static_cast<double>(program.size() - 31));
        const auto from = 30 + static_cast<std::size_t>(random.uniform() *
                                                        static_cast<double>(program.size() - 31));
        if (random.uniform() < 0.5)
          program[at] = program[from];
        else
          program.insert(at, program.substr(from, 12));
      }
      const auto read = readDmis(program, "x.dmi", test::heronPlan());
      VERIFY_OK(read);
      VERIFY_OK(validate(read->plan.steps));
      // Every step as a note in a way of its own: notes are what statements of others become.
      Way way;
      for (const RoutineStep& step : read->plan.steps) {
        if (!std::holds_alternative<NoteStep>(step.body)) continue;
        alder::Step note;
        note.kind = StepKind::Note;
        note.text = describe(read->plan, step);
        note.does = step.id;
        way.steps.push_back(note);
        ++notes;
      }
      for (const dmis::Statement& s : dmis::statementsOf(dmisProgram(read->plan, way)))
        if (!s.comment && kOurs.count(s.word) == 0)
          QFAIL(qPrintable(QString("seed %1: %2").arg(seed).arg(QString::fromStdString(s.text))));
    }
    QVERIFY(notes > 10000);
  }

  void statementsTakenApart() {
    const auto all = dmis::statementsOf("$$ A note\n"
                                        "F(A-1)=FEAT/POINT,CART,1,-2.5,+3,'it''s, so',FA(B,C)\n"
                                        "  goto/1,$\n 2,3\n"
                                        "?? what\n"
                                        "LAST,$");
    QCOMPARE(all.size(), std::size_t(5));
    QVERIFY(all[0].comment && all[0].text == "A note");
    QCOMPARE(all[1].kind, std::string("F"));
    QCOMPARE(all[1].label, std::string("A-1"));
    QCOMPARE(all[1].arguments.size(), std::size_t(7));
    QCOMPARE(*all[1].number(4), 3.0);
    QCOMPARE(*dmis::unquoted(all[1].arguments[5]), std::string("it's, so"));
    QCOMPARE(dmis::referenceIn(all[1].arguments[6])->label, std::string("B,C"));
    QCOMPARE(all[2].word, std::string("GOTO"));
    QCOMPARE(all[2].line, 3);
    QCOMPARE(all[2].arguments.size(), std::size_t(3));
    QVERIFY(all[3].word.empty());
    QCOMPARE(all[3].text, std::string("?? what"));
  }

  // Nothing that can be written there leads to more than a message.
  void damagedPrograms() {
    QVERIFY(!readDmis("", "a.dmi", test::heronPlan()));
    QVERIFY(!readDmis("hello\n", "a.dmi", test::heronPlan()));
    const std::string whole = written(test::heronPlan());
    Random random(3);
    for (int k = 0; k < 60; ++k) {
      std::string damaged = whole;
      for (int n = 0; n < 30; ++n) {
        const auto at =
            static_cast<std::size_t>(random.uniform() * static_cast<double>(damaged.size()));
        switch (static_cast<int>(random.uniform(0, 3))) {
        case 0:
          damaged[at] = static_cast<char>(random.uniform(1, 127));
          break;
        case 1:
          damaged.erase(at, 1 + static_cast<std::size_t>(random.uniform(0, 40)));
          break;
        default:
          damaged.insert(at, damaged.substr(at / 2, 20));
        }
      }
      const auto read = readDmis("DMISMN/'x',05.2\n" + damaged, "a.dmi", test::heronPlan());
      VERIFY_OK(read);
      VERIFY_OK(validate(read->plan.steps));
    }
  }
};
ALDER_TEST(DmisReaderTest)
#include "dmis_reader_test.moc"
