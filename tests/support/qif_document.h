// A QIF file as another program sees it: read, searched and validated by libxml2, with nothing of
// our own reader.
#pragma once

#include <memory>
#include <string>
#include <vector>

namespace alder::test {

class QifDocument {
 public:
  explicit QifDocument(const std::string& text);
  ~QifDocument();
  bool good() const; // is it XML at all
  // What docs/qif/alderpoint-qif3.xsd has against it, and lists whose `n` is not their count. A
  // line each; empty: valid.
  std::vector<std::string> faults() const;
  // Texts of what an XPath finds; elements of the name space of QIF as q:Name.
  std::vector<std::string> texts(const std::string& path) const;
  std::string text(const std::string& path) const;            // the first; empty: none
  std::vector<double> numbers(const std::string& path) const; // of the first, three or one

 private:
  struct Impl;
  std::unique_ptr<Impl> impl_;
};

} // namespace alder::test
