#include "exchange/dmis/dmis_reading.h"

#include "exchange/dmis/dmis_text.h"
#include "exchange/routine/frame_json.h"
#include "exchange/routine/frames_file.h"
#include "exchange/routine/step_json.h"
#include "plan/steps/step_edit.h"
#include <cstring>

namespace alder::dmis {

void Reading::remark(const Statement& s, const std::string& text) {
  remark(s.line, text);
}

void Reading::remark(int line, const std::string& text) {
  // Once, however often the program comes to it.
  if (!told_.insert({line, text}).second) return;
  read_.remarks.push_back(fmt::format("{}: line {}: {}", label_, line, text));
  std::string& of = lines_[line].remark;
  of += (of.empty() ? "" : "; ") + text;
}

StepId Reading::addStep(StepBody body) {
  RoutineStep& step = plan().steps.emplace_back();
  step.id = StepId{static_cast<int>(plan().steps.size()) - 1};
  step.body = std::move(body);
  step.depth = depth_;
  if (measuring_ && traitsOf(step.body).between_touches) {
    // Between the touches: it stands within the measure step, which comes with the block's end.
    step.depth = 1;
    step.before = static_cast<int>(measuring_->touches.size());
    within_.push_back(step);
    plan().steps.pop_back();
  }
  return step.id;
}

void Reading::keep(const Statement& s) {
  if (!noted_.insert(s.line).second) return;
  ++read_.kept;
  lines_[s.line].taken = Taken::Note;
  addStep(noteOf(fmt::format("{}{}: {}", kDmisNote, s.line, s.text)));
}

// A step that stands as a comment; nothing where it is a comment, or does not fit here.
std::optional<StepBody> Reading::ownStep(const std::string& text) {
  if (!text.starts_with(kDmisOwnStep)) return {};
  const Json json = Json::parse(text.substr(std::strlen(kDmisOwnStep)), nullptr, false);
  if (!json.is_object()) return {};
  const Json holder{{"steps", Json::array({json})}};
  const JsonFields fields(holder, label_);
  try {
    const Steps steps = readSteps(fields, "steps", plan().spec);
    if (!fields.done() || steps.size() != 1) return {};
    StepBody body = steps.front().body;
    const auto valid = std::visit([&](const auto& own) { return validate(plan(), own); }, body);
    if (!valid || traitsOf(body).in_programs || (needsGroup(body) && depth_ == 0)) return {};
    return body;
  } catch (const Json::exception&) {
    return {};
  }
}

// A frame of ours, for the LOCATE that follows; a place that the fixture of this routine has too.
bool Reading::ownFrameOrPlace(const std::string& text) {
  for (const char* sign : {kDmisOwnFrame, kDmisOwnPlace}) {
    if (!text.starts_with(std::string(sign) + "{")) continue;
    const Json json = Json::parse(text.substr(std::strlen(sign)), nullptr, false);
    if (!json.is_object()) return false;
    if (sign == kDmisOwnFrame) {
      own_frame_ = json;
      return true;
    }
    const std::string name = JsonFields(json, label_).text("name", "");
    if (!plan().bench.fixture.frame(name)) return false;
    body_ = true;
    own_place_ = true;
    addStep(useFrame(name));
    return true;
  }
  return false;
}

// The frame that was said before, where it is found from these features.
std::optional<std::pair<PartFrame, StepBody>>
Reading::ownFrameOf(const std::vector<FeatureId>& features) {
  const Json json = std::exchange(own_frame_, Json());
  if (!json.is_object()) return {};
  const JsonFields f(json, label_);
  std::vector<FeatureId> used;
  PartFrame frame = readPartFrame(f, [&](const JsonFields& stage) {
    auto ids = featuresByName(stage, plan());
    used.insert(used.end(), ids.begin(), ids.end());
    return ids;
  });
  const StepBody step = useFrame(frame.name, f.number("until", 0), f.integer("most", 5));
  if (!f.done() || used != features) return {};
  return std::pair(std::move(frame), step);
}

// Names before definitions; in the body words of the programmer.
void Reading::comment(const Statement& s) {
  if (ownFrameOrPlace(s.text)) return;
  if (s.text == kDmisPlanned) {
    own_place_ = true;
    return;
  }
  if (s.text.starts_with(kDmisAsOne)) {
    requirements_.asOne(keyOf(s.text.substr(std::strlen(kDmisAsOne))));
    return;
  }
  planned_way_ = false;
  if (!body_) {
    last_comment_ = s.text;
    return;
  }
  last_comment_ = s.text;
  if (s.text.starts_with("Use frame ") || s.text.starts_with("No feature finds") ||
      s.text.starts_with("not covered: "))
    return;
  if (s.text.ends_with("is not evaluated") ||
      s.text.find(" is not evaluated: ") != std::string::npos)
    return;
  if (s.text == kDmisOwnWay) {
    planned_way_ = true;
    return;
  }
  if (s.text == kDmisOwnWayEnd) return;
  if (s.text == kDmisGroupEnd && depth_ > 0) {
    --depth_;
    return;
  }
  if (auto own = ownStep(s.text)) {
    const bool group = traitsOf(*own).holds == StepTraits::Holds::All;
    addStep(std::move(*own));
    depth_ += group;
    return;
  }
  addStep(noteOf(noteText(s.text)));
}

void Reading::text(const Statement& s) {
  body_ = true;
  const auto words = s.arguments.empty() ? std::nullopt : unquoted(s.arguments.back());
  if (s.is(0, "OPER") && words) {
    addStep(waitFrom(*words));
  } else if (s.is(0, "QUERY") && words) {
    const bool number = s.arguments.size() > 3 && s.is(3, "N");
    addStep(asking({*words, number, "", likelyRole(*words)}));
  } else {
    keep(s);
  }
}

// "Wait: take it off (open clamp 1)" names what happens to the fixture.
StepBody Reading::waitFrom(const std::string& words) {
  std::vector<std::string> clamps, names;
  for (const FixtureBody& body : plan().bench.fixture.bodies)
    if (body.can_open) clamps.push_back(ascii(body.name)), names.push_back(body.name);
  return waitOf(words, clamps, names);
}

} // namespace alder::dmis
