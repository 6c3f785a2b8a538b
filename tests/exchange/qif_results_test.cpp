#include "base/files.h"
#include "base/random.h"
#include "base/units.h"
#include "exchange/points/points_file.h"
#include "exchange/qif/qif_file.h"
#include "exchange/results/bring_in.h"
#include "exchange/results/joined_results.h"
#include "exchange/routine/project.h"
#include "judge/judge.h"
#include "qif_document.h"
#include "run/simulated_run.h"
#include "support.h"
#include <cmath>
#include <filesystem>

using namespace alder;

namespace {

// Measured on the simulated machine, parts that are not perfect.
std::string measured(unsigned seed) {
  Defects defects;
  const auto run = runOnSimulatedMachine(test::heronPlan(), test::heronWay(), defects, seed, {});
  if (!run) qFatal("%s", run.error().message.c_str());
  return "# run: " + std::to_string(seed) + "\n" + pointsText(*run);
}

Project heron() {
  return {test::heronPlan(), {}, {}};
}

struct Brought {
  std::string error;
  ResultFile file;
  std::vector<PartMatches> matches;
  Project project;
};

Brought brought(const std::string& text, Project project, const std::string& name = "other.qif") {
  Brought b;
  b.project = std::move(project);
  auto file = readResultFile(text, name, std::vector<FileKind>{});
  if (!file) {
    b.error = file.error().message;
    return b;
  }
  b.file = std::move(*file);
  joinToRoutine(b.project.plan, b.project.qif, b.file);
  for (const ResultsOfPart& part : b.file.read.parts)
    b.matches.push_back(
        matchResults(b.project.plan.spec, part, b.file.kind.name, b.project.brought.decisions));
  apply(b.project, bringingIn(b.project, b.file, b.matches));
  return b;
}

std::vector<Evaluation> judged(const Plan& plan, const std::string& csv) {
  const auto points = measurementsIn(csv, "run", plan);
  if (!points) qFatal("%s", points.error().message.c_str());
  return judgeAll(plan, *points);
}

// Where two judgements differ; empty: nowhere.
std::string otherwise(const std::vector<Evaluation>& a, const std::vector<Evaluation>& b,
                      double tolerance) {
  if (a.size() != b.size()) return "not as many";
  for (std::size_t i = 0; i < a.size(); ++i) {
    if (a[i].verdict != b[i].verdict || a[i].actual.has_value() != b[i].actual.has_value())
      return fmt::format("{}: {} and {} ({})", i, name(a[i].verdict), name(b[i].verdict), b[i].how);
    if (a[i].actual && std::abs(*a[i].actual - *b[i].actual) > tolerance)
      return fmt::format("{}: {} and {}", i, *a[i].actual, *b[i].actual);
  }
  return {};
}

std::string without(std::string text, const std::string& element) {
  for (;;) {
    const auto from = std::min(text.find("<" + element + ">"), text.find("<" + element + " ")),
               to = text.find("</" + element + ">", from);
    if (from == std::string::npos || to == std::string::npos) return text;
    text.erase(from, to - from + element.size() + 3);
  }
}

} // namespace

// Results that are written as QIF and brought in again, here and elsewhere.
class QifResultsTest : public QObject {
  Q_OBJECT

 private slots:
  void runsComeBack() {
    for (unsigned seed = 1; seed <= 4; ++seed) {
      const std::string csv = measured(seed);
      const std::string text = qifDocument(heron(), {{"part-7", csv, {}, "N. Alder"}}).text;
      const auto faults = test::QifDocument(text).faults();
      QVERIFY2(faults.empty(), faults.empty() ? "" : faults.front().c_str());
      const Brought b = brought(text, heron());
      QCOMPARE(b.error, std::string());
      QCOMPARE(b.project.runs.size(), std::size_t{1});
      QCOMPARE(b.project.runs[0].name, std::string("part-7"));
      QCOMPARE(b.project.runs[0].operated_by, std::string("N. Alder"));
      QVERIFY(statedIn(b.project.runs[0].csv).empty());
      QCOMPARE(b.file.read.remarks.size(), std::size_t{0});
      const MatchCounts counts = countsOf(b.matches);
      QCOMPARE(counts.waiting + counts.left, std::size_t{0});
      // The same points to the last digit, so the same figures.
      QCOMPARE(otherwise(judged(test::heronPlan(), csv),
                         judged(test::heronPlan(), b.project.runs[0].csv), 0),
               std::string());
    }
  }

