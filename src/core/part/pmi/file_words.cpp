#include "part/pmi/file_words.h"

#include "part/pmi/schema.h"
#include "part/step_text.h"
#include <algorithm>
#include <set>

namespace alder {
namespace {

constexpr std::size_t kMostLines = 40;

void referencesIn(const StepValue& value, std::vector<int>& out) {
  if (value.isReference()) out.push_back(value.reference);
  for (const StepValue& item : value.items)
    referencesIn(item, out);
}

std::vector<int> referencesIn(const StepInstance& instance) {
  std::vector<int> all;
  for (const StepRecord& r : instance.records)
    for (const StepValue& v : r.values)
      referencesIn(v, all);
  return all;
}

bool isPmi(const StepInstance& instance) {
  return std::any_of(instance.records.begin(), instance.records.end(),
                     [](const StepRecord& r) { return schemaEntity(r.type) != nullptr; });
}

class Words {
 public:
  Words(const StepText& text, const PlainStep& plain)
      : text_(text)
      , plain_(plain) {}

  std::vector<std::string> of(int entity) {
    down(entity, 2);
    text_.eachInstance([&](const StepInstance& other) {
      const auto names = referencesIn(other);
      if (isPmi(other) && std::find(names.begin(), names.end(), entity) != names.end())
        down(other.id, 1);
    });
    return std::move(lines_);
  }

 private:
  void down(int id, int steps) {
    const StepInstance* instance = text_.instance(id);
    if (!instance || !isPmi(*instance) || lines_.size() >= kMostLines || !seen_.insert(id).second)
      return;
    lines_.push_back(line(id));
    if (steps == 0) return;
    for (const int other : referencesIn(*instance))
      down(other, steps - 1);
  }

  // With the numbers of the file, line ends and runs of blanks as one blank.
  std::string line(int id) const {
    std::string out = fmt::format("#{} = ", plain_.original(id));
    bool blank = false, quoted = false;
    for (const char c : text_.statement(id)) {
      if (!quoted && (c == ' ' || c == '\n' || c == '\r' || c == '\t')) {
        blank = true;
        continue;
      }
      if (blank && out.back() != '(' && c != ')' && c != ',') out += ' ';
      blank = false;
      if (c == '\'') quoted = !quoted;
      out += c;
    }
    if (plain_.was.empty()) return out;
    std::string numbered;
    for (std::size_t i = 0; i < out.size(); ++i) {
      numbered += out[i];
      if (out[i] != '#' || i == 0) continue;
      std::size_t end = i + 1;
      while (end < out.size() && out[end] >= '0' && out[end] <= '9')
        ++end;
      if (end == i + 1) continue;
      numbered += std::to_string(plain_.original(std::atoi(out.substr(i + 1, end).c_str())));
      i = end - 1;
    }
    return numbered;
  }

  const StepText& text_;
  const PlainStep& plain_;
  std::set<int> seen_;
  std::vector<std::string> lines_;
};

} // namespace

std::vector<std::string> fileWords(const std::string& step_file, EntityNumber entity) {
  const PlainStep plain = plainStep(step_file);
  const auto text = StepText::parse(plain.bytes);
  if (!text) return {};
  int id = entity <= 0x7fffffff ? static_cast<int>(entity) : 0;
  for (const auto& [now, was] : plain.was)
    if (was == entity) id = now;
  return Words(*text, plain).of(id);
}

} // namespace alder
