// Each characteristic over the measured parts: number, mean, spread and capability.
#include "exchange/qif/qif_words.h"
#include "exchange/qif/qif_writing.h"

#include "judge/part_history.h"

namespace alder::qif {

void writeStatistics(Writing& w, Node root, const std::vector<WrittenPart>& parts) {
  constexpr std::size_t kFewest = 2; // parts
  if (parts.size() < kFewest) return;
  Node study = add(add(root, "Statistics"), "StatisticalStudyResults");
  study.append_attribute("id").set_value(w.ids.fresh());
  add(study, "Description", "Capability and performance by ISO 22514-2 for a normal distribution.");
  add(study, "NumberOfParts", std::to_string(parts.size()));
  const Node list = add(study, "CharacteristicsStats");
  for (const Requirement& r : w.plan.spec.requirements) {
    std::vector<double> figures;
    for (const WrittenPart& part : parts)
      if (const Evaluation* e = evaluationOf(part.evaluations, r.id); e && e->actual)
        figures.push_back(*e->actual);
    if (figures.empty()) continue;
    const PartHistory history = historyOf(r, figures);
    Node node =
        add(list, (std::string(stemOf(w.plan.spec, r).name) + "CharacteristicStats").c_str());
    add(node, "CharacteristicItemId", std::to_string(w.ids.of(Thing::CharacteristicItem, r.id)));
    add(node, "NumberOfMeasurements", std::to_string(history.count));
    add(node, "Mean", shownFigure(r, history.mean));
    add(node, "Minimum", shownFigure(r, history.lowest));
    add(node, "Maximum", shownFigure(r, history.highest));
    if (figures.size() >= kFewest) add(node, "StandardDeviation", shownFigure(r, history.spread));
    const auto index = [&](const char* name, const std::optional<Index>& i) {
      if (i) add(node, name, i->value);
    };
    index("Cp", history.cp);
    index("Cpk", history.cpk);
    index("Pp", history.pp);
    index("Ppk", history.ppk);
  }
  setCount(list);
}

} // namespace alder::qif
