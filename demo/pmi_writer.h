// Writes a shape as STEP AP242 with semantic tolerances added to the records, in any length unit.
// Used for the demo part and for test files whose content is known exactly.
#pragma once

#include "base/error.h"
#include "part/pmi/pmi.h"
#include <TopoDS_Face.hxx>
#include <TopoDS_Shape.hxx>
#include <string>
#include <vector>

namespace alder::demo {

using FaceShapes = std::vector<TopoDS_Face>;

struct DatumUse {
  std::string letters; // "A", or "A-B" for a common datum
  MaterialModifier material = MaterialModifier::None;
};

struct ToleranceSpec {
  ToleranceType type = ToleranceType::Flatness;
  double magnitude = 0; // mm
  FaceShapes faces;
  std::vector<DatumUse> datums;
  ZoneForm zone = ZoneForm::Unstated;
  MaterialModifier material = MaterialModifier::None;
  std::optional<double> unequal;
  int upper_segment = 0; // what `tolerance` returned for the segment above
};

struct SizeSpec {
  std::string name = "diameter"; // CAx names: diameter, radius, linear distance, angle
  FaceShapes faces;
  double nominal = 0; // mm or radians
  double lower = 0, upper = 0;
  std::string fit; // in place of the limits
  int decimals = 2;
};

class PmiWriter {
 public:
  // unit: MM, INCH or M, as the CAD library names them
  static Result<PmiWriter> begin(const TopoDS_Shape& shape, const std::string& product,
                                 const std::string& unit = "MM");

  void datum(const std::string& letter, const FaceShapes& faces);
  void size(const SizeSpec& spec);
  void distance(const FaceShapes& from, const FaceShapes& to, double nominal, double lower,
                double upper);
  void angle(const FaceShapes& from, const FaceShapes& to, double nominal, double lower,
             double upper);
  int tolerance(const ToleranceSpec& spec);
  std::string text() const;

 private:
  int add(const std::string& record);
  int faceEntity(const TopoDS_Face& face) const;
  int aspect(const std::string& name, const FaceShapes& faces,
             const std::string& type = "SHAPE_ASPECT");
  std::string lengthMeasure(double mm);
  std::string measureItem(double value, bool angle, const std::string& name, int decimals);
  int datumSystem(const std::vector<DatumUse>& uses);
  void location(const std::string& type, const FaceShapes& from, const FaceShapes& to,
                double nominal, double lower, double upper, bool angle);
  void characteristic(int dimension, double nominal, bool angle, int decimals);
  void limits(int dimension, double lower, double upper, bool angle);

  std::string text_;
  std::string added_;
  std::vector<std::pair<TopoDS_Face, int>> entities_;
  std::vector<std::pair<std::string, int>> datums_;
  int next_ = 0;
  int shape_ = 0, representation_ = 0, context_ = 0, length_unit_ = 0, angle_unit_ = 0;
  double mm_per_unit_ = 1;
};

} // namespace alder::demo
