#include "base/files.h"
#include "exchange/dmis/dmis_reader.h"
#include "exchange/points/points_file.h"
#include "exchange/routine/frames_file.h"
#include "exchange/routine/project.h"
#include "exchange/routine/routine_template.h"
#include "exchange/routine/step_text.h"
#include "judge/judge.h"
#include "plan/edit.h"
#include "plan/steps/step_edit.h"
#include "route/router.h"
#include "run/journal.h"
#include "support.h"
#include <QDir>
#include <QTemporaryDir>

using namespace alder;

// Files of older programs (tests/data) open with the meaning that they had when they were written.
class OldFilesTest : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;

  static QDir folder() {
    return QDir(QString::fromStdString((dataFolder() / "tests" / "data" / "version-1").string()));
  }
  static std::string path(const QString& name) { return folder().filePath(name).toStdString(); }
  static std::string text(const QString& name) {
    const auto read = readFile(path(name));
    return read ? *read : std::string();
  }
  static Project opened(const QString& name) {
    auto project = openProject(path(name));
    if (!project) qFatal("%s", project.error().message.c_str());
    return std::move(*project);
  }

  // In the words of then.
  static std::string wordsOf(const Plan& plan, const RoutineStep& step) {
    const std::string words = describe(plan, step);
    return std::holds_alternative<ConstructStep>(step.body) ? "Derive" + words.substr(9) : words;
  }
  static Json runsOf(const Project& p) {
    Json runs = Json::array();
    for (const StoredRun& r : p.runs) {
      const auto m = measurementsIn(r.csv, r.name, p.plan);
      if (!m) return m.error().message;
      Json verdicts = Json::array(), then = Json::array();
      for (const Evaluation& e : judgeAll(p.plan, *m))
        verdicts.push_back({name(e.verdict), e.actual ? Json(*e.actual) : Json()});
      for (const ResultRecord& t : r.then)
        then.push_back({t.balloon, t.verdict, t.requirement});
      runs.push_back(
          {{"name", r.name}, {"features", m->size()}, {"verdicts", verdicts}, {"then", then}});
    }
    return runs;
  }
  static Json meaningOf(const Project& p) {
    const Plan& plan = p.plan;
    Json j{{"name", plan.name},
           {"tips", plan.qualified.tips.size()},
           {"pictures", plan.pictures.size()},
           {"shell", {plan.shell.offset_low.x(), plan.shell.turned, plan.shell.planes}},
           {"standard", name(plan.spec.standard)},
           {"runs", runsOf(p)}};
    for (const char* list :
         {"features", "requirements", "datums", "steps", "frames", "recipes", "pairs"})
      j[list] = Json::array();
    for (const Feature& f : plan.features)
      j["features"].push_back(
          {plan.nominal(f.id).name, f.touches.size(), f.recipe.name, f.waypoints.size()});
    for (const Requirement& r : plan.spec.requirements)
      j["requirements"].push_back(
          {r.balloon, describe(r), r.lower, r.upper, r.tolerance, r.decimals});
    for (const Datum& d : plan.spec.datums) {
      Json names = Json::array();
      for (FeatureId f : d.features)
        names.push_back(plan.nominal(f).name);
      j["datums"].push_back({d.letter, names, d.targets.size()});
    }
    for (const RoutineStep& s : plan.steps)
      j["steps"].push_back({s.depth, s.enabled, s.before, wordsOf(plan, s)});
    for (const PartFrame& f : plan.frames)
      j["frames"].push_back(f.name);
    for (const BookEntry& e : plan.book.entries)
      j["recipes"].push_back(e.recipe.name);
    for (const PairRule& r : plan.pairs)
      j["pairs"].push_back(describe(r));
    return j;
  }
  // Where it differs, numbers to 1e-6: figures are judged anew.
  static QString difference(const Json& then, const Json& now, const QString& where = {}) {
    if (then.is_number() && now.is_number())
      return std::abs(then.get<double>() - now.get<double>()) < 1e-6 ? QString()
                                                                     : QString("%1: was %2, is %3")
                                                                           .arg(where)
                                                                           .arg(then.get<double>())
                                                                           .arg(now.get<double>());
    if (then.type() != now.type() || then.size() != now.size() ||
        (then.is_primitive() && then != now))
      return QString("%1: was %2, is %3")
          .arg(where, QString::fromStdString(then.dump()), QString::fromStdString(now.dump()));
    for (const auto& [key, value] : then.items()) {
      const Json* other = nullptr;
      if (then.is_object())
        other = now.contains(key) ? &now[key] : nullptr;
      else if (then.is_array())
        other = &now[std::stoul(key)];
      else
        continue;
      const QString at = where + "/" + QString::fromStdString(key);
      if (!other) return at + " is missing";
      if (const QString d = difference(value, *other, at); !d.isEmpty()) return d;
    }
    return {};
  }

 private slots:
  void routines_data() {
    QTest::addColumn<QString>("file");
    for (const QString& file : folder().entryList({"*.alder"}))
      QTest::newRow(qPrintable(file)) << file;
    QCOMPARE(folder().entryList({"*.alder"}).size(), qsizetype(7));
  }
  void routines() {
    QFETCH(QString, file);
    const Project project = opened(file);
    Json then = Json::parse(text(QString(file).replace(".alder", ".json")));
    // It asks for a requirement that was never there, which is told in its place now.
    for (Json& step : then["steps"])
      if (step[3] == "If 77 is outside: stop") {
        const auto place = static_cast<std::size_t>(&step - &then["steps"][0]);
        const auto* note = std::get_if<NoteStep>(&project.plan.steps[place].body);
        QVERIFY(note && note->text.find("77") != std::string::npos);
        step[3] = "Note: " + note->text;
      }
    const Json now = meaningOf(project);
    QVERIFY2(difference(then, now).isEmpty(), qPrintable(difference(then, now)));
    // Saved and opened again it still is the same, as a file of today.
    const std::string again = dir_.filePath(file).toStdString();
    VERIFY_OK(saveProject(project, again));
    const auto back = openProject(again);
    VERIFY_OK(back);
    QVERIFY2(difference(then, meaningOf(*back)).isEmpty(),
             qPrintable(difference(then, meaningOf(*back))));
    // The way is made of it.
    const auto way = routePlan(project.plan, obstaclesOf(project.plan));
    VERIFY_OK(way);
    QVERIFY(!way->positions.empty());
  }
  void stepsOfTheClipboard() {
    const Project project = opened("every kind of step.alder");
    const auto pasted = stepsFromText(text("steps.txt"), project.plan);
    VERIFY_OK(pasted);
    QCOMPARE(pasted->steps.size(), std::size_t(3));
    QVERIFY(pasted->steps[0].body == StepBody(EvaluateStep{}));
    QVERIFY(pasted->steps[2].depth == 1 && !pasted->steps[2].enabled);
  }
  void frames() {
    const Project project = opened("every kind of step.alder");
    const auto file = framesFromText(text("frames.json"), "frames.json", project.plan);
    VERIFY_OK(file);
    QVERIFY(file->frames == project.plan.frames);
    QCOMPARE(file->kept.size(), std::size_t(1));
    QVERIFY(file->kept[0].placement.isApprox(project.plan.placement, 1e-12));
  }
  void templates() {
    const auto read = templateFromText(text("template.json"), "template.json");
    VERIFY_OK(read);
    QVERIFY(read->opening.empty());
    QCOMPARE(read->closing.size(), std::size_t(5));
    QVERIFY(read->closing[0].body ==
            StepBody(AskStep{"Serial number", false, "", QuestionRole::SerialNumber}));
    QVERIFY(read->closing[2].body == StepBody(EvaluateStep{}));
    QVERIFY(read->closing[3].body == StepBody(OutputStep{OutputKind::Report, "{routine}.pdf"}));
    QCOMPARE(name(read->standard), name(ToleranceStandard::Asme));
    QCOMPARE(read->bench.name, opened("plate.alder").plan.bench.name);
  }
  void points() {
    const Project project = opened("parts.alder");
    const auto points = measurementsIn(text("points.csv"), "points.csv", project.plan);
    VERIFY_OK(points);
    const auto judged = judgeAll(project.plan, *points);
    const auto& then = project.runs[0].then;
    QCOMPARE(judged.size(), then.size());
    for (std::size_t i = 0; i < judged.size(); ++i)
      QCOMPARE(std::string(name(judged[i].verdict)), then[i].verdict);
  }
  // What was touched before it was broken off is what the session has.
  void journal() {
    const Project project = opened("plate.alder");
    const auto journal = readJournal(text("journal.jsonl"), "journal.jsonl");
    VERIFY_OK(journal);
    QCOMPARE(journal->head.routine, std::string("plate"));
    QCOMPARE(journal->events.size(), std::size_t(12));
    auto way = routePlan(project.plan, obstaclesOf(project.plan));
    VERIFY_OK(way);
    RunSession session(std::make_shared<const Plan>(project.plan),
                       std::make_shared<const Way>(std::move(*way)), RunKind::Automatic);
    VERIFY_OK(replay(session, journal->events));
    const auto touched =
        std::count_if(journal->events.begin(), journal->events.end(),
                      [](const RunEvent& e) { return std::holds_alternative<Touched>(e); });
    QVERIFY(touched > 5);
    QCOMPARE(session.touchesDone(), static_cast<int>(touched));
  }
  void program() {
    const Project project = opened("every kind of step.alder");
    const auto read = readDmis(text("program.dmi"), "program.dmi", project.plan);
    VERIFY_OK(read);
    QCOMPARE(measuringOrder(read->plan.steps).size(), measuringOrder(project.plan.steps).size());
    std::map<std::size_t, int> kinds;
    for (const RoutineStep& s : read->plan.steps)
      ++kinds[s.body.index()];
    const auto has = [&](const StepBody& body) { return kinds[body.index()]; };
    QCOMPARE(has(EvaluateStep{}), 2);
    QCOMPARE(has(BranchStep{}), 1);
    QCOMPARE(has(ConstructStep{}), 1);
    QCOMPARE(has(QualifyStep{}), 1);
    QCOMPARE(has(OutputStep{}), 1);
  }
};
ALDER_TEST(OldFilesTest)
#include "old_files_test.moc"
