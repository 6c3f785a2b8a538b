// Where the faces of a part stand in its STEP file: in which representation, of which product, and
// in which units lengths and angles are given there (ISO 10303-41, -42, -43).
#pragma once

#include "part/model.h"
#include "part/step_units.h"

namespace alder {

struct FaceHome {
  int face = 0;           // the ADVANCED_FACE; 0: not known
  int representation = 0; // that holds it
  int shape = 0;          // PRODUCT_DEFINITION_SHAPE that it belongs to
};

class StepShape {
 public:
  // Numbers of faces are those of `part`, as its file has them; `plain` is what `text` was read
  // from.
  static Result<StepShape> find(const StepText& text, const PlainStep& plain,
                                const PartModel& part);

  const FaceHome& home(FaceId face) const { return faces_[static_cast<std::size_t>(face.value)]; }
  // What stands for the part as a whole.
  const FaceHome& whole() const { return whole_; }
  // Context of the first representation, and the units in it.
  int context() const { return context_; }
  const ContextUnits& units() const { return units_; }

 private:
  std::vector<FaceHome> faces_;
  FaceHome whole_;
  int context_ = 0;
  ContextUnits units_;
};

} // namespace alder
