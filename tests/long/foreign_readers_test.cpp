#include "judge/judge.h"
#include "report/report_file.h"
#include "support.h"
#include <QProcess>
#include <QTemporaryDir>

using namespace alder;

// Reports opened by programs that are not ours: LibreOffice, qpdf, pdftotext.
class ForeignReadersTest : public QObject {
  Q_OBJECT
  QTemporaryDir folder_;

  QByteArray run(const QString& program, const QStringList& arguments, int* status) {
    QProcess process;
    QProcessEnvironment environment = QProcessEnvironment::systemEnvironment();
    environment.insert("HOME", folder_.path()); // its own settings
    process.setProcessEnvironment(environment);
    process.setWorkingDirectory(folder_.path());
    process.start(program, arguments);
    process.waitForFinished(300000);
    *status = process.exitStatus() == QProcess::NormalExit ? process.exitCode() : -1;
    return process.readAllStandardOutput() + process.readAllStandardError();
  }
  QString write(const char* layout, const QString& name) {
    const Plan& plan = test::heronPlan();
    Measurements m = test::exactly(plan);
    for (Vec3& p : m.at(test::balloon(plan, 31).features[0]).points)
      p.x() += 0.04;
    const ReportModel model = reportOf(plan, judgeAll(plan, m), m);
    const auto read = shippedLayout(layout);
    const auto setter = TextSetter::create();
    const auto file = reportFile(name.toStdString(), *read, model, plan, **setter);
    const QString path = folder_.filePath(name);
    QFile out(path);
    if (file && out.open(QFile::WriteOnly))
      out.write(file->bytes.data(), static_cast<qint64>(file->bytes.size()));
    return path;
  }

 private slots:
  void workbookOpensInAnOffice() {
    const QString path = write("full", "full.xlsx");
    int status = 0;
    const QByteArray said = run(
        "soffice", {"--headless", "--convert-to", "csv:Text - txt - csv (StarCalc):44,34,76", path},
        &status);
    QCOMPARE(status, 0);
    QFile csv(folder_.filePath("full.csv"));
    QVERIFY2(csv.open(QFile::ReadOnly), said);
    const QString text = QString::fromUtf8(csv.readAll());
    QVERIFY(text.contains("\n2,ø32 H7 +0.025/0,Bore ø32,32.000,32.000,32.025,"));
    QVERIFY(text.contains(",outside"));
  }

  void pdfIsValidAndSearched() {
    for (const char* layout : {"full", "failed", "short"}) {
      const QString path = write(layout, QString("%1.pdf").arg(layout));
      int status = 0;
      const QByteArray said = run("qpdf", {"--check", path}, &status);
      QVERIFY2(status == 0, said);
      const QString text = QString::fromUtf8(run("pdftotext", {"-layout", path, "-"}, &status));
      QCOMPARE(status, 0);
      QVERIFY2(text.contains("coaxiality"), qPrintable(text));
      const QByteArray info = run("pdfinfo", {path}, &status);
      QVERIFY(info.contains("Tagged:          yes"));
      // Each font is embedded, and says what its signs mean.
      const auto fonts = run("pdffonts", {path}, &status).trimmed().split('\n');
      QVERIFY(fonts.size() >= 4);
      for (qsizetype i = 2; i < fonts.size(); ++i) {
        const auto words = fonts[i].simplified().split(' ');
        // name … emb sub uni object ID
        QVERIFY2(words.size() > 6 && words[words.size() - 5] == "yes" &&
                     words[words.size() - 3] == "yes",
                 fonts[i]);
      }
    }
  }
};

ALDER_TEST(ForeignReadersTest)
#include "foreign_readers_test.moc"
