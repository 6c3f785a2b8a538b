#include "drawing/open_drawings.h"

#include "base/files.h"
#include "drawing/balloon_layout.h"
#include <QFileInfo>
#include <algorithm>
#include <cmath>

namespace alder::app {
namespace {

constexpr double kSameSpot = 0.5;        // mm
constexpr std::size_t kMostPictures = 4; // kept, of pages
constexpr double kMostPixels = 40e6;     // of one
constexpr int kMostDots = 300;           // an inch

bool isAt(const DrawingProposal& p, int page, double x, double y) {
  const Vec2 at = p.box.middle();
  return p.page == page && std::abs(at.x() - x) < kSameSpot && std::abs(at.y() - y) < kSameSpot;
}

} // namespace

OpenDrawings::OpenDrawings(Document& document)
    : document_(document) {
  for (auto signal : {&Document::opened, &Document::planChanged})
    connect(&document_, signal, this, &OpenDrawings::follow);
  for (JobRunner* jobs : {&reader_, &thinker_, &painter_})
    connect(jobs, &JobRunner::broke, this,
            [this](const QString& words) { emit document_.message(words, true); });
}

void OpenDrawings::add(const QString& path) {
  if (!document_.isOpen()) {
    emit document_.message("Open the part of the drawing first", true);
    return;
  }
  const std::string name = QFileInfo(path).fileName().toStdString();
  reader_.start("Reading " + QString::fromStdString(name), [=, this](const Progress& progress) {
    auto bytes = readFile(path.toStdString());
    auto sizes = bytes ? sheetsOf(*bytes, name, progress)
                       : Result<std::vector<SheetSize>>(pass(bytes.error()));
    return JobRunner::Apply([=, this] {
      if (!sizes) {
        emit document_.message(QString::fromStdString(sizes.error().message), true);
        return;
      }
      auto drawings = document_.plan().drawings;
      DrawingFile file{name, std::make_shared<const std::string>(*bytes), {}, {}};
      // Another state of a file under the same name takes its place.
      const auto same = std::find_if(drawings.begin(), drawings.end(),
                                     [&](const DrawingFile& d) { return d.name == name; });
      if (same != drawings.end()) {
        file.unit = same->unit, file.refused = same->refused;
        *same = file;
        read_.erase(name);
      } else {
        drawings.push_back(file);
      }
      name_ = name;
      if (!document_.edit("Add drawing " + QString::fromStdString(name),
                          {SetDrawings{std::move(drawings)}}))
        start();
    });
  });
}

void OpenDrawings::remove() {
  if (!shown()) return;
  auto drawings = document_.plan().drawings;
  std::erase_if(drawings, [&](const DrawingFile& d) { return d.name == name_; });
  document_.edit("Remove drawing " + QString::fromStdString(name_),
                 {SetDrawings{std::move(drawings)}});
}

const DrawingFile* OpenDrawings::shown() const {
  if (!document_.isOpen()) return nullptr;
  for (const DrawingFile& d : document_.plan().drawings)
    if (d.name == name_) return &d;
  return nullptr;
}

void OpenDrawings::show(std::size_t drawing) {
  if (!document_.isOpen() || drawing >= document_.plan().drawings.size()) return;
  name_ = document_.plan().drawings[drawing].name;
  start();
}

const OpenDrawings::Read* OpenDrawings::read() const {
  const auto found = read_.find(name_);
  return shown() && found != read_.end() ? &found->second : nullptr;
}

void OpenDrawings::follow() {
  if (!document_.isOpen()) return;
  const auto& drawings = document_.plan().drawings;
  std::erase_if(read_, [&](const auto& r) {
    return std::none_of(drawings.begin(), drawings.end(),
                        [&](const DrawingFile& d) { return d.name == r.first; });
  });
  if (!shown()) name_ = drawings.empty() ? std::string() : drawings.front().name;
  start();
}

void OpenDrawings::start() {
  const DrawingFile* file = shown();
  const auto known = read_.find(name_);
  if (file && (known == read_.end() || known->second.bytes != file->bytes ||
               known->second.part != document_.plan().part)) {
    read_[name_] = {file->bytes, document_.plan().part, {}, {}, {}, {}, {}};
    std::erase_if(pictures_, [&](const auto& p) { return p.first.name == name_; });
    readOn(*file, 1);
  }
  emit changed();
}

// The first page by itself, so that it is there at once; then all others.
void OpenDrawings::readOn(const DrawingFile& file, int first) {
  const auto bytes = file.bytes;
  const std::string name = file.name;
  reader_.start("Reading " + QString::fromStdString(name), [=, this](const Progress& progress) {
    auto sizes = sheetsOf(*bytes, name, progress);
    const int last = !sizes ? 0 : first == 1 ? 1 : static_cast<int>(sizes->size());
    auto sheets = sizes ? readSheets(*bytes, name, first, last, progress)
                        : Result<std::vector<DrawingSheet>>(pass(sizes.error()));
    return JobRunner::Apply([=, this] {
      const auto found = read_.find(name);
      if (found == read_.end() || found->second.bytes != bytes) return;
      Read& read = found->second;
      if (!sheets) {
        read.error = QString::fromStdString(sheets.error().message);
        emit document_.message(read.error, true);
        emit changed();
        return;
      }
      read.sizes = *sizes;
      if (first == 1) read.sheets.clear();
      read.sheets.insert(read.sheets.end(), sheets->begin(), sheets->end());
      for (const DrawingFile& d : document_.plan().drawings)
        if (d.name == name) {
          understand(d);
          if (!read.whole()) readOn(d, static_cast<int>(read.sheets.size()) + 1);
        }
      emit changed();
    });
  });
}

void OpenDrawings::understand(const DrawingFile& file) {
  const auto sheets = std::make_shared<const std::vector<DrawingSheet>>(read_[file.name].sheets);
  ReadingSettings settings;
  if (!file.unit.empty())
    settings.unit = file.unit == "in" ? LengthUnit::Inch : LengthUnit::Millimetre;
  settings.standard = document_.plan().spec.standard;
  const auto part = document_.plan().part;
  const auto bytes = file.bytes;
  thinker_.start("Reading what the drawing asks for", [=, this, name = file.name](const Progress&) {
    auto reading = std::make_shared<const DrawingReading>(readingOf(*sheets, settings));
    auto ties = std::make_shared<const DrawingTies>(tiesOf(*reading, *sheets, *part));
    return JobRunner::Apply([=, this] {
      const auto found = read_.find(name);
      if (found == read_.end() || found->second.bytes != bytes) return;
      found->second.reading = *reading;
      found->second.ties = *ties;
      found->second.understood = sheets->size();
      emit changed();
    });
  });
}

QImage OpenDrawings::picture(int page, double dots_per_inch) {
  const DrawingFile* file = shown();
  if (!file || !file->bytes) return {};
  // A few finenesses only, each good for some zooming.
  int dots = 75;
  while (dots < kMostDots && dots < dots_per_inch)
    dots *= 2;
  dots = std::min(dots, kMostDots);
  const Read* r = read();
  const auto sheet = static_cast<std::size_t>(page - 1);
  if (r && sheet < r->sizes.size())
    while (dots > 10 &&
           r->sizes[sheet].width * r->sizes[sheet].height * dots * dots > kMostPixels * 25.4 * 25.4)
      dots /= 2;
  const Key key{name_, page, dots};
  if (const auto found = pictures_.find(key); found != pictures_.end()) return found->second;
  if (!painting_ || *painting_ != key) {
    painting_ = key;
    const auto bytes = file->bytes;
    painter_.start("Drawing the page", [=, this](const Progress& progress) {
      auto drawn = drawSheet(*bytes, key.name, key.page, key.dots, progress);
      QImage image;
      if (drawn)
        image = QImage(drawn->rgb.data(), drawn->width, drawn->height, 3 * drawn->width,
                       QImage::Format_RGB888)
                    .convertToFormat(QImage::Format_RGB32);
      return JobRunner::Apply([=, this] {
        if (painting_ && *painting_ == key) painting_.reset();
        if (!drawn) {
          pictures_[key] = {}; // not asked for again and again
          emit document_.message(QString::fromStdString(drawn.error().message), true);
          return;
        }
        if (pictures_.size() >= kMostPictures) pictures_.clear();
        pictures_[key] = image;
        emit pictured(key.page);
      });
    });
  }
  // Coarser or finer meanwhile.
  QImage other;
  for (const auto& [k, image] : pictures_)
    if (k.name == name_ && k.page == page && !image.isNull()) other = image;
  return other;
}

bool OpenDrawings::isOffered(std::size_t proposal) const {
  const Read* r = read();
  if (!r || proposal >= r->reading.proposals.size()) return false;
  const ProposedAs as = r->reading.proposals[proposal].as;
  return as == ProposedAs::Requirement || as == ProposedAs::Datum;
}

const Requirement* OpenDrawings::requirementOf(std::size_t proposal) const {
  const Read* r = read();
  if (!r || proposal >= r->reading.proposals.size()) return nullptr;
  for (const Requirement& q : document_.plan().spec.requirements)
    if (q.spot && q.spot->drawing == name_ &&
        isAt(r->reading.proposals[proposal], q.spot->page, q.spot->x, q.spot->y))
      return &q;
  return nullptr;
}

std::optional<std::size_t> OpenDrawings::proposalOf(const Requirement& requirement) const {
  const Read* r = read();
  if (!r || !requirement.spot || requirement.spot->drawing != name_) return {};
  for (std::size_t i = 0; i < r->reading.proposals.size(); ++i)
    if (isAt(r->reading.proposals[i], requirement.spot->page, requirement.spot->x,
             requirement.spot->y))
      return i;
  return {};
}

ProposalState OpenDrawings::state(std::size_t proposal) const {
  const Read* r = read();
  if (!r || proposal >= r->reading.proposals.size()) return ProposalState::Open;
  const DrawingProposal& p = r->reading.proposals[proposal];
  if (p.as == ProposedAs::Datum) {
    if (document_.plan().spec.datum(p.typed.front().words)) return ProposalState::Taken;
  } else if (requirementOf(proposal)) {
    return ProposalState::Taken;
  }
  for (const RefusedSpot& s : shown()->refused)
    if (isAt(p, s.page, s.x, s.y)) return ProposalState::Refused;
  return ProposalState::Open;
}

bool OpenDrawings::isSure(std::size_t proposal) const {
  const Read* r = read();
  return r && proposal < r->ties.suggestions.size() && !r->reading.proposals[proposal].scanned &&
         !r->ties.suggestions[proposal].empty() && r->ties.suggestions[proposal].front().sure;
}

std::size_t OpenDrawings::count(ProposalState wanted) const {
  const Read* r = read();
  std::size_t n = 0;
  for (std::size_t i = 0; r && i < r->reading.proposals.size(); ++i)
    n += isOffered(i) && state(i) == wanted;
  return n;
}

std::vector<FaceId> OpenDrawings::selectedFaces() const {
  const Selection& s = document_.selection();
  std::vector<FaceId> faces = s.faces;
  for (const FeatureId id : s.features) {
    const auto& own = document_.plan().nominal(id).faces;
    faces.insert(faces.end(), own.begin(), own.end());
  }
  std::sort(faces.begin(), faces.end());
  faces.erase(std::unique(faces.begin(), faces.end()), faces.end());
  return faces;
}

void OpenDrawings::take(const std::vector<std::size_t>& proposals) {
  const Read* r = read();
  if (!r) return;
  std::vector<ProposalChoice> choices;
  const std::vector<FaceId> picked = selectedFaces();
  for (const std::size_t i : proposals) {
    if (!isOffered(i) || state(i) == ProposalState::Taken) continue;
    const auto& suggestions =
        i < r->ties.suggestions.size() ? r->ties.suggestions[i] : std::vector<FeatureSuggestion>();
    const bool sure = !suggestions.empty() && suggestions.front().sure;
    // What a person picked for one proposal goes before what the program found.
    const bool by_pick = !picked.empty() && proposals.size() == 1;
    choices.push_back({i, by_pick ? picked
                          : sure  ? suggestions.front().faces
                                  : std::vector<FaceId>()});
  }
  if (choices.empty()) return;
  auto taken = std::make_shared<AcceptedDrawing>(
      acceptProposals(*document_.plan().part, document_.plan().spec, r->reading, name_, choices));
  taken->spec = withBalloons(taken->spec, name_, r->sheets);
  QString words;
  const auto of = [&](const AcceptedProposal& a) {
    return QString::fromStdString(r->reading.proposals[a.proposal].text);
  };
  if (taken->taken.empty()) {
    emit document_.message(of(taken->refused.front()) + ": " +
                               QString::fromStdString(taken->refused.front().remarks.front()),
                           true);
    return;
  }
  const std::size_t count = taken->taken.size();
  QString says = count == 1 ? of(taken->taken.front()) + " is taken from the drawing"
                            : QString("%1 are taken from the drawing").arg(count);
  bool bad = false;
  std::size_t remarks = 0;
  for (const auto* list : {&taken->refused, &taken->taken})
    for (const AcceptedProposal& a : *list)
      for (const std::string& remark : a.remarks) {
        if (remarks++ == 0) says += " · " + of(a) + ": " + QString::fromStdString(remark);
        bad = true;
      }
  if (remarks > 1) says += QString(" · and %1 more").arg(remarks - 1);
  std::optional<RequirementId> first;
  for (const AcceptedProposal& a : taken->taken)
    if (!a.requirements.empty() && !first) first = a.requirements.front();
  document_.takeSpecification(count == 1 ? "Take " + of(taken->taken.front()) + " from the drawing"
                                         : QString("Take %1 from the drawing").arg(count),
                              taken->spec, [=, this] {
                                if (first && document_.plan().spec.requirements.holds(*first))
                                  document_.selectRequirement(*first);
                                emit document_.message(says, bad);
                              });
}

void OpenDrawings::takeTitle() {
  const Read* r = read();
  if (!r) {
    emit document_.message("Add a drawing first (Ctrl+Shift+O)", true);
    return;
  }
  if (r->reading.proposals.empty() && (thinker_.busy() || !r->whole())) {
    emit document_.message("The drawing is still being read", true);
    return;
  }
  document_.takeTitle(titleOf(r->reading));
}

void OpenDrawings::takeAllSure() {
  const Read* r = read();
  if (!r) return;
  std::vector<std::size_t> sure;
  for (std::size_t i = 0; i < r->reading.proposals.size(); ++i)
    if (isOffered(i) && state(i) == ProposalState::Open && isSure(i)) sure.push_back(i);
  if (sure.empty()) {
    emit document_.message(count(ProposalState::Open) == 0
                               ? "Nothing is open on this drawing"
                               : "Of what is open no features are sure; pick them in the stage and "
                                 "take the proposal",
                           true);
    return;
  }
  if (sure.size() == 1) document_.clearSelection();
  const bool more = !r->allUnderstood();
  take(sure);
  if (more)
    emit document_.message("Taken from the pages that are read; the rest is still being read: take "
                           "all that are sure again then",
                           true);
}

void OpenDrawings::setFile(const QString& words, const std::function<void(DrawingFile&)>& change) {
  auto drawings = document_.plan().drawings;
  for (DrawingFile& d : drawings)
    if (d.name == name_) change(d);
  document_.edit(words, {SetDrawings{std::move(drawings)}});
}

void OpenDrawings::refuse(const std::vector<std::size_t>& proposals) {
  const Read* r = read();
  if (!r) return;
  std::vector<std::size_t> open, refused;
  for (const std::size_t i : proposals) {
    if (!isOffered(i)) continue;
    if (state(i) == ProposalState::Open) open.push_back(i);
    if (state(i) == ProposalState::Refused) refused.push_back(i);
  }
  if (open.empty() && refused.empty()) return;
  const bool again = open.empty();
  setFile(again ? "Offer what was refused" : "Refuse what the drawing offers", [&](DrawingFile& d) {
    for (const std::size_t i : again ? refused : open) {
      const DrawingProposal& p = r->reading.proposals[i];
      const Vec2 at = p.box.middle();
      if (again)
        std::erase_if(d.refused, [&](const RefusedSpot& s) { return isAt(p, s.page, s.x, s.y); });
      else
        d.refused.push_back({p.page, at.x(), at.y()});
    }
  });
}

void OpenDrawings::pinBalloon(RequirementId requirement, const Vec2& at) {
  Requirement r = document_.plan().spec.requirement(requirement);
  if (!r.spot) return;
  r.spot->balloon = DrawingSpot::Balloon{at.x(), at.y(), true};
  document_.edit(QString("Move balloon %1").arg(r.balloon), {SetRequirement{std::move(r)}});
}

void OpenDrawings::writeBallooned(const QString& path) {
  const Read* r = read();
  if (!r || !r->whole()) {
    emit document_.message("The drawing is still being read", true);
    return;
  }
  const auto bytes = shown()->bytes;
  const std::string name = name_;
  const auto sheets = std::make_shared<const std::vector<DrawingSheet>>(r->sheets);
  const auto spec = std::make_shared<const Specification>(document_.plan().spec);
  painter_.start("Writing the drawing with balloons", [=, this](const Progress& progress) {
    const Specification placed = withBalloons(*spec, name, *sheets);
    auto pdf = drawBalloons(*bytes, name, marksOf(placed, name, *sheets), progress);
    const Done done = pdf ? writeFile(path.toStdString(), *pdf) : Done(pass(pdf.error()));
    return JobRunner::Apply([=, this] {
      emit document_.message(
          done ? path + " is written" : QString::fromStdString(done.error().message), !done);
    });
  });
}

void OpenDrawings::setUnit(const QString& unit) {
  if (!shown() || shown()->unit == unit.toStdString()) return;
  setFile("Change the unit of the drawing", [&](DrawingFile& d) { d.unit = unit.toStdString(); });
  if (const DrawingFile* file = shown()) understand(*file);
}

void OpenDrawings::point(std::size_t proposal) {
  const Read* r = read();
  if (!r || proposal >= r->ties.suggestions.size()) return;
  if (const Requirement* q = requirementOf(proposal)) {
    document_.selectRequirement(q->id);
    return;
  }
  const auto& suggestions = r->ties.suggestions[proposal];
  if (suggestions.empty()) {
    document_.clearSelection();
    return;
  }
  std::vector<FeatureId> features;
  std::vector<FaceId> faces = suggestions.front().faces;
  for (const NominalFeature& f : document_.plan().spec.features) {
    const bool all =
        !f.faces.empty() && std::all_of(f.faces.begin(), f.faces.end(), [&](FaceId id) {
          return std::find(faces.begin(), faces.end(), id) != faces.end();
        });
    if (all) features.push_back(f.id);
  }
  for (const FeatureId id : features)
    for (const FaceId face : document_.plan().nominal(id).faces)
      std::erase(faces, face);
  if (faces.empty())
    document_.selectFeatures(features);
  else
    document_.selectFaces(suggestions.front().faces);
}

} // namespace alder::app