  // What another reader finds in the file is what was judged.
  void figuresByAnotherReader() {
    const std::string csv = measured(3);
    const auto evaluations = judged(test::heronPlan(), csv);
    const test::QifDocument doc(qifDocument(heron(), {{"p", csv}}).text);
    for (const Evaluation& e : evaluations) {
      const Requirement& r = test::heronPlan().spec.requirement(e.requirement);
      const std::string at = fmt::format(
          "//q:MeasuredCharacteristics/*[q:CharacteristicItemId="
          "//q:CharacteristicItems/*[q:CharacteristicDesignator/q:Designator='{}']/@id]",
          r.balloon);
      QCOMPARE(doc.text(at + "/q:Status/q:CharacteristicStatusEnum"),
               std::string(e.verdict == Verdict::Outside      ? "FAIL"
                           : e.verdict == Verdict::Unmeasured ? "NOT_MEASURED"
                                                              : "PASS"));
      if (!e.actual) continue;
      const auto value = doc.numbers(at + "/q:Value");
      QCOMPARE(value.size(), std::size_t{1});
      NEAR(value[0], r.kind == Characteristic::Angle ? degrees(*e.actual) : *e.actual, 1e-9);
    }
    const auto size = doc.numbers("//q:CylinderFeatureMeasurement[q:FeatureItemId="
                                  "//q:FeatureItems/*[q:FeatureName='Bore ø32']/@id]/q:Diameter");
    QCOMPARE(size.size(), std::size_t{1});
    NEAR(size[0], 32.0, 0.05);
  }

  // In a routine that was read from the file itself, with ids of its own.
  void inAnotherRoutine() {
    const std::string csv = measured(5);
    const std::string text = qifDocument(heron(), {{"p", csv}}).text;
    Plan base;
    base.part = test::heron(), base.bench = test::heronBench();
    // Other ids than those of before.
    base.spec.features.reserveIdsBelow(FeatureId{70});
    base.spec.requirements.reserveIdsBelow(RequirementId{90});
    base.features.reserveIdsBelow(FeatureId{70});
    const auto read = readQif(text, "p.qif", base, ReadOnto::Routine);
    VERIFY_OK(read);
    QVERIFY(read->plan.spec.requirements.front().id.value >= 90);
    const Brought b = brought(text, {read->plan, {}, {}, {}, read->qif});
    QCOMPARE(b.error, std::string());
    QCOMPARE(b.project.runs.size(), std::size_t{1});
    QCOMPARE(
        otherwise(judged(test::heronPlan(), csv), judged(read->plan, b.project.runs[0].csv), 1e-9),
        std::string());
    // Without identities the points find their features by place, the values by what they say.
    std::string plain = text;
    for (std::size_t at = 0; (at = plain.find("<QPId>", at)) != std::string::npos;)
      plain.erase(at, plain.find("</QPId>", at) + 7 - at);
    const Brought c = brought(plain, heron());
    QCOMPARE(c.error, std::string());
    QCOMPARE(otherwise(judged(test::heronPlan(), csv),
                       judged(test::heronPlan(), c.project.runs[0].csv), 1e-9),
             std::string());
  }

  // A routine that touches otherwise by now, or in another order: points keep their rings and
  // faces.
  void touchedOtherwise() {
    const std::string csv = measured(5);
    const std::string text = qifDocument(heron(), {{"p", csv}}).text;
    const auto before = judged(test::heronPlan(), csv);
    Project other = heron();
    for (Feature& f : other.plan.features)
      std::reverse(f.touches.begin(), f.touches.end());
    other.plan.feature(test::named(other.plan, "Bore ø32")).touches.clear();
    const Brought b = brought(text, other);
    QCOMPARE(b.error, std::string());
    QCOMPARE(b.file.read.remarks.size(), std::size_t{0});
    QCOMPARE(otherwise(before, judged(other.plan, b.project.runs.at(0).csv), 1e-6), std::string());
    // Also where the file says no nominal places.
    const Brought c = brought(without(without(text, "NominalPoint"), "NominalNormal"), other);
    QCOMPARE(c.error, std::string());
    const auto after = judged(other.plan, c.project.runs.at(0).csv);
    QCOMPARE(otherwise(before, after, 1e-4), std::string());
  }

