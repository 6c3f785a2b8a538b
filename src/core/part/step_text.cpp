#include "part/step_text.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <charconv>
#include <cstdlib>
#include <optional>

namespace alder {
namespace {

// Geometry makes up nearly all of a file and is of no use here: its instances are not parsed.
bool isGeometry(std::string_view type) {
  static constexpr std::array<std::string_view, 18> kTypes{"CARTESIAN_POINT", "DIRECTION",
                                                           "VECTOR",          "LINE",
                                                           "VERTEX_POINT",    "EDGE_CURVE",
                                                           "ORIENTED_EDGE",   "EDGE_LOOP",
                                                           "FACE_BOUND",      "FACE_OUTER_BOUND",
                                                           "ADVANCED_FACE",   "CIRCLE",
                                                           "ELLIPSE",         "PLANE",
                                                           "PCURVE",          "SURFACE_CURVE",
                                                           "SEAM_CURVE",      "AXIS2_PLACEMENT_3D"};
  return std::find(kTypes.begin(), kTypes.end(), type) != kTypes.end() ||
         type.starts_with("B_SPLINE") || type.ends_with("_SURFACE") || type.starts_with("BOUNDED_");
}

std::string utf8(unsigned code) {
  std::string out;
  if (code < 0x80) {
    out += static_cast<char>(code);
  } else if (code < 0x800) {
    out += static_cast<char>(0xC0 | (code >> 6));
    out += static_cast<char>(0x80 | (code & 0x3F));
  } else if (code >= 0x10000) {
    out += static_cast<char>(0xF0 | ((code >> 18) & 0x07));
    out += static_cast<char>(0x80 | ((code >> 12) & 0x3F));
    out += static_cast<char>(0x80 | ((code >> 6) & 0x3F));
    out += static_cast<char>(0x80 | (code & 0x3F));
  } else {
    out += static_cast<char>(0xE0 | (code >> 12));
    out += static_cast<char>(0x80 | ((code >> 6) & 0x3F));
    out += static_cast<char>(0x80 | (code & 0x3F));
  }
  return out;
}

// Control directives of ISO 10303-21, 6.4.3: \X\hh and \X2\hhhh...\X0\ .
std::string decoded(std::string_view raw) {
  std::string out;
  for (std::size_t i = 0; i < raw.size();) {
    unsigned code = 0;
    if (raw.substr(i, 3) == "\\X\\" && i + 5 <= raw.size()) {
      std::from_chars(raw.data() + i + 3, raw.data() + i + 5, code, 16);
      out += utf8(code);
      i += 5;
    } else if (raw.substr(i, 4) == "\\X2\\" || raw.substr(i, 4) == "\\X4\\") {
      const std::size_t digits = raw[i + 2] == '2' ? 4 : 8;
      i += 4;
      unsigned high = 0;
      for (; i + digits <= raw.size() && raw[i] != '\\'; i += digits) {
        std::from_chars(raw.data() + i, raw.data() + i + digits, code, 16);
        if (code >= 0xD800 && code < 0xDC00) { // first half of a pair
          high = code;
          continue;
        }
        if (high != 0 && code >= 0xDC00 && code < 0xE000)
          code = 0x10000 + ((high - 0xD800) << 10) + (code - 0xDC00);
        high = 0;
        out += utf8(code);
      }
      i += 4; // \X0\ .
    } else if (raw.substr(i, 3) == "\\S\\" && i + 4 <= raw.size()) {
      out += utf8(static_cast<unsigned char>(raw[i + 3]) + 128u); // ISO 8859-1 unless \P says else
      i += 4;
    } else if (raw.substr(i, 2) == "\\P" && i + 4 <= raw.size() && raw[i + 3] == '\\') {
      i += 4;
    } else if (raw.substr(i, 2) == "\\\\") {
      out += '\\';
      i += 2;
    } else {
      out += raw[i++];
    }
  }
  return out;
}

class RecordParser {
 public:
  explicit RecordParser(std::string_view text)
      : text_(text) {}

