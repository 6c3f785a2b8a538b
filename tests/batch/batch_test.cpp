#include "base/files.h"
#include "base/units.h"
#include "exchange/routine/project.h"
#include "support.h"
#include <QFile>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QProcess>
#include <QTemporaryDir>

using namespace alder;

// The batch program as scripts use it: answers, exit status, one clear line for bad input.
class BatchTest : public QObject {
  Q_OBJECT
  QTemporaryDir dir_;

  struct Answer {
    int status;
    QByteArray out, err;
    QJsonObject json() const { return QJsonDocument::fromJson(out).object(); }
  };
  Answer call(const QStringList& arguments) {
    QProcess p;
    p.start(ALDER_BATCH, arguments);
    p.waitForFinished(120000);
    return {p.exitStatus() == QProcess::NormalExit ? p.exitCode() : -1, p.readAllStandardOutput(),
            p.readAllStandardError()};
  }
  QString file(const char* name) { return dir_.filePath(name); }
  static QString data(const char* name) {
    return QString::fromStdString(alder::test::dataPath(name));
  }
  void write(const QString& path, const QByteArray& bytes) {
    QFile f(path);
    QVERIFY(f.open(QIODevice::WriteOnly));
    f.write(bytes);
  }

 private slots:
  void theWholeJob() {
    const Answer draft = call({"draft", data("heron.step"), "--bench", data("bench.json"), "-o",
                               file("h.alder"), "--json"});
    QCOMPARE(draft.status, 0);
    const QJsonArray requirements = draft.json()["requirements"].toArray();
    QCOMPARE(requirements.size(), 35);
    for (const QJsonValue r : requirements) {
      for (const char* key :
           {"id", "balloon", "kind", "text", "nominal", "lower", "upper", "tolerance", "zone",
            "modifier", "datums", "features", "covered", "why_not"})
        QVERIFY2(r.toObject().contains(key), key);
      QVERIFY(r["covered"].toBool() || !r["why_not"].toString().isEmpty());
    }
    QVERIFY(draft.json()["touches"].toInt() > 200);
    QVERIFY(draft.json()["notes"].isArray());

    const Answer rehearsal = call({"rehearse", file("h.alder"), "--json"});
    QCOMPARE(rehearsal.status, 0);
    QVERIFY(rehearsal.json()["clear"].toBool());
    QVERIFY(rehearsal.json()["least_clearance_mm"].toDouble() > 0);
    const QJsonArray bodies = rehearsal.json()["bodies"].toArray();
    QVERIFY(!bodies.isEmpty());
    double end = 0; // segments follow one another from the ball to the head
    for (const QJsonValue s : bodies[0].toObject()["segments"].toArray()) {
      QCOMPARE(s["from_mm"].toDouble(), end);
      end = s["to_mm"].toDouble();
      QVERIFY(s["diameter_mm"].toDouble() > 0);
    }

    QCOMPARE(call({"run", file("h.alder"), "--seed", "4", "-o", file("p.csv")}).status, 0);
    QCOMPARE(call({"run", file("h.alder"), "--seed", "4", "-o", file("p2.csv")}).status, 0);
    QFile a(file("p.csv")), b(file("p2.csv"));
    QVERIFY(a.open(QIODevice::ReadOnly) && b.open(QIODevice::ReadOnly));
    QCOMPARE(a.readAll(), b.readAll());
    const Answer good = call({"judge", file("h.alder"), file("p.csv"), "--json"});
    QCOMPARE(good.status, 0);
    for (const QJsonValue r : good.json()["requirements"].toArray())
      QCOMPARE(r["verdict"].toString(), QString("within"));

    // the shipped defects put exactly these outside
    QCOMPARE(
        call({"run", file("h.alder"), "--defects", data("heron-defects.json"), "-o", file("d.csv")})
            .status,
        0);
    const Answer bad = call({"judge", file("h.alder"), file("d.csv"), "--json"});
    QCOMPARE(bad.status, 1);
    QList<int> outside;
    for (const QJsonValue r : bad.json()["requirements"].toArray())
      if (r["verdict"].toString() == "outside") outside << r["balloon"].toInt();
    QCOMPARE(outside, (QList<int>{9, 10, 21, 30}));

    QCOMPARE(
        call({"export", file("h.alder"), "--to", file("r.pdf"), "--points", file("d.csv")}).status,
        0);
    QCOMPARE(
        call({"export", file("h.alder"), "--to", file("r.csv"), "--points", file("d.csv")}).status,
        0);
    QCOMPARE(call({"export", file("h.alder"), "--to", file("path.csv")}).status, 0);
    QVERIFY(QFile(file("r.pdf")).size() > 30000);
  }
  // The model goes out as it came in; with a requirement that no file can state, all but that.
  void modelsAreWritten() {
    const Answer same = call({"export", data("heron.alder"), "--to", file("m.step")});
    QCOMPARE(same.status, 0);
    QVERIFY2(same.out.contains("requirements as in the model, 0 written"), same.out);
    QFile was(data("heron.step")), is(file("m.step"));
    QVERIFY(was.open(QIODevice::ReadOnly) && is.open(QIODevice::ReadOnly));
    QCOMPARE(is.readAll(), was.readAll());

    auto project = openProject(data("heron.alder").toStdString());
    VERIFY_OK(project);
    Requirement& changed = project->plan.spec.requirements[0];
    const int balloon = changed.balloon;
    changed.kind = Characteristic::Value;
    changed.formula = "1";
    VERIFY_OK(saveProject(*project, file("value.alder").toStdString()));
    const Answer but = call({"export", file("value.alder"), "--to", file("v.STP")});
    QCOMPARE(but.status, 1);
    QVERIFY2(but.out.startsWith(QString("%1 (").arg(balloon).toUtf8()), but.out);
    QVERIFY(but.out.contains("is computed by a formula: not written."));
    QVERIFY(but.out.contains("0 written, 1 taken out"));
    // What was written is a model to begin with.
    QCOMPARE(call({"draft", file("v.STP"), "-o", file("v.alder")}).status, 0);
  }
  // Values of another machine: told with why and what speaks against them, kept, judged.
  // The contract of `drawing`, and a routine drafted from a bare part and its drawing.
  void drawingRead() {
    const Answer a =
        call({"drawing", data("heron-drawing.pdf"), "--part", data("heron-plain.step"), "--json"});
    QCOMPARE(a.status, 0);
    const QJsonObject answer = a.json();
    QCOMPARE(answer["unit"].toString(), QString("mm"));
    QCOMPARE(answer["pages"].toInt(), 2);
    int asked = 0, tied = 0;
    for (const auto value : answer["proposals"].toArray()) {
      const QJsonObject p = value.toObject();
      for (const char* key : {"page", "x_mm", "y_mm", "text", "kind", "requirement"})
        QVERIFY2(p.contains(key), key);
      QVERIFY(p["x_mm"].toDouble() > 0 && p["x_mm"].toDouble() < 420);
      if (p["as"].toString() != "requirement") continue;
      for (const char* key : {"zone", "modifier", "datums", "count"})
        QVERIFY2(p.contains(key), key);
      QVERIFY(p.contains("tolerance") || (p.contains("nominal") && p.contains("lower")));
      ++asked, tied += p["requirement"].isString();
      if (p["text"].toString() == "40 ±0.1") QCOMPARE(p["upper"].toDouble(), 40.1);
    }
    QCOMPARE(asked, 35);
    QCOMPARE(tied, 35);
    const Answer draft =
        call({"draft", data("heron-plain.step"), "--bench", data("bench.json"), "--drawing",
              data("heron-drawing.pdf"), "-o", file("drawn.alder"), "--json"});
    QCOMPARE(draft.status, 0);
    for (const auto value : draft.json()["requirements"].toArray())
      QVERIFY2(value.toObject()["covered"].toBool(),
               qPrintable(value.toObject()["why_not"].toString()));
    QCOMPARE(draft.json()["requirements"].toArray().size(), 35);
    QCOMPARE(call({"rehearse", file("drawn.alder"), "--json"}).status, 0);
  }

