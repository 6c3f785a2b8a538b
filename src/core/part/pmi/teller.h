// Where a reader of PMI says what it did not take over, and of which requirement.
#pragma once

#include "part/pmi/pmi.h"

namespace alder {

class Teller {
 public:
  // `requirement`: the tolerance or dimension that is being read, 0 for none.
  Teller(std::vector<Note>& notes, EntityNumber requirement)
      : notes_(notes)
      , requirement_(requirement) {}
  Teller about(EntityNumber requirement) const { return {notes_, requirement}; }

  // Once, whoever says it again.
  void operator()(EntityNumber entity, const std::string& text) const;
  EntityNumber requirement() const { return requirement_; }

 private:
  std::vector<Note>& notes_;
  EntityNumber requirement_;
};

// MAXIMUM_MATERIAL_REQUIREMENT -> "maximum material requirement"
std::string inWords(std::string_view name);

} // namespace alder
