#include "plan/part_header.h"

#include "sheet/drawing_file.h"
#include <algorithm>

namespace alder {
namespace {

struct FieldWords {
  HeaderField field;
  std::string_view name, words;
  std::string_view captions; // between bars, lower case
};
constexpr std::array<FieldWords, kHeaderFields> kFields{{
    {HeaderField::Number, "number", "Part number",
     "part number|part no|part no.|drawing number|drawing no|drawing no.|dwg no|dwg no.|"
     "zeichnungsnummer|zeichnungs-nr.|teilenummer|sachnummer|identnummer|numero de plan|"
     "document number|doc. no."},
    {HeaderField::Name, "name", "Part name",
     "title|part name|name|benennung|bezeichnung|titel|designation|denominazione|description"},
    {HeaderField::Revision, "revision", "Revision",
     "revision|rev|rev.|index|änderungsindex|revisionsindex|indice|rev no"},
    {HeaderField::Order, "order", "Order",
     "order|order no|order no.|auftrag|auftragsnummer|commande|po"},
    {HeaderField::Supplier, "supplier", "Supplier",
     "supplier|vendor|lieferant|fournisseur|manufacturer|hersteller"},
    {HeaderField::Customer, "customer", "Customer",
     "customer|client|kunde|owner|legal owner|company|firma|eigentümer"},
    {HeaderField::Material, "material", "Material",
     "material|werkstoff|matière|matiere|materiale|material spec"},
    {HeaderField::Processes, "processes", "Processes",
     "process|processes|heat treatment|wärmebehandlung|surface treatment|finish|oberfläche|"
     "treatment|coating"},
}};

} // namespace

std::string_view name(HeaderField field) {
  return kFields[static_cast<std::size_t>(field)].name;
}

std::string_view words(HeaderField field) {
  return kFields[static_cast<std::size_t>(field)].words;
}

std::optional<HeaderField> headerFieldOf(std::string_view caption) {
  std::string word(caption);
  std::transform(word.begin(), word.end(), word.begin(), [](unsigned char c) {
    return c < 128 ? static_cast<char>(std::tolower(c)) : static_cast<char>(c);
  });
  while (!word.empty() && (word.back() == ':' || word.back() == ' '))
    word.pop_back();
  for (const FieldWords& f : kFields)
    for (std::size_t at = 0; at <= f.captions.size() && !word.empty();) {
      const std::size_t end = std::min(f.captions.find('|', at), f.captions.size());
      if (f.captions.substr(at, end - at) == word) return f.field;
      at = end + 1;
    }
  return {};
}

bool AttachedDocument::operator==(const AttachedDocument& other) const {
  return name == other.name &&
         (bytes == other.bytes || (bytes && other.bytes && *bytes == *other.bytes));
}

Done validate(const PartHeader& header) {
  constexpr std::size_t kLongest = 400;
  for (std::size_t i = 0; i < kHeaderFields; ++i) {
    const std::string& text = header.fields[i];
    const bool odd = std::any_of(text.begin(), text.end(),
                                 [](char c) { return static_cast<unsigned char>(c) < 32; });
    if (odd || text.size() > kLongest)
      return fail("{}: one line of up to {} characters.", kFields[i].words, kLongest);
  }
  for (std::size_t i = 0; i < header.documents.size(); ++i) {
    const AttachedDocument& d = header.documents[i];
    if (auto good = validate(DrawingFile{d.name, d.bytes, {}, {}}); !good) return good;
    for (std::size_t k = 0; k < i; ++k)
      if (header.documents[k].name == d.name)
        return fail("{} is attached already; rename the file.", d.name);
  }
  return {};
}

} // namespace alder
