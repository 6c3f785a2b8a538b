#include "report/report_file.h"

#include "base/files.h"
#include "report/article/forms.h"
#include "report/layout/layout_json.h"
#include "report/workbook/workbook_template.h"
#include "report/write/html.h"
#include "report/write/xlsx.h"
#include <algorithm>
#include <cstdlib>
#include <filesystem>

namespace alder {
namespace {

std::filesystem::path folder() {
  return dataFolder() / "assets" / "layouts";
}

std::filesystem::path shopFolder() {
  const char* given = std::getenv("ALDERPOINT_LAYOUTS");
  return given ? given : "";
}

std::vector<std::string> layoutsIn(const std::filesystem::path& folder) {
  std::vector<std::string> names;
  std::error_code error;
  for (const auto& entry : std::filesystem::directory_iterator(folder, error))
    if (entry.path().extension() == kLayoutEnding) names.push_back(entry.path().stem().string());
  std::sort(names.begin(), names.end());
  return names;
}

bool holds(const std::vector<std::string>& names, const std::string& name) {
  return std::find(names.begin(), names.end(), name) != names.end();
}

// What forms on paper tell when they are composed.
std::vector<std::string> articleTold(const Layout& layout, const ReportModel& model,
                                     const Plan& plan) {
  for (const LayoutPage& page : layout.pages)
    for (const LayoutItem& item : page.items)
      if (std::holds_alternative<FormItem>(item.body)) return articleGaps(plan, model);
  return {};
}

} // namespace

std::vector<std::string> shippedLayouts() {
  return layoutsIn(folder());
}

std::vector<std::string> shopLayouts() {
  const auto folder = shopFolder();
  return folder.empty() ? std::vector<std::string>{} : layoutsIn(folder);
}

bool isReportFile(std::string_view path) {
  return path.ends_with(".csv") || path.ends_with(".pdf") || path.ends_with(".xlsx") ||
         path.ends_with(".html");
}

Result<Layout> readLayout(const std::string& path) {
  const auto text = readFile(path);
  if (!text) return pass(text.error());
  return layoutFrom(*text, std::filesystem::path(path).filename().string());
}

Result<Layout> shippedLayout(const std::string& name) {
  return readLayout((folder() / (name + std::string(kLayoutEnding))).string());
}

Result<Layout> layoutNamed(const Plan& plan, const std::string& name) {
  for (const KeptLayout& kept : plan.layouts)
    if (kept.name == name && !kept.isWorkbook()) return layoutFrom(kept.text, kept.name);
  const std::string wanted = name.empty() ? "full" : name;
  if (holds(shopLayouts(), wanted))
    return readLayout((shopFolder() / (wanted + std::string(kLayoutEnding))).string());
  if (holds(shippedLayouts(), wanted)) return shippedLayout(wanted);
  std::string all;
  for (const std::string& one : layoutsFor(plan))
    all += (all.empty() ? "" : ", ") + one;
  return fail("There is no report layout \"{}\"; choose one of: {}.", name, all);
}

bool isWorkbookTemplate(const Plan& plan, const std::string& name) {
  return std::any_of(plan.layouts.begin(), plan.layouts.end(), [&](const KeptLayout& kept) {
    return kept.name == name && kept.isWorkbook();
  });
}

Result<ReportForm> reportForm(const Plan& plan, const std::string& named) {
  ReportForm form{named, {}, {}};
  for (const KeptLayout& kept : plan.layouts)
    if (kept.name == named && kept.isWorkbook()) {
      form.workbook = kept.text;
      return form;
    }
  if (named.ends_with(".xlsx")) {
    auto bytes = readFile(named);
    if (!bytes) return pass(bytes.error());
    form.workbook = std::move(*bytes);
    if (form.workbook.empty()) return fail("{}: is empty.", named);
    return form;
  }
  auto layout = named.ends_with(kLayoutEnding) ? readLayout(named) : layoutNamed(plan, named);
  if (!layout) return pass(layout.error());
  form.layout = std::move(*layout);
  return form;
}

std::vector<std::string> layoutsFor(const Plan& plan) {
  std::vector<std::string> names;
  for (const KeptLayout& kept : plan.layouts)
    names.push_back(kept.name);
  for (const auto& others : {shopLayouts(), shippedLayouts()})
    for (const std::string& one : others)
      if (!holds(names, one)) names.push_back(one);
  return names;
}

Result<ReportFile> reportFile(const std::string& target, const Layout& layout,
                              const ReportModel& model, const Plan& plan,
                              const TextSetter& setter) {
  if (target.ends_with(".csv")) return ReportFile{reportTable(model), {}};
  if (target.ends_with(".html") || target.ends_with(".xlsx")) {
    ReportFile file{"", articleTold(layout, model, plan)};
    auto bytes = target.ends_with(".xlsx")
                     ? reportXlsx(layout, model, plan, setter, file.told)
                     : Result<std::string>(reportHtml(layout, model, plan, setter, file.told));
    if (!bytes) return pass(bytes.error());
    file.bytes = std::move(*bytes);
    return file;
  }
  const Composed composed = compose(layout, model, plan, setter);
  auto bytes = reportPdf(composed, model, setter);
  if (!bytes) return pass(bytes.error());
  return ReportFile{std::move(*bytes), composed.told};
}

Result<ReportFile> reportFile(const std::string& target, const ReportForm& form,
                              const ReportModel& model, const Plan& plan,
                              const TextSetter& setter) {
  if (form.workbook.empty()) return reportFile(target, form.layout, model, plan, setter);
  if (target.ends_with(".csv")) return ReportFile{reportTable(model), {}};
  if (!target.ends_with(".xlsx"))
    return fail("{}: {} is a workbook; write a workbook (*.xlsx) by it.", target, form.name);
  return filledWorkbook(form.workbook, form.name, model, plan);
}

Result<ReportFile> reportFile(const std::string& target, const ReportModel& model, const Plan& plan,
                              const std::string& layout) {
  if (target.ends_with(".csv")) return ReportFile{reportTable(model), {}};
  const auto form = reportForm(plan, layout);
  if (!form) return pass(form.error());
  const auto setter = TextSetter::create();
  if (!setter) return pass(setter.error());
  return reportFile(target, *form, model, plan, **setter);
}

} // namespace alder
