// From a shape aspect of a STEP file to the faces it stands for (ISO 10303-47 and -1101): through
// its geometric item usages, its property definitions and the aspects it is composed of.
#pragma once

#include "part/pmi/pmi_reader.h"
#include "part/pmi/source.h"
#include "part/pmi/teller.h"
#include <map>
#include <set>

namespace alder {

class Aspects {
 public:
  Aspects(const PmiSource& source, const FacesOfEntity& facesOf);

  // Faces of an aspect, datum feature, or of the size or distance a tolerance is attached to.
  // Ascending, each once. What of the aspect is not judged is told.
  std::vector<FaceId> faces(const PmiEntity& aspect, const Teller& tell) const;
  // Aspects tied to a datum: its features and targets.
  std::vector<PmiEntity> featuresOfDatum(const PmiEntity& datum) const;
  // The datums that a common one of older schemas is made of.
  std::vector<PmiEntity> datumsOf(const PmiEntity& common) const;
  // The feature that a datum target lies on, where the file says it.
  std::vector<PmiEntity> featuresOfTarget(const PmiEntity& target) const;
  // Representations that a property definition of this aspect points at.
  std::vector<PmiEntity> representationsOf(const PmiEntity& aspect) const;

 private:
  struct Collected {
    std::set<int> visited;
    std::set<FaceId> faces;
  };
  void collect(const PmiEntity& aspect, const Teller& tell, Collected& out) const;
  bool understood(const PmiEntity& aspect, const Teller& tell) const;
  void components(const PmiEntity& aspect, const Teller& tell, Collected& out) const;
  void collectItem(int item, Collected& out, int depth) const;

  const PmiSource& source_;
  const FacesOfEntity& facesOf_;
  std::multimap<int, int> usages_;     // aspect -> usage
  std::multimap<int, int> properties_; // aspect -> property definition representation
  std::multimap<int, int> relating_;   // aspect -> relationship in which it is the relating one
  std::multimap<int, int> related_;
};

} // namespace alder
