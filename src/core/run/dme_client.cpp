#include "run/dme_client.h"

#include "base/units.h"
#include <algorithm>
#include <cmath>

namespace alder {
namespace {

// "Error(severity, number, "where", "text")"; from severity 1 on something was not done.
struct DmeError {
  int severity = 3, number = 0;
  std::string where, text;
};

DmeError errorIn(const DmeCall& call) {
  DmeError error;
  if (!call.numbers.empty()) error.severity = static_cast<int>(std::lround(call.numbers[0]));
  if (call.numbers.size() > 1) error.number = static_cast<int>(std::lround(call.numbers[1]));
  std::vector<std::string> texts = call.words; // who writes the causing command without quotes
  texts.insert(texts.end(), call.texts.begin(), call.texts.end());
  if (!texts.empty()) error.text = texts.back();
  if (texts.size() > 1) error.where = texts.front();
  if (error.text.empty()) error.text = fmt::format("error {}", error.number);
  return error;
}

Fault faultOf(const DmeError& error) {
  FaultKind kind = FaultKind::Refused;
  if (error.number == kDmeSurfaceNotFound) kind = FaultKind::MissedTouch;
  if (error.number == kDmeCollision || error.number == kDmeIllegalTouch)
    kind = FaultKind::UnexpectedTouch;
  if (error.number == kDmeEmergencyStop || error.number == kDmeErrorState)
    kind = FaultKind::EmergencyStop;
  if (error.number == kDmeNotHomed) kind = FaultKind::NotHomed;
  return {kind, error.text};
}

template <class T> Answer<void> plain(const Answer<T>& answer) {
  if (!answer) return tl::unexpected<Fault>(answer.error());
  return {};
}

bool isEvent(const DmeLine& line, char mark) {
  return line.tag == "E0000" && line.mark == mark;
}

} // namespace

tl::unexpected<Fault> DmeClient::lost() {
  set_up_ = false;
  return tl::unexpected<Fault>(
      Fault{FaultKind::LostConnection, "The machine does not answer any more."});
}

void DmeClient::sendAbort() {
  event_tag_ = event_tag_ % 9999 + 1;
  channel_.send(dmeText({fmt::format("E{:04}", event_tag_), ' ', {dmeCall("AbortE")}, {}}));
}

// Without a word for too long: it is told to stop, and it is told whether it said that it has.
tl::unexpected<Fault> DmeClient::silent(const std::string& tag) {
  sendAbort();
  const std::string abort = fmt::format("E{:04}", event_tag_);
  for (int waited = 0; waited < patience_.abort; waited += patience_.slice) {
    const auto text = channel_.receive(patience_.slice);
    if (!text && !channel_.isOpen()) return lost();
    const auto line = text ? readDmeLine(*text) : fail("");
    if (!line || line->mark != '%' || (line->tag != abort && line->tag != tag)) continue;
    return tl::unexpected<Fault>(
        Fault{FaultKind::LostConnection,
              fmt::format("The machine said nothing for {:.0f} s. It was told to stop and answered "
                          "that it has.",
                          patience_.command / 1000.0)});
  }
  return tl::unexpected<Fault>(
      Fault{FaultKind::LostConnection,
            fmt::format("The machine said nothing for {:.0f} s, nor when it was told to stop: it "
                        "may still move. Stop it by hand.",
                        patience_.command / 1000.0)});
}

Answer<DmeClient::Said> DmeClient::command(const DmeCall& call) {
  if (!channel_.isOpen()) return lost();
  tag_ = tag_ % 9999 + 1;
  const std::string tag = fmt::format("{:05}", tag_);
  if (!channel_.send(dmeText({tag, ' ', {call}, {}}))) return lost();
  return listen(tag);
}

Answer<DmeClient::Said> DmeClient::listen(const std::string& tag) {
  Said said;
  std::optional<Fault> fault;
  bool aborting = false;
  for (int quiet = 0; quiet < patience_.command; quiet += patience_.slice) {
    if (abort_.exchange(false) && !aborting) {
      aborting = true;
      sendAbort();
    }
    const auto text = channel_.receive(patience_.slice);
    if (!text) {
      if (!channel_.isOpen()) return lost();
      continue;
    }
    quiet = 0;
    const auto line = readDmeLine(*text);
    if (!line) { // of another tag it is not for us to judge
      if (text->rfind(tag, 0) == 0)
        fault = {FaultKind::Refused, "The machine's answer cannot be read: " + *text};
      continue;
    }
    if (isEvent(*line, '#'))
      said.events.insert(said.events.end(), line->calls.begin(), line->calls.end());
    const bool ours = line->tag == tag;
    if ((ours || isEvent(*line, '!')) && line->mark == '!') {
      const DmeError error = line->calls.empty() ? DmeError{} : errorIn(line->calls.front());
      if (error.severity > 0 && !fault) fault = faultOf(error), last_error_ = error.number;
    }
    if (!ours) continue;
    if (line->mark == '#') {
      said.data.insert(said.data.end(), line->calls.begin(), line->calls.end());
      said.texts.insert(said.texts.end(), line->texts.begin(), line->texts.end());
    }
    if (line->mark != '%') continue;
    if (fault) return tl::unexpected<Fault>(*fault);
    return said;
  }
  return silent(tag);
}

// A session of its own: places in the machine's axes, touches told by the centre of the ball.
Answer<void> DmeClient::openSession() {
  par_.reset();
  tool_.clear();
  set_up_ = has_operator_ = user_on_ = false;
  if (!channel_.connect())
    return tl::unexpected<Fault>(
        Fault{FaultKind::LostConnection, "There is no machine to be reached."});
  const auto said = command(dmeCall("StartSession"));
  if (!said) return plain(said);
  // What no standard has is only used where the machine says that it is there.
  for (const DmeCall& event : said->events)
    if (event.name == "Alderpoint")
      has_operator_ =
          std::find(event.words.begin(), event.words.end(), "UserPt") != event.words.end();
  return {};
}

Answer<void> DmeClient::begin() {
  if (!channel_.isOpen())
    if (auto open = openSession(); !open) return open;
  // A fault that was told unasked before is what is cleared here.
  auto cleared = command(dmeCall("ClearAllErrors"));
  if (!cleared) cleared = command(dmeCall("ClearAllErrors"));
  if (!cleared) return plain(cleared);
  // The operator had it when the fault came.
  if (user_on_) {
    if (const auto off = command(dmeCall("DisableUser")); !off) return plain(off);
    user_on_ = false;
  }
  const auto homed = command(dmeCall("IsHomed"));
  if (!homed) return plain(homed);
  if (!homed->data.empty() && !homed->data.front().numbers.empty() &&
      homed->data.front().numbers.front() == 0)
    return tl::unexpected<Fault>(
        Fault{FaultKind::NotHomed,
              "The machine is not homed. It moves to look for its reference marks: see that its "
              "way is free."});
  if (set_up_) return {};
  DmeCall axes = dmeCall("SetCoordSystem");
  axes.words = {"MachineCsy"};
  if (const auto said = command(axes); !said) return plain(said);
  const DmeCall report =
      dmeCall("OnPtMeasReport", {}, {}, {dmeCall("X"), dmeCall("Y"), dmeCall("Z")});
  if (const auto said = command(report); !said) return plain(said);
  last_error_ = 0;
  const auto tools = command(dmeCall("EnumTools"));
  if (!tools && last_error_ != kDmeUnsupported) return plain(tools);
  lists_tools_ = tools.has_value();
  known_ = lists_tools_ ? tools->texts : std::vector<std::string>{};
  for (const DmeCall& call : lists_tools_ ? tools->data : Calls{}) // who writes Tool("...")
    known_.insert(known_.end(), call.texts.begin(), call.texts.end());
  set_up_ = true;
  return {};
}

Answer<void> DmeClient::home() {
  if (const auto said = command(dmeCall("Home")); !said) return plain(said);
  return begin();
}

std::string DmeClient::nameFor(const std::string& stylus, const std::string& tip, double a,
                               double b) const {
  if (const ControllerTool* tool = names_.toolFor(stylus, tip, a, b)) return tool->name;
  return names_.plainName(stylus, tip);
}

std::vector<ToolWanted> DmeClient::unknownTools(const std::vector<ToolWanted>& wanted) {
  std::vector<ToolWanted> unknown;
  if (!lists_tools_) return unknown;
  for (ToolWanted w : wanted) {
    const std::string name = nameFor(w.stylus, w.tip, w.a, w.b);
    if (std::find(known_.begin(), known_.end(), name) != known_.end()) continue;
    // Where the bench names some postures of the tip, this one is missing.
    w.posture = std::any_of(names_.tools.begin(), names_.tools.end(), [&](const auto& t) {
      return t.stylus == w.stylus && t.tip == w.tip && t.a;
    });
    const bool told = std::any_of(unknown.begin(), unknown.end(), [&](const ToolWanted& u) {
      return u.stylus == w.stylus && u.tip == w.tip && !w.posture;
    });
    if (!told) unknown.push_back(std::move(w));
  }
  return unknown;
}

void DmeClient::nameTool(const ToolWanted& w, const std::string& name) {
  ControllerTool tool{w.stylus, w.tip, {}, {}, name};
  if (w.posture) tool.a = w.a, tool.b = w.b;
  std::erase_if(names_.tools, [&](const ControllerTool& t) {
    return t.stylus == tool.stylus && t.tip == tool.tip && t.a == tool.a && t.b == tool.b;
  });
  names_.tools.push_back(std::move(tool));
}

Answer<void> DmeClient::end() {
  return plain(command(dmeCall("EndSession")));
}

Answer<Vec3> DmeClient::placeIn(const Calls& data) {
  // Told by itself, or within what it is the place of.
  const bool wrapped = data.size() == 1 && data.front().name == "PtMeas";
  const DmeCall all = wrapped ? data.front() : dmeCall("", {}, {}, data);
  const auto x = all.number("X"), y = all.number("Y"), z = all.number("Z");
  if (!x || !y || !z)
    return tl::unexpected<Fault>(
        Fault{FaultKind::Refused, "The machine answered without a place."});
  return Vec3(*x, *y, *z);
}

Answer<Posture> DmeClient::posture() {
  std::vector<DmeCall> asked{dmeCall("X"), dmeCall("Y"), dmeCall("Z")};
  if (names_.turns)
    for (const char* angle : {"Tool.A", "Tool.B"})
      asked.push_back(dmeCall(angle));
  const auto said = command(dmeCall("Get", {}, {}, std::move(asked)));
  if (!said) return tl::unexpected<Fault>(said.error());
  const auto ball = placeIn(said->data);
  if (!ball) return tl::unexpected<Fault>(ball.error());
  Posture posture;
  posture.ball = *ball;
  if (names_.turns) {
    const DmeCall all = dmeCall("", {}, {}, said->data);
    const auto a = all.number("Tool.A"), b = all.number("Tool.B");
    if (!a || !b)
      return tl::unexpected<Fault>(
          Fault{FaultKind::Refused, "The machine answered without the angles of its head."});
    posture.a = names_.a.ours(radians(*a));
    posture.b = names_.b.ours(radians(*b));
  }
  const auto tool = command(dmeCall("GetProp", {}, {}, {dmeCall("Tool.Name")}));
  if (!tool) return tl::unexpected<Fault>(tool.error());
  const DmeCall props = dmeCall("", {}, {}, tool->data);
  const DmeCall* told = props.find("Tool.Name");
  if (!told || (told->texts.empty() && told->words.empty()))
    return tl::unexpected<Fault>(
        Fault{FaultKind::Refused, "The machine does not say which tool it holds."});
  const std::string name = told->texts.empty() ? told->words.front() : told->texts.front();
  if (const auto tip = names_.tipOf(name)) {
    posture.stylus = tip->first;
    posture.tip = tip->second;
  } else {
    const auto slash = name.rfind('/');
    posture.stylus = name.substr(0, slash);
    if (slash != std::string::npos) posture.tip = name.substr(slash + 1);
  }
  return posture;
}

// What was set for a tool counts for that tool alone.
Answer<void> DmeClient::change(const std::string& tool) {
  tool_.clear();
  par_.reset();
  own_speed_ = 0;
  if (const auto said = command(dmeCall("ChangeTool", {}, {tool})); !said) return plain(said);
  tool_ = tool;
  return {};
}

// A tip that the controller knows by its postures is taken with the turn that follows.
Answer<void> DmeClient::take(const std::string& stylus, const std::string& tip) {
  stylus_ = stylus;
  tip_ = tip;
  for (const ControllerTool& t : names_.tools)
    if (t.stylus == stylus && t.tip == tip && t.a) return {};
  return change(nameFor(stylus, tip, 0, 0));
}

Answer<void> DmeClient::turn(double a, double b) {
  const ControllerTool* tool = names_.toolFor(stylus_, tip_, a, b);
  if (tool && tool->a) return tool_ == tool->name ? Answer<void>() : change(tool->name);
  if (tool && tool_ != tool->name)
    if (auto changed = change(tool->name); !changed) return changed;
  if (!names_.turns) return {};
  const double their_a = degrees(names_.a.theirs(a)), their_b = degrees(names_.b.theirs(b));
  return plain(command(
      dmeCall("GoTo", {}, {}, {dmeCall("Tool.A", {their_a}), dmeCall("Tool.B", {their_b})})));
}

Answer<void> DmeClient::goTo(const Vec3& ball) {
  return plain(command(
      dmeCall("GoTo", {}, {},
              {dmeCall("X", {ball.x()}), dmeCall("Y", {ball.y()}), dmeCall("Z", {ball.z()})})));
}

// The speed at which the machine itself touches is asked before it is set, and set again where a
// touch has none of its own: no number stands for it.
Answer<void> DmeClient::readOwnSpeed() {
  const auto said = command(dmeCall("GetProp", {}, {}, {dmeCall("Tool.PtMeasPar.Speed")}));
  if (!said) return plain(said);
  const DmeCall all = dmeCall("", {}, {}, said->data);
  own_speed_ = all.number("Tool.PtMeasPar.Speed").value_or(0);
  if (!(own_speed_ > 0))
    return tl::unexpected<Fault>(
        Fault{FaultKind::Refused, "The machine does not say how fast it touches."});
  return {};
}

Answer<void> DmeClient::setPar(const TouchCommand& t) {
  if (par_ && par_->approach == t.approach && par_->search == t.search && par_->speed == t.speed)
    return {};
  std::vector<DmeCall> pars{dmeCall("Tool.PtMeasPar.Approach", {t.approach}),
                            dmeCall("Tool.PtMeasPar.Search", {t.search}),
                            dmeCall("Tool.PtMeasPar.Retract", {0})};
  const double before = par_ ? par_->speed : 0;
  if (t.speed > 0 && own_speed_ == 0)
    if (auto read = readOwnSpeed(); !read) return read;
  if (t.speed > 0)
    pars.push_back(dmeCall("Tool.PtMeasPar.Speed", {t.speed}));
  else if (before > 0)
    pars.push_back(dmeCall("Tool.PtMeasPar.Speed", {own_speed_}));
  if (const auto said = command(dmeCall("SetProp", {}, {}, std::move(pars))); !said)
    return plain(said);
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
  const auto said = command(pointCall("PtMeas", t));
  if (!said) return tl::unexpected<Fault>(said.error());
  return placeIn(said->data);
}

// Any other than the simulated machine was moved by its operator, who has said so.
Answer<void> DmeClient::clearByHand() {
  if (!has_operator_) return {};
  return plain(command(dmeCall("UserClear")));
}

std::optional<Answer<Vec3>> DmeClient::handEvent(const DmeCall& event) {
  if (event.name == "PtMeas") return placeIn({event});
  if (event.name != "KeyPress") return {};
  const std::string key = !event.texts.empty()   ? event.texts.front()
                          : !event.words.empty() ? event.words.front()
                                                 : "";
  if (key == "Done")
    return tl::unexpected<Fault>(
        Fault{FaultKind::FeatureEnded, "The operator ended the feature at the machine."});
  if (key == "Del")
    return tl::unexpected<Fault>(Fault{FaultKind::Refused,
                                       "A touch that is kept cannot be taken back at the machine. "
                                       "Measure the feature again afterwards."});
  return {};
}

// However long it takes; only a touch or a key ends it, or that the machine reports an error.
Answer<Vec3> DmeClient::waitForHand(const Calls& before) {
  for (const DmeCall& event : before)
    if (auto ended = handEvent(event)) return *ended;
  while (true) {
    if (abort_.exchange(false))
      return tl::unexpected<Fault>(Fault{FaultKind::EmergencyStop, "Broken off."});
    const auto text = channel_.receive(patience_.slice);
    if (!text) {
      if (!channel_.isOpen()) return lost();
      continue;
    }
    const auto line = readDmeLine(*text);
    if (!line) continue;
    if (isEvent(*line, '!')) {
      const DmeError error = line->calls.empty() ? DmeError{} : errorIn(line->calls.front());
      if (error.severity > 0) return tl::unexpected<Fault>(faultOf(error));
    }
    if (!isEvent(*line, '#')) continue;
    for (const DmeCall& event : line->calls)
      if (auto ended = handEvent(event)) return *ended;
  }
}

Answer<Vec3> DmeClient::touchByHand(const TouchCommand& about) {
  const auto enabled = command(dmeCall("EnableUser"));
  if (!enabled) return tl::unexpected<Fault>(enabled.error());
  user_on_ = true;
  Calls events = enabled->events;
  if (has_operator_) {
    const auto told = command(pointCall("UserPt", about));
    if (!told) return tl::unexpected<Fault>(told.error());
    events.insert(events.end(), told->events.begin(), told->events.end());
  }
  const auto ball = waitForHand(events);
  if (!ball && ball.error().kind == FaultKind::LostConnection) return ball;
  // What was touched counts; a fault here is met again with the next command.
  user_on_ = !command(dmeCall("DisableUser")).has_value();
  return ball;
}

} // namespace alder
