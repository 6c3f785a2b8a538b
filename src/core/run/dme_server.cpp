#include "run/dme_server.h"

#include "base/units.h"
#include <algorithm>

namespace alder {
namespace {

DmeCall errorCall(int severity, int number, const std::string& where, const std::string& text) {
  return dmeCall("Error", {double(severity), double(number)}, {where, text});
}

std::optional<Vec3> vectorOf(const DmeCall& command) {
  const auto x = command.number("X"), y = command.number("Y"), z = command.number("Z");
  if (!x || !y || !z) return {};
  return Vec3(*x, *y, *z);
}

std::vector<DmeCall> placeCalls(const Vec3& p) {
  return {dmeCall("X", {p.x()}), dmeCall("Y", {p.y()}), dmeCall("Z", {p.z()})};
}

} // namespace

DmeServer::DmeServer(Controller& machine, const Bench& bench)
    : machine_(machine)
    , tools_(bench.controller.tools)
    , names_(bench.controller)
    , touch_speed_(bench.machine.touch_speed) {
  for (const Stylus& stylus : bench.styli)
    for (const Tip& tip : stylus.tips)
      tools_.push_back({stylus.name, tip.name, {}, {}, plainName(stylus.name, tip.name)});
  resetPars();
}

// Of tips that are alike in ASCII the later ones get a number.
std::string DmeServer::plainName(const std::string& stylus, const std::string& tip) const {
  const std::string name = asciiName(stylus + "/" + tip);
  std::string free = name;
  for (int n = 2; std::any_of(tools_.begin(), tools_.end(),
                              [&](const ControllerTool& t) { return t.name == free; });
       ++n)
    free = fmt::format("{} {}", name, n);
  return free;
}

// Each tool begins with those of the machine.
void DmeServer::resetPars() {
  pars_ = {{"Tool.PtMeasPar.Approach", 2},
           {"Tool.PtMeasPar.Search", 2},
           {"Tool.PtMeasPar.Retract", 0},
           {"Tool.PtMeasPar.Speed", touch_speed_}};
}

bool DmeServer::answer(const std::string& text, const Send& send) {
  const auto line = readDmeLine(text);
  if (!line) {
    const std::string tag = text.size() >= 5 ? text.substr(0, 5) : "00000";
    send(dmeText({tag, '!', {errorCall(1, 8, "", line.error().message)}, {}}));
    send(dmeText({tag, '%', {}, {}}));
    return true;
  }
  send(dmeText({line->tag, '&', {}, {}}));
  const Reply reply = perform(line->calls.front());
  if (reply.lost) return false;
  if (!reply.data.empty()) send(dmeText({line->tag, '#', reply.data, {}}));
  for (const std::string& tool : reply.tools)
    send(dmeText({line->tag, '#', {}, {tool}}));
  if (!reply.event.empty()) send(dmeText({"E0000", '#', reply.event, {}}));
  if (reply.error) send(dmeText({line->tag, '!', {*reply.error}, {}}));
  send(dmeText({line->tag, '%', {}, {}}));
  return !reply.close;
}

DmeServer::Reply DmeServer::refusal(int number, const std::string& where, const std::string& what) {
  Reply reply;
  reply.error = errorCall(2, number, where, what);
  return reply;
}

DmeServer::Reply DmeServer::faulty(const Fault& fault, const std::string& command) {
  Reply reply;
  if (fault.kind == FaultKind::LostConnection) {
    reply.lost = true;
    return reply;
  }
  int number = kDmeBadArgument;
  if (fault.kind == FaultKind::MissedTouch) number = kDmeSurfaceNotFound;
  if (fault.kind == FaultKind::UnexpectedTouch) number = kDmeCollision;
  if (fault.kind == FaultKind::EmergencyStop) number = kDmeEmergencyStop;
  errors_ = true;
  reply.error = errorCall(3, number, command, fault.message);
  return reply;
}

DmeServer::Reply DmeServer::done(const Answer<void>& answer, const std::string& command) {
  return answer ? Reply{} : faulty(answer.error(), command);
}

DmeServer::Reply DmeServer::start() {
  session_ = true;
  // What is ours alone: it can be asked to do what an operator would.
  DmeCall ours = dmeCall("Alderpoint");
  ours.words = {"UserPt", "UserClear"};
  Reply reply;
  reply.event = {ours};
  return reply;
}

DmeServer::Reply DmeServer::perform(const DmeCall& command) {
  const std::string& name = command.name;
  if (name == "StartSession") return start();
  if (!session_) return refusal(8, name, "No session is open.");
  if (name == "EndSession") {
    session_ = false;
    Reply reply;
    reply.close = true;
    return reply;
  }
  if (name == "ClearAllErrors" || name == "Home") {
    auto begun = machine_.begin();
    if (begun) errors_ = false;
    return done(begun, name);
  }
  Reply reply;
  if (name == "IsHomed") {
    reply.data = {dmeCall("IsHomed", {1})};
    return reply;
  }
  if (name == "EnumTools") {
    for (const ControllerTool& tool : tools_)
      reply.tools.push_back(tool.name);
    return reply;
  }
  if (name == "SetCoordSystem") {
    if (command.words == std::vector<std::string>{"MachineCsy"}) return {};
    return refusal(kDmeBadArgument, name, "Only MachineCsy is there.");
  }
  if (name == "OnPtMeasReport" || name == "EnableUser" || name == "DisableUser") return {};
  if (name == "SetProp") return setProperties(command);
  if (name == "Get" || name == "GetProp") return tell(command, name == "GetProp");
  if (errors_) return refusal(kDmeErrorState, name, "The machine is in an error state.");
  if (name == "ChangeTool") return changeTool(command);
  if (name == "GoTo") return goTo(command);
  if (name == "PtMeas") return measure(command, false);
  if (name == "UserPt") return measure(command, true);
  if (name == "UserClear") return done(machine_.clearByHand(), name);
  return refusal(kDmeUnsupported, name, "The command is not supported.");
}

DmeServer::Reply DmeServer::changeTool(const DmeCall& command) {
  const std::string name = command.texts.empty() ? "" : command.texts.front();
  const auto tool = std::find_if(tools_.begin(), tools_.end(),
                                 [&](const ControllerTool& t) { return t.name == name; });
  if (tool == tools_.end())
    return refusal(kDmeToolNotFound, command.name, "There is no tool \"" + name + "\".");
  auto taken = machine_.take(tool->stylus, tool->tip);
  if (taken && tool->a) taken = machine_.turn(*tool->a, *tool->b);
  if (!taken) return faulty(taken.error(), command.name);
  tool_ = name;
  resetPars();
  return {};
}

std::string DmeServer::toolName(const Posture& posture) const {
  for (const ControllerTool& t : tools_)
    if (t.name == tool_ && t.stylus == posture.stylus && t.tip == posture.tip) return tool_;
  for (const ControllerTool& t : tools_)
    if (t.stylus == posture.stylus && t.tip == posture.tip && !t.a) return t.name;
  return plainName(posture.stylus, posture.tip);
}

DmeServer::Reply DmeServer::setProperties(const DmeCall& command) {
  for (const DmeCall& property : command.calls) {
    const bool known = pars_.count(property.name) > 0;
    const bool retract = property.name == "Tool.PtMeasPar.Retract";
    if (!known || property.numbers.size() != 1 ||
        (retract ? property.numbers[0] != 0 : !(property.numbers[0] > 0)))
      return refusal(kDmeBadArgument, "SetProp",
                     !known    ? "There is no property " + property.name + "."
                     : retract ? "It stays where it has touched: Retract is 0."
                               : property.name + " is above 0.");
  }
  for (const DmeCall& property : command.calls)
    pars_[property.name] = property.numbers[0];
  return {};
}

DmeServer::Reply DmeServer::tell(const DmeCall& command, bool properties) {
  const auto posture = machine_.posture();
  if (!posture) return faulty(posture.error(), command.name);
  Reply reply;
  for (const DmeCall& asked : command.calls) {
    DmeCall said = dmeCall(asked.name);
    if (properties && asked.name == "Tool.Name")
      said.texts = {toolName(*posture)};
    else if (properties && pars_.count(asked.name) > 0)
      said.numbers = {pars_[asked.name]};
    else if (asked.name == "X" || asked.name == "Y" || asked.name == "Z")
      said.numbers = {posture->ball[asked.name[0] - 'X']};
    else if (asked.name == "Tool.A")
      said.numbers = {degrees(names_.a.theirs(posture->a))};
    else if (asked.name == "Tool.B")
      said.numbers = {degrees(names_.b.theirs(posture->b))};
    else
      return refusal(kDmeBadArgument, command.name, "There is no property " + asked.name + ".");
    reply.data.push_back(std::move(said));
  }
  return reply;
}

DmeServer::Reply DmeServer::goTo(const DmeCall& command) {
  const auto a = command.number("Tool.A"), b = command.number("Tool.B");
  const auto place = vectorOf(command);
  for (const DmeCall& argument : command.calls)
    if (argument.name != "X" && argument.name != "Y" && argument.name != "Z" &&
        argument.name != "Tool.A" && argument.name != "Tool.B")
      return refusal(kDmeBadArgument, "GoTo", "There is no axis " + argument.name + ".");
  // Turning while it moves sweeps what no one has proved to be free.
  if ((a || b) && place)
    return refusal(kDmeBadArgument, "GoTo", "It moves or turns its head, not both at once.");
  if (a && b)
    return done(machine_.turn(names_.a.ours(radians(*a)), names_.b.ours(radians(*b))), "GoTo");
  if (!place) return refusal(kDmeBadArgument, "GoTo", "X, Y and Z, or both angles, are needed.");
  return done(machine_.goTo(*place), "GoTo");
}

DmeServer::Reply DmeServer::measure(const DmeCall& command, bool by_hand) {
  const auto place = vectorOf(command);
  const DmeCall* ijk = command.find("IJK");
  if (!place || !ijk || ijk->numbers.size() != 3 ||
      Vec3(ijk->numbers[0], ijk->numbers[1], ijk->numbers[2]).norm() < 1e-9)
    return refusal(kDmeBadArgument, command.name, "X, Y, Z and IJK are needed.");
  const Vec3 normal = Vec3(ijk->numbers[0], ijk->numbers[1], ijk->numbers[2]).normalized();
  const TouchCommand touch{*place, normal, pars_["Tool.PtMeasPar.Approach"],
                           pars_["Tool.PtMeasPar.Search"], pars_["Tool.PtMeasPar.Speed"]};
  const auto ball = by_hand ? machine_.touchByHand(touch) : machine_.touch(touch);
  if (!ball) return faulty(ball.error(), command.name);
  // What the operator touches comes as an event, as it would unasked.
  Reply reply;
  if (by_hand)
    reply.event = {dmeCall("PtMeas", {}, {}, placeCalls(*ball))};
  else
    reply.data = placeCalls(*ball);
  return reply;
}

} // namespace alder
