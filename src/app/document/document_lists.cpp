// Requirements from a list, and those that wait for their features.
#include "document/document.h"

#include "drawing/open_requirement.h"
#include "exchange/lists/take_list.h"
#include <QFileInfo>
#include <algorithm>

namespace alder::app {
namespace {

QString toldOf(const TakenList& taken, const RequirementList& list) {
  const std::size_t count = taken.taken.size(), open = count - taken.tied;
  QString words = QString("%1 of %2 rows are requirements now").arg(count).arg(list.rows.size());
  words += QString(": %1 tied to the one place that fits").arg(taken.tied);
  if (open > 0)
    words += QString(", %1 wait%2 for features (Alt+T ties)").arg(open).arg(open == 1 ? "s" : "");
  if (!taken.notes.empty())
    words += QString(" · %1 · see the notes").arg(QString::fromStdString(taken.notes.front()));
  if (!list.passed.empty())
    words += QString(" · %1 line%2 without a figure passed over")
                 .arg(list.passed.size())
                 .arg(list.passed.size() == 1 ? "" : "s");
  return words;
}

} // namespace

void Document::readList(const QString& path) {
  const std::string label = QFileInfo(path).fileName().toStdString();
  takeListFrom(label, [path, label]() -> Result<ResultText> {
    auto bytes = resultBytes(path.toStdString());
    if (!bytes) return pass(bytes.error());
    return resultText(*bytes, label);
  });
}

void Document::pasteList(const QString& text) {
  if (text.trimmed().isEmpty()) {
    emit message("Copy the rows of a table first, with its row of titles", true);
    return;
  }
  takeListFrom("Pasted table", [text = text.toStdString()]() -> Result<ResultText> {
    return ResultText{linesOf(text), TextEncoding::Utf8, false};
  });
}

void Document::takeListFrom(const std::string& label, std::function<Result<ResultText>()> textOf) {
  if (!open_) {
    emit message("Open the part that the list is of first", true);
    return;
  }
  const auto copy = std::make_shared<const Plan>(plan());
  results_jobs_.start("Reading " + QString::fromStdString(label), [=, this](const Progress&) {
    TypingSettings settings;
    settings.standard = copy->spec.standard;
    auto text = textOf();
    auto list = text ? requirementList(*text, label, settings)
                     : Result<RequirementList>(pass(text.error()));
    auto taken = std::make_shared<TakenList>();
    if (list) *taken = takeList(*copy->part, copy->spec, *list, label);
    return JobRunner::Apply([=, this] {
      if (!list) {
        emit message(QString::fromStdString(list.error().message), true);
        return;
      }
      const QString told = toldOf(*taken, *list);
      const bool bad = !taken->notes.empty();
      if (taken->taken.empty()) {
        emit message(told, true);
        return;
      }
      std::vector<Note> notes = plan().notes;
      for (const std::string& note : taken->notes)
        notes.push_back({0, note});
      std::vector<Edit> more;
      if (bad) more.push_back(SetNotes{std::move(notes)});
      takeSpecification(
          "Take " + QString::fromStdString(label), taken->spec,
          [=, this, first = taken->taken.front()] {
            selectNextWaiting();
            if (!selection_.requirement && plan().spec.requirements.holds(first))
              selectRequirement(first);
            emit message(told, bad);
          },
          std::move(more));
    });
  });
}

// The first that waits behind the one that is selected, else the first of all.
void Document::selectNextWaiting() {
  const auto waits = [](const Requirement& r) {
    return r.features.empty() && r.kind != Characteristic::Value;
  };
  const auto& all = plan().spec.requirements;
  const std::size_t from = waiting_ ? all.placeOf(*waiting_) + 1 : 0;
  for (std::size_t k = 0; k < all.size(); ++k) {
    const Requirement& r = all[(from + k) % all.size()];
    if (waits(r)) return selectRequirement(r.id);
  }
}

std::vector<FeatureSuggestion> Document::suggestions(RequirementId requirement) const {
  const Requirement* r = plan().spec.requirements.find(requirement);
  if (!r || !r->features.empty()) return {};
  return suggestionsFor(*plan().part, plan().spec, *r);
}

void Document::tieRequirement(RequirementId requirement, const std::vector<FaceId>& faces) {
  auto now = alder::tied(*plan().part, plan().spec, requirement, faces);
  if (!now) {
    emit message(QString::fromStdString(now.error().message), true);
    return;
  }
  const Requirement& r = now->spec.requirement(requirement);
  QString words = QString("%1: %2 is of %3")
                      .arg(r.balloon)
                      .arg(QString::fromStdString(describe(now->spec, r)))
                      .arg(QString::fromStdString(now->spec.feature(r.features.front()).name));
  if (r.features.size() > 1) words += QString(" and %1 more").arg(r.features.size() - 1);
  for (const std::string& remark : now->remarks)
    words += " · " + QString::fromStdString(remark);
  const bool bad = !now->remarks.empty();
  takeSpecification(QString("Tie requirement %1").arg(r.balloon), std::move(now->spec), [=, this] {
    waiting_ = requirement;
    selectRequirement(requirement);
    selectNextWaiting();
    emit message(words, bad);
  });
}

// What is picked in the stage; with nothing picked what is proposed first.
void Document::tieToPicked() {
  if (!open_) return;
  const auto& selected = selection_.requirement;
  const bool open = selected && plan().spec.requirement(*selected).features.empty();
  const auto of = open ? selected : waiting_;
  const Requirement* r = of ? plan().spec.requirements.find(*of) : nullptr;
  if (!r || !r->features.empty()) {
    emit message("Select a requirement that waits for its features first", true);
    return;
  }
  std::vector<FaceId> faces = selection_.faces;
  if (!open)
    for (const FeatureId id : selection_.features) {
      const auto& its = plan().nominal(id).faces;
      faces.insert(faces.end(), its.begin(), its.end());
    }
  if (faces.empty())
    if (const auto proposed = suggestions(r->id); !proposed.empty()) faces = proposed.front().faces;
  if (faces.empty()) {
    emit message(QString("Nothing is proposed for requirement %1; pick its faces in the stage")
                     .arg(r->balloon),
                 true);
    return;
  }
  tieRequirement(r->id, faces);
}

} // namespace alder::app
