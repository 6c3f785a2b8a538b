// The bench under the routine: another one, changes of it, the part set against its fixture.
#include "document/document.h"

#include "base/files.h"
#include "bench/bench_edit.h"
#include "part/mesh_file.h"
#include "route/bench_change.h"
#include <QFileInfo>
#include <algorithm>
#include <set>

namespace alder::app {

void Document::changeBench(const QString& path) {
  if (!open_) return;
  const auto plan = std::make_shared<const Plan>(project_.plan);
  jobs_.start("Changing the bench", [=, this](const Progress& progress) -> JobRunner::Apply {
    auto change = std::make_shared<Result<EditGroup>>([&]() -> Result<EditGroup> {
      auto text = readFile(path.toStdString());
      if (!text) return pass(text.error());
      auto bench = readBench(*text, QFileInfo(path).fileName().toStdString());
      if (!bench) return pass(bench.error());
      return changeOfBench(*plan, std::move(*bench), progress);
    }());
    if (progress.cancelled()) return [] {};
    return [=, this] {
      if (!*change) {
        emit message(QString::fromStdString(change->error().message), true);
        return;
      }
      if (!edit(QString::fromStdString((*change)->text), (*change)->edits)) return;
      setBenchFocus({});
      const auto open = std::count_if(
          this->plan().features.begin(), this->plan().features.end(), [&](const Feature& f) {
            return !this->plan().nominal(f.id).isConstructed() && !f.covered();
          });
      const QString name = QString::fromStdString(this->plan().bench.name);
      emit message(open == 0
                       ? "Now on " + name
                       : QString("Now on %1; %2 features are not reached here").arg(name).arg(open),
                   open > 0);
    };
  });
}

bool Document::workOn(SetupId setup) {
  if (!open_ || setup == plan().setup) return false;
  return edit("Work on " + QString::fromStdString(nameOfSetup(plan(), setup)),
              {SetSetups{setupsOf(plan()), setup}});
}

std::optional<SetupId> Document::setupAfter(SetupId setup) const {
  const auto& all = plan().setups;
  for (std::size_t i = 0; i + 1 < all.size(); ++i)
    if (all[i].id == setup) return all[i + 1].id;
  return {};
}

bool Document::editBench(const QString& text, const std::function<void(Json&)>& change) {
  if (!open_) return false;
  auto json = parseJson(plan().bench.json, "bench");
  if (!json) return false;
  change(*json);
  auto bench = readBench(json->dump(2), "bench");
  if (!bench) {
    emit message(QString::fromStdString(bench.error().message), true);
    emit planChanged(); // the fields show again what holds
    return false;
  }
  return edit(text, {changedBench(plan(), std::move(*bench))});
}

void Document::dropSupports() {
  auto bench = readBench(plan().bench.json, "bench");
  if (bench) edit("Remove what the part stands on", {SetBench{std::move(*bench)}});
}

void Document::addFixtureFile(const QString& path) {
  if (!open_) return;
  model_jobs_.start("Reading " + QFileInfo(path).fileName(),
                    [=, this](const Progress& progress) -> JobRunner::Apply {
                      auto mesh = std::make_shared<Result<Mesh>>(
                          readMeshFile(path.toStdString(), progress));
                      return [=, this] {
                        if (!*mesh)
                          return emit message(QString::fromStdString(mesh->error().message), true);
                        addFixtureMesh(QFileInfo(path).completeBaseName().toStdString(), **mesh);
                      };
                    });
}

void Document::addFixtureMesh(const std::string& name, const Mesh& mesh) {
  Json vertices = Json::array(), triangles = Json::array();
  for (const Vec3& v : mesh.vertices)
    vertices.push_back(toJson(v));
  for (const auto& t : mesh.triangles)
    triangles.push_back({t[0], t[1], t[2]});
  editBench("Add " + QString::fromStdString(name), [&](Json& bench) {
    addBody(bench,
            {{"name", name},
             {"kind", "other"},
             {"at", {0, 0, 0}},
             {"mesh", {{"vertices", std::move(vertices)}, {"triangles", std::move(triangles)}}}});
  });
}

void Document::takeFittingStylus() {
  if (!open_) return;
  std::set<FeatureId> features(selection_.features.begin(), selection_.features.end());
  if (selection_.requirement)
    for (FeatureId id :
         featuresNeeded(plan().spec, plan().spec.requirement(*selection_.requirement)))
      features.insert(id);
  if (features.empty())
    return emit message("Select a requirement or feature that is not covered", true);
  const auto plan = std::make_shared<const Plan>(project_.plan);
  jobs_.start("Looking for a stylus", [=, this](const Progress& progress) -> JobRunner::Apply {
    auto group = std::make_shared<Result<EditGroup>>(
        ::alder::takeFittingStylus(*plan, {features.begin(), features.end()}, progress));
    return [=, this] {
      if (!*group) return emit message(QString::fromStdString(group->error().message), true);
      if (this->plan().bench.json != plan->bench.json)
        return emit message("The bench was changed meanwhile; ask again", true);
      const QString words = QString::fromStdString((*group)->text);
      edit(words, std::move((*group)->edits));
    };
  });
}

void Document::tryOtherStandings() {
  if (!open_) return;
  const auto plan = std::make_shared<const Plan>(project_.plan);
  jobs_.start("Trying other standings", [=, this](const Progress& progress) -> JobRunner::Apply {
    auto offers =
        std::make_shared<Result<std::vector<StandingOffer>>>(otherStandings(*plan, progress));
    return [=, this] {
      if (!*offers) return emit message(QString::fromStdString(offers->error().message), true);
      offers_ = std::move(**offers);
      offers_key_ = routineKey(*plan);
      const auto count = offers_.size();
      emit message(count == 0   ? QString("There is no other standing in which it rests safely")
                   : count == 1 ? QString("One other standing is in the card")
                                : QString("%1 other standings are in the card").arg(count),
                   false);
      emit planChanged();
    };
  });
}

const std::vector<StandingOffer>& Document::standingOffers() const {
  static const std::vector<StandingOffer> none;
  // They hold the routine as it was: after any edit they would take that back.
  return open_ && !offers_.empty() && offers_key_ == routineKey(plan()) ? offers_ : none;
}

void Document::layPart(std::size_t offer) {
  if (offer >= standingOffers().size()) return;
  EditGroup group = ::alder::layPart(standingOffers()[offer]);
  edit(QString::fromStdString(group.text), std::move(group.edits));
}

void Document::setBenchFocus(BenchFocus focus) {
  if (focus == bench_focus_) return;
  bench_focus_ = std::move(focus);
  emit benchFocusChanged();
}

void Document::mateTo(const FixtureBody& body, const Seat& seat) {
  if (selection_.features.size() != 1) {
    emit message("Select the one face or bore of the part that is to be set against it", true);
    return;
  }
  const NominalFeature& n = plan().nominal(selection_.features[0]);
  const bool round = n.ideal.type == SurfaceType::Cylinder || n.ideal.type == SurfaceType::Cone;
  if (n.ideal.type != SurfaceType::Plane && !round) {
    emit message(QString::fromStdString(n.name) + " is neither a flat face nor round", true);
    return;
  }
  if (round != seat.axis) {
    emit message(round ? "An axis goes onto an axis; choose one"
                       : "A face goes against a face; "
                         "choose one",
                 true);
    return;
  }
  if (!plan().placement.isApprox(mated_, 1e-12)) mates_.clear();
  auto mates = mates_;
  mates.push_back({seat.axis, n.ideal.point, n.ideal.direction, seat.point, seat.direction,
                   fmt::format("{} on {}, {}", n.name, body.name, seat.name)});
  auto placement = mated(plan().placement, mates);
  if (!placement) {
    emit message(QString::fromStdString(placement.error().message), true);
    return;
  }
  mates_ = std::move(mates);
  mated_ = *placement;
  if (!edit("Set " + QString::fromStdString(mates_.back().text), {SetPlacement{*placement}}))
    emit planChanged(); // it was there already, and now stays
}

void Document::letGo() {
  mates_.clear();
  emit planChanged();
}

} // namespace alder::app
