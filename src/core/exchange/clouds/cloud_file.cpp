#include "exchange/clouds/cloud_file.h"

#include "exchange/clouds/cloud_readers.h"
#include <algorithm>
#include <cmath>
#include <cstring>

namespace alder {
namespace {

constexpr std::size_t kFormHead = 1 << 16;

bool isBinaryStl(const std::string& head, std::uintmax_t size) {
  if (head.size() < 84) return false;
  std::uint32_t count = 0;
  std::memcpy(&count, head.data() + 80, 4);
  if (size == 84 + std::uintmax_t{50} * count) return true;
  // Cut short, or with something behind it: no text holds zeros.
  return head.find('\0') != std::string::npos && head.starts_with("solid");
}

bool isTextStl(const std::string& head) {
  return head.starts_with("solid") && head.find("facet") != std::string::npos;
}

Result<CloudFile> read(BlockReader in) {
  auto head = in.head(kFormHead);
  if (!head) return pass(head.error());
  const std::string& label = in.label();
  if (head->empty()) return fail("{}: is empty.", label);
  CloudFile file;
  file.name = label;
  Done done;
  if (head->starts_with("ply\n") || head->starts_with("ply\r"))
    done = readPlyCloud(in, file);
  else if (head->starts_with("ASTM-E57"))
    return fail("{}: is an E57 file, which cannot be read here; save its points as PLY or as text.",
                label);
  else if (head->starts_with("ISO-10303"))
    return fail("{}: is a STEP file, not points that were measured.", label);
  else if (isBinaryStl(*head, in.size()))
    done = readStlCloud(in, file, false);
  else if (isTextStl(*head))
    done = readStlCloud(in, file, true);
  else if (head->find('\0') != std::string::npos)
    return fail("{}: is neither text nor PLY nor STL; save the points in one of these.", label);
  else
    done = readTextCloud(in, file);
  if (!done) return pass(done.error());
  if (file.cloud.points.empty()) return fail("{}: holds no points.", label);
  // What follows counts for the hash too.
  for (;;) {
    auto rest = in.next(1 << 20);
    if (!rest) return pass(rest.error());
    if (rest->empty()) break;
  }
  file.hash = hashText(in.hash());
  return file;
}

} // namespace

const std::vector<CloudUnit>& cloudUnits() {
  static const std::vector<CloudUnit> units{
      {"mm", 1}, {"in", 25.4}, {"m", 1000}, {"cm", 10}, {"um", 0.001}};
  return units;
}

std::optional<CloudUnit> cloudUnitNamed(std::string_view name) {
  for (const CloudUnit& u : cloudUnits())
    if (u.name == name) return u;
  return {};
}

std::optional<CloudUnit> likelyUnit(const Box3& cloud, const Box3& part) {
  const double ratio = cloud.sizes().norm() / part.sizes().norm();
  if (!(ratio > 0) || !std::isfinite(ratio)) return {};
  std::optional<CloudUnit> best;
  double least = std::log(3.0); // a cloud may show some of the part, or the table too
  for (const CloudUnit& u : cloudUnits()) {
    // A centimetre is too near an inch to be told from it by size.
    if (u.name == "cm") continue;
    if (const double off = std::abs(std::log(ratio * u.mm)); off < least) least = off, best = u;
  }
  return best;
}

Result<CloudFile> readCloudFile(const std::filesystem::path& path, const Progress& progress) {
  auto in = BlockReader::open(path, progress);
  if (!in) return pass(in.error());
  return read(std::move(*in));
}

Result<CloudFile> readCloudBytes(const std::string& bytes, const std::string& label) {
  return read(BlockReader::inMemory(bytes, label));
}

} // namespace alder
