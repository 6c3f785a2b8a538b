// A step that uses a part frame: how it is found, and what of the part can still move.
#include "card/card.h"
#include "card/fields.h"
#include "card/words.h"
#include "plan/frame_fit.h"

namespace alder::app {

void Card::stepFields(StepId, const UseFrameStep& s) {
  const PartFrame* found = document_.plan().frame(s.frame);
  if (!found) {
    paragraph("There is no frame " + text(s.frame) + "; the step does nothing.", "error");
    return;
  }
  const PartFrame frame = *found;
  const auto change = [this, frame](const std::function<void(PartFrame&)>& how) {
    PartFrame changed = frame;
    how(changed);
    document_.changeFrame(frame.name, changed);
  };
  stepLine("name", "frameName", frame.name,
           [change](const std::string& v) { change([&](PartFrame& f) { f.name = v; }); });
  choice("found", "frameFit",
         {"one after the other", "all together, least squares", "all together, least worst"},
         static_cast<int>(frame.fit), [change](int index) {
           change([&](PartFrame& f) { f.fit = static_cast<FrameFit>(index); });
         });
  if (frame.fit != FrameFit::InOrder)
    stepLine("held", "frameHeld", frame.held,
             [change](const std::string& v) { change([&](PartFrame& f) { f.held = v; }); });
  frameStages(frame);
  const auto free = leftFree(document_.plan(), frame);
  if (free)
    figureRow("Can still move", text(freedomInWords(*free)));
  else
    paragraph(text(free.error().message) + ".", "error");
  head("Set to other places");
  for (int k = 0; k < 3; ++k)
    quantity(QString("shift %1").arg("XYZ"[k]), QString("frameShift%1").arg(k).toLatin1(),
             Quantity::Length, 3, frame.shift[k],
             [change, k](double v) { change([&](PartFrame& f) { f.shift[k] = v; }); });
  for (int k = 0; k < 3; ++k)
    quantity(QString("turn %1").arg("XYZ"[k]), QString("frameTurn%1").arg(k).toLatin1(),
             Quantity::Angle, 3, frame.turn[k],
             [change, k](double v) { change([&](PartFrame& f) { f.turn[k] = v; }); });
  paragraph("From here on the machine takes the part to lie where this frame says, and what is "
            "measured counts in it. Letters: x y z along, u v w about the axes of the model.");
}

void Card::frameStages(const PartFrame& frame) {
  const auto change = [this, frame](const std::function<void(PartFrame&)>& how) {
    PartFrame changed = frame;
    how(changed);
    document_.changeFrame(frame.name, changed);
  };
  head(frame.fit == FrameFit::InOrder ? "Found from, in order" : "Found from");
  for (std::size_t i = 0; i < frame.stages.size(); ++i) {
    QString names;
    for (FeatureId id : frame.stages[i].features)
      names += (names.isEmpty() ? "" : ", ") + text(document_.plan().nominal(id).name);
    figureRow(QString::number(i + 1), names);
    if (frame.fit == FrameFit::InOrder)
      stepLine("fixes", QString("frameLocks%1").arg(i).toLatin1(), frame.stages[i].locks,
               [change, i](const std::string& v) {
                 change([&](PartFrame& f) { f.stages[i].locks = v; });
               });
    if (frame.stages.size() > 1)
      link("Take it out", QString("frameDrop%1").arg(i).toLatin1(), [change, i] {
        change([&](PartFrame& f) {
          f.stages.erase(f.stages.begin() + static_cast<std::ptrdiff_t>(i));
        });
      });
    if (i > 0 && frame.fit == FrameFit::InOrder)
      link("Before the one above", QString("frameUp%1").arg(i).toLatin1(),
           [change, i] { change([&](PartFrame& f) { std::swap(f.stages[i], f.stages[i - 1]); }); });
  }
}

} // namespace alder::app
