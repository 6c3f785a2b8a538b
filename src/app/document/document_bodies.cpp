// Which bodies of the CAD file are the part.
#include "document/document.h"

#include "part/cad_process.h"
#include "part/left_out.h"
#include "route/draft.h"

namespace alder::app {
namespace {

// A feature that stands on a body which would be left out.
const NominalFeature* standsOn(const Plan& plan, const std::vector<int>& left_out) {
  for (const NominalFeature& f : plan.spec.features)
    for (const FaceId face : f.faces)
      if (std::binary_search(left_out.begin(), left_out.end(), plan.part->face(face).body))
        return &f;
  return nullptr;
}

} // namespace

void Document::takeBodies(std::vector<int> left_out) {
  if (!open_ || left_out == leftOut(*plan().part)) return;
  // A draft that nobody has touched is made anew, with the requirements of these bodies.
  const bool anew = path_.isEmpty() && history_.undoText().empty() && history_.redoText().empty();
  if (const NominalFeature* f = anew ? nullptr : standsOn(plan(), left_out))
    return emit message(
        QString("%1 is on %2, which would be left out; remove its requirements first")
            .arg(
                QString::fromStdString(f->name),
                QString::fromStdString(
                    plan()
                        .part
                        ->bodies[static_cast<std::size_t>(plan().part->face(f->faces.front()).body)]
                        .name)),
        true);
  const auto part = plan().part;
  model_jobs_.start("Reading the bodies of the part",
                    [=, this, choice = BodyChoice{std::move(left_out)}](
                        const Progress& progress) -> JobRunner::Apply {
                      auto read = std::make_shared<Result<PartPtr>>(
                          importCadApart(part->bytes, part->name, progress, choice));
                      return [=, this] {
                        if (!*read)
                          return emit message(QString::fromStdString(read->error().message), true);
                        if (!open_ || plan().part != part) return; // another part by now
                        if (anew) return beginAnew(std::move(**read));
                        edit("Bodies of the part",
                             {SetRoutine{plan().spec, plan().features, plan().steps,
                                         plan().alignment, std::move(**read)}});
                      };
                    });
}

void Document::beginAnew(PartPtr part) {
  jobs_.cancel();
  Plan begun =
      start_ ? beginPlan(std::move(part), *start_) : beginPlan(std::move(part), plan().bench);
  auto start = std::move(start_);
  setProject({std::move(begun), {}, {}}, {});
  start_ = std::move(start);
  completeDraft();
}

} // namespace alder::app