  std::optional<std::vector<StepRecord>> records() {
    std::vector<StepRecord> result;
    const bool complex = peek() == '(';
    if (complex) ++at_;
    do {
      auto one = record();
      if (!one) return {};
      result.push_back(std::move(*one));
    } while (complex && peek() != ')' && peek() != '\0');
    return result;
  }

 private:
  std::optional<StepRecord> record() {
    StepRecord result;
    result.type = word();
    if (result.type.empty() || peek() != '(') return {};
    auto values = list(0);
    if (!values) return {};
    result.values = std::move(*values);
    return result;
  }

  std::optional<std::vector<StepValue>> list(int depth) {
    if (depth > 100) return {}; // deeper than any schema; keeps bad input off the stack
    std::vector<StepValue> result;
    ++at_;
    while (peek() != ')') {
      auto v = value(depth);
      if (!v) return {};
      result.push_back(std::move(*v));
      if (peek() == ',') ++at_;
    }
    ++at_;
    return result;
  }

  std::optional<StepValue> value(int depth) {
    StepValue v;
    const char c = peek();
    if (c == '$' || c == '*') {
      ++at_;
    } else if (c == '#') {
      ++at_;
      v.kind = StepValue::Kind::Reference;
      if (!number(v.reference)) return {};
    } else if (c == '\'') {
      v.kind = StepValue::Kind::Text;
      if (!string(v.text)) return {};
    } else if (c == '.' && at_ + 1 < text_.size() &&
               std::isalpha(static_cast<unsigned char>(text_[at_ + 1]))) {
      ++at_;
      v.kind = StepValue::Kind::Enumeration;
      v.text = word();
      ++at_;
    } else if (c == '(') {
      v.kind = StepValue::Kind::List;
      auto items = list(depth + 1);
      if (!items) return {};
      v.items = std::move(*items);
    } else if (std::isalpha(static_cast<unsigned char>(c))) {
      v.kind = StepValue::Kind::Typed;
      v.text = word();
      if (peek() != '(') return {};
      auto items = list(depth + 1);
      if (!items) return {};
      v.items = std::move(*items);
    } else if (c == '"') {
      const auto end = text_.find('"', at_ + 1);
      if (end == std::string_view::npos) return {};
      at_ = end + 1;
    } else {
      v.kind = StepValue::Kind::Number;
      if (c == '+') ++at_;
      if (!number(v.number)) return {};
    }
    return v;
  }

  bool string(std::string& out) {
    std::string raw;
    for (++at_; at_ < text_.size(); ++at_) {
      if (text_[at_] == '\'') {
        if (at_ + 1 >= text_.size() || text_[at_ + 1] != '\'') {
          ++at_;
          out = decoded(raw);
          return true;
        }
        ++at_;
      }
      if (text_[at_] != '\n' && text_[at_] != '\r') raw += text_[at_];
    }
    return false;
  }

  template <class T> bool number(T& out) {
    skip();
    const auto [end, code] = std::from_chars(text_.data() + at_, text_.data() + text_.size(), out);
    if (code != std::errc{}) return false;
    at_ = static_cast<std::size_t>(end - text_.data());
    return true;
  }

  std::string word() {
    skip();
    const auto begin = at_;
    while (at_ < text_.size() &&
           (std::isalnum(static_cast<unsigned char>(text_[at_])) || text_[at_] == '_'))
      ++at_;
    std::string name(text_.substr(begin, at_ - begin));
    std::transform(name.begin(), name.end(), name.begin(),
                   [](unsigned char ch) { return static_cast<char>(std::toupper(ch)); });
    return name;
  }

  char peek() {
    skip();
    return at_ < text_.size() ? text_[at_] : '\0';
  }
  void skip() {
    while (at_ < text_.size()) {
      if (std::isspace(static_cast<unsigned char>(text_[at_]))) {
        ++at_;
      } else if (text_.substr(at_, 2) == "/*") {
        const auto end = text_.find("*/", at_ + 2);
        at_ = end == std::string_view::npos ? text_.size() : end + 2;
      } else {
        return;
      }
    }
  }