  // Revision C of the Heron: what it changes is told, and the routine written with it.
  void revised() {
    const Answer a = call({"revise", data("heron.alder"), "--part", data("heron-c.step"), "-o",
                           file("c.alder"), "--json"});
    QCOMPARE(a.status, 1);
    const QJsonObject answer = a.json();
    QCOMPARE(answer["stayed"].toInt(), 30);
    QMap<QString, int> told;
    for (const auto value : answer["entries"].toArray()) {
      const QJsonObject e = value.toObject();
      ++told[e["subject"].toString() + " " + e["fate"].toString()];
      QVERIFY(!e["words"].toString().isEmpty());
    }
    QCOMPARE(told["model changed"], 2);
    QCOMPARE(told["model new"], 1);
    QCOMPARE(told["model gone"], 1);
    QCOMPARE(told["requirement changed"], 3);
    QCOMPARE(told["requirement new"], 2);
    QCOMPARE(told["requirement gone"], 2);
    // Once taken over nothing differs any more; and the way is clear.
    QCOMPARE(call({"revise", file("c.alder"), "--part", data("heron-c.step")}).status, 0);
    QCOMPARE(call({"rehearse", file("c.alder"), "--json"}).status, 0);
    QCOMPARE(call({"revise", file("c.alder")}).status, 2);
    QCOMPARE(call({"revise", file("c.alder"), "--drawing", data("heron-c.step")}).status, 2);
  }

