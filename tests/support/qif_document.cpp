#include "qif_document.h"

#include "base/files.h"
#include "support.h"
#include <array>
#include <cstdarg>
#include <fmt/format.h>
#include <libxml/parser.h>
#include <libxml/xmlschemas.h>
#include <libxml/xpath.h>
#include <libxml/xpathInternals.h>
#include <sstream>

namespace alder::test {
namespace {

struct FreeDoc {
  void operator()(xmlDoc* doc) const { xmlFreeDoc(doc); }
};

void told(void* faults, const char* format, ...) {
  std::array<char, 1000> text{};
  va_list arguments;
  va_start(arguments, format);
  std::vsnprintf(text.data(), text.size(), format, arguments);
  va_end(arguments);
  static_cast<std::vector<std::string>*>(faults)->emplace_back(text.data());
}

// Read once; it does not change.
xmlSchema* schema() {
  static xmlSchema* const kSchema = [] {
    std::vector<std::string> faults;
    const std::string path = (dataFolder() / "docs" / "qif" / "alderpoint-qif3.xsd").string();
    xmlSchemaParserCtxt* parser = xmlSchemaNewParserCtxt(path.c_str());
    xmlSchemaSetParserErrors(parser, told, told, &faults);
    xmlSchema* read = xmlSchemaParse(parser);
    xmlSchemaFreeParserCtxt(parser);
    for (const std::string& fault : faults)
      qWarning("%s", fault.c_str());
    return read;
  }();
  return kSchema;
}

} // namespace

struct QifDocument::Impl {
  std::unique_ptr<xmlDoc, FreeDoc> doc;
};

QifDocument::QifDocument(const std::string& text)
    : impl_(std::make_unique<Impl>()) {
  impl_->doc.reset(xmlReadMemory(text.data(), static_cast<int>(text.size()), "made.qif", nullptr,
                                 XML_PARSE_NOERROR | XML_PARSE_NOWARNING | XML_PARSE_HUGE));
}

QifDocument::~QifDocument() = default;

bool QifDocument::good() const {
  return impl_->doc != nullptr;
}

std::vector<std::string> QifDocument::faults() const {
  if (!good()) return {"it is no XML"};
  if (!schema()) return {"the schema cannot be read"};
  std::vector<std::string> faults;
  xmlSchemaValidCtxt* check = xmlSchemaNewValidCtxt(schema());
  xmlSchemaSetValidErrors(check, told, told, &faults);
  const int result = xmlSchemaValidateDoc(check, impl_->doc.get());
  xmlSchemaFreeValidCtxt(check);
  if (result != 0 && faults.empty()) faults.emplace_back("not valid");
  for (const std::string& n : texts("//*[@n and @n != count(*)]/@n"))
    faults.push_back("a list says that it holds " + n);
  const auto most = texts("//*[@id > /q:QIFDocument/@idMax]/@id");
  if (!most.empty()) faults.push_back("idMax is below " + most.front());
  return faults;
}

std::vector<std::string> QifDocument::texts(const std::string& path) const {
  std::vector<std::string> found;
  if (!good()) return found;
  xmlXPathContext* context = xmlXPathNewContext(impl_->doc.get());
  xmlXPathRegisterNs(context, BAD_CAST "q", BAD_CAST "http://qifstandards.org/xsd/qif3");
  xmlXPathObject* result = xmlXPathEvalExpression(BAD_CAST path.c_str(), context);
  if (!result) qFatal("%s is no XPath", path.c_str());
  for (int i = 0; result->nodesetval && i < result->nodesetval->nodeNr; ++i) {
    xmlChar* content = xmlNodeGetContent(result->nodesetval->nodeTab[i]);
    found.emplace_back(reinterpret_cast<const char*>(content));
    xmlFree(content);
  }
  xmlXPathFreeObject(result);
  xmlXPathFreeContext(context);
  return found;
}

std::string QifDocument::text(const std::string& path) const {
  const auto all = texts(path);
  return all.empty() ? std::string() : all.front();
}

std::vector<double> QifDocument::numbers(const std::string& path) const {
  std::istringstream in(text(path));
  std::vector<double> numbers;
  for (double v = 0; in >> v;)
    numbers.push_back(v);
  return numbers;
}

} // namespace alder::test
