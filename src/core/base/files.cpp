#include "base/files.h"

#include <cerrno>
#include <cstdlib>
#include <cstring>
#include <fstream>
#include <sstream>

namespace alder {
namespace fs = std::filesystem;

Result<std::string> readFile(const fs::path& path) {
  std::error_code code;
  if (!fs::exists(path, code)) return fail("{}: no such file; check the name.", path.string());
  if (fs::is_directory(path, code)) return fail("{}: is a folder, not a file.", path.string());
  std::ifstream in(path, std::ios::binary);
  if (!in) return fail("{}: cannot be read ({}).", path.string(), std::strerror(errno));
  std::ostringstream bytes;
  bytes << in.rdbuf();
  return bytes.str();
}

Done writeFile(const fs::path& path, std::string_view bytes) {
  fs::path part = path;
  part += ".part";
  {
    std::ofstream out(part, std::ios::binary | std::ios::trunc);
    out.write(bytes.data(), static_cast<std::streamsize>(bytes.size()));
    out.flush();
    if (!out) {
      std::error_code ignored;
      fs::remove(part, ignored);
      return fail("{}: cannot be written; check the folder and the space left.", path.string());
    }
  }
  std::error_code code;
  fs::rename(part, path, code);
  if (code) {
    std::error_code ignored;
    fs::remove(part, ignored);
    return fail("{}: cannot be replaced ({}).", path.string(), code.message());
  }
  return {};
}

namespace {

fs::path programFolder() {
  std::error_code code;
  return fs::read_symlink("/proc/self/exe", code).parent_path();
}

} // namespace

fs::path dataFolder() {
  if (const char* given = std::getenv("ALDERPOINT_DATA")) return given;
  return programFolder().parent_path() / "share" / "alderpoint";
}

fs::path programBeside(const std::string& name) {
  return programFolder() / name;
}

} // namespace alder