  // A table becomes requirements; what fits one place is tied, the rest has suggestions.
  void listRead() {
    VERIFY_OK(
        writeFile(file("list.csv").toStdString(),
                  std::string("No;Description;Nominal;Tolerance;Key\n"
                              "5;Bore diameter;32;H7;SC\n6;Height;40;0,1;\n7;Thread;M8;;\n")));
    const Answer a = call({"list", file("list.csv"), "--part", data("heron-plain.step"), "-o",
                           file("listed.alder"), "--json"});
    QCOMPARE(a.status, 1); // the thread was left out
    const QJsonObject answer = a.json();
    QCOMPARE(answer["rows"].toInt(), 3);
    QCOMPARE(answer["taken"].toInt(), 2);
    QCOMPARE(answer["tied"].toInt(), 1);
    QCOMPARE(answer["notes"].toArray().size(), 1);
    const QJsonArray requirements = answer["requirements"].toArray();
    QCOMPARE(requirements[0].toObject()["key"].toString(), QString("SC"));
    QCOMPARE(requirements[0].toObject()["balloon"].toInt(), 5);
    QVERIFY(requirements[0].toObject()["suggestions"].toArray().isEmpty());
    QVERIFY(!requirements[1].toObject()["suggestions"].toArray().isEmpty());
    QCOMPARE(call({"rehearse", file("listed.alder"), "--json"}).status, 0);
    QCOMPARE(call({"list", data("bench.json"), "--part", data("heron-plain.step")}).status, 2);
    QCOMPARE(call({"list", file("none.csv"), "--part", data("heron-plain.step")}).status, 2);
  }

