// Where the part lay, one frame against another, and the places that are kept with the fixture.
#include "card/card.h"
#include "card/fields.h"
#include "card/words.h"
#include "plan/frames/frame_fit.h"
#include <QComboBox>
#include <algorithm>
#include <array>

namespace alder::app {
namespace {

constexpr std::array<const char*, 6> kOrders{"xyz", "xzy", "yxz", "yzx", "zxy", "zyx"};

} // namespace

void Card::placeChoice(const QString& label, const char* id, const std::vector<KnownPlace>& all,
                       const std::string& current, std::string PlaceComparison::*which) {
  QStringList names;
  int index = 0;
  for (const KnownPlace& p : all) {
    if (p.name == current) index = static_cast<int>(names.size());
    names << text(p.name);
  }
  choice(label, id, names, index, [this, all, which](int chosen) {
    PlaceComparison changed = document_.comparison();
    changed.*which = all[static_cast<std::size_t>(chosen)].name;
    document_.compare(changed);
  });
}

void Card::compareSection() {
  const auto both = document_.compared();
  if (!both) return;
  head("Where the part lay");
  const auto all = document_.places();
  const PlaceComparison& how = document_.comparison();
  placeChoice("from", "compareFrom", all, both->first.name, &PlaceComparison::from);
  placeChoice("to", "compareTo", all, both->second.name, &PlaceComparison::to);
  choice("axes of", "compareAxes", {"the part", "the machine"},
         how.axes == CorrectionAxes::Machine ? 1 : 0, [this](int index) {
           PlaceComparison changed = document_.comparison();
           changed.axes = index == 1 ? CorrectionAxes::Machine : CorrectionAxes::Part;
           document_.compare(changed);
         });
  QStringList orders;
  for (const QString order : kOrders) // about axes that turn along: x-y′-z″
    orders << QString("%1-%2′-%3″").arg(order[0]).arg(order[1]).arg(order[2]);
  choice("sequence of rotations", "compareOrder", orders,
         static_cast<int>(std::find(std::begin(kOrders), std::end(kOrders), how.order) -
                          std::begin(kOrders)), [this](int index) {
           PlaceComparison changed = document_.comparison();
           changed.order = kOrders[static_cast<std::size_t>(index)];
           document_.compare(changed);
         });
  const auto move = document_.correctionCompared();
  if (!move) {
    paragraph(text(move.error().message), "error");
    return;
  }
  for (int k = 0; k < 3; ++k)
    figureRow(QString("moved %1").arg("XYZ"[k]), text(figure(move->move[k], 4)) + " mm");
  for (int k = 0; k < 3; ++k)
    figureRow(QString("turned about %1").arg("XYZ"[k]),
              text(figure(degrees(move->turn[k]), 4)) + "°");
  const FrameChange change =
      changeBetween(document_.plan(), both->first.placement, both->second.placement);
  figureRow("corner that moved most", text(figure(change.distance, 4)) + " mm");
  link("Write it for the machine tool …", "writeCorrection", [this] { emit wanted("correction"); });
  link("Keep the second with the fixture", "keepPlace",
       [this, place = both->second] { document_.keepPlace(place); });
  keptPlaces();
}

void Card::keptPlaces() {
  const auto& kept = document_.plan().bench.fixture.frames;
  if (kept.empty()) return;
  head("Kept with the fixture");
  for (std::size_t i = 0; i < kept.size(); ++i) {
    const std::string& place = kept[i].name;
    stepLine(QString::number(i + 1), QString("placeName%1").arg(i).toLatin1(), place,
             [this, place](const std::string& v) { document_.renamePlace(place, v); });
    link("Begin the routine there", QString("placeBegin%1").arg(i).toLatin1(),
         [this, place] { document_.beginAtPlace(place); });
    link("Remove", QString("placeForget%1").arg(i).toLatin1(),
         [this, place] { document_.forgetPlace(place); });
  }
}

} // namespace alder::app
