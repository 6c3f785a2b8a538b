#include "run/strict/strict_machine.h"

#include "base/units.h"
#include <algorithm>
#include <cmath>
#include <set>

namespace alder {
namespace {

// As they are published; of our own side's there is no use here.
constexpr int kProtocol = 8, kEmergency = 500, kUnsupported = 501, kArgument = 509, kProperty = 510,
              kInError = 1000, kNotHomed = 1005, kSurface = 1006, kVolume = 1008, kNoTool = 1502,
              kCollision = 2504;
constexpr double kPartOffset = 500;  // mm, of the part that lay there in the session before
constexpr double kFastestTouch = 20; // mm/s
constexpr double kUnit = 1e-5;       // how far from 1 a direction's length may be

std::string dme(double value) {
  return fmt::format("{:.7f}", std::abs(value) < 5e-8 ? 0.0 : value);
}

} // namespace

StrictMachine::StrictMachine(SimulatedController& machine, const Bench& bench, std::uint64_t seed)
    : machine_(machine)
    , bench_(bench)
    , random_(seed) {
  for (const Stylus& stylus : bench.styli)
    for (const Tip& tip : stylus.tips)
      tools_.push_back({fmt::format("T{}", tools_.size() + 1), stylus.name, tip.name});
  tool_ = tools_.front().name;
  defaultPars();
}

std::vector<std::string> StrictMachine::toolNames() const {
  std::vector<std::string> names;
  for (const Tool& t : tools_)
    names.push_back(t.name);
  return names;
}

void StrictMachine::defaultPars() {
  pars_ = {{"Tool.PtMeasPar.Speed", bench_.machine.touch_speed},
           {"Tool.PtMeasPar.Accel", 100},
           {"Tool.PtMeasPar.Approach", 5},
           {"Tool.PtMeasPar.Search", 5},
           {"Tool.PtMeasPar.Retract", 3}};
}

void StrictMachine::connected() {
  session_ = user_ = machine_axes_ = false;
  report_.clear();
  last_tag_.clear();
}

void StrictMachine::operatorDrivesClear() {
  // By hand also a machine that is in an error state is moved.
  (void)machine_.begin();
  (void)machine_.clearByHand();
}

Vec3 StrictMachine::shift() const {
  return machine_axes_ ? Vec3(Vec3::Zero()) : Vec3(kPartOffset * Vec3::UnitX());
}

StrictMachine::Reply StrictMachine::refuse(int number, const std::string& where,
                                           const std::string& why) {
  refused_.push_back(line_ + ": " + why);
  return {{}, 2, number, where, why, false};
}

// What became of it; where the connection is lost, the answer closes without a word.
template <class T>
StrictMachine::Reply StrictMachine::outcome(const Answer<T>& answer, const std::string& where) {
  if (answer) return {};
  Reply reply;
  const Fault& fault = answer.error();
  if (fault.kind == FaultKind::LostConnection) {
    reply.close = true;
    return reply;
  }
  reply.number = fault.kind == FaultKind::MissedTouch       ? kSurface
                 : fault.kind == FaultKind::UnexpectedTouch ? kCollision
                 : fault.kind == FaultKind::EmergencyStop   ? kEmergency
                                                            : kVolume;
  reply.severity = 3;
  reply.where = where;
  reply.error = fault.message;
  error_ = true;
  return reply;
}

void StrictMachine::unasked(const Send& send) {
  const double what = random_.uniform();
  if (what < 0.03) send("E0000 # KeyPress(\"F2\")");
  if (what > 0.97) send("E0000 # Temperature(20.4)");
  if (what > 0.5 && what < 0.52)
    send("E0000 ! Error(0, 30, \"Temperature\", \"The part is 0.4 K warm\")");
}

bool StrictMachine::answer(const std::string& line, const Send& send) {
  line_ = line;
  const auto command = strict::readCommand(line);
  if (!command) {
    refused_.push_back(line + ": " + command.error().message);
    const std::string tag = line.size() >= 5 ? line.substr(0, 5) : "00000";
    send(fmt::format("{} ! Error(2, {}, \"\", \"{}\")", tag, kProtocol, command.error().message));
    send(tag + " %");
    return true;
  }
  const std::string& tag = command->tag;
  unasked(send);
  send(tag + " &");
  Reply reply = tag == last_tag_ ? refuse(kProtocol, "", "The tag is that of the line before.")
                                 : perform(command->call);
  last_tag_ = tag;
  if (reply.close && command->call.text != "EndSession") return false;
  unasked(send);
  // Of one answer in three each piece of data comes by itself.
  const bool apart = random_.uniform() < 0.33 || command->call.text == "EnumTools";
  std::string in_one;
  for (const std::string& d : reply.data) {
    if (apart) send(tag + " # " + d);
    in_one += (in_one.empty() ? "" : ", ") + d;
  }
  if (!apart && !reply.data.empty()) send(tag + " # " + in_one);
  if (reply.severity > 0)
    send(fmt::format("{} ! Error({}, {:04}, \"{}\", \"{}\")", tag, reply.severity, reply.number,
                     reply.where, asciiName(reply.error)));
  send(tag + " %");
  return !reply.close;
}

StrictMachine::Reply StrictMachine::perform(const Item& call) {
  const std::string& name = call.text;
  if (name == "StartSession" || name == "EndSession") return session(call);
  if (!session_) return refuse(kProtocol, name, "No session was started.");
  const auto bare = [&] { return call.items.empty(); };
  static const std::set<std::string> kBare{"ClearAllErrors", "IsHomed",    "Home",  "EnumTools",
                                           "DisableUser",    "EnableUser", "AbortE"};
  if (kBare.count(name) > 0 && !bare()) return refuse(kArgument, name, "It takes no argument.");
  if (name == "ClearAllErrors") {
    error_ = false;
    return outcome(machine_.begin(), name);
  }
  if (name == "IsHomed") return {{fmt::format("IsHomed({})", homed_ ? 1 : 0)}, 0, 0, {}, {}, false};
  if (name == "AbortE") return {};
  if (name == "Get") return get(call);
  if (name == "GetProp") return getProp(call);
  if (name == "SetProp") return setProp(call);
  if (name == "EnumTools") {
    Reply reply;
    for (const Tool& t : tools_)
      reply.data.push_back("\"" + t.name + "\"");
    return reply;
  }
  if (name == "SetCoordSystem") {
    const bool one = call.items.size() == 1 && call.items[0].kind == Item::Kind::Word;
    if (!one || (call.items[0].text != "MachineCsy" && call.items[0].text != "PartCsy"))
      return refuse(kArgument, name, "A coordinate system is named.");
    machine_axes_ = call.items[0].text == "MachineCsy";
    return {};
  }
  if (name == "OnPtMeasReport") return report(call);
  if (error_) return {{}, 3, kInError, name, "Errors are to be cleared first.", false};
  if (name == "Home") {
    if (user_) return refuse(kProtocol, name, "The operator has the machine.");
    homed_ = true;
    return {};
  }
  if (name == "EnableUser" || name == "DisableUser") {
    if (!homed_) return refuse(kNotHomed, name, "The machine is not homed.");
    user_ = name == "EnableUser";
    has_touched_ = false;
    return {};
  }
  static const std::set<std::string> kMotions{"GoTo", "PtMeas", "ChangeTool"};
  if (kMotions.count(name) > 0) return motion(call);
  return refuse(kUnsupported, name, "There is no such command.");
}

StrictMachine::Reply StrictMachine::session(const Item& call) {
  if (!call.items.empty()) return refuse(kArgument, call.text, "It takes no argument.");
  const bool start = call.text == "StartSession";
  if (start == session_)
    return refuse(kProtocol, call.text, start ? "A session is open." : "No session was started.");
  session_ = start;
  Reply reply;
  reply.close = !start;
  return reply;
}

StrictMachine::Reply StrictMachine::motion(const Item& call) {
  if (!homed_) return refuse(kNotHomed, call.text, "The machine is not homed.");
  if (user_) return refuse(kProtocol, call.text, "The operator has the machine.");
  if (call.text == "GoTo") return goTo(call);
  if (call.text == "PtMeas") return measure(call);
  return changeTool(call);
}

StrictMachine::Reply StrictMachine::goTo(const Item& call) {
  bool moves = false, turns = false;
  std::set<std::string> seen;
  for (const Item& i : call.items) {
    if (!i.isNumberCall())
      return refuse(kArgument, "GoTo", "Each argument is an axis with a number.");
    const bool linear = i.text == "X" || i.text == "Y" || i.text == "Z";
    const bool angle = i.text == "Tool.A" || i.text == "Tool.B";
    if (!linear && !angle) return refuse(kArgument, "GoTo", "There is no axis " + i.text + ".");
    if (!seen.insert(i.text).second) return refuse(kArgument, "GoTo", i.text + " is told twice.");
    moves |= linear;
    turns |= angle;
  }
  if (moves == turns)
    return refuse(kArgument, "GoTo", "An indexing head does not turn while the machine moves.");
  const auto now = machine_.posture();
  if (!now) return outcome(now, "GoTo");
  if (turns) {
    const Item *a = call.find("Tool.A"), *b = call.find("Tool.B");
    return outcome(machine_.turn(a ? radians(a->items[0].value) : now->a,
                                 b ? radians(b->items[0].value) : now->b),
                   "GoTo");
  }
  Vec3 to = now->ball + shift();
  for (int k = 0; k < 3; ++k)
    if (const Item* i = call.find(std::string(1, "XYZ"[k]))) to[k] = i->items[0].value;
  return outcome(machine_.goTo(to - shift()), "GoTo");
}

StrictMachine::Reply StrictMachine::measure(const Item& call) {
  const Item *x = call.find("X"), *y = call.find("Y"), *z = call.find("Z"), *ijk = call.find("IJK");
  if (call.items.size() != 4 || !x || !y || !z || !ijk || !x->isNumberCall() ||
      !y->isNumberCall() || !z->isNumberCall() || ijk->items.size() != 3)
    return refuse(kArgument, "PtMeas", "X, Y, Z and IJK with three numbers are its arguments.");
  Vec3 normal;
  for (int k = 0; k < 3; ++k) {
    const Item& n = ijk->items[static_cast<std::size_t>(k)];
    if (n.kind != Item::Kind::Number) return refuse(kArgument, "PtMeas", "IJK are numbers.");
    normal[k] = n.value;
  }
  if (std::abs(normal.norm() - 1) > kUnit)
    return refuse(kArgument, "PtMeas", "IJK is not of length 1.");
  TouchCommand touch;
  touch.surface = Vec3(x->items[0].value, y->items[0].value, z->items[0].value) - shift();
  touch.normal = normal.normalized();
  touch.approach = pars_["Tool.PtMeasPar.Approach"];
  touch.search = pars_["Tool.PtMeasPar.Search"];
  touch.speed = pars_["Tool.PtMeasPar.Speed"];
  const auto ball = machine_.touch(touch);
  if (!ball) return outcome(ball, "PtMeas");
  touched_.push_back(touch);
  // Back from the surface, where it was not told to stay.
  const Vec3 off = pars_["Tool.PtMeasPar.Retract"] * touch.normal;
  if (off.norm() > 0)
    if (const auto back = machine_.goTo(*ball + off); !back) return outcome(back, "PtMeas");
  Reply reply;
  for (const std::string& what : report_)
    reply.data.push_back(axis(what, *ball + shift()));
  return reply;
}

std::string StrictMachine::axis(const std::string& name, const Vec3& ball) const {
  return fmt::format("{}({})", name, dme(ball[name[0] - 'X']));
}

StrictMachine::Reply StrictMachine::report(const Item& call) {
  std::vector<std::string> asked;
  for (const Item& i : call.items) {
    if (!i.isEmptyCall() || (i.text != "X" && i.text != "Y" && i.text != "Z"))
      return refuse(kArgument, "OnPtMeasReport", "X(), Y() and Z() can be reported.");
    asked.push_back(i.text);
  }
  report_ = std::move(asked);
  return {};
}

StrictMachine::Reply StrictMachine::changeTool(const Item& call) {
  if (call.items.size() != 1 || call.items[0].kind != Item::Kind::Text)
    return refuse(kArgument, "ChangeTool", "The name of a tool is its argument.");
  const auto tool = std::find_if(tools_.begin(), tools_.end(),
                                 [&](const Tool& t) { return t.name == call.items[0].text; });
  if (tool == tools_.end()) return refuse(kNoTool, "ChangeTool", "There is no such tool.");
  const auto taken = machine_.take(tool->stylus, tool->tip);
  if (taken) {
    tool_ = tool->name;
    defaultPars();
  }
  return outcome(taken, "ChangeTool");
}

StrictMachine::Reply StrictMachine::setProp(const Item& call) {
  if (call.items.empty()) return refuse(kArgument, "SetProp", "Nothing is set.");
  for (const Item& i : call.items) {
    if (pars_.count(i.text) == 0) return refuse(kProperty, "SetProp", "There is no such property.");
    if (!i.isNumberCall()) return refuse(kArgument, "SetProp", "It is one number.");
    const double v = i.items[0].value;
    const bool speed = i.text == "Tool.PtMeasPar.Speed", back = i.text == "Tool.PtMeasPar.Retract";
    if (back ? v < 0 : v <= 0 || (speed && v > kFastestTouch))
      return refuse(kArgument, "SetProp", i.text + " is out of its range.");
  }
  for (const Item& i : call.items)
    pars_[i.text] = i.items[0].value;
  return {};
}

StrictMachine::Reply StrictMachine::getProp(const Item& call) {
  if (call.items.empty()) return refuse(kArgument, "GetProp", "Nothing is asked.");
  Reply reply;
  for (const Item& i : call.items) {
    if (!i.isEmptyCall()) return refuse(kArgument, "GetProp", "A property is asked with ().");
    if (i.text == "Tool.Name")
      reply.data.push_back("Tool.Name(\"" + tool_ + "\")");
    else if (const auto par = pars_.find(i.text); par != pars_.end())
      reply.data.push_back(fmt::format("{}({})", i.text, dme(par->second)));
    else
      return refuse(kProperty, "GetProp", "There is no such property.");
  }
  return reply;
}

StrictMachine::Reply StrictMachine::get(const Item& call) {
  const auto now = machine_.posture();
  if (!now) return outcome(now, "Get");
  Reply reply;
  for (const Item& i : call.items) {
    if (!i.isEmptyCall()) return refuse(kArgument, "Get", "A place is asked with ().");
    if (i.text == "X" || i.text == "Y" || i.text == "Z")
      reply.data.push_back(axis(i.text, now->ball + shift()));
    else if (i.text == "Tool.A" || i.text == "Tool.B")
      reply.data.push_back(
          fmt::format("{}({})", i.text, dme(degrees(i.text == "Tool.A" ? now->a : now->b))));
    else
      return refuse(kArgument, "Get", "That is no axis.");
  }
  return reply;
}

bool StrictMachine::idle(const Send& send) {
  if (!user_ || !session_) return true;
  // Once for each time that the operator may: then the next place is to be shown.
  if (hand_.empty() && next_by_hand && !has_touched_)
    if (const auto next = next_by_hand()) {
      operatorTouches(*next);
      has_touched_ = true;
    }
  if (hand_.empty()) return true;
  const HandDeed deed = hand_.front();
  hand_.pop_front();
  unasked(send);
  if (!deed.key.empty()) {
    send("E0000 # KeyPress(\"" + deed.key + "\")");
    return true;
  }
  const auto ball = machine_.touchByHand(deed.touch);
  if (ball) {
    const Vec3 told = *ball + shift(), n = deed.touch.normal;
    send(fmt::format("E0000 # PtMeas(X({}), Y({}), Z({}), IJK({}, {}, {}))", dme(told.x()),
                     dme(told.y()), dme(told.z()), dme(n.x()), dme(n.y()), dme(n.z())));
    return true;
  }
  const Reply reply = outcome(ball, "PtMeas");
  if (reply.close) return false;
  send(fmt::format("E0000 ! Error({}, {:04}, \"{}\", \"{}\")", reply.severity, reply.number,
                   reply.where, asciiName(reply.error)));
  return true;
}

} // namespace alder