  // The contract of `cloud`; what it writes is a run like any other.
  void cloudJudged() {
    const Answer a = call({"cloud", data("heron-scan.ply"), "--part", data("heron.alder"),
                           "--points", file("places.csv"), "-o", file("scanned.alder"), "--json"});
    QCOMPARE(a.status, 1); // the lobes of the boss
    const QJsonObject json = a.json();
    const QJsonArray placement = json["placement"].toArray();
    QCOMPARE(placement.size(), 4);
    for (const QJsonValue row : placement)
      QCOMPARE(row.toArray().size(), 4);
    QCOMPARE(placement[3].toArray()[3].toDouble(), 1.0);
    QVERIFY(json["rms"].toDouble() > 0.005 && json["rms"].toDouble() < 0.03);
    QCOMPARE(json["points"].toInt(), 80000);
    QCOMPARE(json["unit"].toString(), QString("mm"));
    QVERIFY(!json["remarks"].toArray().isEmpty());
    QVERIFY(!json["features"].toArray().isEmpty());
    const QJsonArray requirements = json["requirements"].toArray();
    QCOMPARE(requirements.size(), 35);
    for (const QJsonValue r : requirements)
      for (const char* key :
           {"id", "balloon", "actual", "deviation", "lower", "upper", "share", "verdict", "how"})
        QVERIFY2(r.toObject().contains(key), key);
    const QJsonObject runout = requirements[29].toObject();
    QCOMPARE(runout["verdict"].toString(), QString("outside"));
    NEAR(runout["actual"].toDouble(), 0.12, 0.01);
    // Judged again from what was written, both ways.
    for (const QStringList& again :
         {QStringList{"judge", data("heron.alder"), file("places.csv"), "--json"},
          QStringList{"judge", file("scanned.alder"), "--json"}}) {
      const Answer b = call(again);
      QCOMPARE(b.status, 1);
      const QJsonArray other = b.json()["requirements"].toArray();
      for (int i = 0; i < requirements.size(); ++i) {
        QCOMPARE(other[i]["verdict"].toString(), requirements[i]["verdict"].toString());
        NEAR(other[i]["actual"].toDouble(), requirements[i]["actual"].toDouble(), 2e-5);
      }
    }
  }
  void resultsOfOthers() {
    write(file("gauge.csv"), "Serial;TW-31\nNo;Characteristic;Nominal;Upper tol;Lower tol;Actual\n"
                             "2;Bore \xC3\xB8"
                             "32 diameter;32.000;0.025;0.000;32.012\n"
                             "6;Bore \xC3\xB8"
                             "8 diameter;8.500;0.022;0.000;8.012\n"
                             "99;Temperature;;;;20.30\n");
    const QStringList call_it{"results",   file("gauge.csv"), "--part", data("heron.alder"),
                              "--kind-to", file("kind.json"), "-o",     file("with.alder"),
                              "--json"};
    const Answer a = call(call_it);
    QCOMPARE(a.status, 1); // one waits
    const QJsonObject part = a.json()["parts"].toArray()[0].toObject();
    QCOMPARE(part["serial"].toString(), QString("TW-31"));
    QCOMPARE(part["file"].toString(), QString("gauge.csv"));
    const QJsonArray matches = part["matches"].toArray();
    QCOMPARE(matches.size(), 3);
    for (const QJsonValue m : matches)
      for (const char* key : {"requirement", "balloon", "name", "line", "actual", "nominal",
                              "lower", "upper", "sure", "why", "conflicts"})
        QVERIFY2(m.toObject().contains(key), key);
    QCOMPARE(matches[0]["balloon"].toInt(), 2);
    QVERIFY(matches[0]["conflicts"].toArray().isEmpty());
    NEAR(matches[0]["upper"].toDouble(), 32.025, 1e-9);
    // The nominal differs: never without being told.
    if (!matches[1]["requirement"].isNull()) QVERIFY(!matches[1]["conflicts"].toArray().isEmpty());
    QVERIFY(matches[2]["requirement"].isNull());
    QVERIFY(!part["left"].toArray().isEmpty());
    QVERIFY(part["missing"].toArray().size() >= 33);
    // The routine holds what was settled; it is judged as stated.
    const Answer judged = call({"judge", file("with.alder"), "--json"});
    QCOMPARE(judged.status, 0);
    int figures = 0;
    for (const QJsonValue r : judged.json()["requirements"].toArray()) {
      figures += !r["actual"].isNull();
      if (r["balloon"].toInt() == 2) {
        NEAR(r["actual"].toDouble(), 32.012, 1e-9);
        QVERIFY(r["how"].toString().contains("gauge.csv, line 3"));
      }
    }
    QCOMPARE(figures, 1);
    // The next file by the same kind, which is a file of its own.
    write(file("next.csv"), "Serial;TW-32\nNo;Characteristic;Nominal;Upper tol;Lower tol;Actual\n"
                            "2;Bore \xC3\xB8"
                            "32 diameter;32.000;0.025;0.000;32.019\n");
    const Answer next = call({"results", file("next.csv"), "--part", file("with.alder"), "--kind",
                              file("kind.json"), "-o", file("both.alder"), "--json"});
    QCOMPARE(next.status, 0);
    const Answer history = call({"history", file("both.alder")});
    QCOMPARE(history.status, 0);
    QVERIFY(history.out.contains("TW-31") && history.out.contains("TW-32"));
    const Answer report = call({"export", file("both.alder"), "--to", file("stated.csv")});
    QCOMPARE(report.status, 0);
    QFile stated(file("stated.csv"));
    QVERIFY(stated.open(QIODevice::ReadOnly));
    QVERIFY(stated.readAll().contains("next.csv"));
  }
  // draft, write the plan, run, judge, write the results: read elsewhere they say the same.
  void qifLoop() {
    QCOMPARE(
        call({"draft", data("heron.step"), "--bench", data("bench.json"), "-o", file("q.alder")})
            .status,
        0);
    QCOMPARE(call({"export", file("q.alder"), "--to", file("x.qif")}).status, 0);
    QCOMPARE(call({"run", file("q.alder"), "--seed", "6", "--defects", data("heron-defects.json"),
                   "-o", file("q.csv")})
                 .status,
             0);
    const Answer judged = call({"judge", file("q.alder"), file("q.csv"), "--json"});
    QVERIFY(judged.status == 0 || judged.status == 1);
    QCOMPARE(
        call({"export", file("q.alder"), "--points", file("q.csv"), "--to", file("y.qif")}).status,
        0);
    const Answer fresh = call({"judge", file("q.alder"), "--results", file("y.qif"), "--json"});
    QCOMPARE(fresh.out, judged.out);
    QCOMPARE(fresh.status, judged.status);
    QCOMPARE(fresh.err, QByteArray());
    // The plan alone, on the bare part, is the routine; its results prove the same.
    const Answer read = call({"read", file("x.qif"), "--part", data("heron.step"), "--bench",
                              data("bench.json"), "-o", file("r.alder"), "--json"});
    QVERIFY2(read.status == 0, read.err);
    QCOMPARE(read.json()["requirements"].toArray().size(), 35);
    QCOMPARE(read.json()["kept"].toInt(), 0);
    QVERIFY(read.json()["remarks"].toArray().isEmpty());
    QCOMPARE(call({"rehearse", file("r.alder")}).status, 0);
    const Answer there = call({"judge", file("r.alder"), "--results", file("y.qif"), "--json"});
    const QJsonArray a = judged.json()["requirements"].toArray(),
                     b = there.json()["requirements"].toArray();
    QCOMPARE(b.size(), a.size());
    for (int i = 0; i < a.size(); ++i) {
      QCOMPARE(b.at(i)["verdict"].toString(), a.at(i)["verdict"].toString());
      QVERIFY(std::abs(b.at(i)["actual"].toDouble() - a.at(i)["actual"].toDouble()) < 1e-9);
    }
    // As any file of results.
    const Answer results = call(
        {"results", file("y.qif"), "--part", file("q.alder"), "-o", file("with.alder"), "--json"});
    QCOMPARE(results.status, 0);
    QCOMPARE(results.json()["files"].toArray().at(0)["kind"].toString(), QString("QIF"));
    QCOMPARE(call({"judge", file("with.alder"), "--json"}).out, judged.out);
    // The name of a part, where there are several.
    Project two;
    for (const char* name : {"one", "two"}) {
      QVERIFY(QFile::exists(file("q.csv")));
      auto project = openProject(file("q.alder").toStdString());
      VERIFY_OK(project);
      if (two.runs.empty()) two = *project;
      QFile csv(file("q.csv"));
      QVERIFY(csv.open(QIODevice::ReadOnly));
      two.runs.push_back({name, csv.readAll().toStdString()});
    }
    VERIFY_OK(saveProject(two, file("two.alder").toStdString()));
    QCOMPARE(call({"export", file("two.alder"), "--to", file("two.qif")}).status, 0);
    const Answer which = call({"judge", file("q.alder"), "--results", file("two.qif"), "--json"});
    QCOMPARE(which.status, 2);
    QVERIFY2(which.err.contains("holds 2 parts; say --part with one of one, two"), which.err);
    QCOMPARE(
        call({"judge", file("q.alder"), "--results", file("two.qif"), "--part", "two", "--json"})
            .out,
        judged.out);
    QCOMPARE(call({"judge", file("q.alder"), "--results", file("two.qif"), "--part", "six"}).status,
             2);
  }

