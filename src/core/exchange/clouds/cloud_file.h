// Files of points from scanners: text in columns, PLY, STL (as a measured mesh). Read piece by
// piece, so that a file may be larger than the memory.
#pragma once

#include "base/progress.h"
#include "cloud/point_cloud.h"
#include <filesystem>
#include <optional>
#include <string>
#include <vector>

namespace alder {

inline constexpr std::size_t kMostCloudPoints = 100'000'000;

// Lengths in such files are bare figures.
struct CloudUnit {
  std::string_view name; // "mm"
  double mm = 1;
};
const std::vector<CloudUnit>& cloudUnits();
std::optional<CloudUnit> cloudUnitNamed(std::string_view name);
// The unit by which the cloud is about as large as the part; nothing where none fits better than
// the others.
std::optional<CloudUnit> likelyUnit(const Box3& cloud, const Box3& part);

struct CloudFile {
  PointCloud cloud; // in the unit of the file
  std::string name; // without folders
  std::string form; // "text, columns 1, 2 and 3", "PLY, binary", "STL, binary"
  std::string hash;
  std::optional<CloudUnit> unit;  // where the file says it: in the titles of its columns
  std::vector<std::string> notes; // what was not read, and why
};

// Error in one line that names the file, the place in it and what to do. Never half a cloud: a file
// that ends too early is refused. `progress` tells the share that was read.
Result<CloudFile> readCloudFile(const std::filesystem::path& path, const Progress& progress = {});
// In memory, for tests.
Result<CloudFile> readCloudBytes(const std::string& bytes, const std::string& label);

} // namespace alder
