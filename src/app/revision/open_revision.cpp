#include "revision/open_revision.h"

#include "base/files.h"
#include "document/file_kinds.h"
#include "part/cad_process.h"
#include "revision/read_drawing.h"
#include "sheet/sheet_file.h"
#include <QFileInfo>
#include <algorithm>

namespace alder::app {
namespace {

constexpr double kDots = 130; // an inch, of pages
constexpr double kDotsPerMm = kDots / 25.4;

Result<RevisionSources> readSources(const Plan& plan, const QStringList& paths,
                                    const std::string& replaces, const Progress& progress) {
  RevisionSources sources;
  for (const QString& path : paths) {
    if (!isPartFile(path)) continue;
    if (sources.part) return fail("Name one newer model, not two.");
    auto bytes = readFile(path.toStdString());
    if (!bytes) return pass(bytes.error());
    auto part =
        importCadApart(std::move(*bytes), QFileInfo(path).fileName().toStdString(), progress);
    if (!part) return pass(part.error());
    sources.part = *part;
  }
  for (const QString& path : paths) {
    if (isPartFile(path)) continue;
    auto drawing = readRevisedDrawing(plan, sources.part ? *sources.part : *plan.part,
                                      path.toStdString(), replaces, progress);
    if (!drawing) return pass(drawing.error());
    sources.drawings.push_back(std::move(*drawing));
  }
  return sources;
}

// The same thing told once more.
bool sameEntry(const RevisionEntry& a, const RevisionEntry& b) {
  return a.subject == b.subject && a.fate == b.fate && a.words == b.words && a.detail == b.detail;
}

} // namespace

OpenRevision::OpenRevision(Document& document)
    : document_(document) {
  connect(&document_, &Document::opening, this, &OpenRevision::giveUp);
  connect(&document_, &Document::planChanged, this, &OpenRevision::follow);
  for (JobRunner* jobs : {&reader_, &painter_, &finisher_})
    connect(jobs, &JobRunner::broke, this, [this](const QString& words) {
      finishing_ = false;
      emit document_.message(words, true);
      if (!revision_) giveUp();
    });
}

void OpenRevision::begin(const QStringList& paths, const std::string& replaces) {
  if (!document_.isOpen()) {
    emit document_.message("Open the routine that is to be revised first", true);
    return;
  }
  if (paths.isEmpty()) return;
  giveUp();
  QStringList names;
  for (const QString& path : paths)
    names << QFileInfo(path).fileName();
  names_ = names.join(", ");
  const auto plan = std::make_shared<const Plan>(document_.plan());
  reader_.start("Reading " + names_, [=, this](const Progress& progress) {
    auto sources =
        std::make_shared<Result<RevisionSources>>(readSources(*plan, paths, replaces, progress));
    return JobRunner::Apply([=, this] {
      if (!*sources) {
        emit document_.message(QString::fromStdString(sources->error().message), true);
        giveUp();
        return;
      }
      compare(std::make_shared<const RevisionSources>(std::move(**sources)));
    });
  });
  emit changed();
}

void OpenRevision::compare(std::shared_ptr<const RevisionSources> sources) {
  sources_ = std::move(sources);
  const auto plan = std::make_shared<const Plan>(document_.plan());
  reader_.start("Comparing " + names_, [=, this, from = sources_](const Progress&) {
    auto found = std::make_shared<Result<Revision>>(revisionOf(*plan, *from));
    return JobRunner::Apply([=, this] {
      if (!*found) {
        emit document_.message(QString::fromStdString(found->error().message), true);
        giveUp();
        return;
      }
      const bool again = revision_.has_value();
      // What was decided on before an edit stays decided where it is still told so.
      std::vector<Decision> decisions((*found)->entries.size(), Decision::Open);
      for (std::size_t i = 0; i < decisions.size() && revision_; ++i)
        for (std::size_t k = 0; k < decisions_.size(); ++k)
          if (sameEntry((*found)->entries[i], revision_->entries[k])) decisions[i] = decisions_[k];
      revision_ = std::move(**found);
      older_ = plan;
      decisions_ = std::move(decisions);
      if (again) return emit changed();
      emit document_.message(revision_->entries.empty()
                                 ? names_ + ": nothing differs from this routine"
                                 : "Enter takes an entry over, Delete leaves it as it was",
                             false);
      emit changed();
    });
  });
}

void OpenRevision::giveUp() {
  if (!active()) return;
  reader_.cancel();
  finisher_.cancel();
  finishing_ = false;
  names_.clear();
  sources_.reset();
  revision_.reset();
  decisions_.clear();
  pages_.clear();
  emit changed();
}

// Edits meanwhile: what differs is found out anew.
void OpenRevision::follow() {
  if (!revision_ || finishing_) return;
  compare(sources_);
}

void OpenRevision::decide(std::size_t entry, Decision decision) {
  if (!revision_ || entry >= decisions_.size()) return;
  if (decision == Decision::Left && revision_->entries[entry].settled) {
    emit document_.message("The newer model has it so; it can be seen, but not left as it was",
                           true);
    return;
  }
  decisions_[entry] = decision;
  emit changed();
}

std::size_t OpenRevision::open() const {
  return static_cast<std::size_t>(std::count(decisions_.begin(), decisions_.end(), Decision::Open));
}

void OpenRevision::finish() {
  if (!revision_ || finishing_) return;
  if (open() > 0) {
    emit document_.message(
        QString("%1 of %2 are not decided on yet").arg(open()).arg(decisions_.size()), true);
    return;
  }
  // Edits meanwhile are compared anew first: nothing of them may be lost.
  const auto meanwhile = [this] {
    if (routineKey(document_.plan()) == routineKey(*older_)) return false;
    emit document_.message("The routine was changed meanwhile; it is compared anew", true);
    compare(sources_);
    return true;
  };
  if (meanwhile()) return;
  finishing_ = true;
  const auto revision = std::make_shared<const Revision>(*revision_);
  finisher_.start("Taking the revision over", [=, this, plan = older_,
                                               decisions = decisions_](const Progress& progress) {
    auto group =
        std::make_shared<Result<EditGroup>>(revisedRoutine(*plan, *revision, decisions, progress));
    return JobRunner::Apply([=, this] {
      const auto stop = [this](const QString& why) {
        finishing_ = false;
        emit document_.message(why, true);
        emit changed();
      };
      if (!*group) return stop(QString::fromStdString((*group).error().message));
      if (meanwhile()) {
        finishing_ = false;
        return;
      }
      const QString names = names_;
      if (!document_.edit("Take over " + names, (*group)->edits)) return stop({});
      giveUp();
      QString words = "Taken over from " + names + "; Ctrl+Z takes it back";
      if (const auto runs = document_.runs().size(); runs > 0)
        words += QString(". %1 measured part%2 judged by it from now on")
                     .arg(runs)
                     .arg(runs == 1 ? " is" : "s are");
      emit document_.message(words, false);
    });
  });
  emit changed();
}

const DrawingFile* OpenRevision::fileOf(const DrawingSpot& spot, bool older) const {
  if (older) {
    for (const DrawingFile& d : older_->drawings)
      if (d.name == spot.drawing) return &d;
    return nullptr;
  }
  for (const RevisedDrawing& d : sources_->drawings)
    if (d.file.name == spot.drawing) return &d.file;
  return nullptr;
}

std::optional<OpenRevision::PageSpot> OpenRevision::spotOf(const Requirement& r, bool older) {
  if (!r.spot || !revision_) return {};
  const DrawingFile* file = fileOf(*r.spot, older);
  if (!file) return {};
  const Key key{file->bytes.get(), r.spot->page};
  const auto known = pages_.find(key);
  if (known != pages_.end())
    return PageSpot{
        known->second, kDotsPerMm, {r.spot->x, r.spot->y}, known->second.height() / kDotsPerMm};
  if (painting_) return PageSpot{};
  painting_ = key;
  painter_.start("Drawing the page",
                 [this, key, bytes = file->bytes, name = file->name](const Progress& progress) {
                   auto drawn = drawSheet(*bytes, name, key.page, kDots, progress);
                   QImage image;
                   if (drawn)
                     image = QImage(drawn->rgb.data(), drawn->width, drawn->height,
                                    3 * drawn->width, QImage::Format_RGB888)
                                 .copy();
                   return JobRunner::Apply([this, key, image] {
                     painting_.reset();
                     if (!active()) return;
                     pages_[key] = image; // null where it cannot be drawn: not tried again
                     emit pictured();
                   });
                 });
  return PageSpot{};
}

} // namespace alder::app