  void tipsAreQualified() {
    QCOMPARE(call({"qualify", data("heron.alder"), "-o", file("q.alder"), "--json"}).status, 0);
    const Answer again = call({"qualify", file("q.alder"), "--seed", "2", "--json"});
    QCOMPARE(again.status, 0);
    const QJsonObject json = again.json();
    QVERIFY(json["clear"].toBool());
    QVERIFY(json["tips"].toArray().size() >= 4);
    for (const QJsonValue t : json["tips"].toArray()) {
      QVERIFY(t["touches"].toInt() >= 5);
      QVERIFY(t["form"].toDouble() < 0.01 && t["diameter"].toDouble() > 1.9);
      QVERIFY(t["limits"].toString().isEmpty());
    }
    // What a bench with qualified tips measures is within all the same.
    QCOMPARE(call({"run", file("q.alder"), "-o", file("q.csv")}).status, 0);
    QCOMPARE(call({"judge", file("q.alder"), file("q.csv")}).status, 0);
  }
  void reachIsTold() {
    const Answer bore = call({"reach", data("heron.alder"), "--feature", "Bore ø32", "--json"});
    QCOMPARE(bore.status, 0);
    const QJsonArray cells = bore.json()["cells"].toArray();
    QCOMPARE(cells.size(), 22 * 73);
    QCOMPARE(cells[0]["reach"].toString(), QString("free")); // straight down
    const Answer none = call({"reach", data("heron.alder"), "--feature", "Nose"});
    QCOMPARE(none.status, 2);
  }
  void theVariantClashes() {
    const Answer r = call({"rehearse", data("heron-clamp.alder"), "--json"});
    QCOMPARE(r.status, 1);
    const QJsonObject clash = r.json()["clashes"].toArray()[0].toObject();
    QVERIFY(clash["bodies"].toArray()[1].toString().startsWith("clamp"));
    QVERIFY(clash["depth_mm"].toDouble() > 0.5 && clash["second"].toDouble() > 0 &&
            clash["step"].toInt() > 0);
  }
  void fits() {
    QByteArray csv = "x,y,z\n";
    for (int z = 0; z < 3; ++z)
      for (int k = 0; k < 12; ++k)
        csv += QString("%1,%2,%3\n")
                   .arg(100 + 7.5 * std::cos(k * 0.5), 0, 'f', 9)
                   .arg(-40 + 7.5 * std::sin(k * 0.5), 0, 'f', 9)
                   .arg(10.0 * z)
                   .toUtf8();
    write(file("c.csv"), csv);
    const Answer a =
        call({"fit", "--shape", "cylinder", "--criterion", "ls", "--json", file("c.csv")});
    QCOMPARE(a.status, 0);
    NEAR(a.json()["diameter"].toDouble(), 15.0, 1e-7);
    NEAR(a.json()["point"].toArray()[0].toDouble(), 100.0, 1e-6);
    NEAR(std::abs(a.json()["direction"].toArray()[2].toDouble()), 1.0, 1e-9);
    NEAR(a.json()["form"].toDouble(), 0.0, 1e-6);
  }
  // Many parts in one go, each under its own name; status 1 where one is outside.
  void reports() {
    for (const char* seed : {"1", "2"})
      QCOMPARE(call({"run", data("heron.alder"), "--seed", seed, "-o",
                     dir_.filePath(QString("part%1.csv").arg(seed))})
                   .status,
               0);
    QCOMPARE(call({"run", data("heron.alder"), "--seed", "3", "--defects",
                   data("heron-defects.json"), "-o", file("part3.csv")})
                 .status,
             0);
    const QStringList good{"report", data("heron.alder"), file("part1.csv"), file("part2.csv")};
    const Answer two = call(good + QStringList{"--layout", "short", "-o", file("{serial}.xlsx")});
    QCOMPARE(two.status, 0);
    QCOMPARE(two.out.count('\n'), 2);
    QVERIFY(QFile(file("part1.xlsx")).size() > 5000 && QFile(file("part2.xlsx")).size() > 5000);
    const Answer bad = call({"report", data("heron.alder"), file("part3.csv"), "--layout", "failed",
                             "-o", file("{serial}")});
    QCOMPARE(bad.status, 1);
    QFile pdf(file("part3.pdf"));
    QVERIFY(pdf.open(QIODevice::ReadOnly) && pdf.read(5) == "%PDF-");
    // Nothing is written where two would share a name, or there is no such layout.
    const Answer same = call(good + QStringList{"-o", file("one.pdf")});
    QCOMPARE(same.status, 2);
    QVERIFY2(same.err.contains("{serial}"), same.err);
    QVERIFY(!QFile::exists(file("one.pdf")));
    const Answer none = call(good + QStringList{"--layout", "pretty", "-o", file("{serial}.html")});
    QCOMPARE(none.status, 2);
    QVERIFY2(none.err.contains("pretty") && none.err.contains("failed, first-article, full, short"),
             none.err);
    QVERIFY(!QFile::exists(file("part1.html")));
  }

