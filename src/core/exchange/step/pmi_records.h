// Requirements and datums as records of semantic PMI (ISO 10303-47, -519, -242; the recommended
// practices for them), attached to the faces that a STEP file has.
#pragma once

#include "exchange/step/step_edit.h"
#include "exchange/step/step_shape.h"
#include "requirement/specification.h"

namespace alder {

class PmiRecords {
 public:
  // Both outlive it.
  PmiRecords(StepEdit& edit, const StepShape& shape, const Specification& spec);

  // A datum that the file has already.
  void known(const std::string& letter, int entity) { datums_[letter] = entity; }
  void datum(const Datum& datum);
  // Of what `cannotBeStated` has nothing against; its datums first. Answers the number of the
  // tolerance or dimension.
  int requirement(const Requirement& r);
  void segments(int upper, int lower);
  void together(int a, int b);

 private:
  int size(const Requirement& r);
  int location(const Requirement& r);
  int tolerance(const Requirement& r);
  void figures(int dimension, const Requirement& r);
  std::string limits(const Requirement& r);
  int zone(int tolerance, const Requirement& r);
  void project(int zone, const Requirement& r, int aspect);
  int datumSystem(const Requirement& r);
  std::string base(const DatumReference& d);
  void target(const Datum& datum, int datum_entity, int feature, std::size_t index);
  int aspectOf(const std::vector<FeatureId>& features, const std::string& type = "SHAPE_ASPECT");
  std::string aspectHead(int shape, const std::string& description = "") const;
  int shapeOf(const NominalFeature& feature) const;
  std::string measure(double value, bool angle) const; // "LENGTH_MEASURE(2.),#12"
  int measureWithUnit(double value, bool angle);

  StepEdit& edit_;
  const StepShape& shape_;
  const Specification& spec_;
  std::map<std::string, int> datums_;
  ContextUnits units_;
};

} // namespace alder
