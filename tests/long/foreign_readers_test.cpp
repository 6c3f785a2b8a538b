#include "base/files.h"
#include "judge/judge.h"
#include "report/report_file.h"
#include "support.h"
#include <QProcess>
#include <QTemporaryDir>
#include <algorithm>

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

  // A workbook of one's own: what is computed from the rows that were put in, in all its sheets.
  void ownWorkbookIsComputed() {
    const Plan& plan = test::heronPlan();
    const Measurements m = test::exactly(plan);
    const ReportModel model = reportOf(plan, judgeAll(plan, m), m);
    double sum = 0;
    for (const ReportRow& row : model.rows)
      sum += std::stod(row.actual.text);
    for (const QString writer : {"openpyxl", "libreoffice"}) {
      const auto form = reportForm(
          plan, (dataFolder() / "tests" / "data" / "workbooks" / (writer.toStdString() + ".xlsx"))
                    .string());
      VERIFY_OK(form);
      const auto setter = TextSetter::create();
      const auto file = reportFile("own.xlsx", *form, model, plan, **setter);
      VERIFY_OK(file);
      const QString path = folder_.filePath(writer + ".xlsx");
      VERIFY_OK(writeFile(path.toStdString(), file->bytes));
      int status = 0;
      const QByteArray said =
          run("soffice",
              {"--headless", "--convert-to",
               "csv:Text - txt - csv (StarCalc):44,34,76,1,,0,false,true,false,false,false,-1", path},
              &status);
      QCOMPARE(status, 0);
      const auto rows = [&](const QString& sheet) {
        QFile csv(folder_.filePath(writer + "-" + sheet + ".csv"));
        return csv.open(QFile::ReadOnly) ? csv.readAll().split('\n') : QList<QByteArray>();
      };
      const auto report = rows("Report");
      QVERIFY2(report.size() > 40, said);
      const auto line = std::find_if(report.begin(), report.end(),
                                     [](const QByteArray& l) { return l.startsWith("Sum,"); });
      QVERIFY(line != report.end());
      const auto cells = line->split(',');
      NEAR(cells[3].toDouble(), sum, 1e-6);
      QCOMPARE(cells[5].toInt(), static_cast<int>(model.rows.size()));
      NEAR(rows("Deep")[0].split(',')[0].toDouble(), 2 * sum, 1e-6);
      QVERIFY(rows("Notes")[0].startsWith("Nothing is filled in here"));
    }
  }

  void pdfIsValidAndSearched() {
    for (const char* layout : {"full", "failed", "short", "first-article"}) {
      const QString path = write(layout, QString("%1.pdf").arg(layout));
      int status = 0;
      const QByteArray said = run("qpdf", {"--check", path}, &status);
      QVERIFY2(status == 0, said);
      const QString text = QString::fromUtf8(run("pdftotext", {"-layout", path, "-"}, &status));
      QCOMPARE(status, 0);
      QVERIFY2(text.contains("coaxiality"), qPrintable(text)); // the symbol, as its word
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
