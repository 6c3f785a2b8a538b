// PLY, text and binary of both byte orders (Turk, The PLY Polygon File Format, 1994). With faces it
// is a measured mesh.
#include "exchange/clouds/cloud_readers.h"

#include <algorithm>
#include <array>
#include <bit>
#include <cmath>
#include <cstring>
#include <sstream>

namespace alder {
namespace {

constexpr std::size_t kPlyBlock = 8 << 20, kPlyHead = 1 << 16, kMostOfList = 256;

enum class Scalar { Int8, UInt8, Int16, UInt16, Int32, UInt32, Float32, Float64 };

std::optional<Scalar> scalarNamed(const std::string& name) {
  struct Named {
    const char *old_name, *name;
    Scalar type;
  };
  for (const Named& n :
       {Named{"char", "int8", Scalar::Int8}, Named{"uchar", "uint8", Scalar::UInt8},
        Named{"short", "int16", Scalar::Int16}, Named{"ushort", "uint16", Scalar::UInt16},
        Named{"int", "int32", Scalar::Int32}, Named{"uint", "uint32", Scalar::UInt32},
        Named{"float", "float32", Scalar::Float32}, Named{"double", "float64", Scalar::Float64}})
    if (name == n.old_name || name == n.name) return n.type;
  return {};
}

constexpr std::array<std::size_t, 8> kSizes{1, 1, 2, 2, 4, 4, 4, 8};
std::size_t sizeOf(Scalar type) {
  return kSizes[static_cast<std::size_t>(type)];
}

struct Property {
  std::string name;
  Scalar type = Scalar::Float32;
  std::optional<Scalar> count; // of a list
};

struct PlyElement {
  std::string name;
  std::size_t count = 0;
  std::vector<Property> properties;
  int property(std::string_view wanted) const {
    for (std::size_t i = 0; i < properties.size(); ++i)
      if (properties[i].name == wanted && !properties[i].count) return static_cast<int>(i);
    return -1;
  }
};

enum class Form { Text, Little, Big };

struct Header {
  Form form = Form::Text;
  std::vector<PlyElement> elements;
  std::size_t size = 0; // bytes
  std::size_t lines = 0;
};

Result<Header> headerOf(const std::string& head, const std::string& label) {
  Header header;
  std::istringstream in(head);
  std::string line;
  bool formed = false;
  while (std::getline(in, line)) {
    ++header.lines;
    header.size = static_cast<std::size_t>(in.tellg() < 0 ? 0 : static_cast<long>(in.tellg()));
    if (!line.empty() && line.back() == '\r') line.pop_back();
    std::istringstream words(line);
    std::string what, first, second, third;
    words >> what >> first >> second >> third;
    const auto wrong = [&] {
      return fail("{}: line {}: \"{}\" is not understood; write the file as PLY again.", label,
                  header.lines, line.substr(0, 60));
    };
    if (what == "end_header") {
      if (!formed || header.size == 0) break;
      return header;
    }
    if (what == "format") {
      if (first == "ascii")
        header.form = Form::Text;
      else if (first == "binary_little_endian")
        header.form = Form::Little;
      else if (first == "binary_big_endian")
        header.form = Form::Big;
      else
        return wrong();
      formed = true;
    } else if (what == "element") {
      const auto count = cloudFigure(second, false);
      if (!count || *count < 0 || *count > 4e9 || *count != std::floor(*count)) return wrong();
      header.elements.push_back({first, static_cast<std::size_t>(*count), {}});
    } else if (what == "property") {
      if (header.elements.empty()) return wrong();
      Property p;
      if (first == "list") {
        std::string name;
        words >> name;
        const auto count = scalarNamed(second), type = scalarNamed(third);
        if (!count || !type || name.empty()) return wrong();
        p = {name, *type, *count};
      } else {
        const auto type = scalarNamed(first);
        if (!type || second.empty()) return wrong();
        p = {second, *type, {}};
      }
      header.elements.back().properties.push_back(std::move(p));
    }
  }
  return fail("{}: its PLY header has no end; write the file again.", label);
}

// Figures of the file one after the other, whatever its form.
class Figures {
 public:
  Figures(BlockReader& in, Form form)
      : in_(in)
      , form_(form) {}

  Done skip(std::size_t bytes) {
    auto head = in_.next(bytes);
    return head ? Done() : Done(pass(head.error()));
  }
  Result<double> next(Scalar type) {
    if (form_ == Form::Text) return nextText();
    const std::size_t size = sizeOf(type);
    if (auto done = need(size); !done) return pass(done.error());
    std::array<char, 8> raw{};
    std::copy_n(block_.data() + at_, size, raw.begin());
    at_ += size;
    if ((form_ == Form::Big) != (std::endian::native == std::endian::big))
      std::reverse(raw.begin(), raw.begin() + static_cast<long>(size));
    return valueOf(raw.data(), type);
  }
  bool ended() const { return ended_; }

