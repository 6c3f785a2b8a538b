// A step that judges what was measured by then.
#include "card/card.h"
#include "card/words.h"
#include <algorithm>

namespace alder::app {
namespace {

QString balloonsText(const Specification& spec, const std::vector<RequirementId>& requirements) {
  QStringList numbers;
  for (RequirementId id : requirements)
    numbers << QString::number(spec.requirement(id).balloon);
  return numbers.join(", ");
}

} // namespace

void Card::stepFields(StepId id, const EvaluateStep& s) {
  stepLine("requirements", "evaluateWhich",
           balloonsText(document_.plan().spec, s.requirements).toStdString(),
           [this, id](const std::string& v) {
             EvaluateStep changed;
             for (const QString& word : text(v).split(',', Qt::SkipEmptyParts)) {
               bool ok = false;
               const int number = word.trimmed().toInt(&ok);
               const auto& all = document_.plan().spec.requirements;
               const auto found = std::find_if(all.begin(), all.end(), [&](const Requirement& r) {
                 return ok && r.balloon == number;
               });
               if (found != all.end()) {
                 changed.requirements.push_back(found->id);
                 continue;
               }
               emit document_.message(
                   QString("“%1” is not the number of a requirement").arg(word.trimmed()), true);
               return;
             }
             document_.changeStep(id, changed);
           });
  paragraph("Numbers parted by commas; none: all whose features are measured by then. The operator "
            "sees the verdicts.");
}

StepOffer Card::offerOf(const Document&, const EvaluateStep*) {
  return {7,
          "Evaluate",
          "insertEvaluate",
          "Insert evaluating what is measured",
          "insertEvaluateStep",
          "",
          EvaluateStep{}};
}

} // namespace alder::app
