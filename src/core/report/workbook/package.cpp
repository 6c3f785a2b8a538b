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

ZipHandle openBytes(const std::string& bytes) {
  zip_error_t error;
  zip_error_init(&error);
  zip_source_t* source = zip_source_buffer_create(bytes.data(), bytes.size(), 0, &error);
  if (!source) return nullptr;
  zip_t* zip = zip_open_from_source(source, ZIP_RDONLY, &error);
  if (!zip) zip_source_free(source);
  return ZipHandle(zip);
}

// An entry as it is packed.
bool copyEntry(zip_t* from, zip_uint64_t entry, const char* name, zip_t* to) {
  zip_stat_t stat;
  if (zip_stat_index(from, entry, 0, &stat) != 0) return false;
  zip_source_t* source = zip_source_zip(to, from, entry, ZIP_FL_COMPRESSED, 0, -1);
  const zip_int64_t at = source ? zip_file_add(to, name, source, ZIP_FL_ENC_GUESS) : -1;
  if (at < 0) {
    if (source) zip_source_free(source);
    return false;
  }
  const auto made = static_cast<zip_uint64_t>(at);
  if (stat.comp_method == ZIP_CM_STORE) zip_set_file_compression(to, made, ZIP_CM_STORE, 0);
  zip_uint8_t system = 0;
  zip_uint32_t attributes = 0;
  return zip_file_get_external_attributes(from, entry, 0, &system, &attributes) != 0 ||
         zip_file_set_external_attributes(to, made, 0, system, attributes) == 0;
}

bool addEntry(zip_t* to, const char* name, const std::string& text) {
  zip_source_t* source = zip_source_buffer(to, text.data(), text.size(), 0);
  const zip_int64_t at = source ? zip_file_add(to, name, source, ZIP_FL_ENC_GUESS) : -1;
  if (at < 0) {
    if (source) zip_source_free(source);
    return false;
  }
  // A fixed time, so that the same part gives the same bytes.
  return zip_file_set_mtime(to, static_cast<zip_uint64_t>(at), 315532800 + 86400, 0) == 0;
}

} // namespace

Result<Package> Package::open(const std::string& bytes, const std::string& label) {
  Package package;
  package.label_ = label, package.bytes_ = bytes;
  const ZipHandle zip = openBytes(package.bytes_);
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
  const ZipHandle zip = openBytes(bytes_);
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

// Into a new archive: changing one in memory, the library may take the memory that it was given for
// its own (found by fuzzing with libzip 1.7.3).
Result<std::string> Package::packed() const {
  const ZipHandle from = openBytes(bytes_);
  zip_error_t error;
  zip_error_init(&error);
  zip_source_t* target = zip_source_buffer_create(nullptr, 0, 1, &error);
  ZipHandle zip(target ? zip_open_from_source(target, ZIP_CREATE | ZIP_TRUNCATE, &error) : nullptr);
  if (!from || !zip) {
    if (target && !zip) zip_source_free(target);
    return fail("{}: cannot be packed.", label_);
  }
  zip_source_keep(target);
  std::size_t written = 0;
  bool good = true;
  const auto count = static_cast<zip_uint64_t>(zip_get_num_entries(from.get(), 0));
  for (zip_uint64_t i = 0; good && i < count; ++i) {
    const char* name = zip_get_name(from.get(), i, 0);
    if (!name || std::find(removed_.begin(), removed_.end(), name) != removed_.end()) continue;
    const auto changed = changed_.find(name);
    written += changed != changed_.end();
    good = changed == changed_.end() ? copyEntry(from.get(), i, name, zip.get())
                                     : addEntry(zip.get(), name, changed->second);
  }
  good = good && written == changed_.size() && zip_close(zip.get()) == 0;
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