  // Without points the values count as stated.
  void valuesAlone() {
    const std::string csv = measured(2);
    const std::string text = without(qifDocument(heron(), {{"p", csv}}).text, "MeasuredPoints");
    const Brought b = brought(text, heron());
    QCOMPARE(b.error, std::string());
    const auto lines = statedIn(b.project.runs[0].csv);
    const auto before = judged(test::heronPlan(), csv),
               after = judged(test::heronPlan(), b.project.runs[0].csv);
    std::size_t with_value = 0;
    for (std::size_t i = 0; i < before.size(); ++i) {
      if (!before[i].actual) continue;
      ++with_value;
      QVERIFY(after[i].actual.has_value());
      NEAR(*after[i].actual, *before[i].actual, 1e-9);
      const Requirement& r = test::heronPlan().spec.requirement(before[i].requirement);
      if (r.material == MaterialModifier::None)
        QCOMPARE(name(after[i].verdict), name(before[i].verdict));
    }
    QCOMPARE(lines.size(), with_value);
    QVERIFY(with_value > 25);
    // Written again they keep where they came from.
    const std::string again = qifDocument(b.project, b.project.runs).text;
    QVERIFY(test::QifDocument(again).faults().empty());
    QVERIFY(again.find("&quot;file&quot;:&quot;other.qif&quot;") != std::string::npos);
    const Brought c = brought(again, heron(), "second.qif");
    QCOMPARE(statedIn(c.project.runs[0].csv).size(), with_value);
    QVERIFY(statedIn(c.project.runs[0].csv)[0].name.find("from other.qif") != std::string::npos);
  }

  // Nothing is laid on a requirement that says another nominal without being told, also where the
  // identities agree; nor a value that the points contradict.
  void contradictionsWait() {
    const std::string csv = measured(2);
    std::string text = qifDocument(heron(), {{"p", csv}}).text;
    const auto nominal = text.find("<TargetValue>32</TargetValue>");
    QVERIFY(nominal != std::string::npos);
    text.replace(nominal, 29, "<TargetValue>31</TargetValue>");
    const auto replaced = [&](const std::string& what, const std::string& by) {
      const auto at = text.find(what, text.find("<MeasurementsResults>"));
      if (at == std::string::npos) return false;
      text.replace(at, what.size(), by);
      return true;
    };
    const Requirement& flat = test::balloon(test::heronPlan(), 1);
    const Evaluation e = *evaluationOf(judged(test::heronPlan(), csv), flat.id);
    QVERIFY(replaced(fmt::format("<Value>{}</Value>", *e.actual), "<Value>0.0199</Value>"));
    const Brought b = brought(text, heron());
    QCOMPARE(b.error, std::string());
    int waiting = 0;
    std::string told;
    for (const ResultMatch& m : b.matches[0].matches)
      if (m.state() == MatchState::Waits) {
        ++waiting;
        told += fmt::format("{}", fmt::join(m.conflicts, " ")) + "\n";
      }
    QVERIFY2(told.find("The file has the nominal 31, the requirement 32.") != std::string::npos,
             told.c_str());
    QVERIFY2(told.find("taken, 0.0199 counts") != std::string::npos, told.c_str());
    QCOMPARE(waiting, 2);
    QVERIFY(statedIn(b.project.runs[0].csv).empty());
  }

