#include "exchange/dmis/dmis_writer.h"
#include "exchange/qif/qif_file.h"
#include "exchange/routine/project.h"
#include "exchange/runs/result_record.h"
#include "judge/judge.h"
#include "plan/edit.h"
#include "report/history_table.h"
#include "report/report_file.h"
#include "report/report_model.h"
#include "requirement/limits.h"
#include "requirement/proofread.h"
#include "requirement/requirement_pairs.h"
#include "support.h"
#include <QTemporaryDir>
#include <cctype>

using namespace alder;

namespace {

// Three sizes and distances of the Heron with one limit, judged on its exact points.
struct Judged {
  Plan plan = test::heronPlan();
  std::vector<RequirementId> single;
  std::vector<Evaluation> evaluations;
  Judged() {
    for (Requirement& r : plan.spec.requirements) {
      if (!isDimension(r.kind) || r.fit == "H7") continue;
      r.fit.clear();
      (single.size() % 2 == 0 ? r.lower : r.upper) = single.size() % 2 == 0 ? kNoLower : kNoUpper;
      r.tolerance = r.upper - r.lower;
      single.push_back(r.id);
    }
    evaluations = judgeAll(plan, test::exactly(plan));
  }
};

const Judged& made() {
  static const Judged all;
  return all;
}

// A figure that is none, where only figures belong; "infinity" may be a word.
bool holdsNoNumber(const std::string& text) {
  for (const std::string word : {"inf", "nan"})
    for (std::size_t at = text.find(word); at != std::string::npos; at = text.find(word, at + 1)) {
      const auto letter = [&](std::size_t i) {
        return i < text.size() && std::isalpha(static_cast<unsigned char>(text[i]));
      };
      if (!letter(at + 3) && !(at > 0 && letter(at - 1))) return true;
    }
  return false;
}

} // namespace

// A single limit through every file: kept where the format has a place for it, told where not, and
// never an endless figure.
class SingleLimitFilesTest : public QObject {
  Q_OBJECT
 private slots:
  void judgedAndReported() {
    const Judged& j = made();
    QVERIFY(j.single.size() >= 3);
    for (const Evaluation& e : j.evaluations)
      if (std::find(j.single.begin(), j.single.end(), e.requirement) != j.single.end())
        QVERIFY2(e.verdict == Verdict::Within || e.verdict == Verdict::Outside, e.how.c_str());
    const ReportModel report = reportOf(j.plan, j.evaluations);
    for (const ReportRow& row : report.rows) {
      const Requirement& r = j.plan.spec.requirement(row.requirement);
      QCOMPARE(row.share.has_value(), !hasSingleLimit(r));
      if (hasSingleLimit(r)) QVERIFY(row.lower.empty() != row.upper.empty());
    }
    QVERIFY(!holdsNoNumber(reportTable(report)));
    VERIFY_OK(reportFile("report.pdf", report, j.plan));
    const JudgedPart part{"part-0001", "", brief(j.evaluations), {}};
    QVERIFY(!holdsNoNumber(historyTable(j.plan, {part, part, part})));
  }

  void keptInRoutines() {
    const Judged& j = made();
    const QTemporaryDir folder;
    Project project;
    project.plan = j.plan;
    const std::string path = folder.filePath("a.alder").toStdString();
    VERIFY_OK(saveProject(project, path));
    const auto again = openProject(path);
    VERIFY_OK(again);
    for (const RequirementId id : j.single) {
      const Requirement &is = again->plan.spec.requirement(id), &was = j.plan.spec.requirement(id);
      QVERIFY2(asksTheSame(is, was), describe(was).c_str());
      QVERIFY(hasLower(is) == hasLower(was) && hasUpper(is) == hasUpper(was));
      QCOMPARE(describe(is), describe(was));
    }
    for (const ResultRecord& r : resultsOf(j.plan, j.evaluations)) {
      const Json json = toJson(r);
      const auto text = parseJson(json.dump(), "r");
      VERIFY_OK(text);
      QVERIFY(readResult(JsonFields(*text, "r")) == r);
      QVERIFY(!differ(r, r));
    }
  }

  // There is no statement for it: said in the program, and no tolerance written.
  void toldInPrograms() {
    const Judged& j = made();
    const std::string text = dmisProgram(j.plan, test::heronWay());
    QVERIFY(!holdsNoNumber(text));
    for (const RequirementId id : j.single) {
      const std::string number = std::to_string(j.plan.spec.requirement(id).balloon);
      QVERIFY(text.find("T(T" + number + ")=TOL") == std::string::npos);
      QVERIFY(text.find(number + " is not evaluated: a single limit has no statement") !=
              std::string::npos);
    }
  }

  void revisionsSeeWhatChanged() {
    const Requirement& r = made().plan.spec.requirement(made().single.front());
    QVERIFY(asksTheSame(r, r));
    Requirement other = r;
    other.upper += 0.1;
    QVERIFY(!asksTheSame(r, other));
    const std::string says = differenceOf(made().plan.spec, r, other);
    QVERIFY2(says.find("at most") != std::string::npos && !holdsNoNumber(says), says.c_str());
  }

  void noLimitAtAllIsRefused() {
    Plan plan = made().plan;
    Requirement none = plan.spec.requirement(made().single.front());
    none.lower = kNoLower, none.upper = kNoUpper;
    const auto done = applyEdit(plan, Edit{SetRequirement{none}});
    QVERIFY(!done && done.error().message.find("At least one") != std::string::npos);
    QVERIFY(plan.spec == made().plan.spec);
  }
};

ALDER_TEST(SingleLimitFilesTest)
#include "single_limit_files_test.moc"
