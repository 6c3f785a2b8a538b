// What is known of the part beside its geometry: asked once, kept in the routine, printed in
// reports. The serial number belongs to each measured part and is asked in the run.
#pragma once

#include "base/error.h"
#include <array>
#include <memory>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace alder {

enum class HeaderField { Number, Name, Revision, Order, Supplier, Customer, Material, Processes };
inline constexpr std::size_t kHeaderFields = 8;
std::string_view name(HeaderField field);  // in files: "number", "revision", ...
std::string_view words(HeaderField field); // "Part number"
// The field that a title block's caption names, in the languages of the shops; nothing: none.
std::optional<HeaderField> headerFieldOf(std::string_view caption);

// A certificate, a specification: the file as given, under its name.
struct AttachedDocument {
  std::string name;
  std::shared_ptr<const std::string> bytes;
  bool operator==(const AttachedDocument& other) const;
};

struct PartHeader {
  std::array<std::string, kHeaderFields> fields;
  std::vector<AttachedDocument> documents; // by name

  std::string& operator[](HeaderField f) { return fields[static_cast<std::size_t>(f)]; }
  const std::string& operator[](HeaderField f) const { return fields[static_cast<std::size_t>(f)]; }
  friend bool operator==(const PartHeader&, const PartHeader&) = default;
};

// Fields of one line; documents with names that files can have, once each, and not empty.
Done validate(const PartHeader& header);

} // namespace alder
