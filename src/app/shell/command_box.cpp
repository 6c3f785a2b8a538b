#include "shell/command_box.h"

#include <QKeyEvent>
#include <QTimer>
#include <algorithm>

namespace alder::app {
namespace {

// Words of the trade for what is called otherwise here.
constexpr std::pair<const char*, const char*> kSynonyms[]{
    {"alignment", "frame"},      {"align", "frame"},          {"coordinate", "frame"},
    {"collision", "clash"},      {"crash", "clash"},          {"interference", "clash"},
    {"calibrate", "qualif"},     {"calibration", "qualif"},   {"probe", "stylus"},
    {"probe", "tip"},            {"sensor", "tip"},           {"program", "routine"},
    {"program", "DMIS"},         {"plan", "draft"},           {"print", "part"},
    {"print", "report"},         {"drawing", "part"},         {"inspection", "report"},
    {"protocol", "report"},      {"result", "report"},        {"simulate", "rehears"},
    {"simulation", "rehears"},   {"execute", "run"},          {"measure", "run"},
    {"pattern", "repeat"},       {"optimize", "order"},       {"optimise", "order"},
    {"zoom", "see the whole"},   {"zoom", "look at"},         {"shortcut", "keys"},
    {"shortcuts", "keys"},       {"manual", "help"},
    {"offset", "correction"},    {"statistics", "table of parts"}, {"spc", "table of parts"},
    {"import", "open"},          {"import", "bring in"},      {"import", "read"},
    {"export", "write"},         {"export", "report"},        {"delete", "remove"},
    {"fixture", "bench"},        {"machine", "bench"},        {"geometric", "requirement"},
    {"characteristic", "requirement"}, {"step", "steps"},     {"macro", "repeat"},
    {"loop", "repeat"},          {"comment", "note"},         {"pause", "wait"},
    {"prompt", "question"},      {"input", "question"}};

bool means(const QString& text, const QString& word) {
  if (text.contains(word, Qt::CaseInsensitive)) return true;
  constexpr int kWhole = 4; // letters from which a beginning is enough
  return std::any_of(std::begin(kSynonyms), std::end(kSynonyms), [&](const auto& s) {
    const QString said(s.first);
    const bool same = said.compare(word, Qt::CaseInsensitive) == 0 ||
                      (word.size() >= kWhole && said.startsWith(word, Qt::CaseInsensitive));
    return same && text.contains(QString(s.second), Qt::CaseInsensitive);
  });
}

// All words, or what they mean, occur somewhere in the text.
bool matches(const QString& text, const QStringList& words) {
  return std::all_of(words.begin(), words.end(), [&](const QString& w) { return means(text, w); });
}

} // namespace

CommandBox::CommandBox(Document& document, const Actions& actions, QWidget* parent)
    : QLineEdit(parent)
    , document_(document)
    , actions_(actions)
    , results_(new QListWidget(parent)) {
  setObjectName("commandBox");
  setPlaceholderText("Find anything    Ctrl+K");
  setAccessibleName("Find");
  results_->setObjectName("commandResults");
  results_->setFrameShape(QFrame::Box);
  results_->setFocusPolicy(Qt::NoFocus);
  results_->hide();
  connect(this, &QLineEdit::textEdited, this, &CommandBox::showHits);
  connect(results_, &QListWidget::itemClicked, this, &CommandBox::runCurrent);
}

std::vector<CommandBox::Hit> CommandBox::hitsFor(const QString& typed) const {
  const QStringList words = typed.split(' ', Qt::SkipEmptyParts);
  std::vector<Hit> hits;
  for (const auto& e : actions_.all()) {
    if (!e.action->isEnabled() || !matches(e.action->text(), words)) continue;
    hits.push_back(
        {e.action->text(), e.action->shortcut().toString(), [a = e.action] { a->trigger(); }});
  }
  // What is called so comes before what only means it.
  std::stable_partition(hits.begin(), hits.end(), [&](const Hit& h) {
    return std::all_of(words.begin(), words.end(), [&](const QString& w) {
      return h.text.contains(w, Qt::CaseInsensitive);
    });
  });
  if (!document_.isOpen()) return hits;
  for (const Requirement& r : document_.plan().spec.requirements) {
    const QString described = QString::fromStdString(describe(document_.plan().spec, r));
    const QString text = QString("%1  %2").arg(r.balloon).arg(described);
    if (matches(text, words))
      hits.push_back({text, "requirement", [this, id = r.id] { document_.selectRequirement(id); }});
  }
  const auto& views = document_.plan().part->pmi.views;
  for (std::size_t i = 0; i < views.size(); ++i) {
    const QString text = QString::fromStdString(views[i].name);
    if (matches(text, words))
      hits.push_back({text, "view of the model", [this, i] { emit viewWanted(i); }});
  }
  for (std::size_t i = 0; i < document_.plan().views.size(); ++i) {
    const QString text = QString::fromStdString(document_.plan().views[i].name);
    if (matches(text, words))
      hits.push_back({text, "view", [this, i = views.size() + i] { emit viewWanted(i); }});
  }
  for (const NominalFeature& f : document_.plan().spec.features) {
    const QString text = QString::fromStdString(f.name);
    if (matches(text, words))
      hits.push_back({text, "feature", [this, id = f.id] { document_.selectFeatures({id}); }});
  }
  if (const Routed* routed = document_.routed())
    for (std::size_t i = 0; i < routed->way.steps.size(); ++i) {
      const QString text = QString::fromStdString(routed->way.steps[i].text);
      if (!words.isEmpty() && matches(text, words))
        hits.push_back({text, QString("step %1").arg(i + 1),
                        [this, i] { document_.selectStep(static_cast<int>(i)); }});
    }
  return hits;
}

void CommandBox::showHits() {
  hits_ = hitsFor(text());
  results_->clear();
  for (std::size_t i = 0; i < std::min<std::size_t>(hits_.size(), 14); ++i)
    results_->addItem(hits_[i].text +
                      (hits_[i].kind.isEmpty() ? QString() : "    " + hits_[i].kind));
  if (hits_.empty()) results_->addItem("Nothing is called so");
  results_->setCurrentRow(0);
  const int w = std::max(width(), 360);
  results_->setGeometry(geometry().right() - w, geometry().bottom() + 4, w,
                        std::min(14, results_->count()) * (results_->sizeHintForRow(0) + 1) + 6);
  // over the regions, which are siblings of the bar
  results_->setParent(window());
  results_->move(mapTo(window(), QPoint(width() - w, height() + 4)));
  results_->show();
  results_->raise();
}

void CommandBox::runCurrent() {
  const auto row = static_cast<std::size_t>(std::max(0, results_->currentRow()));
  results_->hide();
  if (row >= hits_.size()) return;
  const auto run = hits_[row].run;
  clear();
  clearFocus();
  run();
}

void CommandBox::keyPressEvent(QKeyEvent* event) {
  switch (event->key()) {
  case Qt::Key_Down:
    results_->isVisible()
        ? results_->setCurrentRow(std::min(results_->currentRow() + 1, results_->count() - 1))
        : showHits();
    return;
  case Qt::Key_Up:
    return results_->setCurrentRow(std::max(results_->currentRow() - 1, 0));
  case Qt::Key_Return:
  case Qt::Key_Enter:
    if (!results_->isVisible()) showHits();
    return runCurrent();
  case Qt::Key_Escape:
    results_->hide();
    clear();
    return clearFocus();
  default:
    QLineEdit::keyPressEvent(event);
  }
}

void CommandBox::focusOutEvent(QFocusEvent* event) {
  QTimer::singleShot(150, results_, &QWidget::hide); // a click on a result comes first
  QLineEdit::focusOutEvent(event);
}

} // namespace alder::app