  // From the shell: what is asked, what is lacking, the forms, a delta article, a workbook.
  void firstArticle() {
    QCOMPARE(call({"run", data("heron.alder"), "--seed", "4", "-o", file("HB-4.csv")}).status, 0);
    write(
        file("article.json"),
        R"({"identifier": "FAI-{serial}", "drawing_revision": "B", "organization": "Saltmarsh Instruments",
      "products": [{"name": "CuSn8", "certificate": "CoC-771"}]})");
    const Answer first =
        call({"article", data("heron.alder"), file("HB-4.csv"), "--data", file("article.json"),
              "--keep-baseline", "-o", file("article.alder"), "--json"});
    QCOMPARE(first.status, 1); // the drawing has no number yet
    QCOMPARE(first.json()["characteristics"].toArray().size(), 35);
    QVERIFY2(first.json()["missing"].toArray()[0].toString().contains("6 Drawing number"),
             first.out);
    for (const char* target : {"{serial}.pdf", "{serial}.xlsx", "{serial}.html"})
      QCOMPARE(call({"report", file("article.alder"), file("HB-4.csv"), "--layout", "first-article",
                     "-o", file(target)})
                   .status,
               0);
    write(file("delta.json"), R"({"scope": "delta", "reason": "revision C"})");
    const Answer delta = call({"article", file("article.alder"), file("HB-4.csv"), "--data",
                               file("delta.json"), "--json"});
    QVERIFY2(delta.json()["characteristics"].toArray().isEmpty(), delta.out + delta.err);
    QVERIFY(delta.json().contains("missing"));
    const Answer other = call({"article", data("heron.alder"), "--data", file("delta.json"),
                               "--baseline", file("article.alder"), "--json"});
    QVERIFY2(other.json()["characteristics"].toArray().isEmpty(), other.out + other.err);
    QVERIFY(other.json().contains("missing"));
    write(file("bad.json"), R"({"identifer": "FAI"})");
    const Answer bad = call({"article", data("heron.alder"), "--data", file("bad.json")});
    QCOMPARE(bad.status, 2);
    QVERIFY2(bad.err.contains("bad.json") && bad.err.contains("identifer"), bad.err);
    const QString own = QString::fromStdString(
        (dataFolder() / "tests" / "data" / "workbooks" / "openpyxl.xlsx").string());
    const Answer filled = call({"report", data("heron.alder"), file("HB-4.csv"), "--layout", own,
                                "-o", file("own {serial}.xlsx")});
    QCOMPARE(filled.status, 0);
    QVERIFY2(filled.err.contains("no.such.field"), filled.err);
    QVERIFY(QFile(file("own HB-4.xlsx")).size() > 5000);
    const Answer no = call({"report", data("heron.alder"), file("HB-4.csv"), "--layout", own, "-o",
                            file("own {serial}.pdf")});
    QCOMPARE(no.status, 2);
    QVERIFY2(no.err.contains("is a workbook"), no.err);
  }

  void badInput_data() {
    QTest::addColumn<QStringList>("arguments");
    QTest::addColumn<QString>("says");
    write(file("foreign.step"), "hello");
    write(file("empty.step"), "");
    write(file("three.csv"), "x,y,z\n0,0,0\n1,1,1\n2,2,2\n");
    write(file("word.csv"), "x,y,z\n0,0,0\n1,one,1\n");
    write(file("broken.alder"), "PK nonsense");
    write(file("bench.json"), "{\n\"name\": 3,\n}");
    QTest::newRow("nothing") << QStringList{} << "alderpoint-batch";
    QTest::newRow("unknown command") << QStringList{"dance"} << "alderpoint-batch";
    QTest::newRow("no such file") << QStringList{"draft", file("none.step")} << "none.step";
    QTest::newRow("foreign") << QStringList{"draft", file("foreign.step")} << "not a STEP file";
    QTest::newRow("empty") << QStringList{"draft", file("empty.step")} << "empty";
    QTest::newRow("bench") << QStringList{"draft", data("heron.step"), "--bench",
                                          file("bench.json")}
                           << "line 3";
    QTest::newRow("degenerate") << QStringList{"fit", "--shape", "plane", file("three.csv")}
                                << "one line";
    QTest::newRow("word in points")
        << QStringList{"fit", "--shape", "plane", file("word.csv")} << "line 3";
    QTest::newRow("shape") << QStringList{"fit", "--shape", "banana", file("three.csv")}
                           << "banana";
    QTest::newRow("routine") << QStringList{"rehearse", file("broken.alder")} << "broken.alder";
    QTest::newRow("points of nothing")
        << QStringList{"judge", data("heron.alder"), file("three.csv")} << "\"feature\" is missing";
    QTest::newRow("no run") << QStringList{"judge", data("heron.alder")} << "no run";
    QTest::newRow("target") << QStringList{"export", data("heron.alder"), "--to", file("x.docx")}
                            << "x.docx";
    write(file("blank.txt"), "\n \n");
    write(file("zeros.bin"), QByteArray(4000, '\0'));
    QFile huge(file("huge.txt"));
    QVERIFY(huge.open(QIODevice::WriteOnly) && huge.resize(2ll << 30)); // holds nothing on disk
    const auto results = [&](const char* name) {
      return QStringList{"results", file(name), "--part", data("heron.alder")};
    };
    QTest::newRow("blank results") << results("blank.txt") << "empty";
    QTest::newRow("zeros as results") << results("zeros.bin") << "neither text nor";
    QTest::newRow("2 GB of results") << results("huge.txt") << "2048 MB";
    QTest::newRow("no results") << results("none.csv") << "none.csv";
    QTest::newRow("a folder as results") << results(".") << "is a folder";
    QTest::newRow("kind") << (results("three.csv") << "--kind" << file("bench.json")) << "line 3";
    const auto cloud = [&](const QString& path) {
      return QStringList{"cloud", path, "--part", data("heron.alder")};
    };
    QByteArray small = "x y z\n";
    for (int i = 0; i < 900; ++i)
      small += QByteArray::number(i % 30 / 25.4) + " " + QByteArray::number(i / 30 / 25.4) + " 7\n";
    write(file("small.txt"), small);
    write(file("scan.e57"), "ASTM-E57" + QByteArray(2000, '\0'));
    QFile scan(data("heron-scan.ply"));
    QVERIFY(scan.open(QIODevice::ReadOnly));
    write(file("cut.ply"), scan.read(300000));
    QTest::newRow("zeros as a cloud") << cloud(file("zeros.bin")) << "neither text nor PLY";
    QTest::newRow("2 GB of nothing as a cloud") << cloud(file("huge.txt")) << "huge.txt";
    QTest::newRow("a cloud cut short") << cloud(file("cut.ply")) << "ends after 24990 of 80000";
    const auto drawing = [&](const QString& path) { return QStringList{"drawing", path}; };
    const QString drawings =
        QString::fromStdString((dataFolder() / "tests" / "data" / "drawings").string());
    QTest::newRow("a locked drawing") << drawing(drawings + "/locked.pdf") << "password";
    QTest::newRow("no drawing") << drawing(data("heron.step")) << "no drawing that can be read";
    QTest::newRow("zeros as a drawing") << drawing(file("zeros.bin")) << "no drawing";
    QTest::newRow("a drawing that is not there") << drawing(file("none.pdf")) << "none.pdf";
    QTest::newRow("a wrong unit") << drawing(data("heron-drawing.pdf")) + QStringList{"--unit", "m"}
                                  << "say mm or in";
    QTest::newRow("E57") << cloud(file("scan.e57")) << "PLY or as text";
    QTest::newRow("a model as a cloud") << cloud(data("heron.step")) << "is a STEP file";
    QTest::newRow("no cloud") << cloud(file("none.ply")) << "none.ply";
    QTest::newRow("an unknown unit") << (cloud(data("heron-scan.ply")) << "--unit"
                                                                       << "furlong")
                                     << "furlong";
    QTest::newRow("an unknown fit") << (cloud(data("heron-scan.ply")) << "--fit"
                                                                      << "datums:99")
                                    << "balloon";
    QTest::newRow("a cloud of something else") << cloud(file("small.txt")) << "small.txt";
    QTest::newRow("output folder")
        << QStringList{"export", data("heron.alder"), "--to", file("no/such/path.csv")}
        << "path.csv";
  }
  void badInput() {
    QFETCH(QStringList, arguments);
    QFETCH(QString, says);
    const Answer a = call(arguments);
    QCOMPARE(a.status, 2);
    QVERIFY(a.out.isEmpty());
    QVERIFY2(a.err.contains(says.toUtf8()), a.err);
    QCOMPARE(a.err.trimmed().count('\n'), 0);
  }
  // The core knows nothing of the window; of Qt the batch program has the sockets alone.
  void noWindowInside() {
    QProcess p;
    p.start("ldd", {ALDER_BATCH});
    QVERIFY(p.waitForFinished());
    const QByteArray libraries = p.readAllStandardOutput();
    QVERIFY(libraries.contains("libQt6Network"));
    QVERIFY(!libraries.contains("libQt6Gui") && !libraries.contains("libQt6Widgets"));
  }
};
ALDER_TEST(BatchTest)
#include "batch_test.moc"
