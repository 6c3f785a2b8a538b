#include "exchange/step/step_edit.h"

#include "part/pmi/schema.h"
#include <algorithm>
#include <cctype>
#include <cmath>
#include <fmt/format.h>
#include <functional>

namespace alder {
namespace {

// Passes over strings and comments; `at` is then behind them. False where none begins.
bool skipped(std::string_view s, std::size_t& at) {
  if (s[at] == '\'') {
    const auto end = s.find('\'', at + 1);
    at = end == std::string_view::npos ? s.size() : end + 1;
    return true;
  }
  if (s.substr(at, 2) == "/*") {
    const auto end = s.find("*/", at + 2);
    at = end == std::string_view::npos ? s.size() : end + 2;
    return true;
  }
  return false;
}

bool isSpace(char c) {
  return std::isspace(static_cast<unsigned char>(c)) != 0;
}
bool isDigit(char c) {
  return std::isdigit(static_cast<unsigned char>(c)) != 0;
}

// The item from `begin` to `end` with one of the commas beside it. False when it was the only one.
bool cutItem(std::string& s, std::size_t begin, std::size_t end) {
  std::size_t before = begin, behind = end;
  while (before > 0 && isSpace(s[before - 1]))
    --before;
  while (behind < s.size() && isSpace(s[behind]))
    ++behind;
  if (behind < s.size() && s[behind] == ',') {
    s.erase(begin, behind + 1 - begin);
    return true;
  }
  if (before > 0 && s[before - 1] == ',') {
    s.erase(before - 1, end - (before - 1));
    return true;
  }
  return false;
}

// The statement without the items #id of its lists; nothing where it names it otherwise, or a list
// would be empty.
std::optional<std::string> withoutItem(std::string s, int id) {
  const std::string token = "#" + std::to_string(id);
  const int parameters = !s.empty() && s.front() == '(' ? 2 : 1; // depth of those of a record
  int depth = 0;
  for (std::size_t at = 0; at < s.size();) {
    if (skipped(s, at)) continue;
    if (s[at] == '(') ++depth;
    if (s[at] == ')') --depth;
    const bool named = s.compare(at, token.size(), token) == 0 &&
                       (at + token.size() >= s.size() || !isDigit(s[at + token.size()]));
    if (!named) {
      ++at;
      continue;
    }
    if (depth <= parameters || !cutItem(s, at, at + token.size())) return {};
  }
  return s;
}

void eachReference(const std::vector<StepValue>& values, const std::function<void(int)>& visit) {
  for (const StepValue& v : values) {
    if (v.isReference()) visit(v.reference);
    eachReference(v.items, visit);
  }
}

// Values, references and forms: without the requirement that names them they say nothing.
bool isLeftOver(const StepInstance& instance) {
  for (const StepRecord& record : instance.records) {
    const SchemaEntity* entity = schemaEntity(record.type);
    if (!entity) return false;
    for (const auto* of_its_own :
         {"GEOMETRIC_TOLERANCE", "DIMENSIONAL_SIZE", "SHAPE_REPRESENTATION", "DIMENSIONAL_LOCATION",
          "DATUM", "DATUM_FEATURE", "DATUM_TARGET"})
      if (isKindOf(*entity, of_its_own) && !isKindOf(*entity, "SHAPE_DIMENSION_REPRESENTATION"))
        return false;
  }
  return true;
}

} // namespace

StepEdit::StepEdit(const StepText& text)
    : text_(text) {
  text.eachInstance([this](const StepInstance& instance) {
    for (const StepRecord& record : instance.records)
      eachReference(record.values, [&](int to) { referrers_.emplace(to, instance.id); });
  });
  next_ = text.lastId() + 1;
}

int StepEdit::add(const std::string& record) {
  added_ += fmt::format("#{}={};\n", next_, record);
  return next_++;
}

std::string StepEdit::statement(int id) const {
  const auto changed = changed_.find(id);
  return changed == changed_.end() ? std::string(text_.statement(id)) : changed->second;
}

void StepEdit::remove(int id) {
  std::vector<int> waiting{id};
  while (!waiting.empty()) {
    const int gone = waiting.back();
    waiting.pop_back();
    if (!removed_.insert(gone).second) continue;
    const auto [begin, end] = referrers_.equal_range(gone);
    for (auto at = begin; at != end; ++at) {
      if (isRemoved(at->second)) continue;
      if (auto rest = withoutItem(statement(at->second), gone))
        changed_[at->second] = std::move(*rest);
      else
        waiting.push_back(at->second);
    }
  }
}

void StepEdit::removeLeftOver() {
  std::vector<int> waiting(removed_.begin(), removed_.end());
  while (!waiting.empty()) {
    const StepInstance* gone = text_.instance(waiting.back());
    waiting.pop_back();
    if (!gone) continue;
    for (const StepRecord& record : gone->records)
      eachReference(record.values, [&](int to) {
        const StepInstance* named = text_.instance(to);
        if (!named || isRemoved(to) || !isLeftOver(*named)) return;
        const auto [begin, end] = referrers_.equal_range(to);
        if (!std::all_of(begin, end, [&](const auto& r) { return isRemoved(r.second); })) return;
        removed_.insert(to);
        waiting.push_back(to);
      });
  }
}

std::string StepEdit::text() const {
  // From the back, so that places stay.
  std::map<std::size_t, std::pair<std::size_t, std::string>> cuts; // from -> to, and what instead
  for (const int id : removed_)
    if (const auto [from, to] = text_.extent(id); to > from) cuts[from] = {to, ""};
  for (const auto& [id, record] : changed_)
    if (!isRemoved(id))
      if (const auto [from, to] = text_.extent(id); to > from)
        cuts[from] = {to, fmt::format("#{}={};", id, record)};
  const std::string& all = text_.bytes();
  std::string out;
  std::size_t copied = 0;
  for (const auto& [from, cut] : cuts) {
    out.append(all, copied, from - copied);
    out += cut.second;
    copied = cut.first;
    if (cut.second.empty() && copied < all.size() && all[copied] == '\n') ++copied;
  }
  // Behind the last record there is, whatever sections follow.
  const std::size_t last = std::max(copied, text_.end());
  const auto end = all.find("ENDSEC", last);
  out.append(all, copied, end == std::string::npos ? std::string::npos : end - copied);
  out += added_;
  if (end != std::string::npos) out.append(all, end);
  return out;
}

std::string stepReal(double value) {
  std::string text = fmt::format("{:.15g}", value);
  const auto exponent = text.find('e');
  if (text.find('.') == std::string::npos)
    text.insert(exponent == std::string::npos ? text.size() : exponent, ".");
  std::replace(text.begin(), text.end(), 'e', 'E');
  return text;
}

// What is not of the basic alphabet as \X2\ or \X4\ (6.4.3.3).
std::string stepString(std::string_view utf8) {
  std::string out = "'";
  for (std::size_t i = 0; i < utf8.size();) {
    const auto c = static_cast<unsigned char>(utf8[i]);
    if (c < 0x80) {
      if (c == '\'' || c == '\\') out += static_cast<char>(c);
      out += c < 0x20 ? ' ' : static_cast<char>(c);
      ++i;
      continue;
    }
    const std::size_t more = c >= 0xF0 ? 3 : c >= 0xE0 ? 2 : 1;
    unsigned code = c & (0x3Fu >> more);
    for (std::size_t k = 1; k <= more && i + k < utf8.size(); ++k)
      code = (code << 6) | (static_cast<unsigned char>(utf8[i + k]) & 0x3Fu);
    out += code >= 0x10000 ? fmt::format("\\X4\\{:08X}\\X0\\", code)
                           : fmt::format("\\X2\\{:04X}\\X0\\", code);
    i += more + 1;
  }
  return out + "'";
}

std::string stepList(const std::vector<int>& ids) {
  std::string out = "(";
  for (std::size_t i = 0; i < ids.size(); ++i)
    out += (i ? ",#" : "#") + std::to_string(ids[i]);
  return out + ")";
}

} // namespace alder
