#include "run/dme_client.h"

#include "base/units.h"
#include <cmath>

namespace alder {
namespace {

constexpr int kSlice = 50;              // ms between looks at whether to stop
constexpr int kLongestSilence = 120000; // ms that one command may take without a word

Fault faultOf(const DmeCall& error) {
  const int number = error.numbers.size() > 1 ? static_cast<int>(std::lround(error.numbers[1])) : 0;
  std::string text = error.texts.empty() ? "" : error.texts.back();
  if (text.empty()) text = fmt::format("error {}", number);
  FaultKind kind = FaultKind::Refused;
  if (number == kDmeSurfaceNotFound) kind = FaultKind::MissedTouch;
  if (number == kDmeCollision || number == kDmeIllegalTouch) kind = FaultKind::UnexpectedTouch;
  if (number == kDmeEmergencyStop || number == kDmeErrorState) kind = FaultKind::EmergencyStop;
  return {kind, text};
}

} // namespace

tl::unexpected<Fault> DmeClient::lost() {
  return tl::unexpected<Fault>(
      Fault{FaultKind::LostConnection, "The machine does not answer any more."});
}

Answer<DmeClient::Said> DmeClient::command(const DmeCall& call) {
  if (!channel_.isOpen()) return lost();
  tag_ = tag_ % 9999 + 1;
  const std::string tag = fmt::format("{:05}", tag_);
  if (!channel_.send(dmeText({tag, ' ', {call}}))) return lost();
  return listen(tag, false);
}

Answer<DmeClient::Said> DmeClient::listen(const std::string& tag, bool for_event) {
  Said said;
  std::optional<Fault> fault;
  bool aborting = false;
  for (int silent = 0; silent < kLongestSilence || for_event; silent += kSlice) {
    if (abort_.exchange(false) && !aborting) {
      aborting = true;
      channel_.send(dmeText({"E0001", ' ', {dmeCall("AbortE")}}));
    }
    const auto text = channel_.receive(kSlice);
    if (!text) {
      if (!channel_.isOpen()) return lost();
      if (aborting && for_event)
        return tl::unexpected<Fault>(Fault{FaultKind::EmergencyStop, "Broken off."});
      continue;
    }
    silent = 0;
    const auto line = readDmeLine(*text);
    if (!line) continue; // not for us to judge
    if (line->tag == "E0000" && line->mark == '#') {
      said.event = line->calls;
      if (for_event) return said;
    }
    if (line->tag != tag) continue;
    if (line->mark == '#') said.data = line->calls;
    if (line->mark == '!' && !line->calls.empty()) {
      const auto& numbers = line->calls.front().numbers;
      last_error_ = numbers.size() > 1 ? static_cast<int>(std::lround(numbers[1])) : 0;
      fault = faultOf(line->calls.front());
    }
    if (line->mark != '%') continue;
    if (fault) return tl::unexpected<Fault>(*fault);
    return said;
  }
  return lost();
}

Answer<void> DmeClient::begin() {
  if (!channel_.isOpen()) {
    par_.reset();
    if (!channel_.connect())
      return tl::unexpected<Fault>(
          Fault{FaultKind::LostConnection, "There is no machine to be reached."});
    if (auto said = command(dmeCall("StartSession")); !said)
      return tl::unexpected<Fault>(said.error());
  }
  for (const char* word : {"ClearAllErrors", "IsHomed"}) {
    auto said = command(dmeCall(word));
    if (!said) return tl::unexpected<Fault>(said.error());
    if (said->data.empty() || said->data.front().numbers.empty()) continue;
    if (said->data.front().numbers.front() != 0) continue;
    if (auto home = command(dmeCall("Home")); !home) return tl::unexpected<Fault>(home.error());
  }
  return {};
}

Answer<void> DmeClient::end() {
  auto said = command(dmeCall("EndSession"));
  if (!said) return tl::unexpected<Fault>(said.error());
  return {};
}

Answer<Vec3> DmeClient::placeIn(const std::vector<DmeCall>& data) {
  const DmeCall all = dmeCall("", {}, {}, data);
  const auto x = all.number("X"), y = all.number("Y"), z = all.number("Z");
  if (!x || !y || !z)
    return tl::unexpected<Fault>(
        Fault{FaultKind::Refused, "The machine answered without a place."});
  return Vec3(*x, *y, *z);
}

Answer<Posture> DmeClient::posture() {
  auto said = command(dmeCall("Get", {}, {},
                              {dmeCall("X"), dmeCall("Y"), dmeCall("Z"), dmeCall("Tool.A"),
                               dmeCall("Tool.B"), dmeCall("Tool.Name")}));
  if (!said) return tl::unexpected<Fault>(said.error());
  auto ball = placeIn(said->data);
  if (!ball) return tl::unexpected<Fault>(ball.error());
  Posture posture;
  posture.ball = *ball;
  const DmeCall all = dmeCall("", {}, {}, said->data);
  posture.a = radians(all.number("Tool.A").value_or(0));
  posture.b = radians(all.number("Tool.B").value_or(0));
  if (const DmeCall* tool = all.find("Tool.Name"); tool && !tool->texts.empty()) {
    const auto slash = tool->texts.front().rfind('/');
    posture.stylus = tool->texts.front().substr(0, slash);
    if (slash != std::string::npos) posture.tip = tool->texts.front().substr(slash + 1);
  }
  return posture;
}

Answer<void> DmeClient::take(const std::string& stylus, const std::string& tip) {
  auto said = command(dmeCall("ChangeTool", {}, {stylus + "/" + tip}));
  if (!said) return tl::unexpected<Fault>(said.error());
  return {};
}

Answer<void> DmeClient::turn(double a, double b) {
  auto said = command(
      dmeCall("GoTo", {}, {}, {dmeCall("Tool.A", {degrees(a)}), dmeCall("Tool.B", {degrees(b)})}));
  if (!said) return tl::unexpected<Fault>(said.error());
  return {};
}

Answer<void> DmeClient::goTo(const Vec3& ball) {
  auto said = command(
      dmeCall("GoTo", {}, {},
              {dmeCall("X", {ball.x()}), dmeCall("Y", {ball.y()}), dmeCall("Z", {ball.z()})}));
  if (!said) return tl::unexpected<Fault>(said.error());
  return {};
}

Answer<void> DmeClient::setPar(const TouchCommand& t) {
  if (par_ && par_->approach == t.approach && par_->search == t.search && par_->speed == t.speed)
    return {};
  auto said = command(
      dmeCall("SetProp", {}, {},
              {dmeCall("Tool.PtMeasPar.Approach", {t.approach}),
               dmeCall("Tool.PtMeasPar.Search", {t.search}), dmeCall("Tool.PtMeasPar.Retract", {0}),
               dmeCall("Tool.PtMeasPar.Speed", {t.speed})}));
  if (!said) return tl::unexpected<Fault>(said.error());
  par_ = t;
  return {};
}

namespace {
DmeCall pointCall(const char* name, const TouchCommand& t) {
  return dmeCall(name, {}, {},
                 {dmeCall("X", {t.surface.x()}), dmeCall("Y", {t.surface.y()}),
                  dmeCall("Z", {t.surface.z()}),
                  dmeCall("IJK", {t.normal.x(), t.normal.y(), t.normal.z()})});
}
} // namespace

Answer<Vec3> DmeClient::touch(const TouchCommand& t) {
  if (auto set = setPar(t); !set) return tl::unexpected<Fault>(set.error());
  auto said = command(pointCall("PtMeas", t));
  if (!said) return tl::unexpected<Fault>(said.error());
  return placeIn(said->data);
}

// Any other than the simulated machine was moved by its operator, who has said so.
Answer<void> DmeClient::clearByHand() {
  last_error_ = 0;
  auto said = command(dmeCall("UserClear"));
  if (!said && last_error_ != kDmeUnsupported) return tl::unexpected<Fault>(said.error());
  return {};
}

Answer<Vec3> DmeClient::touchByHand(const TouchCommand& about) {
  if (auto enabled = command(dmeCall("EnableUser")); !enabled)
    return tl::unexpected<Fault>(enabled.error());
  last_error_ = 0;
  auto said = command(pointCall("UserPt", about));
  if (!said && last_error_ == kDmeUnsupported) said = listen("", true);
  if (!said) return tl::unexpected<Fault>(said.error());
  if (auto disabled = command(dmeCall("DisableUser")); !disabled)
    return tl::unexpected<Fault>(disabled.error());
  if (said->event.empty() || said->event.front().name != "PtMeas")
    return tl::unexpected<Fault>(
        Fault{FaultKind::Refused, "The machine answered without a touch."});
  return placeIn(said->event.front().calls);
}

} // namespace alder
