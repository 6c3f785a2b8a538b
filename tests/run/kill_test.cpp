#include "base/files.h"
#include "base/random.h"
#include "run/journal.h"
#include "support.h"
#include <QProcess>
#include <QTemporaryDir>
#include <csignal>

using namespace alder;

// The program is killed while it measures on a machine of its own: it goes on where it was.
class KillTest : public QObject {
  Q_OBJECT
 private:
  // The machine's program; where it listens.
  static int startMachine(QProcess& machine, const QStringList& options) {
    machine.start(ALDER_MACHINE,
                  QStringList{QString::fromStdString(test::dataPath("heron.alder"))} + options);
    if (!machine.waitForReadyRead(60000)) return 0;
    return machine.readLine().trimmed().split(' ').last().toInt();
  }
  static QStringList runArguments(int port, const QString& journal, const QString& points) {
    return {"run",       QString::fromStdString(test::dataPath("heron.alder")),
            "--machine", QString("127.0.0.1:%1").arg(port),
            "--journal", journal,
            "-o",        points};
  }
  static std::vector<RunEvent> eventsIn(const QString& path) {
    const auto text = readFile(path.toStdString());
    if (!text || text->empty()) return {};
    const auto journal = readJournal(*text, "journal");
    return journal ? journal->events : std::vector<RunEvent>{};
  }

 private slots:
  void killedAtFiftyMoments() {
    constexpr int kKills = 50;
    Random random(20);
    int kills = 0, runs = 0;
    std::vector<int> at; // how many touches were there when it was killed
    while (kills < kKills) {
      QTemporaryDir dir;
      QProcess machine;
      const int port =
          startMachine(machine, {"--pace", "0.002", "--seed", QString::number(++runs)});
      QVERIFY(port > 0);
      const QString journal = dir.filePath("run.journal"), points = dir.filePath("points.csv");
      std::vector<RunEvent> before;
      bool finished = false;
      while (!finished) {
        QProcess run;
        auto arguments = runArguments(port, journal, points);
        // Killed between the first touch and its line, it stands at the part and is moved clear.
        if (before.empty()) arguments << "--clear";
        run.start(ALDER_BATCH, arguments);
        QVERIFY(run.waitForStarted());
        const bool kill = kills < kKills;
        // After so many more events, and a little: how fast this computer is does not matter.
        const auto more = before.size() + static_cast<std::size_t>(random.uniform(0, 120));
        const int late = static_cast<int>(random.uniform(0, 8));
        while (kill && eventsIn(journal).size() < more && !run.waitForFinished(1)) {
        }
        finished = run.state() == QProcess::NotRunning || run.waitForFinished(kill ? late : 120000);
        if (!finished) {
          QVERIFY(kill);
          ::kill(static_cast<pid_t>(run.processId()), SIGKILL);
          run.waitForFinished();
          ++kills;
        } else {
          QVERIFY2(run.exitStatus() == QProcess::NormalExit && run.exitCode() == 0,
                   run.readAllStandardError().constData());
        }
        // What was there is there, in its place, and more has come.
        const auto now = eventsIn(journal);
        QVERIFY(now.size() >= before.size());
        QVERIFY(std::equal(before.begin(), before.end(), now.begin()));
        if (!finished) at.push_back(static_cast<int>(now.size()));
        before = now;
      }
      // Every touch of the routine once, in the journal and in the points.
      std::map<std::tuple<int, int, bool>, int> times;
      for (const RunEvent& e : before)
        if (const auto* t = std::get_if<Touched>(&e))
          ++times[{t->touch.feature.value, t->touch.touch, t->by_hand}];
      int planned = 0;
      const auto project = openProject(test::dataPath("heron.alder"));
      VERIFY_OK(project);
      for (FeatureId id : measuringOrder(project->plan.steps))
        for (int k = 0; k < static_cast<int>(project->plan.feature(id).touches.size()); ++k) {
          ++planned;
          QCOMPARE((times[{id.value, k, false}]), 1);
        }
      for (const auto& [key, count] : times)
        QCOMPARE(count, 1);
      const auto csv = readFile(points.toStdString());
      VERIFY_OK(csv);
      QCOMPARE(int(std::count(csv->begin(), csv->end(), '\n')), planned + 1);
      machine.kill();
      machine.waitForFinished();
    }
    // Killed early and late.
    std::sort(at.begin(), at.end());
    QVERIFY2(at.front() < 60 && at.back() > 150,
             qPrintable(QString("%1 to %2").arg(at.front()).arg(at.back())));
  }

  void aRoutineThatChangedDoesNotGoOn() {
    QTemporaryDir dir;
    const QString journal = dir.filePath("run.journal");
    VERIFY_OK(writeFile(journal.toStdString(),
                        journalLine(RunHead{"Heron", "another", RunKind::Automatic, 1})));
    QProcess run;
    run.start(ALDER_BATCH,
              {"run", QString::fromStdString(test::dataPath("heron.alder")), "--journal", journal});
    QVERIFY(run.waitForFinished(60000));
    QCOMPARE(run.exitCode(), 2);
    QVERIFY(run.readAllStandardError().contains("before a change"));
  }

  void noMachineThere() {
    QProcess run;
    run.start(ALDER_BATCH, {"run", QString::fromStdString(test::dataPath("heron.alder")),
                            "--machine", "127.0.0.1:1"});
    QVERIFY(run.waitForFinished(60000));
    QCOMPARE(run.exitCode(), 2);
    QVERIFY(run.readAllStandardError().contains("no machine to be reached"));
  }

  // A fault on the way: the touches are kept, and the run goes on when it is started again.
  void afterAFault() {
    QTemporaryDir dir;
    QProcess machine;
    const int port = startMachine(machine, {"--fault", "lost@90", "--fault", "missed@150", "--move",
                                            "8", "-5", "0", "--turn", "0", "0", "2"});
    QVERIFY(port > 0);
    const QString journal = dir.filePath("run.journal"), points = dir.filePath("points.csv");
    for (const char* word : {"does not answer", "No surface was met"}) {
      QProcess run;
      run.start(ALDER_BATCH, runArguments(port, journal, points));
      QVERIFY(run.waitForFinished(60000));
      QCOMPARE(run.exitCode(), 2);
      const QByteArray said = run.readAllStandardError();
      QVERIFY2(said.contains(word) && said.contains("touches are kept"), said.constData());
    }
    QProcess run;
    run.start(ALDER_BATCH, runArguments(port, journal, points));
    QVERIFY(run.waitForFinished(60000));
    QVERIFY2(run.exitCode() == 0, run.readAllStandardError().constData());
    machine.kill();
    machine.waitForFinished();
  }

  void badOptionsOfTheMachine() {
    for (const QStringList& options : {QStringList{"--fault", "gone@1"}, QStringList{"--port", "x"},
                                       QStringList{"--defects", "no"}}) {
      QProcess machine;
      machine.start(ALDER_MACHINE,
                    QStringList{QString::fromStdString(test::dataPath("heron.alder"))} + options);
      QVERIFY(machine.waitForFinished(60000));
      QCOMPARE(machine.exitCode(), 2);
      QCOMPARE(machine.readAllStandardError().count('\n'), 1);
    }
  }
};
ALDER_TEST(KillTest)
#include "kill_test.moc"
