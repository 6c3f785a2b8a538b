// From a shape aspect of a STEP file to the faces it stands for (ISO 10303-47 and -1101): through
// its geometric item usages, its property definitions and the aspects it is composed of.
#pragma once

#include "part/pmi_reader.h"
#include <map>
#include <set>

namespace alder {

class AspectResolver {
 public:
  AspectResolver(const StepText& text, const FacesOfEntity& facesOf);

  // Faces of an aspect, datum feature, or of the size or distance a tolerance is attached to.
  // Ascending, each once.
  std::vector<FaceId> faces(int aspect) const;
  // Aspects tied to a datum: its datum features, else its targets.
  std::vector<int> featuresOfDatum(int datum) const;

 private:
  void collect(int aspect, std::set<int>& visited, std::set<FaceId>& out) const;
  void collectItem(int item, std::set<FaceId>& out, int depth) const;

  const StepText& text_;
  const FacesOfEntity& facesOf_;
  std::multimap<int, int> items_;      // aspect -> representation item
  std::multimap<int, int> components_; // relating aspect -> related aspect
  std::multimap<int, int> owners_;     // related -> relating
};

} // namespace alder