  void severalParts() {
    Project project = heron();
    std::vector<double> figures;
    const RequirementId bore = test::balloon(project.plan, 2).id;
    for (unsigned seed = 1; seed <= 5; ++seed) {
      project.runs.push_back({fmt::format("part-{}", seed), measured(seed)});
      figures.push_back(*evaluationOf(judged(project.plan, project.runs.back().csv), bore)->actual);
    }
    const std::string text = qifDocument(project, project.runs).text;
    const test::QifDocument doc(text);
    const auto faults = doc.faults();
    QVERIFY2(faults.empty(), faults.empty() ? "" : faults.front().c_str());
    const std::string at =
        "//q:CharacteristicsStats/*[q:CharacteristicItemId=//q:CharacteristicItems"
        "/*[q:CharacteristicDesignator/q:Designator='2']/@id]";
    double mean = 0, square = 0;
    for (const double f : figures)
      mean += f / 5;
    for (const double f : figures)
      square += (f - mean) * (f - mean) / 4;
    NEAR(doc.numbers(at + "/q:Mean").at(0), mean, 1e-9);
    NEAR(doc.numbers(at + "/q:StandardDeviation").at(0), std::sqrt(square), 1e-9);
    const Brought b = brought(text, heron());
    QCOMPARE(b.error, std::string());
    QCOMPARE(b.project.runs.size(), std::size_t{5});
    for (std::size_t i = 0; i < 5; ++i) {
      QCOMPARE(b.project.runs[i].name, project.runs[i].name);
      QCOMPARE(otherwise(judged(project.plan, project.runs[i].csv),
                         judged(project.plan, b.project.runs[i].csv), 0),
               std::string());
    }
    // Once more into the same routine: nothing comes twice, nothing of another part goes.
    const Brought c = brought(text, b.project);
    QCOMPARE(c.project.runs.size(), std::size_t{5});
    Project other = heron();
    other.runs.push_back({"part-1", measured(77)});
    const Brought d = brought(text, other);
    QCOMPARE(d.project.runs.size(), std::size_t{6});
    QCOMPARE(d.project.runs[0].csv, other.runs[0].csv);
    QCOMPARE(d.project.runs[1].name, std::string("part-1-2"));
  }

  // Bringing in is one step, and taken back leaves what was.
  void takenBack() {
    const std::string text = qifDocument(heron(), {{"p", measured(2)}}).text;
    Project project = heron();
    project.runs.push_back({"old", measured(1)});
    Brought b = brought(text, project);
    ResultsEdit edit = bringingIn(project, b.file, b.matches);
    const ResultsEdit back = apply(project, edit);
    QCOMPARE(project.runs.size(), std::size_t{2});
    const ResultsEdit again = apply(project, back);
    QCOMPARE(project.runs.size(), std::size_t{1});
    QVERIFY(project.brought.empty());
    apply(project, again);
    QCOMPARE(project.runs.size(), std::size_t{2});
    QCOMPARE(project.runs[1].csv, b.project.runs.back().csv);
  }

  // Places of a cloud keep their rows, faces and noise.
  void placesOfACloud() {
    Measurements m = test::exactly(test::heronPlan());
    Random random(3);
    for (auto& [id, of] : m)
      for (std::size_t i = 0; i < of.points.size(); ++i)
        of.noise.push_back(0.001 + 0.004 * random.uniform());
    const std::string csv = "# run: 9\n" + placesText(test::heronPlan(), m);
    const std::string text = qifDocument(heron(), {{"cloud", csv}}).text;
    QVERIFY(test::QifDocument(text).faults().empty());
    const Brought b = brought(text, heron());
    const auto before = measurementsIn(csv, "a", test::heronPlan()),
               after = measurementsIn(b.project.runs.at(0).csv, "b", test::heronPlan());
    VERIFY_OK(before);
    VERIFY_OK(after);
    QCOMPARE(after->size(), before->size());
    for (const auto& [id, of] : *before) {
      const MeasuredFeature& got = after->at(id);
      QVERIFY(got.points == of.points && got.rows == of.rows && got.faces == of.faces &&
              got.noise == of.noise && got.nominals == of.nominals);
    }
  }

