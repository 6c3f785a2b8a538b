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

// Folder that holds assets/, demo/data/ and docs/: share/alderpoint beside the folder of the program,
// installed or built; the environment variable ALDERPOINT_DATA comes first.
std::filesystem::path dataFolder();
// A program of Alderpoint, which all stand in one folder.
std::filesystem::path programBeside(const std::string& name);

} // namespace alder