  std::string_view text_;
  std::size_t at_ = 0;
};

// End of the statement that begins at `from`: the next ; outside strings and comments.
std::size_t statementEnd(std::string_view text, std::size_t from) {
  bool quoted = false;
  for (std::size_t i = from; i < text.size(); ++i) {
    if (text[i] == '\'') quoted = !quoted;
    if (quoted) continue;
    if (text[i] == ';') return i;
    if (text[i] == '/' && i + 1 < text.size() && text[i + 1] == '*') {
      const auto end = text.find("*/", i + 2);
      if (end == std::string_view::npos) return std::string_view::npos;
      i = end + 1;
    }
  }
  return std::string_view::npos;
}

std::string_view trimmed(std::string_view s) {
  while (!s.empty()) {
    if (std::isspace(static_cast<unsigned char>(s.front()))) {
      s.remove_prefix(1);
    } else if (s.starts_with("/*") && s.find("*/") != std::string_view::npos) {
      s.remove_prefix(s.find("*/") + 2);
    } else {
      break;
    }
  }
  return s;
}

} // namespace

const StepRecord* StepInstance::find(std::string_view wanted) const {
  for (const auto& r : records)
    if (r.type == wanted) return &r;
  return nullptr;
}

namespace {

constexpr std::string_view kByteOrderMark = "\xEF\xBB\xBF";

// A statement "#12 = TYPE(...)", comments wherever they may stand.
struct Numbered {
  int id = 0;
  std::string_view body;
};
std::optional<Numbered> numbered(std::string_view statement) {
  if (!statement.starts_with('#')) return {};
  Numbered n;
  const auto [after, code] =
      std::from_chars(statement.data() + 1, statement.data() + statement.size(), n.id);
  if (code != std::errc{}) return {};
  auto rest = trimmed(statement.substr(static_cast<std::size_t>(after - statement.data())));
  if (!rest.starts_with('=')) return {};
  n.body = trimmed(rest.substr(1));
  return n;
}

} // namespace

PlainStep plainStep(const std::string& bytes) {
  PlainStep plain;
  const std::size_t from = bytes.starts_with(kByteOrderMark) ? kByteOrderMark.size() : 0;
  constexpr std::size_t kDigits = 9; // fit whatever they are
  const auto isDigit = [](char c) { return c >= '0' && c <= '9'; };
  // First which numbers there are, then which are free.
  std::map<std::string, int> fresh;
  int largest = 0;
  const auto eachNumber = [&](auto&& found) {
    bool quoted = false;
    for (std::size_t i = from; i < bytes.size(); ++i) {
      if (bytes[i] == '\'') quoted = !quoted;
      if (!quoted && bytes.compare(i, 2, "/*") == 0) { // a comment may hold an apostrophe
        const auto closed = bytes.find("*/", i + 2);
        if (closed == std::string::npos) return;
        i = closed + 1;
        continue;
      }
      if (quoted || bytes[i] != '#' || i + 1 >= bytes.size() || !isDigit(bytes[i + 1])) continue;
      std::size_t end = i + 1;
      while (end < bytes.size() && isDigit(bytes[end]))
        ++end;
      found(i + 1, end);
      i = end - 1;
    }
  };
  eachNumber([&](std::size_t begin, std::size_t end) {
    if (end - begin > kDigits)
      fresh.emplace(bytes.substr(begin, end - begin), 0);
    else
      largest = std::max(largest, std::atoi(bytes.substr(begin, end - begin).c_str()));
  });
  if (fresh.empty()) {
    plain.bytes = bytes.substr(from);
    return plain;
  }
  for (auto& [digits, number] : fresh) {
    number = ++largest;
    std::int64_t was = 0;
    std::from_chars(digits.data(), digits.data() + digits.size(), was);
    plain.was[number] = was;
  }
  std::size_t copied = from;
  eachNumber([&](std::size_t begin, std::size_t end) {
    if (end - begin <= kDigits) return;
    plain.bytes.append(bytes, copied, begin - copied);
    plain.bytes += std::to_string(fresh.at(bytes.substr(begin, end - begin)));
    copied = end;
  });
  plain.bytes.append(bytes, copied);
  return plain;
}

Result<StepText> StepText::parse(std::string bytes) {
  StepText result;
  result.bytes_ = std::move(bytes);
  std::string_view text = result.bytes_;
  if (text.starts_with(kByteOrderMark)) text.remove_prefix(kByteOrderMark.size());
  if (!trimmed(text.substr(0, std::min<std::size_t>(text.size(), 4096)))
           .starts_with("ISO-10303-21"))
    return fail("not a STEP file: it does not begin with ISO-10303-21.");
  for (std::size_t at = 0; at < text.size();) {
    const auto end = statementEnd(text, at);
    if (end == std::string_view::npos) break;
    auto statement = trimmed(text.substr(at, end - at));
    at = end + 1;
    if (statement.starts_with("FILE_SCHEMA")) {
      const auto q = statement.find('\'');
      if (q != std::string_view::npos)
        result.schema_ = statement.substr(q + 1, statement.find('\'', q + 1) - q - 1);
    }
    const auto n = numbered(statement);
    if (!n) continue;
    const int id = n->id;
    const std::string_view body = n->body;
    const Place place{static_cast<std::size_t>(statement.data() - result.bytes_.data()),
                      static_cast<std::size_t>(body.data() - result.bytes_.data()), body.size()};
    if (!result.places_.emplace(id, place).second) {
      result.twice_.push_back(id);
      continue;
    }
    if (!body.starts_with('(') && isGeometry(body.substr(0, body.find_first_of("( \n\r"))))
      continue;
    auto records = RecordParser(body).records();
    if (!records) {
      result.broken_.push_back(id);
      continue;
    }
    if (isGeometry(records->front().type)) continue;
    for (const auto& r : *records)
      result.types_[r.type].push_back(id);
    result.index_[id] = result.kept_.size();
    result.kept_.emplace_back(id, StepInstance{id, std::move(*records)});
  }
  for (auto& [type, ids] : result.types_)
    std::sort(ids.begin(), ids.end());
  return result;
}

void StepText::eachInstance(const std::function<void(const StepInstance&)>& visit) const {
  for (const auto& [id, instance] : kept_)
    visit(instance);
}

std::string_view StepText::statement(int id) const {
  const auto found = places_.find(id);
  if (found == places_.end()) return {};
  return std::string_view(bytes_).substr(found->second.body, found->second.length);
}

std::pair<std::size_t, std::size_t> StepText::extent(int id) const {
  const auto found = places_.find(id);
  if (found == places_.end()) return {};
  return {found->second.number, found->second.body + found->second.length + 1};
}

std::size_t StepText::end() const {
  std::size_t end = 0;
  for (const auto& [id, place] : places_)
    end = std::max(end, place.body + place.length + 1);
  return end;
}

int StepText::lastId() const {
  int last = 0;
  for (const auto& [id, place] : places_)
    last = std::max(last, id);
  return last;
}

std::optional<StepInstance> StepText::anyInstance(int id) const {
  if (const StepInstance* kept = instance(id)) return *kept;
  if (!has(id)) return {};
  auto records = RecordParser(statement(id)).records();
  if (!records) return {};
  return StepInstance{id, std::move(*records)};
}

const StepInstance* StepText::instance(int id) const {
  const auto found = index_.find(id);
  return found == index_.end() ? nullptr : &kept_[found->second].second;
}

const std::vector<int>& StepText::ofType(std::string_view type) const {
  static const std::vector<int> kNone;
  const auto found = types_.find(type);
  return found == types_.end() ? kNone : found->second;
}

std::vector<std::string> StepText::typesBeginningWith(std::string_view beginning) const {
  std::vector<std::string> result;
  for (const auto& [type, ids] : types_)
    if (type.starts_with(beginning)) result.push_back(type);
  return result;
}

std::vector<std::string> StepText::typesEndingWith(std::string_view ending) const {
  std::vector<std::string> result;
  for (const auto& [type, ids] : types_)
    if (type.ends_with(ending)) result.push_back(type);
  return result;
}

} // namespace alder
