#include "exchange/runs/report_source.h"
#include "plan/edit.h"
#include "report/approval_state.h"
#include "report/article/forms.h"
#include "report/layout/fields.h"
#include "support.h"
#include <QTemporaryDir>

using namespace alder;

// What was approved, and what of it is otherwise since then.
class ApprovalTest : public QObject {
  Q_OBJECT

  static std::string points(double off = 0) {
    const Plan& plan = test::heronPlan();
    std::string csv = "feature,touch,x,y,z,nx,ny,nz,i,j,k\n";
    for (const Feature& f : plan.features)
      for (std::size_t k = 0; k < f.touches.size(); ++k) {
        const Touch& t = f.touches[k];
        const Vec3 p = t.point + off * t.normal;
        csv += fmt::format("{},{},{:.6f},{:.6f},{:.6f},{:.6f},{:.6f},{:.6f},{:.6f},{:.6f},{:.6f}\n",
                           plan.nominal(f.id).name, k + 1, p.x(), p.y(), p.z(), t.point.x(),
                           t.point.y(), t.point.z(), t.normal.x(), t.normal.y(), t.normal.z());
      }
    return csv;
  }
  static ReportModel reported(const Plan& plan, const std::string& csv,
                              const std::string& serial = "HB-1") {
    const auto source = reportSource(plan, csv, serial);
    if (!source) qFatal("%s", source.error().message.c_str());
    return reportOf(plan, *source);
  }
  static void approve(Plan& plan, const std::string& csv) {
    auto source = reportSource(plan, csv, "HB-1");
    takeSums(*source, plan, csv);
    ReportModel model = reportOf(plan, *source);
    model.approval = {};
    plan.approvals = {{"HB-1", "Mira Fenn", 1772000000, source->routine_digest,
                       source->points_digest, reportDigest(plan, model)}};
  }

 private slots:
  // FIPS 180-4, examples.
  void sums() {
    QCOMPARE(sha256("abc"),
             std::string("ba7816bf8f01cfea414140de5dae2223b00361a396177a9cb410ff61f20015ad"));
    QCOMPARE(sha256(""),
             std::string("e3b0c44298fc1c149afbf4c8996fb92427ae41e4649b934ca495991b7852b855"));
  }

  void holdsUntilSomethingChanges() {
    Plan plan = test::heronPlan();
    const std::string csv = points();
    QVERIFY(!reported(plan, csv).approval.given());
    QCOMPARE(valueOf("approval", reported(plan, csv)), std::string("Not approved"));
    approve(plan, csv);
    const ReportModel good = reported(plan, csv);
    QVERIFY2(good.approval.holds(), good.approval.changed.c_str());
    QVERIFY(valueOf("approval", good).find("Approved by Mira Fenn") == 0);
    // Another part is not approved with it.
    QVERIFY(!reported(plan, csv, "HB-2").approval.given());
    const auto changed = [&](const Plan& now, const std::string& measured) {
      return reported(now, measured).approval.changed;
    };
    QCOMPARE(changed(plan, points(0.0004)), std::string("points, report"));
    Plan other = plan;
    other.spec.near_share = 0.5; // judged otherwise
    QVERIFY(changed(other, csv).find("routine") == 0);
    other = plan;
    other.header[HeaderField::Revision] = "C"; // said otherwise of the part
    QCOMPARE(changed(other, csv), std::string("report"));
    other = plan;
    other.features.front().touches.pop_back();
    QVERIFY(changed(other, csv).find("routine") == 0);
    // Tips qualified anew for a later part are no change of this one.
    other = plan;
    other.qualified.tips.push_back(
        {accessesUsed(plan)[0], Vec3(0.01, 0, 0), 2.99, 0.002, 0.001, 9, 5});
    QVERIFY2(reported(other, csv).approval.holds(), changed(other, csv).c_str());
    // How it is laid out, and what was approved beside it, is no change.
    other = plan;
    other.layouts = {{"mine", "{}"}};
    other.approvals.push_back({"HB-2", "N. N.", 1, "", "", ""});
    QVERIFY(reported(other, csv).approval.holds());
    other = plan;
    other.article[ArticleField::Identifier] = "FAI-1";
    QCOMPARE(changed(other, csv), std::string("report"));
  }

  // Who approved stands in form 1, as long as it holds.
  void signsTheFirstArticle() {
    Plan plan = test::heronPlan();
    plan.article[ArticleField::Identifier] = "FAI-1";
    const std::string csv = points();
    approve(plan, csv);
    const auto reviewer = [&](const std::string& measured) {
      const FilledForm form = formOf(ArticleForm::Parts, plan, reported(plan, measured));
      for (const auto& row : form.foot)
        if (row[0].number == "22") return row[0].value;
      return std::string("none");
    };
    QCOMPARE(reviewer(csv), std::string("Mira Fenn"));
    QVERIFY(reported(plan, csv).approval.holds()); // it is not a change of its own
    QCOMPARE(reviewer(points(0.0004)), std::string());
  }

  void keptAndUndone() {
    Plan plan = test::heronPlan();
    approve(plan, points());
    QTemporaryDir folder;
    const std::string path = folder.filePath("a.alder").toStdString();
    VERIFY_OK(saveProject({plan, {}, {}}, path));
    const auto again = openProject(path);
    VERIFY_OK(again);
    QVERIFY(again->plan.approvals == plan.approvals);
    // The file says the routine as it was approved.
    QVERIFY(reported(again->plan, points()).approval.holds());
    Plan fresh = test::heronPlan();
    const auto back = applyEdit(fresh, SetApprovals{plan.approvals});
    VERIFY_OK(back);
    QVERIFY(!applyEdit(fresh, SetApprovals{{{"HB-1", "  ", 1, "", "", ""}}}));
    QVERIFY(fresh.approvals == plan.approvals);
    VERIFY_OK(applyEdit(fresh, *back));
    QVERIFY(fresh.approvals.empty());
  }
};
ALDER_TEST(ApprovalTest)
#include "approval_test.moc"
