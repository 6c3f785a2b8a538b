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
  // Not a test: what is killed. Each edit names the routine by its number; each copy that is whole
  // is written to a log with the number of its last edit.
  void editsForEver() {
    if (!isChild()) QSKIP("what the other tests start");
    QFile log(qEnvironmentVariable("ALDERPOINT_EDITS"));
    QVERIFY(log.open(QIODevice::WriteOnly | QIODevice::Unbuffered));
    Document document;
    Recovery recovery(document, kInterval);
    connect(&recovery, &Recovery::kept,
            [&](const QString& last) { log.write(last.toUtf8() + '\n'); });
    document.open(demo());
    QTRY_VERIFY_WITH_TIMEOUT(document.isOpen(), 60000);
    for (int k = 1;; ++k) {
      document.edit("Edit " + QString::number(k), {SetName{"edit " + std::to_string(k)}});
      QTest::qWait(15);
    }
  }
  // How long a copy takes is the machine's matter; that copies follow one another while edits go
  // on, and that what was copied is there after a kill at any moment, is ours.
  void killedAtAnyMoment() {
    if (isChild()) QSKIP("");
    QRandomGenerator random(7);
    for (int kill = 0; kill < 24; ++kill) {
      QTemporaryDir folder;
      const QString log = folder.filePath("log");
      const auto copies = [&] {
        QFile read(log);
        return read.open(QIODevice::ReadOnly) ? read.readAll().split('\n').size() - 1 : 0;
      };
      QProcess child;
      auto environment = QProcessEnvironment::systemEnvironment();
      environment.insert("ALDERPOINT_EDITS", log);
      environment.insert("ALDERPOINT_STATE", folder.filePath("state"));
      child.setProcessEnvironment(environment);
      child.start(QCoreApplication::applicationFilePath(), {"RecoveryTest", "editsForEver"});
      const int wanted = kill % 4; // so many copies, then some time into the next
      QTRY_VERIFY_WITH_TIMEOUT(QFileInfo::exists(log) && copies() >= wanted, 60000);
      QTest::qWait(static_cast<int>(random.bounded(kill % 4 == 0 ? 2000 : 500)));
      ::kill(static_cast<pid_t>(child.processId()), SIGKILL);
      child.waitForFinished();

      qputenv("ALDERPOINT_STATE", folder.filePath("state").toUtf8());
      const auto left = leftWork();
      qunsetenv("ALDERPOINT_STATE");
      QFile read(log);
      QVERIFY(read.open(QIODevice::ReadOnly));
      const QList<QByteArray> lines = read.readAll().trimmed().split('\n');
      const int must = lines.back().mid(5).toInt();
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
