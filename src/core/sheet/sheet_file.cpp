#include "sheet/sheet_file.h"

#include <algorithm>
#include <cmath>
#include <cstring>
#include <sstream>

namespace alder {
namespace {

const ReaderProgram& sheetReader() {
  static const ReaderProgram it{"alderpoint-sheet", "drawings", "the PDF library",
                                "export or print it again as PDF"};
  return it;
}

// Figures and texts one after the other; both programs are of one build.
class Writer {
 public:
  template <class T> void put(const T& value) {
    const auto* bytes = reinterpret_cast<const char*>(&value);
    bytes_.append(bytes, sizeof value);
  }
  void put(const Vec2& v) { put(v.x()), put(v.y()); }
  void text(const std::string& s) {
    put(static_cast<std::uint32_t>(s.size()));
    bytes_ += s;
  }
  template <class T, class One> void all(const std::vector<T>& values, const One& one) {
    put(static_cast<std::uint32_t>(values.size()));
    for (const T& v : values)
      one(v);
  }
  std::string take() { return std::move(bytes_); }

 private:
  std::string bytes_;
};

class Taker {
 public:
  explicit Taker(const std::string& bytes)
      : bytes_(bytes) {}
  template <class T> T get() {
    T value{};
    if (at_ + sizeof value > bytes_.size()) {
      short_ = true;
      return value;
    }
    std::memcpy(&value, bytes_.data() + at_, sizeof value);
    at_ += sizeof value;
    return value;
  }
  Vec2 vec() {
    const double x = get<double>();
    return {x, get<double>()};
  }
  std::string text() {
    const auto size = get<std::uint32_t>();
    if (at_ + size > bytes_.size()) {
      short_ = true;
      return {};
    }
    at_ += size;
    return bytes_.substr(at_ - size, size);
  }
  template <class T, class One> void all(std::vector<T>& values, const One& one) {
    const auto count = get<std::uint32_t>();
    for (std::uint32_t i = 0; i < count && !short_; ++i)
      values.push_back(one());
  }
  bool isShort() const { return short_; }

