#include "part/cad_kind.h"

#include <algorithm>
#include <array>
#include <cctype>
#include <cstdint>
#include <cstring>

namespace alder {
namespace {

constexpr std::size_t kHead = 4096; // where a file says what it is

bool isDigit(char c) {
  return c >= '0' && c <= '9';
}

// Lines of 80 columns, the last 8 of which are a letter of the section and a number.
bool isIges(std::string_view bytes) {
  const std::size_t end = bytes.find_first_of("\r\n");
  const std::string_view line = bytes.substr(0, end == std::string_view::npos ? 80 : end);
  return line.size() >= 80 && (line[72] == 'S' || line[72] == 'C') && isDigit(line[79]) &&
         std::all_of(line.begin() + 73, line.begin() + 80,
                     [](char c) { return c == ' ' || isDigit(c); });
}

bool isBinaryStl(std::string_view bytes) {
  constexpr std::size_t kHeader = 84, kTriangle = 50;
  if (bytes.size() < kHeader + kTriangle) return false;
  std::uint32_t count = 0;
  std::memcpy(&count, bytes.data() + 80, sizeof count);
  return bytes.size() == kHeader + kTriangle * static_cast<std::size_t>(count);
}

} // namespace

std::optional<CadKind> cadKindOf(std::string_view bytes) {
  const std::string_view head = bytes.substr(0, kHead);
  const auto has = [&](std::string_view mark) { return head.find(mark) != std::string_view::npos; };
  if (has("ISO-10303-21")) return CadKind::Step;
  if (has("DBRep_DrawableShape") || has("CASCADE Topology V")) return CadKind::Brep;
  if (head.starts_with("PK\x03\x04") && bytes.find("3D/") != std::string_view::npos)
    return CadKind::ThreeMf;
  if (head.starts_with("ply\n") || head.starts_with("ply\r")) return CadKind::Ply;
  if (isIges(head)) return CadKind::Iges;
  if (isBinaryStl(bytes) || (head.starts_with("solid") && has("facet"))) return CadKind::Stl;
  return {};
}

std::string_view name(CadKind kind) {
  static constexpr std::array<std::string_view, 6> kNames{"STEP", "IGES", "BREP",
                                                          "STL",  "PLY",  "3MF"};
  return kNames[static_cast<std::size_t>(kind)];
}

std::string_view ending(CadKind kind) {
  static constexpr std::array<std::string_view, 6> kEndings{".step", ".igs", ".brep",
                                                            ".stl",  ".ply", ".3mf"};
  return kEndings[static_cast<std::size_t>(kind)];
}

bool isMesh(CadKind kind) {
  return kind == CadKind::Stl || kind == CadKind::Ply || kind == CadKind::ThreeMf;
}

bool isPartEnding(std::string_view ending) {
  static constexpr std::array<std::string_view, 6> kAll{".step", ".stp",  ".igs",
                                                        ".iges", ".brep", ".brp"};
  return std::find(kAll.begin(), kAll.end(), ending) != kAll.end();
}

} // namespace alder
