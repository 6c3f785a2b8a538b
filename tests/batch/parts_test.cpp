#include "base/files.h"
#include "cad_files.h"
#include "part/cad_process.h"
#include "support.h"
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QProcess>
#include <QTemporaryDir>

using namespace alder;

// Parts that are not one STEP solid in one standing, from a shell: the demo's second part in its
// two set-ups, IGES, and an assembly of which some bodies are the part.
class PartsTest : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;

  struct Answer {
    int status;
    QJsonObject json;
    QString err;
  };
  static Answer call(const QStringList& arguments) {
    QProcess p;
    p.start(ALDER_BATCH, arguments);
    p.waitForFinished(300000);
    return {p.exitStatus() == QProcess::NormalExit ? p.exitCode() : -1,
            QJsonDocument::fromJson(p.readAllStandardOutput()).object(),
            QString::fromUtf8(p.readAllStandardError())};
  }
  QString file(const char* name) { return dir_.filePath(name); }
  QString write(const char* name, const std::string& bytes) {
    (void)writeFile(file(name).toStdString(), bytes);
    return file(name);
  }
  static QString data(const char* name) { return QString::fromStdString(test::dataPath(name)); }

 private slots:
  // docs/demo.md: what the defects must give, over both set-ups.
  void redshankInTwoSetups() {
    const Answer draft = call({"draft", data("redshank.step"), "-o", file("r.alder"), "--json"});
    QCOMPARE(draft.status, 0);
    QCOMPARE(draft.json["requirements"].toArray().size(), 20);
    for (const QJsonValue r : draft.json["requirements"].toArray())
      QVERIFY2(r["covered"].toBool(), qPrintable(r["text"].toString()));
    const QJsonArray setups = draft.json["set_ups"].toArray();
    QCOMPARE(setups.size(), 2);
    for (const QJsonValue s : setups)
      QVERIFY(s["how"].toString().startsWith("Lay the part on Plane"));
    QVERIFY(call({"rehearse", file("r.alder"), "--json"}).json["clear"].toBool());
    QCOMPARE(call({"run", file("r.alder"), "--seed", "3", "--defects",
                   data("redshank-defects.json"), "-o", file("p.csv")})
                 .status,
             0);
    const Answer judged = call({"judge", file("r.alder"), file("p.csv"), "--json"});
    for (const QJsonValue r : judged.json["requirements"].toArray()) {
      const double actual = r["actual"].toDouble();
      if (r["balloon"].toInt() == 20) { // the peg, from datums of the other set-up
        QCOMPARE(r["verdict"].toString(), QString("outside"));
        NEAR(actual, 0.2, 0.012);
        QVERIFY(r["how"].toString().contains("joined with a misfit"));
      } else {
        QVERIFY2(r["verdict"].toString() == "within", qPrintable(r["text"].toString()));
      }
      if (r["balloon"].toInt() == 16) NEAR(actual, 26.09, 0.006);
    }
  }

  // The routine that lies there is what the draft gives.
  void redshankAsShipped() {
    const auto project = openProject(test::dataPath("redshank.alder"));
    VERIFY_OK(project);
    QCOMPARE(project->plan.setups.size(), std::size_t(2));
    for (const Feature& f : project->plan.features)
      QVERIFY2(f.covered(), project->plan.nominal(f.id).name.c_str());
    QVERIFY(call({"rehearse", data("redshank.alder"), "--json"}).json["clear"].toBool());
  }

  void igesWithoutRetyping() {
    const auto part = importCadFileApart(test::dataPath("heron-plain.step"));
    VERIFY_OK(part);
    const QString iges = write("heron.igs", test::igesOf((*part)->shape, false, "INCH"));
    const Answer draft = call(
        {"draft", iges, "--drawing", data("heron-drawing.pdf"), "-o", file("i.alder"), "--json"});
    QVERIFY2(draft.status == 0, qPrintable(draft.err));
    const Answer step = call({"draft", data("heron-plain.step"), "--drawing",
                              data("heron-drawing.pdf"), "-o", file("s.alder"), "--json"});
    const auto texts = [](const Answer& a) {
      QStringList all;
      for (const QJsonValue r : a.json["requirements"].toArray())
        all << r["text"].toString() + (r["covered"].toBool() ? "" : " open");
      return all;
    };
    QVERIFY(texts(step).size() > 30);
    QCOMPARE(texts(draft), texts(step));
    // With its requirements as STEP, which the file did not come as.
    const Answer model = call({"export", file("i.alder"), "--to", file("i.step")});
    QVERIFY2(model.status <= 1, qPrintable(model.err));
    const auto again = importCadFileApart(file("i.step").toStdString());
    VERIFY_OK(again);
    QVERIFY((*again)->pmi.tolerances.size() > 15);
  }

  void bodiesOfAnAssembly() {
    const QString step = write("gauge.step", test::assemblyStep());
    const auto taken = [](const Answer& a) {
      QStringList names;
      for (const QJsonValue b : a.json["bodies"].toArray())
        if (!b["left_out"].toBool()) names << b["name"].toString();
      return names;
    };
    const Answer shown = call({"draft", step, "-o", file("g.alder"), "--json"});
    QVERIFY2(shown.status == 0, qPrintable(shown.err));
    QCOMPARE(shown.json["bodies"].toArray().size(), 4);
    QVERIFY(!taken(shown).contains("tool"));
    const Answer frame = call({"draft", step, "--body", "frame", "-o", file("f.alder"), "--json"});
    QCOMPARE(taken(frame), QStringList("frame"));
    QCOMPARE(taken(call({"draft", step, "--body", "pins", "-o", file("f.alder"), "--json"})).size(),
             2);
    const Answer none = call({"draft", step, "--body", "lid", "-o", file("f.alder")});
    QCOMPARE(none.status, 2);
    QVERIFY2(none.err.contains("no body \"lid\"") && none.err.count('\n') == 1,
             qPrintable(none.err));
  }

  void meshesAreNoParts() {
    const QString stl = write("box.stl", test::boxStl(Vec3(10, 10, 10), true));
    const Answer refused = call({"draft", stl, "-o", file("x.alder")});
    QCOMPARE(refused.status, 2);
    QVERIFY(refused.err.contains("has no surfaces"));
    QVERIFY(!QFile::exists(file("x.alder")));
  }
};

ALDER_TEST(PartsTest)
#include "parts_test.moc"
