#include "document/job.h"

#include "registry.h"

#include <QCoreApplication>
#include <QTest>
#include <atomic>

using namespace alder;
using namespace alder::app;

// Work off the window's thread: results arrive here, a new job replaces the old, cancel means that
// nothing arrives.
class JobTest : public QObject {
  Q_OBJECT
 private slots:
  void resultsArriveOnThisThread() {
    JobRunner jobs;
    std::thread::id worked, applied;
    jobs.start("work", [&](const Progress&) -> JobRunner::Apply {
      worked = std::this_thread::get_id();
      return [&] { applied = std::this_thread::get_id(); };
    });
    QVERIFY(jobs.busy());
    QVERIFY(QTest::qWaitFor([&] { return !jobs.busy(); }, 5000));
    QVERIFY(applied == std::this_thread::get_id());
    QVERIFY(worked != applied);
  }
  // What a job throws is told; the program and the next job live on.
  void whatThrowsIsTold() {
    JobRunner jobs;
    QString told;
    connect(&jobs, &JobRunner::broke, this, [&](const QString& words) { told = words; });
    jobs.start("Sums", [](const Progress&) -> JobRunner::Apply {
      throw std::runtime_error("out of range");
    });
    QVERIFY(QTest::qWaitFor([&] { return !jobs.busy(); }, 5000));
    QVERIFY2(told.contains("Sums") && told.contains("out of range"), qPrintable(told));
    bool applied = false;
    jobs.start("next", [&](const Progress&) -> JobRunner::Apply { return [&] { applied = true; }; });
    QVERIFY(QTest::qWaitFor([&] { return !jobs.busy(); }, 5000));
    QVERIFY(applied);
  }
  void progressIsReported() {
    JobRunner jobs;
    QStringList seen;
    connect(&jobs, &JobRunner::progressed, this,
            [&](double f, const QString& what) { seen << QString("%1 %2").arg(f).arg(what); });
    std::atomic<bool> go = false;
    jobs.start("start", [&](const Progress& p) -> JobRunner::Apply {
      p.step(0.5, "half");
      while (!go)
        std::this_thread::yield();
      return [] {};
    });
    QVERIFY(QTest::qWaitFor([&] { return seen.contains("0.5 half"); }, 5000));
    QCOMPARE(seen.first(), QString("0 start"));
    go = true;
    QVERIFY(QTest::qWaitFor([&] { return !jobs.busy(); }, 5000));
  }
  void manyReportsAreFewSignals() {
    JobRunner jobs;
    QStringList seen;
    connect(&jobs, &JobRunner::progressed, this,
            [&](double, const QString& what) { seen << what; });
    jobs.start("start", [&](const Progress& p) -> JobRunner::Apply {
      for (int i = 0; i < 100000; ++i)
        p.step(1e-5 * i, "many");
      p.step(1, "last");
      return [] {};
    });
    QVERIFY(QTest::qWaitFor([&] { return !jobs.busy(); }, 20000));
    QVERIFY2(seen.size() < 1000 && seen.contains("many"), qPrintable(QString::number(seen.size())));
    QCOMPARE(seen.last(), QString("last"));
  }
  void aNewJobReplacesTheOld() {
    JobRunner jobs;
    std::atomic<bool> stopped = false;
    int applied = 0;
    jobs.start("first", [&](const Progress& p) -> JobRunner::Apply {
      while (!p.cancelled())
        std::this_thread::yield();
      stopped = true;
      return [&] { applied += 1; };
    });
    jobs.start("second",
               [&](const Progress&) -> JobRunner::Apply { return [&] { applied += 10; }; });
    QVERIFY(QTest::qWaitFor([&] { return !jobs.busy(); }, 5000));
    QTRY_VERIFY_WITH_TIMEOUT(stopped, 20000); // whenever a busy machine lets it
    QTest::qWait(50);
    QCOMPARE(applied, 10);
  }
  void cancelDeliversNothing() {
    JobRunner jobs;
    QList<bool> busy;
    connect(&jobs, &JobRunner::busyChanged, this, [&](bool b) { busy << b; });
    bool applied = false;
    jobs.start("long", [&](const Progress& p) -> JobRunner::Apply {
      while (!p.cancelled())
        std::this_thread::yield();
      return [&] { applied = true; };
    });
    jobs.cancel();
    QVERIFY(!jobs.busy());
    QTest::qWait(100);
    QVERIFY(!applied);
    QCOMPARE(busy, (QList<bool>{true, false}));
    jobs.cancel(); // twice is harmless
  }
  void leavingInMidWork() {
    std::atomic<bool> stopped = false;
    {
      JobRunner jobs;
      jobs.start("long", [&](const Progress& p) -> JobRunner::Apply {
        while (!p.cancelled())
          std::this_thread::yield();
        stopped = true;
        return [] {};
      });
    }
    QVERIFY(stopped); // joined
  }
};
ALDER_TEST(JobTest)
#include "job_test.moc"
