#include "report/approval_state.h"

#include "base/local_time.h"
#include "report/article/forms.h"
#include <glib.h>
#include <memory>

namespace alder {

std::string sha256(std::string_view bytes) {
  const std::unique_ptr<gchar, decltype(&g_free)> sum(
      g_compute_checksum_for_data(G_CHECKSUM_SHA256, reinterpret_cast<const guchar*>(bytes.data()),
                                  bytes.size()),
      g_free);
  return sum ? sum.get() : "";
}

std::string reportDigest(const Plan& plan, const ReportModel& model) {
  // Each text with its length before it, so that no two reports have one text.
  std::string all;
  const auto add = [&](const std::string& text) {
    all += std::to_string(text.size()) + ":" + text;
  };
  for (const std::string* text : {&model.title, &model.part, &model.bench, &model.part_serial,
                                  &model.operated_by, &model.standard})
    add(*text);
  for (const auto& [what, which] : model.header)
    add(what), add(which);
  add(reportTable(model));
  for (const ReportRow& row : model.rows)
    for (const ReportRow& member : row.members)
      add(member.number + " " + member.actual.text + " " + std::string(name(member.verdict)));
  for (const auto* lines : {&model.again, &model.steps, &model.frames, &model.documents})
    for (const std::string& line : *lines)
      add(line);
  if (plan.article != FirstArticle{})
    for (int k = 0; k < kArticleForms; ++k) {
      const FilledForm form = formOf(static_cast<ArticleForm>(k), plan, model);
      for (const FormFields* fields : {&form.head, &form.foot})
        for (const auto& row : *fields)
          for (const FormField& f : row)
            add(f.value);
      for (const FormTable& table : form.tables)
        for (const auto& row : table.rows)
          for (const FormCell& cell : row)
            add(cell.text);
    }
  return sha256(all);
}

std::string approvalWords(const ApprovalState& state) {
  if (!state.given()) return "Not approved";
  const std::string by = "Approved by " + state.by + ", " + state.on;
  return state.holds() ? by + "; unchanged since then"
                       : by + "; changed since then: " + state.changed;
}

void stateApproval(ReportModel& model, const Plan& plan, const ReportSource& source) {
  model.approval = {};
  const Approval* approval = approvalOf(plan.approvals, source.serial);
  if (!approval || source.serial.empty()) return;
  std::string changed;
  const auto compare = [&](const char* what, const std::string& was, const std::string& is) {
    if (was != is) changed += (changed.empty() ? "" : ", ") + std::string(what);
  };
  compare("routine", approval->routine, source.routine_digest);
  compare("points", approval->points, source.points_digest);
  compare("report", approval->report, reportDigest(plan, model));
  model.approval.by = approval->by;
  model.approval.on = localTime(approval->seconds, "%Y-%m-%d %H:%M");
  model.approval.changed = changed;
}

} // namespace alder
