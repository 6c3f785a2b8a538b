// Deviations drawn on a picture of the part: points, whiskers along the normals, a map of colours,
// the tolerance zone; of axes, centres and middle planes the nominal and the actual one, with the
// zone. The enlargement is told, with the scale and its limits.
#pragma once

#include "report/compose/content.h"
#include "report/picture.h"

namespace alder {

class DeviationPicture {
 public:
  // The picture fills `area` on the paper, mm; the middle of what it shows is seen along the view.
  struct Place {
    const PartPicture& picture;
    Area area;
    double dots; // pixels of the picture a mm of paper
    PartView view;
  };
  DeviationPicture(const std::vector<const ReportRow*>& rows, DeviationsAs as, const Place& place,
                   ComposeContext& context);

  bool empty() const { return drawn_.empty(); }
  // Colours of faces with a map; empty: there is none. It keeps what it needs.
  PartPicture::Tint tint() const;
  std::vector<Mark> marks() const; // over the picture, the worst places labelled
  std::vector<Mark> scale(const Area& strip) const;

 private:
  struct Drawn {
    const ReportRow* row;
    double half; // of the zone, mm
    bool map;
    bool derived; // axes, centres or middle planes instead of points of the surface
  };
  Vec2 onPaper(const Vec3& place) const;
  double paperScale() const; // mm of paper a mm of the part, across the line of sight
  void derived(const Drawn& drawn, std::vector<Mark>& marks) const;
  void zoneOf(const SeenDerived& derived, std::vector<Mark>& marks) const;
  void chip(const Area& at, const std::string& words, const Ink& ink,
            std::vector<Mark>& marks) const;
  void whiskers(const Drawn& drawn, std::vector<Mark>& marks) const;
  void labels(std::vector<Mark>& marks) const;

  Place place_;
  DeviationsAs as_;
  ComposeContext& c_;
  std::vector<Drawn> drawn_;
  double magnified_ = 1;
};

} // namespace alder