 private:
  template <class T> static double as(const char* raw) {
    T v;
    std::memcpy(&v, raw, sizeof v);
    return static_cast<double>(v);
  }
  static double valueOf(const char* raw, Scalar type) {
    switch (type) {
    case Scalar::Int8:
      return as<std::int8_t>(raw);
    case Scalar::UInt8:
      return as<std::uint8_t>(raw);
    case Scalar::Int16:
      return as<std::int16_t>(raw);
    case Scalar::UInt16:
      return as<std::uint16_t>(raw);
    case Scalar::Int32:
      return as<std::int32_t>(raw);
    case Scalar::UInt32:
      return as<std::uint32_t>(raw);
    case Scalar::Float32:
      return as<float>(raw);
    default:
      return as<double>(raw);
    }
  }
  // At least so many bytes of the block lie ahead.
  Done need(std::size_t bytes) {
    if (block_.size() - at_ >= bytes) return {};
    std::string rest = block_.substr(at_);
    auto more = in_.next(kPlyBlock);
    if (!more) return pass(more.error());
    block_ = std::move(rest) + *more;
    at_ = 0;
    if (block_.size() >= bytes) return {};
    ended_ = true;
    return fail("ends too early");
  }
  Result<double> nextText() {
    const auto blank = [](char c) { return c == ' ' || c == '\t' || c == '\n' || c == '\r'; };
    for (;;) {
      while (at_ < block_.size() && blank(block_[at_]))
        ++at_;
      std::size_t end = at_;
      while (end < block_.size() && !blank(block_[end]))
        ++end;
      if (end < block_.size() || (all_read_ && end > at_)) {
        const std::string_view word(block_.data() + at_, end - at_);
        const auto v = cloudFigure(word, false);
        if (!v) return fail("\"{}\" is no number", word.substr(0, 40));
        at_ = end;
        return *v;
      }
      if (all_read_) {
        ended_ = true;
        return fail("ends too early");
      }
      if (end - at_ > kPlyHead) return fail("a word of more than {} characters", kPlyHead);
      std::string rest = block_.substr(at_);
      auto more = in_.next(kPlyBlock);
      if (!more) return pass(more.error());
      all_read_ = more->empty();
      block_ = std::move(rest) + *more;
      at_ = 0;
    }
  }

  BlockReader& in_;
  Form form_;
  std::string block_;
  std::size_t at_ = 0;
  bool all_read_ = false, ended_ = false;
};

class PlyReader {
 public:
  PlyReader(BlockReader& in, const Header& header, CloudFile& out)
      : in_(in)
      , header_(header)
      , out_(out)
      , figures_(in, header.form) {}

  Done run() {
    if (auto done = figures_.skip(header_.size); !done) return done;
    const auto has_faces = [](const PlyElement& e) { return e.name == "face" && e.count > 0; };
    mesh_ = std::any_of(header_.elements.begin(), header_.elements.end(), has_faces);
    bool points = false;
    for (const PlyElement& element : header_.elements) {
      if (element.name == "vertex") points = true;
      auto done = element.name == "vertex" ? vertices(element)
                  : element.name == "face" ? faces(element)
                  : wanted()               ? passOver(element)
                                           : Done();
      if (!done) return done;
    }
    if (!points) return fail("{}: has no vertices.", in_.label());
    if (mesh_) return sampleMesh(triangles_, in_.label(), out_);
    if (empty_ > 0)
      out_.notes.push_back(
          fmt::format("{} points are no numbers (nan) and were passed over.", empty_));
    return {};
  }

 private:
  // Of what follows, are points or faces?
  bool wanted() const { return !seen_vertices_ || (mesh_ && !seen_faces_); }

  Done because(const Error& e, const PlyElement& element, std::size_t i) const {
    if (e.code == ErrorCode::Cancelled) return pass(e);
    if (figures_.ended())
      return fail("{}: ends after {} of {} {}; write it anew.", in_.label(), i, element.count,
                  element.name == "face" ? "faces" : "points");
    return fail("{}: {} {}: {}.", in_.label(), element.name, i + 1, e.message);
  }

