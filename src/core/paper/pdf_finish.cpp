#include "paper/pdf_finish.h"

#include <qpdf/QPDF.hh>
#include <qpdf/QPDFWriter.hh>
#include <set>

namespace alder {
namespace {

class FigureTexts {
 public:
  explicit FigureTexts(const std::vector<std::string>& texts)
      : texts_(texts) {}

  // Elements in the order of the document; kids are elements, numbers of marked content, or lists.
  void walk(QPDFObjectHandle node) {
    if (node.isArray()) {
      for (int i = 0; i < node.getArrayNItems(); ++i)
        walk(node.getArrayItem(i));
      return;
    }
    if (!node.isDictionary() || !seen_.insert(node.getObjGen()).second) return;
    if (node.getKey("/S").isNameAndEquals("/Figure") && next_ < texts_.size())
      node.replaceKey("/Alt", QPDFObjectHandle::newUnicodeString(texts_[next_++]));
    if (node.hasKey("/K")) walk(node.getKey("/K"));
  }

 private:
  const std::vector<std::string>& texts_;
  std::size_t next_ = 0;
  std::set<QPDFObjGen> seen_;
};

} // namespace

Result<std::string> finishedPdf(const std::string& bytes, const std::vector<std::string>& figures) {
  try {
    QPDF pdf;
    pdf.processMemoryFile("report", bytes.data(), bytes.size());
    QPDFObjectHandle root = pdf.getRoot();
    QPDFObjectHandle marked = QPDFObjectHandle::newDictionary();
    marked.replaceKey("/Marked", QPDFObjectHandle::newBool(true));
    root.replaceKey("/MarkInfo", marked);
    root.replaceKey("/Lang", QPDFObjectHandle::newString("en"));
    QPDFObjectHandle shown = QPDFObjectHandle::newDictionary();
    shown.replaceKey("/DisplayDocTitle", QPDFObjectHandle::newBool(true));
    root.replaceKey("/ViewerPreferences", shown);
    if (root.hasKey("/StructTreeRoot"))
      FigureTexts(figures).walk(root.getKey("/StructTreeRoot").getKey("/K"));
    QPDFWriter writer(pdf);
    writer.setOutputMemory();
    writer.setObjectStreamMode(qpdf_o_generate);
    writer.setDeterministicID(true);
    writer.write();
    const auto out = writer.getBufferSharedPointer();
    return std::string(reinterpret_cast<const char*>(out->getBuffer()), out->getSize());
  } catch (const std::exception& e) { // our own file: none is expected
    return fail("The PDF cannot be finished: {}.", e.what());
  }
}

} // namespace alder
