// A step that writes a file.
#include "card/card.h"
#include "report/report_file.h"

namespace alder::app {

void Card::stepFields(StepId id, const OutputStep& s) {
  choice("writes", "outputKind", {"measured points", "verdicts", "report"},
         static_cast<int>(s.kind), [this, id, s](int index) {
           OutputStep changed = s;
           changed.kind = static_cast<OutputKind>(index);
           const auto dot = changed.file.rfind('.');
           if (dot != std::string::npos && changed.file.find('}', dot) == std::string::npos)
             changed.file.resize(dot);
           changed.file += changed.kind == OutputKind::Report ? ".pdf" : ".csv";
           document_.changeStep(id, changed);
         });
  if (s.kind == OutputKind::Report) {
    QStringList names;
    int chosen = 0;
    const auto layouts = layoutsFor(document_.plan());
    const std::string now = s.layout.empty() ? "full" : s.layout;
    for (std::size_t i = 0; i < layouts.size(); ++i) {
      names << QString::fromStdString(layouts[i]);
      if (layouts[i] == now) chosen = static_cast<int>(i);
    }
    choice("layout", "outputLayout", names, chosen, [this, id, s, layouts](int index) {
      OutputStep changed = s;
      changed.layout = layouts[static_cast<std::size_t>(index)];
      if (isWorkbookTemplate(document_.plan(), changed.layout) &&
          !changed.file.ends_with(".xlsx")) {
        const auto dot = changed.file.rfind('.');
        if (dot != std::string::npos && changed.file.find('}', dot) == std::string::npos)
          changed.file.resize(dot);
        changed.file += ".xlsx";
      }
      document_.changeStep(id, changed);
    });
  }
  stepLine("file", "outputFile", s.file, [this, id, s](const std::string& v) {
    OutputStep changed = s;
    changed.file = v;
    document_.changeStep(id, changed);
  });
  paragraph(
      "{routine} and {time} are filled in, and the answer to a question by its words, such as "
      "{Serial number}. The file goes beside the routine.");
}

StepOffer Card::offerOf(const Document&, const OutputStep*) {
  return {9,  "Write a file", "insertOutput", "Insert writing a file", "insertOutputStep",
          "", OutputStep{}};
}

} // namespace alder::app
