// Where the faces of a part stand in its STEP file: in which representation, of which product, and
// in which units lengths and angles are given there (ISO 10303-41, -42, -43).
#pragma once

#include "part/model.h"
#include "part/step_text.h"

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
  // Numbers of the units and the context of the first representation, and what they are in mm and
  // radians; 0 where the file has none.
  int context() const { return context_; }
  int lengthUnit() const { return length_unit_; }
  int angleUnit() const { return angle_unit_; }
  double mmPerUnit() const { return mm_per_unit_; }
  double radiansPerUnit() const { return radians_per_unit_; }

 private:
  void readUnits(const StepText& text);
  std::vector<FaceHome> faces_;
  FaceHome whole_;
  int context_ = 0, length_unit_ = 0, angle_unit_ = 0;
  double mm_per_unit_ = 1, radians_per_unit_ = 1;
};

} // namespace alder