  // Where the values of one are not known yet, a missing one is what counts.
  Done row(const PlyElement& element, std::size_t i, std::vector<double>& values,
           std::vector<double>& list) {
    values.clear();
    list.clear();
    for (const Property& p : element.properties) {
      if (!p.count) {
        const auto v = figures_.next(p.type);
        if (!v) return because(v.error(), element, i);
        values.push_back(*v);
        continue;
      }
      values.push_back(0);
      const auto count = figures_.next(*p.count);
      if (!count) return because(count.error(), element, i);
      if (!(*count >= 0) || *count > kMostOfList)
        return fail("{}: {} {}: a list of {:g} entries; the file is damaged.", in_.label(),
                    element.name, i + 1, *count);
      const bool corners = p.name == "vertex_indices" || p.name == "vertex_index";
      for (int k = 0; k < static_cast<int>(*count); ++k) {
        const auto v = figures_.next(p.type);
        if (!v) return because(v.error(), element, i);
        if (corners) list.push_back(*v);
      }
    }
    return {};
  }

  Done passOver(const PlyElement& element) {
    std::vector<double> values, list;
    for (std::size_t i = 0; i < element.count; ++i)
      if (auto done = row(element, i, values, list); !done) return done;
    return {};
  }

  Done vertices(const PlyElement& element) {
    seen_vertices_ = true;
    const std::array<int, 3> place{element.property("x"), element.property("y"),
                                   element.property("z")},
        normal{element.property("nx"), element.property("ny"), element.property("nz")};
    if (*std::min_element(place.begin(), place.end()) < 0)
      return fail("{}: its vertices have no x, y and z.", in_.label());
    if (element.count > kMostCloudPoints)
      return fail("{}: holds more than {} million points; thin it out.", in_.label(),
                  kMostCloudPoints / 1000000);
    const bool normals = !mesh_ && *std::min_element(normal.begin(), normal.end()) >= 0;
    // What the header says may be wrong: no more memory than the file can fill.
    const std::size_t most = std::min<std::size_t>(element.count, in_.size() / 3);
    (mesh_ ? corners_ : out_.cloud.points).reserve(most);
    if (normals) out_.cloud.normals.reserve(most);
    std::vector<double> values, list;
    for (std::size_t i = 0; i < element.count; ++i) {
      if (auto done = row(element, i, values, list); !done) return done;
      const auto vector = [&](const std::array<int, 3>& of) {
        return Vec3(values[static_cast<std::size_t>(of[0])],
                    values[static_cast<std::size_t>(of[1])],
                    values[static_cast<std::size_t>(of[2])]);
      };
      const Vec3 p = vector(place);
      if (mesh_) {
        corners_.push_back(p);
      } else if (!p.allFinite()) {
        ++empty_;
      } else {
        out_.cloud.points.push_back(p);
        if (normals) out_.cloud.normals.push_back(vector(normal).normalized().cast<float>());
      }
    }
    static constexpr std::array<std::string_view, 3> kForms{"PLY, text", "PLY, binary",
                                                            "PLY, binary (big-endian)"};
    out_.form = std::string(kForms[static_cast<std::size_t>(header_.form)]) +
                (normals ? ", with normals" : "");
    return {};
  }

  Done faces(const PlyElement& element) {
    if (!mesh_ || !seen_vertices_) {
      if (mesh_) return fail("{}: its faces stand before its vertices.", in_.label());
      return passOver(element);
    }
    seen_faces_ = true;
    std::vector<double> values, list;
    for (std::size_t i = 0; i < element.count; ++i) {
      if (auto done = row(element, i, values, list); !done) return done;
      for (const double v : list)
        if (!(v >= 0) || v >= static_cast<double>(corners_.size()) || v != std::floor(v))
          return fail("{}: face {} names vertex {:g} of {}; the file is damaged.", in_.label(),
                      i + 1, v, corners_.size());
      for (std::size_t k = 2; k < list.size(); ++k) {
        const auto corner = [&](std::size_t of) {
          return corners_[static_cast<std::size_t>(list[of])];
        };
        triangles_.push_back({corner(0), corner(k - 1), corner(k)});
      }
    }
    return {};
  }

  BlockReader& in_;
  const Header& header_;
  CloudFile& out_;
  Figures figures_;
  bool mesh_ = false, seen_vertices_ = false, seen_faces_ = false;
  Points corners_;
  std::vector<Triangle> triangles_;
  std::size_t empty_ = 0;
};

} // namespace

Done readPlyCloud(BlockReader& in, CloudFile& out) {
  auto head = in.head(kPlyHead);
  if (!head) return pass(head.error());
  const auto header = headerOf(*head, in.label());
  if (!header) return pass(header.error());
  return PlyReader(in, *header, out).run();
}

} // namespace alder
