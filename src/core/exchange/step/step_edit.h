// A STEP file (ISO 10303-21) of which some records are taken out and to which others are added; all
// the rest stays as it stands, letter by letter.
#pragma once

#include "part/step_text.h"
#include <set>

namespace alder {

class StepEdit {
 public:
  // `text` outlives it.
  explicit StepEdit(const StepText& text);

  // TYPE(parameters), without number and semicolon; answers the number it gets.
  int add(const std::string& record);
  // With everything that names it as itself. Where it is one of a list, it leaves the list; a list
  // that is then empty takes its record with it.
  void remove(int id);
  // What only the removed ones named, of the entities of PMI that are nobody's by themselves.
  void removeLeftOver();
  // Another record under the same number.
  void replace(int id, std::string record) { changed_[id] = std::move(record); }

  bool isRemoved(int id) const { return removed_.count(id) > 0; }
  bool isChanged(int id) const { return changed_.count(id) > 0; }
  std::size_t removedCount() const { return removed_.size(); }
  std::string text() const;

 private:
  std::string statement(int id) const;
  const StepText& text_;
  std::multimap<int, int> referrers_;
  std::set<int> removed_;
  std::map<int, std::string> changed_;
  std::string added_;
  int next_ = 0;
};

// How ISO 10303-21 writes them.
std::string stepReal(double value);
std::string stepString(std::string_view utf8); // with its quotes
std::string stepList(const std::vector<int>& ids);

} // namespace alder