  // Another program's: inch, two characteristics, one of them of a kind that is not known.
  void foreign() {
    const auto file =
        readFile(std::filesystem::path(__FILE__).parent_path() / "qif" / "inch_results.qif");
    VERIFY_OK(file);
    const std::string& text = *file;
    const Brought b = brought(text, heron());
    QCOMPARE(b.error, std::string());
    QCOMPARE(b.file.read.parts.at(0).serial, std::string("S 1"));
    QCOMPARE(b.file.read.parts[0].values.size(), std::size_t{1});
    const ResultMatch& m = b.matches.at(0).matches.at(0);
    QVERIFY2(m.state() == MatchState::Settled &&
                 m.requirement == test::balloon(test::heronPlan(), 2).id,
             m.conflicts.empty() ? m.why.c_str() : m.conflicts.front().c_str());
    NEAR(*b.file.read.parts[0].values[0].actual, 32.01, 1e-6);
    QCOMPARE(b.file.read.remarks.size(), std::size_t{1});
    QVERIFY(b.file.read.remarks[0].find("WeldBevelCharacteristicMeasurement") != std::string::npos);
    // The line it stands in is shown with the figure in it.
    const auto line = static_cast<std::size_t>(b.file.read.parts[0].values[0].line) - 1;
    QCOMPARE(b.file.read.lines.at(line).use, LineUse::Record);
    const ReadSpan span = b.file.read.lines[line].spans.at(0);
    QCOMPARE(b.file.text.lines[line].substr(span.from, span.to - span.from),
             std::string("1.260236220"));
  }

  // All in one line, in another encoding: the same values, each in a line of its own for the eye.
  void otherForms() {
    const std::string csv = measured(2);
    const std::string text = qifDocument(heron(), {{"p", csv}}).text;
    std::string one_line;
    for (std::size_t i = 0; i < text.size(); ++i)
      if (text[i] != '\n' && !(text[i] == ' ' && (one_line.empty() || one_line.back() == '>')))
        one_line += text[i];
    QCOMPARE(std::count(one_line.begin(), one_line.end(), '\n'), 0);
    std::string utf16 = "\xFF\xFE";
    for (const QChar c : QString::fromStdString(text)) {
      utf16 += static_cast<char>(c.unicode() & 0xFF);
      utf16 += static_cast<char>(c.unicode() >> 8);
    }
    QByteArray latin = QString::fromStdString(text).toLatin1();
    latin.replace("UTF-8", "ISO-8859-1");
    for (const std::string& form : {one_line, utf16, latin.toStdString(), "\xEF\xBB\xBF" + text}) {
      const Brought b = brought(form, heron());
      QCOMPARE(b.error, std::string());
      QCOMPARE(otherwise(judged(test::heronPlan(), csv),
                         judged(test::heronPlan(), b.project.runs.at(0).csv), 0),
               std::string());
      const StatedResult& v = b.file.read.parts.at(0).values.at(1);
      const std::size_t line = static_cast<std::size_t>(v.line) - 1;
      QVERIFY(b.file.text.lines.at(line).find("<Value>") != std::string::npos);
      for (const std::string& l : b.file.text.lines)
        QVERIFY(l.size() < 2100);
    }
  }

  void bad() {
    const std::string text = qifDocument(heron(), {{"p", measured(2)}}).text;
    for (const auto& [bad, says] : std::vector<std::pair<std::string, std::string>>{
             {text.substr(0, text.size() / 2), "is not valid XML"},
             {qifDocument(heron(), {}).text, "holds no results"},
             {"<QIFDocument", "is not valid XML"}}) {
      const auto read = readResultFile(bad, "bad.qif", std::vector<FileKind>{});
      QVERIFY(!read);
      QVERIFY2(read.error().message.find(says) != std::string::npos, read.error().message.c_str());
    }
    // Damaged ones end in an error of one line, or with what they still say.
    Random random(8);
    int good = 0;
    for (int i = 0; i < 60; ++i) {
      std::string damaged = text;
      for (int k = 0; k < 6; ++k) {
        const auto at = damaged.find_first_of(
            "0123456789", static_cast<std::size_t>(random.uniform() * double(damaged.size())));
        if (at != std::string::npos)
          damaged[at] = "0123456789-.xe"[static_cast<int>(random.uniform() * 14)];
      }
      const Brought b = brought(damaged, heron());
      QVERIFY(b.error.find('\n') == std::string::npos);
      good += b.error.empty();
    }
    QVERIFY(good > 20);
  }
};

ALDER_TEST(QifResultsTest)
#include "qif_results_test.moc"
