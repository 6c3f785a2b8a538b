#include "report/workbook/package.h"

#include <algorithm>
#include <zip.h>

namespace alder {
namespace {

constexpr std::size_t kLargestPart = std::size_t{256} << 20; // bytes: beyond it is no sheet

struct ZipDiscard {
  void operator()(zip_t* zip) const { zip_discard(zip); }
};
using ZipHandle = std::unique_ptr<zip_t, ZipDiscard>;

// `source` is kept for the caller where it is asked for.
ZipHandle openBytes(const std::string& bytes, int flags, zip_source_t** kept = nullptr) {
  zip_error_t error;
  zip_error_init(&error);
  zip_source_t* source = zip_source_buffer_create(bytes.data(), bytes.size(), 0, &error);
  if (!source) return nullptr;
  zip_t* zip = zip_open_from_source(source, flags, &error);
  if (!zip) {
    zip_source_free(source);
    return nullptr;
  }
  if (kept) {
    zip_source_keep(source);
    *kept = source;
  }
  return ZipHandle(zip);
}

} // namespace

Result<Package> Package::open(const std::string& bytes, const std::string& label) {
  Package package;
  package.label_ = label, package.bytes_ = bytes;
  const ZipHandle zip = openBytes(package.bytes_, ZIP_RDONLY);
  if (!zip) return fail("{}: is no workbook (*.xlsx), is damaged, or has a password.", label);
  for (zip_int64_t i = 0; i < zip_get_num_entries(zip.get(), 0); ++i)
    if (const char* name = zip_get_name(zip.get(), static_cast<zip_uint64_t>(i), 0))
      package.names_.emplace_back(name);
  return package;
}

std::vector<std::string> Package::names() const {
  return names_;
}

bool Package::has(const std::string& name) const {
  return std::find(names_.begin(), names_.end(), name) != names_.end();
}

Result<std::string> Package::read(const std::string& name) const {
  if (const auto found = changed_.find(name); found != changed_.end()) return found->second;
  const ZipHandle zip = openBytes(bytes_, ZIP_RDONLY);
  zip_stat_t stat;
  if (!zip || zip_stat(zip.get(), name.c_str(), 0, &stat) != 0)
    return fail("{}: {} is missing in it; save it anew from a spreadsheet.", label_, name);
  if (stat.size > kLargestPart) return fail("{}: {} in it is too large.", label_, name);
  std::string text(stat.size, '\0');
  zip_file_t* file = zip_fopen(zip.get(), name.c_str(), 0);
  const bool whole =
      file && zip_fread(file, text.data(), text.size()) == static_cast<zip_int64_t>(text.size());
  // The sum of an entry is checked where its end is read.
  char more = 0;
  const bool good = whole && zip_fread(file, &more, 1) == 0;
  if (file) zip_fclose(file);
  if (!good) return fail("{}: {} in it is damaged.", label_, name);
  return text;
}

void Package::replace(const std::string& name, std::string text) {
  changed_[name] = std::move(text);
}

void Package::remove(const std::string& name) {
  removed_.push_back(name);
}

Result<std::string> Package::packed() const {
  zip_source_t* target = nullptr;
  ZipHandle zip = openBytes(bytes_, 0, &target);
  if (!zip) return fail("{}: cannot be packed.", label_);
  bool good = true;
  for (const std::string& name : removed_)
    if (const auto at = zip_name_locate(zip.get(), name.c_str(), 0); at >= 0)
      good &= zip_delete(zip.get(), static_cast<zip_uint64_t>(at)) == 0;
  for (const auto& [name, text] : changed_) {
    const auto at = zip_name_locate(zip.get(), name.c_str(), 0);
    zip_source_t* source = zip_source_buffer(zip.get(), text.data(), text.size(), 0);
    good &= at >= 0 && source &&
            zip_file_replace(zip.get(), static_cast<zip_uint64_t>(at), source, 0) == 0;
    // A fixed time, so that the same part gives the same bytes.
    if (at >= 0) zip_file_set_mtime(zip.get(), static_cast<zip_uint64_t>(at), 315532800 + 86400, 0);
  }
  good = good && zip_close(zip.get()) == 0;
  if (good) static_cast<void>(zip.release());
  std::string bytes;
  zip_stat_t stat;
  if (good && zip_source_stat(target, &stat) == 0 && zip_source_open(target) == 0) {
    bytes.resize(stat.size);
    good = zip_source_read(target, bytes.data(), bytes.size()) ==
           static_cast<zip_int64_t>(bytes.size());
    zip_source_close(target);
  }
  zip.reset();
  zip_source_free(target);
  if (!good || bytes.empty()) return fail("{}: cannot be packed.", label_);
  return bytes;
}

std::string relationsOf(const std::string& part) {
  const auto slash = part.rfind('/');
  return slash == std::string::npos
             ? "_rels/" + part + ".rels"
             : part.substr(0, slash) + "/_rels/" + part.substr(slash + 1) + ".rels";
}

std::string targetOf(const std::string& part, const std::string& target) {
  if (!target.empty() && target.front() == '/') return target.substr(1);
  const auto slash = part.rfind('/');
  std::string path = slash == std::string::npos ? target : part.substr(0, slash + 1) + target;
  for (std::size_t up = path.find("/../"); up != std::string::npos; up = path.find("/../")) {
    const std::size_t before = up == 0 ? std::string::npos : path.rfind('/', up - 1);
    path.erase(before == std::string::npos ? 0 : before + 1,
               up + 4 - (before == std::string::npos ? 0 : before + 1));
  }
  return path;
}

} // namespace alder
