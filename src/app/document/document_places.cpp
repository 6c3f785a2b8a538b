// Where the part lies and lay: frames of runs against each other, kept with the fixture, in files.
#include "document/document.h"

#include "base/files.h"
#include "exchange/routine/frames_file.h"
#include "exchange/runs/run_frames.h"
#include "plan/steps/frame_steps.h"
#include "route/bench_change.h"
#include <QFileInfo>
#include <algorithm>

namespace alder::app {
namespace {

constexpr const char* kPlanned = "as planned";

const KnownPlace* placeNamed(const std::vector<KnownPlace>& places, const std::string& name) {
  for (const KnownPlace& p : places)
    if (p.name == name) return &p;
  return nullptr;
}

// The list of a bench in which its places are kept.
Json& keptIn(Json& bench) {
  Json& fixture = bench["fixture"];
  if (!fixture.is_object()) fixture = Json::object();
  Json& frames = fixture["frames"];
  if (!frames.is_array()) frames = Json::array();
  return frames;
}

} // namespace

// Of a run its part frame, and those that it used by name. Found again from the touches, which
// takes its time, it is of the current run alone.
std::vector<KnownPlace> Document::places() const {
  std::vector<KnownPlace> all{{kPlanned, plan().placement}};
  for (const KeptFrame& k : plan().bench.fixture.frames)
    all.push_back({k.name, k.placement});
  for (const StoredRun& run : project_.runs) {
    const RunFrames frames = framesIn(run.csv);
    if (frames.part)
      all.push_back({run.name, *frames.part});
    else if (run.name == currentRunName())
      if (const auto part = partFrameOf(plan(), run.csv, run.name))
        all.push_back({run.name, *part});
    std::map<std::string, int> times;
    for (const KeptFrame& f : frames.named) {
      const int time = ++times[f.name];
      all.push_back(
          {fmt::format("{}, {}{}", run.name, f.name, time > 1 ? fmt::format(" {}", time) : ""),
           f.placement});
    }
  }
  return all;
}

void Document::compare(PlaceComparison comparison) {
  comparison_ = std::move(comparison);
  emit runsChanged();
}

std::optional<std::pair<KnownPlace, KnownPlace>> Document::compared() const {
  const auto all = places();
  const auto* from = placeNamed(all, comparison_.from);
  const auto* to = placeNamed(all, comparison_.to);
  if (!to) to = placeNamed(all, currentRunName());
  if (!to) return {};
  return std::pair(from ? *from : all.front(), *to);
}

Result<SetupCorrection> Document::correctionCompared() const {
  const auto both = compared();
  if (!both) return fail("Measure a part first.");
  return correctionBetween(both->first.placement, both->second.placement,
                           comparison_.axes == CorrectionAxes::Machine ? Frame::Identity()
                                                                       : both->first.placement,
                           comparison_.order);
}

void Document::writeSetupCorrection(const QString& path) {
  const auto correction = correctionCompared();
  const std::string name = correction ? compared()->second.name : std::string();
  const Done done = correction ? writeCorrection(*correction, name, path.toStdString())
                               : Done(pass(correction.error()));
  emit message(
      QString::fromStdString(done ? name + ": " + describe(*correction) : done.error().message),
      !done);
}

void Document::keepPlace(const KnownPlace& place) {
  std::string name;
  for (int number = 1; name.empty() || plan().bench.fixture.frame(name) || plan().frame(name);
       ++number)
    name = fmt::format("place {}", number);
  if (editBench("Keep where the part lay", [&](Json& bench) {
        keptIn(bench).push_back(toJson(KeptFrame{name, place.placement}));
      }))
    emit message(QString("Kept with the fixture as %1").arg(QString::fromStdString(name)), false);
}

void Document::renamePlace(const std::string& name, const std::string& wanted) {
  if (wanted == name) return;
  if (wanted.empty() || plan().frame(wanted) || plan().bench.fixture.frame(wanted)) {
    emit message(wanted.empty() ? QString("A place needs a name.")
                                : QString("There is a frame or place %1 already; choose another "
                                          "name.")
                                      .arg(QString::fromStdString(wanted)),
                 true);
    return;
  }
  auto json = parseJson(plan().bench.json, "bench");
  if (!json) return;
  for (Json& frame : keptIn(*json))
    if (frame.value("name", "") == name) frame["name"] = wanted;
  auto bench = readBench(json->dump(2), "bench");
  if (!bench) return;
  std::vector<Edit> edits{changedBench(plan(), std::move(*bench))};
  for (Edit& e : stepsFollowName(plan(), name, wanted))
    edits.push_back(std::move(e));
  edit("Rename a place", std::move(edits));
}

void Document::forgetPlace(const std::string& name) {
  editBench("Forget a place", [&](Json& bench) {
    Json& frames = keptIn(bench);
    for (std::size_t i = frames.size(); i-- > 0;)
      if (frames[i].value("name", "") == name) frames.erase(i);
  });
}

// The routine then does not ask for the part to be touched by hand.
void Document::beginAtPlace(const std::string& name) {
  auto used = beginAtFrame(plan(), name);
  if (used && edit("Begin at a place that is kept", std::move(used->edits)))
    selectSteps({used->step});
}

void Document::writeFrames(const QString& path) {
  const FramesFile file{plan().frames, plan().bench.fixture.frames};
  if (file.frames.empty() && file.kept.empty()) {
    emit message("There are no frames; make one of selected features (Alt+F).", true);
    return;
  }
  const Done done = writeFile(path.toStdString(), framesText(plan(), file));
  emit message(done ? QString("Wrote %1 frames and %2 places to %3")
                          .arg(file.frames.size())
                          .arg(file.kept.size())
                          .arg(QFileInfo(path).fileName())
                    : QString::fromStdString(done.error().message),
               !done);
}

void Document::readFrames(const QString& path) {
  if (!open_) return;
  const auto text = readFile(path.toStdString());
  const auto file = text ? framesFromText(*text, QFileInfo(path).fileName().toStdString(), plan())
                         : Result<FramesFile>(pass(text.error()));
  if (!file) {
    emit message(QString::fromStdString(file.error().message), true);
    return;
  }
  std::vector<Edit> edits;
  if (!file->frames.empty()) edits.push_back(SetFrames{withFrames(plan().frames, file->frames)});
  if (!file->kept.empty()) {
    auto json = parseJson(plan().bench.json, "bench");
    Json& frames = keptIn(*json);
    for (const KeptFrame& k : file->kept) {
      for (std::size_t i = frames.size(); i-- > 0;)
        if (frames[i].value("name", "") == k.name) frames.erase(i);
      frames.push_back(toJson(k));
    }
    auto bench = readBench(json->dump(2), "bench");
    if (!bench) {
      emit message(QString::fromStdString(bench.error().message), true);
      return;
    }
    edits.push_back(changedBench(plan(), std::move(*bench)));
  }
  if (edits.empty() || !edit("Bring in frames", std::move(edits))) return;
  emit message(
      QString("%1 frames and %2 places; Alt+F makes a step that uses one, the card of a step "
              "chooses which")
          .arg(file->frames.size())
          .arg(file->kept.size()),
      false);
}

} // namespace alder::app
