#include "report/report_editor.h"

#include "base/files.h"
#include "exchange/routine/routine_baseline.h"
#include "report/approval_state.h"
#include "report/layout/fields.h"
#include "report/layout/layout_json.h"
#include "report/report_file.h"
#include "report/workbook/workbook_template.h"
#include <QDateTime>
#include <QFileInfo>
#include <QSettings>

namespace alder::app {

constexpr const char* kShopFolder = "ALDERPOINT_LAYOUTS";

ReportEditor::ReportEditor(Document& document, QObject* parent)
    : QObject(parent)
    , document_(document) {
  connect(&document, &Document::planChanged, this, [this] {
    if (active_) reload();
  });
  connect(&document, &Document::runsChanged, this, [this] {
    if (active_) compose();
  });
  connect(&document, &Document::opened, this, [this] { name_ = "full"; });
  if (const QString folder = QSettings().value("layouts").toString();
      !folder.isEmpty() && shopFolder().isEmpty())
    qputenv(kShopFolder, folder.toLocal8Bit());
  connect(&jobs_, &JobRunner::broke, this,
          [this](const QString& words) { emit message(words, true); });
}

void ReportEditor::begin() {
  active_ = true;
  text_.clear();
  reload();
}

void ReportEditor::end() {
  active_ = false;
  jobs_.cancel();
  selected_.reset();
}

std::vector<std::string> ReportEditor::names() const {
  std::vector<std::string> names = layoutsFor(document_.plan());
  std::erase_if(names, [&](const auto& n) { return isWorkbookTemplate(document_.plan(), n); });
  return names;
}

bool ReportEditor::isOwn() const {
  const auto& own = document_.plan().layouts;
  return std::any_of(own.begin(), own.end(), [&](const KeptLayout& l) { return l.name == name_; });
}

bool ReportEditor::isShops() const {
  const auto names = shopLayouts();
  return !isOwn() && std::find(names.begin(), names.end(), name_) != names.end();
}

QString ReportEditor::shopFolder() const {
  return qEnvironmentVariable(kShopFolder);
}

void ReportEditor::setShopFolder(const QString& folder) {
  QSettings().setValue("layouts", folder);
  if (folder.isEmpty())
    qunsetenv(kShopFolder);
  else
    qputenv(kShopFolder, folder.toLocal8Bit());
  reload();
  const auto found = shopLayouts().size();
  if (!folder.isEmpty())
    emit message(QString("%1 layout%2 in the shop's folder").arg(found).arg(found == 1 ? "" : "s"),
                 false);
}

void ReportEditor::choose(const std::string& name) {
  name_ = name;
  selected_.reset();
  text_.clear();
  reload();
}

// The layout as routine and program have it now; composed anew where it is another.
void ReportEditor::reload() {
  auto layout = layoutNamed(document_.plan(), name_);
  if (!layout && name_ != "full") { // undone: the routine keeps it no more
    name_ = "full";
    layout = layoutNamed(document_.plan(), name_);
  }
  if (!layout) {
    emit message(QString::fromStdString(layout.error().message), true);
    return;
  }
  layout_ = std::move(*layout);
  text_ = layoutText(layout_);
  if (!selectedItem()) selected_.reset();
  emit changed();
  compose();
}

void ReportEditor::compose() {
  if (!document_.isOpen()) return;
  auto plan = std::make_shared<const Plan>(document_.plan());
  auto source = std::make_shared<const ReportSource>(document_.reportSource());
  jobs_.start("Composing the report", [this, plan, source, layout = layout_](const Progress&) {
    const auto setter = TextSetter::create();
    std::shared_ptr<const Composed> composed;
    std::string why;
    const ReportModel model = reportOf(*plan, *source);
    if (setter)
      composed = std::make_shared<const Composed>(alder::compose(layout, model, *plan, **setter));
    else
      why = setter.error().message;
    return [this, composed, why, approval = model.approval] {
      approval_ = approval;
      if (!why.empty()) emit message(QString::fromStdString(why), true);
      if (!composed) return;
      composed_ = composed;
      emit composedAnew();
    };
  });
}

Result<std::vector<PaperPage>> ReportEditor::pagesNow(const TextSetter& setter) {
  if (active_ && !jobs_.busy()) return composed_->pages;
  auto layout = active_ ? Result<Layout>(layout_) : layoutNamed(document_.plan(), name_);
  if (!layout) return tl::make_unexpected(layout.error());
  const Plan& plan = document_.plan();
  return alder::compose(*layout, reportOf(plan, document_.reportSource()), plan, setter).pages;
}

const LayoutItem* ReportEditor::selectedItem() const {
  if (!selected_ || selected_->page >= layout_.pages.size()) return nullptr;
  const auto& items = layout_.pages[selected_->page].items;
  return selected_->item < items.size() ? &items[selected_->item] : nullptr;
}

void ReportEditor::select(std::optional<LayoutPlace> place) {
  if (selected_ == place) return;
  selected_ = place;
  if (!selectedItem()) selected_.reset();
  emit changed();
}

void ReportEditor::selectNext(int by) {
  std::vector<LayoutPlace> all;
  for (std::size_t p = 0; p < layout_.pages.size(); ++p)
    for (std::size_t i = 0; i < layout_.pages[p].items.size(); ++i)
      all.push_back({p, i});
  if (all.empty()) return;
  const auto now = selected_ ? std::find(all.begin(), all.end(), *selected_) : all.end();
  const auto count = static_cast<int>(all.size());
  const int at = now == all.end() ? (by > 0 ? -1 : 0) : static_cast<int>(now - all.begin());
  select(all[static_cast<std::size_t>((at + by + count) % count)]);
}

bool ReportEditor::keep(const QString& words, const std::string& name, const std::string& text) {
  std::vector<KeptLayout> layouts = document_.plan().layouts;
  const auto found = std::find_if(layouts.begin(), layouts.end(),
                                  [&](const KeptLayout& l) { return l.name == name; });
  if (found == layouts.end())
    layouts.push_back({name, text});
  else
    found->text = text;
  return document_.edit(words, {SetLayouts{std::move(layouts)}});
}

bool ReportEditor::change(const QString& words, const std::function<void(Layout&)>& change) {
  Layout changed = layout_;
  change(changed);
  if (changed == layout_) return true;
  if (const Done good = validate(changed); !good) {
    emit message(QString::fromStdString(good.error().message), true);
    return false;
  }
  return keep(words, name_, layoutText(changed));
}

void ReportEditor::changeItem(const QString& words, const std::function<void(LayoutItem&)>& how) {
  const auto place = selected_;
  if (!selectedItem()) return;
  change(words, [&](Layout& l) { how(l.pages[place->page].items[place->item]); });
}

void ReportEditor::add(const ItemBody& body, std::size_t page, const std::optional<Vec2>& at) {
  if (page >= layout_.pages.size()) return;
  const LayoutPage& on = layout_.pages[page];
  LayoutItem item{freshArea(on, body), false, body};
  if (at) {
    item.area.x = at->x(), item.area.y = at->y();
    item.area = snappedMove(on, on.items.size(), item.area, 2).area;
  } else {
    item.area = freePlace(on, item.area);
  }
  const std::string title(titleOf(body));
  if (change("Add to the report: " + QString::fromStdString(title),
             [&](Layout& l) { l.pages[page].items.push_back(item); }))
    select(LayoutPlace{page, layout_.pages[page].items.size() - 1});
}

void ReportEditor::removeSelected() {
  const auto place = selected_;
  if (!selectedItem()) return;
  change("Remove from the report", [&](Layout& l) {
    auto& items = l.pages[place->page].items;
    items.erase(items.begin() + static_cast<std::ptrdiff_t>(place->item));
  });
  select({});
}

void ReportEditor::duplicateSelected() {
  const auto place = selected_;
  const LayoutItem* item = selectedItem();
  if (!item) return;
  LayoutItem copy = *item;
  const PaperSize size = layout_.pages[place->page].size();
  copy.area.y = std::min(copy.area.bottom() + 2, size.height - copy.area.h);
  if (change("Duplicate in the report",
             [&](Layout& l) { l.pages[place->page].items.push_back(copy); }))
    select(LayoutPlace{place->page, layout_.pages[place->page].items.size() - 1});
}

void ReportEditor::setArea(const LayoutPlace& place, const Area& area) {
  change("Move in the report",
         [&](Layout& l) { l.pages[place.page].items[place.item].area = area; });
}

bool ReportEditor::changeArticle(const QString& words,
                                 const std::function<void(FirstArticle&)>& how) {
  FirstArticle article = document_.plan().article;
  how(article);
  return article == document_.plan().article || document_.edit(words, {SetArticle{article}});
}

std::string ReportEditor::approver() const {
  const auto& all = document_.plan().approvals;
  return all.empty() ? std::string() : all.back().by;
}

void ReportEditor::approve(const std::string& by) {
  const ReportSource source = document_.reportSource(true);
  if (source.serial.empty())
    return emit message("There is no part whose report could be approved; measure one first", true);
  if (by.empty()) return emit message("Type the name of who approves", true);
  ReportModel model = reportOf(document_.plan(), source);
  model.approval = {};
  std::vector<Approval> approvals = document_.plan().approvals;
  std::erase_if(approvals, [&](const Approval& a) { return a.part == source.serial; });
  approvals.push_back({source.serial, by, QDateTime::currentSecsSinceEpoch(), source.routine_digest,
                       source.points_digest, reportDigest(document_.plan(), model)});
  document_.edit("Approve " + QString::fromStdString(source.serial),
                 {SetApprovals{std::move(approvals)}});
}

void ReportEditor::withdrawApproval() {
  const std::string part = document_.currentRunName();
  std::vector<Approval> approvals = document_.plan().approvals;
  std::erase_if(approvals, [&](const Approval& a) { return a.part == part; });
  document_.edit("Withdraw the approval of " + QString::fromStdString(part),
                 {SetApprovals{std::move(approvals)}});
}

void ReportEditor::keepBaseline() {
  const ArticleBaseline baseline = baselineNow(document_.plan(), document_.reportSource());
  if (changeArticle("Keep as baseline", [&](FirstArticle& a) { a.baseline = baseline; }))
    emit message(QString("Kept: %1 characteristics, for the next article to stand on")
                     .arg(baseline.characteristics.size()),
                 false);
}

void ReportEditor::baselineFrom(const QString& path) {
  auto plan = std::make_shared<const Plan>(document_.plan());
  jobs_.start("Opening " + QFileInfo(path).fileName(),
              [this, path, plan](const Progress& progress) {
                auto baseline = std::make_shared<Result<ArticleBaseline>>(
                    alder::baselineFrom(path.toStdString(), *plan, progress));
                return [this, baseline] {
                  if (!*baseline) {
                    emit message(QString::fromStdString(baseline->error().message), true);
                    return;
                  }
                  changeArticle("Baseline from another routine", [&](FirstArticle& a) {
                    a.baseline = **baseline;
                    a.scope = ArticleScope::Delta;
                  });
                };
              });
}

bool ReportEditor::saveAs(const QString& path) {
  Layout named = layout_;
  named.name = QFileInfo(path).completeBaseName().toStdString();
  if (auto done = writeFile(path.toStdString(), layoutText(named)); !done) {
    emit message(QString::fromStdString(done.error().message), true);
    return false;
  }
  emit message("Wrote " + QFileInfo(path).fileName(), false);
  return true;
}

std::vector<std::string> ReportEditor::workbooks() const {
  std::vector<std::string> names;
  for (const KeptLayout& kept : document_.plan().layouts)
    if (kept.isWorkbook()) names.push_back(kept.name);
  return names;
}

// Filled in once, so that what is wrong with it is said now.
void ReportEditor::openWorkbook(const QString& path) {
  const std::string name = QFileInfo(path).fileName().toStdString();
  const auto bytes = readFile(path.toStdString());
  if (!bytes) return emit message(QString::fromStdString(bytes.error().message), true);
  const auto tried = filledWorkbook(
      *bytes, name, reportOf(document_.plan(), document_.reportSource()), document_.plan());
  if (!tried) return emit message(QString::fromStdString(tried.error().message), true);
  if (!keep("Keep the workbook " + QString::fromStdString(name), name, *bytes)) return;
  QString told = QString("%1 is kept in the routine; reports are written by it")
                     .arg(QString::fromStdString(name));
  for (const std::string& line : tried->told)
    told += ". " + QString::fromStdString(line);
  emit message(told, !tried->told.empty());
}

void ReportEditor::open(const QString& path) {
  if (path.endsWith(".xlsx")) return openWorkbook(path);
  const auto layout = readLayout(path.toStdString());
  if (!layout) return emit message(QString::fromStdString(layout.error().message), true);
  std::string name = layout->name;
  if (name.empty()) name = QFileInfo(path).completeBaseName().toStdString();
  const auto& own = document_.plan().layouts;
  const bool there =
      std::any_of(own.begin(), own.end(), [&](const KeptLayout& l) { return l.name == name; });
  if (!keep("Open the report layout " + QString::fromStdString(name), name, layoutText(*layout)))
    return;
  choose(name);
  if (there)
    emit message(QString("It takes the place of the routine's layout %1; undo brings that back.")
                     .arg(QString::fromStdString(name)),
                 false);
}

void ReportEditor::removeOwn() {
  if (isOwn()) remove(name_);
}

void ReportEditor::remove(const std::string& name) {
  std::vector<KeptLayout> layouts = document_.plan().layouts;
  std::erase_if(layouts, [&](const KeptLayout& l) { return l.name == name; });
  document_.edit("Remove the routine's report layout " + QString::fromStdString(name),
                 {SetLayouts{std::move(layouts)}});
}

} // namespace alder::app
