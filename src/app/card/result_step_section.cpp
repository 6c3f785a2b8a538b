// Steps that work out, judge and write something, or look after the tips.
#include "card/card.h"
#include "card/words.h"
#include "geometry/place_text.h"
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

void Card::stepFields(StepId id, const ConstructStep& s) {
  const Plan& plan = document_.plan();
  QStringList names;
  std::vector<FeatureId> features;
  int current = -1;
  for (const NominalFeature& f : plan.spec.features) {
    if (!f.isConstructed()) continue;
    if (f.id == s.feature) current = static_cast<int>(features.size());
    features.push_back(f.id);
    names << text(f.name);
  }
  choice("constructs", "constructWhat", names, current, [this, id, features](int index) {
    document_.changeStep(id, ConstructStep{features[static_cast<std::size_t>(index)]});
  });
  paragraph("It is worked out from what was measured by then. Where it cannot be, the operator is "
            "told and the run does not go on by itself.");
}

void Card::stepFields(StepId id, const QualifyStep& s) {
  choice("qualifies", "qualifyWhich",
         {"tips that need it", "all tips in use", "all, the sphere was moved"},
         s.sphere_moved ? 2
         : s.all        ? 1
                        : 0,
         [this, id, s](int index) {
           document_.changeStep(id, QualifyStep{index >= 1, index == 2, s.reported});
         });
  choice("in the report", "qualifyReported", {"no", "yes"}, s.reported ? 1 : 0,
         [this, id, s](int index) {
           document_.changeStep(id, QualifyStep{s.all, s.sphere_moved, index == 1});
         });
  if (!document_.plan().bench.has_sphere)
    paragraph("The bench has no reference sphere; the step does nothing.", "error");
  paragraph("Touches after it are corrected by what is found here.");
}

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

void Card::stepFields(StepId id, const BranchStep& s) {
  QStringList names;
  std::vector<RequirementId> requirements;
  int current = -1;
  for (const Requirement& r : document_.plan().spec.requirements) {
    if (r.id == s.requirement) current = static_cast<int>(requirements.size());
    requirements.push_back(r.id);
    names << QString("%1 %2").arg(r.balloon).arg(text(describe(document_.plan().spec, r)));
  }
  choice("if", "branchIf", names, current, [this, id, s, requirements](int index) {
    BranchStep changed = s;
    changed.requirement = requirements[static_cast<std::size_t>(index)];
    document_.changeStep(id, changed);
  });
  choice("is", "branchWhen", {"outside", "near its limit, or outside", "within"},
         static_cast<int>(s.when), [this, id, s](int index) {
           BranchStep changed = s;
           changed.when = static_cast<BranchWhen>(index);
           document_.changeStep(id, changed);
         });
  choice("then", "branchDoes",
         {"warn the operator", "leave out the rest of the group", "end the routine"},
         static_cast<int>(s.does), [this, id, s](int index) {
           BranchStep changed = s;
           changed.does = static_cast<BranchDoes>(index);
           document_.changeStep(id, changed);
         });
  paragraph("It is judged on what was measured by then; where that is not enough, the routine goes "
            "on.");
}

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
  stepLine("file", "outputFile", s.file, [this, id, s](const std::string& v) {
    OutputStep changed = s;
    changed.file = v;
    document_.changeStep(id, changed);
  });
  paragraph(
      "{routine} and {time} are filled in, and the answer to a question by its words, such as "
      "{Serial number}. The file goes beside the routine.");
}

// For what is selected, or else the first that there is.
BranchStep Card::likelyBranch() const {
  const auto& all = document_.plan().spec.requirements;
  BranchStep branch;
  if (document_.selection().requirement)
    branch.requirement = *document_.selection().requirement;
  else if (!all.empty())
    branch.requirement = all.front().id;
  return branch;
}

} // namespace alder::app
