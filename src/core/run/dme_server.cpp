#include "run/dme_server.h"

#include "base/units.h"

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

bool DmeServer::answer(const std::string& text, const Send& send) {
  const auto line = readDmeLine(text);
  if (!line) {
    const std::string tag = text.size() >= 5 ? text.substr(0, 5) : "00000";
    send(dmeText({tag, '!', {errorCall(1, 8, "", line.error().message)}}));
    send(dmeText({tag, '%', {}}));
    return true;
  }
  send(dmeText({line->tag, '&', {}}));
  const Reply reply = perform(line->calls.front());
  if (reply.lost) return false;
  if (!reply.data.empty()) send(dmeText({line->tag, '#', reply.data}));
  if (!reply.event.empty()) send(dmeText({"E0000", '#', reply.event}));
  if (reply.error) send(dmeText({line->tag, '!', {*reply.error}}));
  send(dmeText({line->tag, '%', {}}));
  return !reply.close;
}

DmeServer::Reply DmeServer::faulty(const Fault& fault, const std::string& command) {
  if (fault.kind == FaultKind::LostConnection) return {{}, {}, {}, false, true};
  int number = kDmeBadArgument;
  if (fault.kind == FaultKind::MissedTouch) number = kDmeSurfaceNotFound;
  if (fault.kind == FaultKind::UnexpectedTouch) number = kDmeCollision;
  if (fault.kind == FaultKind::EmergencyStop) number = kDmeEmergencyStop;
  errors_ = true;
  return {{}, {}, errorCall(3, number, command, fault.message)};
}

DmeServer::Reply DmeServer::perform(const DmeCall& command) {
  const std::string& name = command.name;
  if (name == "StartSession") return session_ = true, Reply{};
  if (!session_) return {{}, {}, errorCall(2, 8, name, "No session is open.")};
  if (name == "EndSession") {
    session_ = false;
    Reply reply;
    reply.close = true;
    return reply;
  }
  if (name == "ClearAllErrors" || name == "Home") {
    auto done = machine_.begin();
    if (!done) return faulty(done.error(), name);
    errors_ = false;
    return {};
  }
  if (name == "IsHomed") return {{dmeCall("IsHomed", {1})}, {}, {}};
  if (name == "SetProp" || name == "EnableUser" || name == "DisableUser")
    return name == "SetProp" ? properties(command) : Reply{};
  if (name == "Get" || name == "GetProp") return where();
  if (errors_)
    return {{}, {}, errorCall(3, kDmeErrorState, name, "The machine is in an error state.")};
  if (name == "ChangeTool") {
    const std::string tool = command.texts.empty() ? "" : command.texts.front();
    const auto slash = tool.rfind('/');
    if (slash == std::string::npos)
      return {{}, {}, errorCall(2, kDmeToolNotFound, name, "A tool is named stylus/tip.")};
    auto done = machine_.take(tool.substr(0, slash), tool.substr(slash + 1));
    return done ? Reply{} : faulty(done.error(), name);
  }
  if (name == "GoTo") return goTo(command);
  if (name == "PtMeas") return measure(command, false);
  if (name == "UserPt") return measure(command, true);
  if (name == "UserClear") {
    auto done = machine_.clearByHand();
    return done ? Reply{} : faulty(done.error(), name);
  }
  return {{}, {}, errorCall(2, kDmeUnsupported, name, "The command is not supported.")};
}

DmeServer::Reply DmeServer::properties(const DmeCall& command) {
  if (const auto v = command.number("Tool.PtMeasPar.Approach")) approach_ = *v;
  if (const auto v = command.number("Tool.PtMeasPar.Search")) search_ = *v;
  if (const auto v = command.number("Tool.PtMeasPar.Speed")) speed_ = *v;
  return {};
}

DmeServer::Reply DmeServer::where() {
  const auto posture = machine_.posture();
  if (!posture) return faulty(posture.error(), "Get");
  Reply reply;
  reply.data = placeCalls(posture->ball);
  reply.data.push_back(dmeCall("Tool.A", {degrees(posture->a)}));
  reply.data.push_back(dmeCall("Tool.B", {degrees(posture->b)}));
  reply.data.push_back(dmeCall("Tool.Name", {}, {posture->stylus + "/" + posture->tip}));
  return reply;
}

DmeServer::Reply DmeServer::goTo(const DmeCall& command) {
  const auto a = command.number("Tool.A"), b = command.number("Tool.B");
  if (a && b) {
    auto done = machine_.turn(radians(*a), radians(*b));
    return done ? Reply{} : faulty(done.error(), "GoTo");
  }
  const auto place = vectorOf(command);
  if (!place) return {{}, {}, errorCall(2, kDmeBadArgument, "GoTo", "X, Y and Z are needed.")};
  auto done = machine_.goTo(*place);
  return done ? Reply{} : faulty(done.error(), "GoTo");
}

DmeServer::Reply DmeServer::measure(const DmeCall& command, bool by_hand) {
  const auto place = vectorOf(command);
  const DmeCall* ijk = command.find("IJK");
  if (!place || !ijk || ijk->numbers.size() != 3 ||
      Vec3(ijk->numbers[0], ijk->numbers[1], ijk->numbers[2]).norm() < 1e-9)
    return {{}, {}, errorCall(2, kDmeBadArgument, command.name, "X, Y, Z and IJK are needed.")};
  const Vec3 normal = Vec3(ijk->numbers[0], ijk->numbers[1], ijk->numbers[2]).normalized();
  const TouchCommand touch{*place, normal, approach_, search_, speed_};
  const auto ball = by_hand ? machine_.touchByHand(touch) : machine_.touch(touch);
  if (!ball) return faulty(ball.error(), command.name);
  // What the operator touches comes as an event, as it would unasked.
  Reply reply;
  std::vector<DmeCall> data = placeCalls(*ball);
  data.push_back(dmeCall("IJK", {normal.x(), normal.y(), normal.z()}));
  if (by_hand)
    reply.event = {dmeCall("PtMeas", {}, {}, std::move(data))};
  else
    reply.data = std::move(data);
  return reply;
}

} // namespace alder
