#include "document/recovery.h"
#include "exchange/routine/project.h"
#include "support.h"
#include <QFile>
#include <QProcess>
#include <QRandomGenerator>
#include <QTemporaryDir>
#include <csignal>

using namespace alder;
using namespace alder::app;

// Unsaved work outlives the program: this program itself is started anew as one that edits without
// end, and killed.
class RecoveryTest : public QObject {
  Q_OBJECT

  static constexpr int kInterval = 200; // ms, in place of the seconds that the program takes

  static QString demo() { return QString::fromStdString(test::dataPath("heron.alder")); }
  static bool isChild() { return qEnvironmentVariableIsSet("ALDERPOINT_EDITS"); }

 private slots:
  // Not a test: what is killed. Each edit names the routine by its number, and is written to a log
  // with the time.
  void editsForEver() {
    if (!isChild()) QSKIP("what the other tests start");
    QFile log(qEnvironmentVariable("ALDERPOINT_EDITS"));
    QVERIFY(log.open(QIODevice::WriteOnly | QIODevice::Unbuffered));
    Document document;
    Recovery recovery(document, kInterval);
    document.open(demo());
    QTRY_VERIFY_WITH_TIMEOUT(document.isOpen(), 60000);
    for (int k = 1;; ++k) {
      document.edit("Edit " + QString::number(k), {SetName{"edit " + std::to_string(k)}});
      log.write(QString("%1 %2\n").arg(k).arg(QDateTime::currentMSecsSinceEpoch()).toUtf8());
      QTest::qWait(15);
    }
  }
  void killedAtAnyMoment() {
    if (isChild()) QSKIP("");
    QRandomGenerator random(7);
    for (int kill = 0; kill < 30; ++kill) {
      QTemporaryDir folder;
      const QString log = folder.filePath("log");
      QProcess child;
      auto environment = QProcessEnvironment::systemEnvironment();
      environment.insert("ALDERPOINT_EDITS", log);
      environment.insert("ALDERPOINT_STATE", folder.filePath("state"));
      child.setProcessEnvironment(environment);
      child.start(QCoreApplication::applicationFilePath(), {"RecoveryTest", "editsForEver"});
      QTRY_VERIFY_WITH_TIMEOUT(QFile(log).size() > 0, 60000);
      QTest::qWait(400 + static_cast<int>(random.bounded(1800)));
      const qint64 at = QDateTime::currentMSecsSinceEpoch();
      ::kill(static_cast<pid_t>(child.processId()), SIGKILL);
      child.waitForFinished();

      qputenv("ALDERPOINT_STATE", folder.filePath("state").toUtf8());
      const auto left = leftWork();
      qunsetenv("ALDERPOINT_STATE");
      // All edits but those of the last moments, three intervals and what a copy takes.
      int must = 0;
      QFile read(log);
      QVERIFY(read.open(QIODevice::ReadOnly));
      for (const QByteArray& line : read.readAll().split('\n')) {
        const auto words = line.split(' ');
        if (words.size() == 2 && words[1].toLongLong() < at - 3 * kInterval - 1500)
          must = words[0].toInt();
      }
      if (must == 0 && left.empty()) continue;
      QCOMPARE(left.size(), std::size_t(1));
      const auto project = openProject(left[0].file.toStdString());
      VERIFY_OK(project);
      const int kept = QString::fromStdString(project->plan.name).mid(5).toInt();
      QVERIFY2(kept >= must, qPrintable(QString("%1 of %2").arg(kept).arg(must)));
      QVERIFY(left[0].last_edit.startsWith("Edit "));
      QCOMPARE(left[0].path, demo());
    }
  }
  void goneWhenSavedOrDropped() {
    if (isChild()) QSKIP("");
    QTemporaryDir folder;
    qputenv("ALDERPOINT_STATE", folder.filePath("state").toUtf8());
    const auto files = [&] { return QDir(folder.filePath("state")).entryList(QDir::Files).size(); };
    {
      Document document;
      Recovery recovery(document, 50);
      document.open(demo());
      QTRY_VERIFY_WITH_TIMEOUT(document.isOpen() && !document.jobs().busy(), 60000);
      QTest::qWait(200);
      QCOMPARE(files(), 0); // nothing has changed
      document.edit("Rename", {SetName{"other"}});
      QTRY_COMPARE_WITH_TIMEOUT(files(), 2, 20000);
      QVERIFY(leftWork().empty()); // this program is running
      QVERIFY(document.save(folder.filePath("saved.alder")));
      QTRY_COMPARE(files(), 0);
      document.edit("Rename", {SetName{"again"}});
      QTRY_COMPARE_WITH_TIMEOUT(files(), 2, 20000);
      recovery.end();
      QCOMPARE(files(), 0);
    }
    qunsetenv("ALDERPOINT_STATE");
  }
  void openedAgain() {
    if (isChild()) QSKIP("");
    QTemporaryDir folder;
    Document document;
    document.openLeft(demo(), folder.filePath("was.alder"));
    QTRY_VERIFY_WITH_TIMEOUT(document.isOpen(), 60000);
    QCOMPARE(document.path(), folder.filePath("was.alder"));
    QVERIFY(document.unsaved());
  }
};
ALDER_TEST(RecoveryTest)
#include "recovery_test.moc"
