// Points as text: three columns of figures, perhaps with titles, normals and other columns.
#include "exchange/clouds/cloud_readers.h"

#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <tbb/parallel_for.h>

namespace alder {
namespace {

constexpr std::size_t kLinesBlock = 8 << 20, kPieces = 16;
constexpr double kMostUnread = 0.05; // share of the lines

struct Layout {
  char separator = 0; // 0: blanks
  bool comma = false; // decimal
  std::array<int, 3> place{0, 1, 2};
  std::optional<std::array<int, 3>> normal;
  int least = 3;                        // fields of a line
  std::size_t titles = 0;               // lines above the first figures
  std::optional<CloudUnit> unit;        // by the titles
  std::optional<std::size_t> said;      // how many points there are, by the first line
  std::vector<std::string> passed_over; // titles of other columns
};

bool isRemark(std::string_view line) {
  return line.starts_with('#') || line.starts_with("//") || line.starts_with('%') ||
         line.starts_with('!');
}

std::string_view trimmed(std::string_view s) {
  while (!s.empty() && (s.front() == ' ' || s.front() == '\t'))
    s.remove_prefix(1);
  while (!s.empty() && (s.back() == ' ' || s.back() == '\t' || s.back() == '\r'))
    s.remove_suffix(1);
  return s;
}

std::vector<std::string_view> linesIn(std::string_view text) {
  std::vector<std::string_view> lines;
  while (!text.empty()) {
    const auto end = text.find_first_of("\n\r");
    lines.push_back(text.substr(0, end));
    if (end == std::string_view::npos) break;
    const bool both = text[end] == '\r' && end + 1 < text.size() && text[end + 1] == '\n';
    text.remove_prefix(end + (both ? 2 : 1));
  }
  return lines;
}

bool holdFigures(const std::vector<std::string_view>& fields, bool comma, std::size_t first,
                 std::size_t count) {
  if (fields.size() < first + count) return false;
  return std::all_of(fields.begin() + static_cast<long>(first),
                     fields.begin() + static_cast<long>(first + count),
                     [&](std::string_view f) { return cloudFigure(f, comma).has_value(); });
}

// At least three, wherever.
bool holdsPoint(const std::vector<std::string_view>& fields, bool comma) {
  return std::count_if(fields.begin(), fields.end(),
                       [&](std::string_view f) { return cloudFigure(f, comma).has_value(); }) >= 3;
}

// How often a way to part lines makes three figures of them.
int fits(const std::vector<std::string_view>& lines, char separator, bool comma) {
  std::vector<std::string_view> fields;
  int count = 0;
  for (const std::string_view line : lines) {
    splitFields(line, separator, fields);
    count += holdsPoint(fields, comma);
  }
  return count;
}

std::string plain(std::string_view title) {
  std::string out;
  for (const char c : trimmed(title))
    if (std::isalnum(static_cast<unsigned char>(c)))
      out += static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
  return out;
}

int titled(const std::vector<std::string>& titles, std::initializer_list<std::string> names) {
  for (std::size_t i = 0; i < titles.size(); ++i)
    for (const std::string& name : names)
      if (titles[i] == name) return static_cast<int>(i);
  return -1;
}

// "x", "posx", "xcoord", and with a unit behind: "xmm", "xin", "xinch".
int titledAxis(const std::vector<std::string>& titles, char axis, std::optional<CloudUnit>& unit) {
  const std::string x(1, axis);
  const int bare = titled(titles, {x, "p" + x, "pos" + x, x + "coord"});
  if (bare >= 0) return bare;
  for (const auto& [ending, name] : {std::pair{"mm", "mm"},
                                     {"inch", "in"},
                                     {"in", "in"},
                                     {"cm", "cm"},
                                     {"um", "um"},
                                     {"m", "m"}})
    if (const int column = titled(titles, {x + ending, "pos" + x + ending}); column >= 0) {
      unit = cloudUnitNamed(name);
      return column;
    }
  return -1;
}

bool readTitles(std::string_view line, Layout& layout) {
  while (!line.empty() && !std::isalnum(static_cast<unsigned char>(line.front())))
    line.remove_prefix(1); // "#X Y Z", "//X,Y,Z"
  std::vector<std::string_view> fields;
  splitFields(line, layout.separator, fields);
  std::vector<std::string> titles;
  for (const std::string_view f : fields)
    titles.push_back(plain(f));
  std::optional<CloudUnit> unit;
  const std::array<int, 3> place{titledAxis(titles, 'x', unit), titledAxis(titles, 'y', unit),
                                 titledAxis(titles, 'z', unit)};
  if (*std::min_element(place.begin(), place.end()) < 0) return false;
  layout.unit = unit;
  layout.place = place;
  const std::array<int, 3> normal{titled(titles, {"nx", "normalx", "i"}),
                                  titled(titles, {"ny", "normaly", "j"}),
                                  titled(titles, {"nz", "normalz", "k"})};
  if (*std::min_element(normal.begin(), normal.end()) >= 0) layout.normal = normal;
  for (std::size_t i = 0; i < titles.size(); ++i) {
    const int column = static_cast<int>(i);
    const auto among = [&](const std::array<int, 3>& all) {
      return std::find(all.begin(), all.end(), column) != all.end();
    };
    if (!among(place) && !(layout.normal && among(normal)))
      layout.passed_over.push_back(std::string(trimmed(fields[i])));
  }
  return true;
}

// The three columns behind those of the place are normals where they are unit vectors in every
// line.
bool holdsNormals(const std::vector<std::string_view>& lines, const Layout& layout) {
  const auto first = static_cast<std::size_t>(layout.place[2] + 1);
  std::vector<std::string_view> fields;
  int seen = 0;
  for (const std::string_view line : lines) {
    splitFields(line, layout.separator, fields);
    if (!holdsPoint(fields, layout.comma)) continue;
    if (!holdFigures(fields, layout.comma, first, 3)) return false;
    Vec3 n;
    for (std::size_t k = 0; k < 3; ++k)
      n[static_cast<int>(k)] = *cloudFigure(fields[first + k], layout.comma);
    if (!(std::abs(n.norm() - 1) < 0.01)) return false;
    ++seen;
  }
  return seen >= 3;
}

// Without titles: the first three figures of a line, but a first column that counts the points.
void findColumns(const std::vector<std::string_view>& lines, Layout& layout) {
  std::vector<std::string_view> fields;
  std::vector<std::size_t> good; // lines in which three columns from this one on are figures
  std::size_t seen = 0;
  bool counts = true;
  std::optional<double> before;
  for (const std::string_view line : lines) {
    splitFields(line, layout.separator, fields);
    if (!holdsPoint(fields, layout.comma)) continue;
    ++seen;
    good.resize(std::max(good.size(), fields.size()), 0);
    for (std::size_t c = 0; c < fields.size(); ++c)
      good[c] += holdFigures(fields, layout.comma, c, 3);
    const auto number = cloudFigure(fields[0], layout.comma);
    counts = counts && fields.size() >= 4 && number && (!before || *number == *before + 1) &&
             *number == std::floor(*number);
    before = number;
  }
  std::size_t first = 0;
  while (first + 1 < good.size() && 10 * good[first] < 9 * seen)
    ++first;
  if (first == 0 && counts && seen > 3 && 10 * good[1] >= 9 * seen) {
    first = 1;
    layout.passed_over.push_back("the first, which counts them");
  }
  const int c = static_cast<int>(first);
  layout.place = {c, c + 1, c + 2};
}

Result<Layout> layoutOf(std::string_view head, const std::string& label) {
  auto lines = linesIn(head);
  if (lines.size() > 2 && head.size() >= 4096) lines.pop_back(); // cut by the end of the head
  if (lines.size() > 400) lines.resize(400);
  std::vector<std::string_view> data;
  for (const std::string_view line : lines)
    if (const auto t = trimmed(line); !t.empty() && !isRemark(t)) data.push_back(t);
  struct Way {
    char separator;
    bool comma;
  };
  Layout layout;
  int best = 0;
  for (const Way way : {Way{0, false}, {';', false}, {',', false}, {';', true}, {0, true}})
    if (const int n = fits(data, way.separator, way.comma); n > best)
      best = n, layout.separator = way.separator, layout.comma = way.comma;
  if (best == 0 || 2 * best < static_cast<int>(data.size()))
    return fail("{}: its lines do not hold three figures each; a file of points has x, y and z in "
                "columns.",
                label);
  std::string_view before; // the line above the first figures
  std::vector<std::string_view> fields;
  for (const std::string_view line : lines) {
    const auto t = trimmed(line);
    splitFields(t, layout.separator, fields);
    if (!t.empty() && !isRemark(t) && holdsPoint(fields, layout.comma)) break;
    ++layout.titles;
    if (!t.empty() && !isRemark(t) && fields.size() == 1)
      if (const auto n = cloudFigure(fields[0], false);
          n && *n >= 1 && *n < 1e12 && *n == std::floor(*n))
        layout.said = static_cast<std::size_t>(*n);
    if (!t.empty()) before = t;
  }
  const bool titled = readTitles(before, layout);
  if (!titled) findColumns(data, layout);
  const int next = layout.place[2] + 1;
  if (!layout.normal && layout.passed_over.empty() && holdsNormals(data, layout))
    layout.normal = std::array<int, 3>{next, next + 1, next + 2};
  for (const int c : layout.place)
    layout.least = std::max(layout.least, c + 1);
  if (layout.normal)
    for (const int c : *layout.normal)
      layout.least = std::max(layout.least, c + 1);
  return layout;
}

// What one piece of a block holds.
struct Piece {
  std::string_view text;
  std::size_t titles = 0; // lines to begin with that are none of the points
  Points points;
  std::vector<Eigen::Vector3f> normals;
  std::size_t lines = 0, unread = 0, empty_places = 0;
  std::size_t first_unread = 0; // line of the piece, from 0
  std::string first_text;
};

void readPiece(const Layout& layout, Piece& piece) {
  std::vector<std::string_view> fields;
  for (const std::string_view whole : linesIn(piece.text)) {
    const std::size_t line = piece.lines++;
    const auto t = trimmed(whole);
    if (line < piece.titles || t.empty() || isRemark(t)) continue;
    splitFields(t, layout.separator, fields);
    Vec3 p = Vec3::Zero(), n = Vec3::Zero();
    bool good = fields.size() >= static_cast<std::size_t>(layout.least);
    for (int k = 0; k < 3 && good; ++k) {
      const auto v =
          cloudFigure(fields[static_cast<std::size_t>(layout.place[static_cast<std::size_t>(k)])],
                      layout.comma);
      good = v.has_value();
      if (v) p[k] = *v;
    }
    for (int k = 0; k < 3 && good && layout.normal; ++k) {
      const auto v = cloudFigure(
          fields[static_cast<std::size_t>((*layout.normal)[static_cast<std::size_t>(k)])],
          layout.comma);
      good = v.has_value();
      if (v) n[k] = *v;
    }
    if (!good) {
      if (piece.unread++ == 0) piece.first_unread = line, piece.first_text = t.substr(0, 40);
    } else if (!p.allFinite()) {
      ++piece.empty_places; // a scanner's "no point here"
    } else {
      piece.points.push_back(p);
      if (layout.normal) piece.normals.push_back(n.normalized().cast<float>());
    }
  }
}

std::vector<Piece> piecesOf(std::string_view block) {
  std::vector<Piece> pieces;
  const std::size_t usual = block.size() / kPieces + 1;
  while (!block.empty()) {
    auto end = block.size() <= usual ? block.size() : block.find_first_of("\n\r", usual);
    end = end == std::string_view::npos ? block.size() : std::min(block.size(), end + 1);
    // The two characters of a line end stay together.
    if (end < block.size() && block[end - 1] == '\r' && block[end] == '\n') ++end;
    pieces.push_back({block.substr(0, end), 0, {}, {}, 0, 0, 0, 0, {}});
    block.remove_prefix(end);
  }
  return pieces;
}

struct Tally {
  std::size_t lines = 0, unread = 0, empty_places = 0, first_unread = 0;
  std::string first_text;
};

Done tell(const Layout& layout, const Tally& tally, CloudFile& out) {
  const std::size_t points = out.cloud.points.size();
  if (tally.unread > 0 &&
      static_cast<double>(tally.unread) >
          kMostUnread * static_cast<double>(points + tally.unread) &&
      tally.unread > 5)
    return fail("{}: line {}: \"{}\" is no point, nor are {} other lines; correct the file.",
                out.name, tally.first_unread, tally.first_text, tally.unread - 1);
  if (tally.unread > 0)
    out.notes.push_back(
        fmt::format("{} lines are no points and were passed over, the first in line "
                    "{}: \"{}\".",
                    tally.unread, tally.first_unread, tally.first_text));
  if (tally.empty_places > 0)
    out.notes.push_back(
        fmt::format("{} points are no numbers (nan) and were passed over.", tally.empty_places));
  if (!layout.passed_over.empty()) {
    std::string all;
    for (const std::string& title : layout.passed_over)
      all += (all.empty() ? "" : ", ") + title;
    out.notes.push_back("Columns that are not used: " + all + ".");
  }
  if (layout.said && *layout.said > points + tally.empty_places)
    return fail("{}: says that it holds {} points, but ends after {}; write it anew.", out.name,
                *layout.said, points);
  out.unit = layout.unit;
  out.form =
      fmt::format("text, x y z in columns {}, {} and {}{}{}", layout.place[0] + 1,
                  layout.place[1] + 1, layout.place[2] + 1, layout.normal ? ", with normals" : "",
                  layout.comma ? ", decimal comma" : "");
  return {};
}

} // namespace

void splitFields(std::string_view line, char separator, std::vector<std::string_view>& fields) {
  fields.clear();
  if (separator != 0) {
    for (;;) {
      const auto end = line.find(separator);
      fields.push_back(trimmed(line.substr(0, end)));
      if (end == std::string_view::npos) break;
      line.remove_prefix(end + 1);
    }
    return;
  }
  std::size_t at = 0;
  const auto blank = [](char c) { return c == ' ' || c == '\t' || c == '\r'; };
  while (at < line.size()) {
    while (at < line.size() && blank(line[at]))
      ++at;
    const std::size_t begin = at;
    while (at < line.size() && !blank(line[at]))
      ++at;
    if (at > begin) fields.push_back(line.substr(begin, at - begin));
  }
}

std::optional<double> cloudFigure(std::string_view text, bool comma) {
  char buffer[64];
  if (text.starts_with('+')) text.remove_prefix(1);
  if (comma) {
    if (text.size() >= sizeof buffer || text.find('.') != std::string_view::npos) return {};
    std::copy(text.begin(), text.end(), buffer);
    std::replace(buffer, buffer + text.size(), ',', '.');
    text = {buffer, text.size()};
  }
  double v = 0;
  const auto [end, code] = std::from_chars(text.data(), text.data() + text.size(), v);
  if (code != std::errc{} || end != text.data() + text.size()) return {};
  return v;
}

Done readTextCloud(BlockReader& in, CloudFile& out) {
  auto head = in.head(1 << 16);
  if (!head) return pass(head.error());
  std::string_view text = *head;
  const bool mark = text.starts_with("\xef\xbb\xbf");
  if (mark) text.remove_prefix(3);
  if (text.starts_with("\xff\xfe") || text.starts_with("\xfe\xff"))
    return fail("{}: is UTF-16 text; save it as UTF-8.", in.label());
  const auto layout = layoutOf(text, in.label());
  if (!layout) return pass(layout.error());
  Tally tally;
  for (bool first = true;; first = false) {
    auto block = in.lines(kLinesBlock);
    if (!block) return pass(block.error());
    if (block->empty()) break;
    if (first && mark) block->erase(0, 3);
    auto pieces = piecesOf(*block);
    if (first) pieces.front().titles = layout->titles;
    tbb::parallel_for(std::size_t{0}, pieces.size(),
                      [&](std::size_t k) { readPiece(*layout, pieces[k]); });
    if (first && in.size() > block->size())
      out.cloud.points.reserve(static_cast<std::size_t>(
          1.02 * static_cast<double>(in.size()) / static_cast<double>(block->size()) *
          static_cast<double>(pieces.front().points.size() * pieces.size())));
    for (Piece& p : pieces) {
      if (p.unread > 0 && tally.unread == 0)
        tally.first_unread = tally.lines + p.first_unread + 1, tally.first_text = p.first_text;
      tally.unread += p.unread, tally.empty_places += p.empty_places, tally.lines += p.lines;
      out.cloud.points.insert(out.cloud.points.end(), p.points.begin(), p.points.end());
      out.cloud.normals.insert(out.cloud.normals.end(), p.normals.begin(), p.normals.end());
    }
    if (out.cloud.points.size() > kMostCloudPoints)
      return fail("{}: holds more than {} million points; thin it out.", in.label(),
                  kMostCloudPoints / 1000000);
  }
  return tell(*layout, tally, out);
}

} // namespace alder
