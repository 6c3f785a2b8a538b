// Where the designer drew the requirements, and the views that were saved (ISO 10303-46,
// ISO 10303-242; numbers in mm, whatever the file's units).
#pragma once

#include "part/pmi/drawn.h"

namespace alder {

// Of what is both drawn and one of `requirements`. In the middle of its drawn points, in the
// annotation plane where there is one, its leaders left aside.
std::vector<PmiCallout> readCallouts(const PmiSource& source, const std::vector<Drawn>& drawn,
                                     const std::vector<int>& requirements, const Teller& tell);

// What cannot be read of a view is told, and the view left out.
std::vector<PmiView> readViews(const PmiSource& source, const std::vector<Drawn>& drawn,
                               const std::vector<int>& requirements, const Teller& tell);

// A view along `towards`, as high and wide as said, middle at `centre`; no size: see it all.
struct ParallelView {
  Vec3 centre = Vec3::Zero(), up = Vec3::UnitY(), towards = Vec3::UnitZ();
  double width = 0, height = 0;
};
// Of a saved view for a part in this box. The window's place is its lower left corner (ISO
// 10303-46, planar_box); where the part is then not in it and it would be in one about that place,
// it is taken so, and where it is in neither, the whole part is seen.
ParallelView parallelView(const PmiView& view, const Box3& part);

} // namespace alder
