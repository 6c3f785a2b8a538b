// What the stage shows of a point cloud: areas left out.
#include "base/units.h"
#include "card/card.h"
#include "card/words.h"

namespace alder::app {

void Card::mapSection() {
  const auto* run = document_.currentRun();
  const bool cloud = run && std::any_of(run->measured().begin(), run->measured().end(),
                                        [](const auto& m) { return isOfCloud(m.second); });
  if (!cloud) return;
  head("Deviation map");
  const auto& areas = document_.leftOutOfMap();
  const auto nameOf = [this](FeatureId id) {
    for (const NominalFeature& f : document_.plan().spec.features)
      if (f.id == id) return text(f.name);
    return QString("a feature that is gone");
  };
  for (std::size_t i = 0; i < areas.size(); ++i) {
    const QString radius =
        areas[i].radius > 0
            ? QString(", %1 mm about a place").arg(text(shortFigure(areas[i].radius)))
            : QString();
    link("Left out: " + nameOf(areas[i].feature) + radius + " – take in again",
         qPrintable(QString("mapAgain%1").arg(i)), [this, i] { document_.onMapAgain(i); });
  }
  if (!document_.selection().features.empty())
    link("Leave the selected feature out of the map", "leaveOutOfMap",
         [this] { emit wanted("leaveOutOfMap"); });
  if (document_.selection().picked) {
    quantity("radius", "mapRadius", Quantity::Length, 2, document_.mapRadius(),
             [this](double radius) { document_.setMapRadius(radius); });
    link("Leave out about the place that was clicked", "leaveOutAbout",
         [this] { emit wanted("leaveOutAbout"); });
  }
  if (!areas.empty())
    paragraph("Left out of the picture alone: requirements are judged by all places.");
}

} // namespace alder::app
