// A step that waits for the operator.
#include "card/card.h"
#include "card/steps/with.h"
#include "card/words.h"
#include "theme/pixmap_of.h"
#include <QLabel>

namespace alder::app {

void Card::stepFields(StepId id, const WaitStep& s) {
  stepLine("says", "waitText", s.text, [this, id, s](const std::string& v) {
    document_.changeStep(id, with<WaitStep>(s, [&](WaitStep& w) { w.text = v; }));
  });
  QStringList does{"nothing"};
  std::vector<std::pair<std::string, bool>> choices{{"", true}};
  int current = 0;
  for (const FixtureBody& body : document_.plan().bench.fixture.bodies)
    for (const bool opens : {true, false}) {
      if (!body.can_open) continue;
      if (*s.clamp == body.name && s.opens == opens) current = static_cast<int>(choices.size());
      choices.emplace_back(body.name, opens);
      does << (opens ? "open " : "close ") + text(body.name);
    }
  if (!s.clamp->empty() && current == 0)
    paragraph("The bench has no " + text(*s.clamp) + " that opens.", "error");
  choice("clamp action", "waitClamp", does, current, [this, id, s, choices](int index) {
    document_.changeStep(id, with<WaitStep>(s, [&](WaitStep& w) {
                           std::tie(*w.clamp, w.opens) = choices[static_cast<std::size_t>(index)];
                         }));
  });
  quantity("takes, in s", "waitSeconds", Quantity::Plain, 0, s.seconds, [this, id, s](double v) {
    document_.changeStep(id, with<WaitStep>(s, [&](WaitStep& w) { w.seconds = v; }));
  });
  if (!s.clamp->empty())
    paragraph("From here on ways are sought and checked with the fixture as it then stands.");
  pictureFields(id, s);
}

// What the operator sees beside the words.
void Card::pictureFields(StepId id, const WaitStep& s) {
  head("Picture");
  constexpr QSize kSize(226, 150);
  if (const StepPicture* picture = document_.plan().picture(s.picture)) {
    auto* label = new QLabel;
    label->setObjectName("waitPicture");
    label->setPixmap(pixmapOf(*picture->bytes, kSize));
    label->setToolTip(text(picture->name));
    layout_->addWidget(label);
    link("Remove it", "waitNoPicture", [this, id] { document_.showPicture(id, {}, {}); });
  } else if (!s.picture->empty()) {
    paragraph("There is no picture " + text(*s.picture) + " in this routine.", "error");
  }
  link("As the stage is now", "waitFromStage", [this] { emit wanted("pictureFromStage"); });
  link("From a file …", "waitFromFile", [this] { emit wanted("pictureFromFile"); });
}

StepOffer Card::offerOf(const Document&, const WaitStep*) {
  return {1,       "Wait",    "insertWait", "Insert a wait for the operator", "insertWaitStep",
          "Alt+W", WaitStep{}};
}

} // namespace alder::app
