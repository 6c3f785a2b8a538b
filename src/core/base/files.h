// Whole files in and out. Writing goes to a new file beside the target, which is then renamed, so
// that a full disk or a crash never leaves half a file.
#pragma once

#include "base/error.h"
#include <filesystem>
#include <string>
#include <string_view>

namespace alder {

Result<std::string> readFile(const std::filesystem::path& path);
Done writeFile(const std::filesystem::path& path, std::string_view bytes);

// Folder that holds assets/ and demo/data/: beside the installed program, else where it was built;
// the environment variable ALDERPOINT_DATA comes first.
std::filesystem::path dataFolder();

} // namespace alder
