// Datums, their targets, and references to them (ISO 10303-47, -519; ISO 5459).
#pragma once

#include "part/pmi/aspects.h"

namespace alder {

class Datums {
 public:
  Datums(const PmiSource& source, const Aspects& aspects, const Teller& tell);

  // By letter; one that stands in two parts of an assembly has the part behind it from the second
  // on: "A(2)".
  const std::vector<PmiDatum>& all() const { return datums_; }
  // Compartments of the datum systems or references that an attribute of a tolerance lists.
  std::vector<PmiDatumReference> references(const StepValue& list, const Teller& tell) const;

 private:
  void read(const PmiEntity& datum, const Teller& tell);
  void readTarget(const PmiEntity& target, PmiDatum& datum, const Teller& tell) const;
  void addReference(const PmiEntity& entity, std::vector<PmiDatumReference>& out,
                    const Teller& tell) const;
  void addBase(const StepValue& base, PmiDatumReference& out,
               std::vector<MaterialModifier>& materials, const Teller& tell) const;
  std::vector<std::string> lettersOf(const PmiEntity& datum, const Teller& tell) const;
  std::vector<std::string> madeOf(const PmiEntity& common, const Teller& tell) const;

  const PmiSource& source_;
  const Aspects& aspects_;
  std::vector<PmiDatum> datums_;
  std::map<int, std::string> letters_; // of each datum
  std::map<std::string, int> parts_;   // of the shape on which a letter stands
};

// mm per unit of length in a representation; nothing where it does not say.
std::optional<double> lengthUnitOf(const PmiSource& source, const PmiEntity& representation);

} // namespace alder