 private:
  const std::string& bytes_;
  std::size_t at_ = 0;
  bool short_ = false;
};

void putSize(Writer& out, const SheetSize& size) {
  out.put(size.width), out.put(size.height);
}

SheetSize takeSize(Taker& in) {
  const double width = in.get<double>();
  return {width, in.get<double>()};
}

tl::unexpected<Error> handedShort() {
  return fail("the reader of drawings handed over too little; install the program again.");
}

} // namespace

std::string sizesToBytes(const std::vector<SheetSize>& sizes) {
  Writer out;
  out.all(sizes, [&](const SheetSize& s) { putSize(out, s); });
  return out.take();
}

std::string sheetsToBytes(const std::vector<DrawingSheet>& sheets) {
  Writer out;
  out.all(sheets, [&](const DrawingSheet& s) {
    putSize(out, s.size);
    out.put(s.cut);
    out.all(s.characters, [&](const Character& c) {
      out.text(c.text), out.put(c.at), out.put(c.advance), out.put(c.angle), out.put(c.size);
      out.put(c.scanned);
    });
    out.all(s.paths, [&](const SheetPath& p) {
      out.all(p.points, [&](const Vec2& v) { out.put(v); });
      out.put(p.closed), out.put(p.filled), out.put(p.curved), out.put(p.dashed);
      out.put(p.width);
    });
    out.all(s.pictures, [&](const PictureBox& b) {
      out.put(b.low), out.put(b.high), out.put(b.width), out.put(b.height);
    });
  });
  return out.take();
}

Result<std::vector<DrawingSheet>> sheetsFromBytes(const std::string& bytes) {
  Taker in(bytes);
  std::vector<DrawingSheet> sheets;
  in.all(sheets, [&] {
    DrawingSheet s;
    s.size = takeSize(in);
    s.cut = in.get<bool>();
    in.all(s.characters, [&] {
      Character c;
      c.text = in.text(), c.at = in.vec(), c.advance = in.get<double>();
      c.angle = in.get<double>(), c.size = in.get<double>(), c.scanned = in.get<bool>();
      return c;
    });
    in.all(s.paths, [&] {
      SheetPath p;
      in.all(p.points, [&] { return in.vec(); });
      p.closed = in.get<bool>(), p.filled = in.get<bool>(), p.curved = in.get<bool>();
      p.dashed = in.get<bool>(), p.width = in.get<double>();
      return p;
    });
    in.all(s.pictures, [&] {
      PictureBox b;
      b.low = in.vec(), b.high = in.vec(), b.width = in.get<int>(), b.height = in.get<int>();
      return b;
    });
    return s;
  });
  const bool odd = std::any_of(sheets.begin(), sheets.end(), [](const DrawingSheet& s) {
    return !std::isfinite(s.size.width + s.size.height) ||
           std::any_of(s.characters.begin(), s.characters.end(),
                       [](const Character& c) {
                         return !std::isfinite(c.at.sum() + c.advance + c.angle + c.size);
                       }) ||
           std::any_of(s.paths.begin(), s.paths.end(), [](const SheetPath& p) {
             return !std::isfinite(p.width) ||
                    std::any_of(p.points.begin(), p.points.end(),
                                [](const Vec2& v) { return !std::isfinite(v.sum()); });
           });
  });
  if (in.isShort() || odd) return handedShort();
  return sheets;
}

std::string pictureToBytes(const SheetPicture& picture) {
  Writer out;
  out.put(picture.width), out.put(picture.height);
  std::string bytes = out.take();
  bytes.append(picture.rgb.begin(), picture.rgb.end());
  return bytes;
}

// A line each: page, text, key, radius, centre, leader.
std::string marksToText(const std::vector<BalloonMark>& marks) {
  std::string text;
  for (const BalloonMark& m : marks)
    text += fmt::format("{} {} {} {} {} {} {} {} {} {} {}\n", m.page, m.text, m.key ? 1 : 0,
                        m.members, m.radius, m.centre.x(), m.centre.y(), m.leader_from.x(),
                        m.leader_from.y(), m.leader_to.x(), m.leader_to.y());
  return text;
}

Result<std::vector<BalloonMark>> marksFromText(const std::string& text) {
  std::vector<BalloonMark> marks;
  std::istringstream lines(text);
  for (std::string line; std::getline(lines, line);) {
    std::istringstream in(line);
    BalloonMark m;
    in >> m.page >> m.text >> m.key >> m.members >> m.radius >> m.centre.x() >> m.centre.y() >>
        m.leader_from.x() >> m.leader_from.y() >> m.leader_to.x() >> m.leader_to.y();
    if (!in) return handedShort();
    marks.push_back(std::move(m));
  }
  return marks;
}

Result<std::string> drawBalloons(const std::string& bytes, const std::string& label,
                                 const std::vector<BalloonMark>& marks, const Progress& progress) {
  return readApart(sheetReader(), bytes, label, {"balloons", marksToText(marks)}, progress);
}

Result<std::vector<SheetSize>> sheetsOf(const std::string& bytes, const std::string& label,
                                        const Progress& progress) {
  auto answer = readApart(sheetReader(), bytes, label, {"pages"}, progress);
  if (!answer) return pass(answer.error());
  Taker in(*answer);
  std::vector<SheetSize> sizes;
  in.all(sizes, [&] { return takeSize(in); });
  if (in.isShort()) return handedShort();
  return sizes;
}

Result<std::vector<DrawingSheet>> readSheets(const std::string& bytes, const std::string& label,
                                             int first, int last, const Progress& progress) {
  auto answer = readApart(sheetReader(), bytes, label,
                          {"sheets", std::to_string(first), std::to_string(last)}, progress);
  if (!answer) return pass(answer.error());
  return sheetsFromBytes(*answer);
}

Result<SheetPicture> drawSheet(const std::string& bytes, const std::string& label, int page,
                               double dots_per_inch, const Progress& progress) {
  auto answer =
      readApart(sheetReader(), bytes, label,
                {"picture", std::to_string(page), fmt::format("{}", dots_per_inch)}, progress);
  if (!answer) return pass(answer.error());
  Taker in(*answer);
  SheetPicture picture;
  picture.width = in.get<int>(), picture.height = in.get<int>();
  const std::size_t head = 2 * sizeof(int);
  const auto pixels =
      3 * static_cast<std::size_t>(picture.width) * static_cast<std::size_t>(picture.height);
  if (in.isShort() || picture.width <= 0 || picture.height <= 0 || answer->size() != head + pixels)
    return handedShort();
  picture.rgb.assign(answer->begin() + head, answer->end());
  return picture;
}

} // namespace alder
