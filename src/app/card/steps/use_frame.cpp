// A step that uses a part frame: how it is found, and what of the part can still move.
#include "card/card.h"
#include "card/fields.h"
#include "card/words.h"
#include "plan/frames/frame_band.h"
#include "plan/frames/frame_fit.h"

namespace alder::app {

void Card::stepFields(StepId id, const UseFrameStep& s) {
  const PartFrame* found = document_.plan().frame(s.frame);
  const KeptFrame* kept = document_.plan().bench.fixture.frame(s.frame);
  frameChoice(id, s);
  if (!found && kept) return keptFrame(*kept);
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
  choice("method", "frameFit", {"in order (3-2-1)", "least squares", "minimax", "inside bands"},
         static_cast<int>(frame.fit), [change](int index) {
           change([&](PartFrame& f) { f.fit = static_cast<FrameFit>(index); });
         });
  if (frame.fit != FrameFit::InOrder)
    stepLine("locked degrees", "frameHeld", frame.held,
             [change](const std::string& v) { change([&](PartFrame& f) { f.held = v; }); });
  frameStages(frame);
  const auto free = leftFree(document_.plan(), frame);
  if (free)
    figureRow("Can still move", text(freedomInWords(*free)));
  else
    paragraph(text(free.error().message) + ".", "error");
  frameRounds(id, s);
  head("Offsets from nominal");
  for (int k = 0; k < 3; ++k)
    quantity(QString("shift %1").arg("XYZ"[k]), QString("frameShift%1").arg(k).toLatin1(),
             Quantity::Length, 3, frame.shift[k],
             [change, k](double v) { change([&](PartFrame& f) { f.shift[k] = v; }); });
  for (int k = 0; k < 3; ++k)
    quantity(QString("turn %1").arg("XYZ"[k]), QString("frameTurn%1").arg(k).toLatin1(),
             Quantity::Angle, 3, frame.turn[k],
             [change, k](double v) { change([&](PartFrame& f) { f.turn[k] = v; }); });
  paragraph("The features are taken one by one, each for what is still free, or all together. From "
            "here on the machine takes the part to lie where this frame says, and what is "
            "measured counts in it. Letters: x y z along, u v w about the axes of the model.");
}

// Which of those of the routine and of the fixture.
void Card::frameChoice(StepId id, const UseFrameStep& s) {
  std::vector<std::string> names;
  QStringList shown;
  for (const PartFrame& f : document_.plan().frames)
    names.push_back(f.name), shown << text(f.name);
  for (const KeptFrame& k : document_.plan().bench.fixture.frames)
    names.push_back(k.name), shown << text(k.name) + ", kept";
  if (names.size() < 2) return;
  const auto current = std::find(names.begin(), names.end(), s.frame);
  choice("frame", "frameUsed", shown,
         current == names.end() ? -1 : static_cast<int>(current - names.begin()),
         [this, id, s, names](int index) {
           UseFrameStep changed = s;
           changed.frame = names[static_cast<std::size_t>(index)];
           document_.changeStep(id, changed);
         });
}

void Card::keptFrame(const KeptFrame& kept) {
  stepLine("name", "placeName", kept.name,
           [this, name = kept.name](const std::string& v) { document_.renamePlace(name, v); });
  const FrameChange change =
      changeBetween(document_.plan(), document_.plan().placement, kept.placement);
  figureRow("From where it is planned", text(figure(change.distance, 3)) + " mm");
  paragraph("The part lies where the fixture has it; before the first feature nobody touches it "
            "by hand then. The part frame is still measured by program.");
}

// After a rough beginning.
void Card::frameRounds(StepId id, const UseFrameStep& s) {
  quantity(
      "until change below", "frameUntil", Quantity::Length, 3, s.until,
      [this, id, s](double v) {
        UseFrameStep changed = s;
        changed.until = v;
        document_.changeStep(id, changed);
      },
      "found once");
  if (s.until > 0)
    quantity("iterations at most", "frameMost", Quantity::Plain, 0, s.most,
             [this, id, s](double v) {
               UseFrameStep changed = s;
               changed.most = static_cast<int>(v);
               document_.changeStep(id, changed);
             });
}

// The edges; empty where they follow the tightest profile tolerance.
void Card::bandFields(const PartFrame& frame, std::size_t i) {
  const FrameStage& stage = frame.stages[i];
  const auto shown = [&]() -> std::string {
    if (stage.band) return shortFigure(stage.band->lower) + ", " + shortFigure(stage.band->upper);
    return {};
  }();
  stepLine("band", QString("frameBand%1").arg(i).toLatin1(), shown,
           [this, frame, i](const std::string& v) {
             PartFrame changed = frame;
             FrameStage& s = changed.stages[i];
             s.band.reset();
             if (const auto comma = v.find(','); !v.empty()) {
               const auto lower = parseQuantity(v.substr(0, comma), Quantity::Length);
               const auto upper = comma == std::string::npos
                                      ? Result<double>(fail("no comma"))
                                      : parseQuantity(v.substr(comma + 1), Quantity::Length);
               if (!lower || !upper) return;
               s.band = Band{*lower, *upper};
             }
             document_.changeFrame(frame.name, changed);
           });
  if (stage.band) return;
  const auto follows = bandOf(document_.plan(), stage, stage.features.front());
  if (follows)
    paragraph(QString("by its profile tolerance: %1, %2")
                  .arg(text(shortFigure(follows->lower)))
                  .arg(text(shortFigure(follows->upper))));
}

void Card::frameStages(const PartFrame& frame) {
  const auto change = [this, frame](const std::function<void(PartFrame&)>& how) {
    PartFrame changed = frame;
    how(changed);
    document_.changeFrame(frame.name, changed);
  };
  const bool in_order = frame.fit == FrameFit::InOrder;
  head(in_order ? "Found from, in order" : "Found from");
  for (std::size_t i = 0; i < frame.stages.size(); ++i) {
    const auto named = [&](const char* stem) {
      return QString("%1%2").arg(stem).arg(i).toLatin1();
    };
    QString names;
    for (FeatureId id : frame.stages[i].features)
      names += (names.isEmpty() ? "" : ", ") + text(document_.plan().nominal(id).name);
    figureRow(QString::number(i + 1), names);
    if (in_order)
      stepLine("constrains", named("frameLocks"), frame.stages[i].locks,
               [change, i](const std::string& v) {
                 change([&](PartFrame& f) { f.stages[i].locks = v; });
               });
    if (frame.fit == FrameFit::LeastSquares || frame.fit == FrameFit::LeastWorst)
      quantity("weight", named("frameWeight"), Quantity::Plain, 2, frame.stages[i].weight,
               [change, i](double v) { change([&](PartFrame& f) { f.stages[i].weight = v; }); });
    if (frame.fit == FrameFit::InsideBand) bandFields(frame, i);
    if (frame.stages.size() > 1)
      link("Remove", named("frameDrop"), [change, i] {
        change([&](PartFrame& f) {
          f.stages.erase(f.stages.begin() + static_cast<std::ptrdiff_t>(i));
        });
      });
    if (i > 0 && in_order) {
      link("Move before previous", named("frameUp"),
           [change, i] { change([&](PartFrame& f) { std::swap(f.stages[i], f.stages[i - 1]); }); });
      link("Merge with previous", named("frameJoin"), [change, i] {
        change([&](PartFrame& f) {
          auto& above = f.stages[i - 1].features;
          const auto& these = f.stages[i].features;
          above.insert(above.end(), these.begin(), these.end());
          f.stages.erase(f.stages.begin() + static_cast<std::ptrdiff_t>(i));
        });
      });
    }
    if (frame.stages[i].features.size() > 1)
      link("One after the other", named("frameApart"), [change, i] {
        change([&](PartFrame& f) {
          const FrameStage whole = f.stages[i];
          f.stages.erase(f.stages.begin() + static_cast<std::ptrdiff_t>(i));
          for (std::size_t k = 0; k < whole.features.size(); ++k) {
            FrameStage one = whole;
            one.features = {whole.features[k]};
            f.stages.insert(f.stages.begin() + static_cast<std::ptrdiff_t>(i + k), one);
          }
        });
      });
  }
}

// Made of features that are selected, see Document::insertFrame.
StepOffer Card::offerOf(const Document&, const UseFrameStep*) {
  return {};
}

} // namespace alder::app
