// The client against a machine that takes the protocol at its word.
#include "direct_channel.h"
#include "run/journal.h"
#include "run/simulated_run.h"
#include "support.h"
#include <QProcess>
#include <QTemporaryDir>

using namespace alder;

namespace {

// Reads what the program shows, and touches there; knows which tool is which.
class AtTheMachine : public WillingOperator {
 public:
  AtTheMachine(StrictMachine& machine, const Bench& bench, FaultChoice choice)
      : machine_(machine)
      , choice_(choice) {
    int tool = 0;
    for (const Stylus& stylus : bench.styli)
      for (const Tip& tip : stylus.tips)
        tools_[stylus.name + "/" + tip.name] = fmt::format("T{}", ++tool);
    machine_.next_by_hand = [this]() -> std::optional<TouchCommand> {
      if (!key.empty()) {
        machine_.operatorPresses(key);
        key.clear();
        return {};
      }
      return at_hand_;
    };
  }
  ~AtTheMachine() override { machine_.next_by_hand = {}; }

  FaultChoice choose(const Fault& fault, const RunTask& during) override {
    faults.push_back(fault);
    tasks.push_back(during);
    constexpr std::size_t kMost = 5; // else it would never end
    return faults.size() > kMost ? FaultChoice::Stop : choice_;
  }
  bool mayHome(const std::string&) override {
    ++homed;
    return lets_home;
  }
  std::optional<std::string> toolFor(const ToolWanted& tool,
                                     const std::vector<std::string>& names) override {
    asked.push_back(unknownTool(tool, names));
    return tools_.at(tool.stylus + "/" + tool.tip);
  }
  bool moveClear(const std::string&, bool) override {
    machine_.operatorDrivesClear();
    return true;
  }
  void doing(const RunTask& task) override {
    at_hand_.reset();
    if (task.kind == RunTask::Kind::TouchByHand) at_hand_ = task.touch;
    if (task.kind == RunTask::Kind::Touch) touches.push_back(task.touch);
    if (at_hand_ && press_after-- == 0) key = press;
  }

  std::vector<Fault> faults;
  std::vector<RunTask> tasks;
  std::vector<std::string> asked;
  std::vector<TouchCommand> touches; // by program, as they were to be
  int homed = 0;
  bool lets_home = true;
  int press_after = -1; // touches by hand before a key is pressed
  std::string press = "Done", key;

 private:
  StrictMachine& machine_;
  FaultChoice choice_;
  std::map<std::string, std::string> tools_;
  std::optional<TouchCommand> at_hand_;
};

std::string joined(const std::vector<std::string>& lines) {
  return fmt::format("{}", fmt::join(lines, "\n"));
}

// Answers nothing but what it is told to; may be shut.
class Mute : public LineChannel {
 public:
  bool connect() override { return open = true; }
  bool isOpen() const override { return open; }
  bool send(const std::string& line) override {
    sent.push_back(line);
    for (const std::string& word : {std::string("AbortE"), speaks_until})
      if (!word.empty() && line.find(word) != std::string::npos &&
          (word != "AbortE" || confirms_abort)) {
        lines.push_back(line.substr(0, 5) + " &");
        lines.push_back(line.substr(0, 5) + " %");
      }
    return true;
  }
  std::optional<std::string> receive(int) override {
    if (lines.empty()) return {};
    auto line = lines.front();
    lines.pop_front();
    return line;
  }
  bool open = false, confirms_abort = false;
  std::string speaks_until = "Session";
  std::vector<std::string> sent;
  std::deque<std::string> lines;
};

const auto kKeep = [](const RunEvent&) -> Done { return {}; };

} // namespace

class StrictMachineTest : public QObject {
  Q_OBJECT
 private:
  std::shared_ptr<const Plan> plan_;
  std::shared_ptr<const Way> way_;

  // The alignment features and some more at other angles, with touches at a speed of their own.
  void makeShort() {
    Plan plan = test::heronPlan();
    plan.bench.machine.probing_noise = 0.0005;
    std::vector<FeatureId> measured = plan.alignment;
    int turned = 0;
    for (FeatureId id : test::orderOf(plan)) {
      const bool other = !(plan.feature(id).access == plan.feature(plan.alignment.front()).access);
      if (std::find(measured.begin(), measured.end(), id) != measured.end() || !other) continue;
      if (++turned > 2) break;
      measured.push_back(id);
    }
    int slow = 0;
    for (FeatureId id : measured) {
      plan.feature(id).touches.resize(std::min<std::size_t>(plan.feature(id).touches.size(), 5));
      if (++slow % 2 == 0) plan.feature(id).recipe.speed = 1.5;
    }
    plan.steps = measureSteps(measured);
    plan_ = std::make_shared<const Plan>(plan);
    auto way = routePlan(plan, test::heronObstacles());
    QVERIFY(way.has_value());
    way_ = std::make_shared<const Way>(*way);
  }
  int planned() const {
    int count = 0;
    for (FeatureId id : test::orderOf(*plan_))
      count += static_cast<int>(plan_->feature(id).touches.size());
    return count;
  }
  SimulatedWorld world(std::vector<PlannedFault> faults = {}) const {
    SimulatedWorld w;
    w.plan = plan_;
    w.seed = 4;
    w.faults = std::move(faults);
    return w;
  }

 private slots:
  void initTestCase() { makeShort(); }

  // Nothing is refused, every touch is made as it was planned, at the same places as without it.
  void theWholeRun() {
    SimulatedController plain(world());
    RunSession expected(plan_, way_);
    WillingOperator willing;
    QVERIFY(conduct(expected, plain, willing, kKeep).finished);
    for (std::uint64_t seed = 1; seed <= 20; ++seed) {
      SimulatedController machine(world());
      StrictMachine strict(machine, plan_->bench, seed);
      test::DirectChannel channel(strict);
      DmeClient client(channel, plan_->bench.controller);
      RunSession session(plan_, way_);
      AtTheMachine who(strict, plan_->bench, FaultChoice::Stop);
      const RunEnd end = conduct(session, client, who, kKeep);
      const std::string told = end.why + (who.faults.empty() ? "" : who.faults.back().message) +
                               joined(strict.refused());
      QVERIFY2(end.finished, told.c_str());
      QVERIFY(client.end().has_value());
      QVERIFY(!channel.isOpen());
      QVERIFY2(strict.refused().empty(), told.c_str());
      QCOMPARE(who.homed, 1);
      QVERIFY(!who.asked.empty());
      QVERIFY2(who.asked.front().find("It knows T1, T2") != std::string::npos,
               who.asked.front().c_str());
      QCOMPARE(session.touches().size(), expected.touches().size());
      for (std::size_t i = 0; i < session.touches().size(); ++i) {
        QVERIFY(session.touches()[i].feature == expected.touches()[i].feature);
        NEAR((session.touches()[i].ball - expected.touches()[i].ball).norm(), 0.0, 0.01);
      }
      // Parameters as planned, whatever the tool had before.
      QCOMPARE(strict.touched().size(), who.touches.size());
      bool slow = false, own = false;
      for (std::size_t i = 0; i < who.touches.size(); ++i) {
        const TouchCommand &asked = who.touches[i], &made = strict.touched()[i];
        NEAR(made.approach, asked.approach, 1e-6);
        NEAR(made.search, asked.search, 1e-6);
        NEAR(made.speed, asked.speed > 0 ? asked.speed : plan_->bench.machine.touch_speed, 1e-6);
        NEAR((made.surface - asked.surface).norm(), 0.0, 1e-6);
        (asked.speed > 0 ? slow : own) = true;
      }
      QVERIFY(slow && own);
      for (const std::string& line : channel.sent) {
        QVERIFY2(line.find("Speed(0)") == std::string::npos, line.c_str());
        QVERIFY2(line.find("User") == std::string::npos ||
                     line.find("ableUser") != std::string::npos,
                 line.c_str());
      }
    }
  }

  void homingIsAsked() {
    SimulatedController machine(world());
    StrictMachine strict(machine, plan_->bench, 1);
    test::DirectChannel channel(strict);
    DmeClient client(channel, plan_->bench.controller);
    RunSession session(plan_, way_);
    AtTheMachine who(strict, plan_->bench, FaultChoice::Stop);
    who.lets_home = false;
    const RunEnd end = conduct(session, client, who, kKeep);
    QVERIFY(!end.finished);
    QCOMPARE(end.why, std::string("Stopped by the operator."));
    QCOMPARE(machine.commands(), 0);
    for (const std::string& line : channel.sent)
      QVERIFY2(line.find("Home()") == std::string::npos, line.c_str());
  }

  // Names in the bench: then nobody is asked. Angles counted otherwise.
  void namesOfTheBench() {
    Plan plan = *plan_;
    Json bench = Json::parse(plan.bench.json);
    int tool = 0;
    for (const Stylus& stylus : plan.bench.styli)
      for (const Tip& tip : stylus.tips)
        nameController(bench, {stylus.name, tip.name, {}, {}, fmt::format("T{}", ++tool)});
    const auto read = readBench(bench.dump(), "bench");
    VERIFY_OK(read);
    SimulatedController machine(world());
    StrictMachine strict(machine, plan_->bench, 1);
    test::DirectChannel channel(strict);
    DmeClient client(channel, read->controller);
    RunSession session(plan_, way_);
    AtTheMachine who(strict, plan_->bench, FaultChoice::Stop);
    const RunEnd end = conduct(session, client, who, kKeep);
    QVERIFY2(end.finished, end.why.c_str());
    QCOMPARE(who.asked.size(), std::size_t(0));
    QVERIFY2(strict.refused().empty(), joined(strict.refused()).c_str());
  }

  // One that does not list its tools is taken to have those that the bench names.
  void aListThatIsNotGiven() {
    struct Silent : LineServer {
      explicit Silent(LineServer& of)
          : machine(of) {}
      bool answer(const std::string& line, const Send& send) override {
        if (line.find("EnumTools") == std::string::npos) return machine.answer(line, send);
        send(line.substr(0, 5) + " &");
        send(line.substr(0, 5) + " ! Error(2, 0501, \"EnumTools\", \"Not supported\")");
        send(line.substr(0, 5) + " %");
        return true;
      }
      bool idle(const Send& send) override { return machine.idle(send); }
      LineServer& machine;
    };
    SimulatedController machine(world());
    StrictMachine strict(machine, plan_->bench, 1);
    Silent silent(strict);
    strict.connected();
    test::DirectChannel channel(silent);
    ControllerNames names = plan_->bench.controller;
    int tool = 0;
    for (const auto& [stylus, tip] : names.tips)
      names.tools.push_back({stylus, tip, {}, {}, fmt::format("T{}", ++tool)});
    DmeClient client(channel, names);
    RunSession session(plan_, way_);
    AtTheMachine who(strict, plan_->bench, FaultChoice::Stop);
    const RunEnd end = conduct(session, client, who, kKeep);
    QVERIFY2(end.finished, (end.why + joined(strict.refused())).c_str());
    QVERIFY(who.asked.empty());
  }

  // A controller that knows each posture as a tool, and counts its angles the other way.
  void posturesAsTools() {
    Plan plan = *plan_;
    ControllerNames& names = plan.bench.controller;
    names.a = {-1, radians(90)};
    names.b = {1, radians(15)};
    std::set<std::tuple<int, int, double, double>> postures;
    for (const Position& p : way_->positions)
      if (p.access.valid())
        postures.insert({p.access.stylus, p.access.tip, p.access.a, p.access.b});
    int n = 0;
    for (const auto& [s, t, a, b] : postures) {
      const Stylus& stylus = plan.bench.styli[static_cast<std::size_t>(s)];
      names.tools.push_back({stylus.name, stylus.tips[static_cast<std::size_t>(t)].name, a, b,
                             fmt::format("P{}", ++n)});
    }
    QVERIFY(n >= 2);
    SimulatedController machine(world());
    DmeServer server(machine, plan.bench);
    test::DirectChannel channel(server);
    DmeClient client(channel, names);
    RunSession session(plan_, way_);
    WillingOperator who;
    const RunEnd end = conduct(session, client, who, kKeep);
    QVERIFY2(end.finished, (end.why + who.trouble()).c_str());
    QCOMPARE(int(session.touches().size()), planned());
    std::set<std::string> taken;
    for (const std::string& line : channel.sent) {
      QVERIFY2(line.find("GoTo(Tool.A") == std::string::npos, line.c_str());
      const auto at = line.find("ChangeTool(");
      if (at != std::string::npos) taken.insert(line.substr(at));
    }
    QVERIFY(taken.size() >= 2);
  }

  // Each fault at each command; whatever the operator chooses, nothing that the client says is
  // refused, and it ends in a clear state.
  void everyFaultAtEveryCommand() {
    SimulatedController clean(world());
    RunSession untroubled(plan_, way_);
    WillingOperator nobody;
    QVERIFY(conduct(untroubled, clean, nobody, kKeep).finished);
    const int commands = clean.commands();
    int met = 0;
    for (const FaultChoice choice : {FaultChoice::Retry, FaultChoice::Skip, FaultChoice::Stop})
      for (const FaultKind kind : {FaultKind::MissedTouch, FaultKind::UnexpectedTouch,
                                   FaultKind::LostConnection, FaultKind::EmergencyStop})
        for (int at = 1; at <= commands; ++at) {
          SimulatedController machine(world({{at, kind}}));
          StrictMachine strict(machine, plan_->bench, static_cast<std::uint64_t>(at));
          test::DirectChannel channel(strict);
          DmeClient client(channel, plan_->bench.controller);
          RunSession session(plan_, way_);
          AtTheMachine who(strict, plan_->bench, choice);
          std::vector<RunEvent> kept;
          const RunEnd end = conduct(session, client, who, [&](const RunEvent& e) -> Done {
            kept.push_back(e);
            return {};
          });
          std::string where = fmt::format("{} at {}: {}", name(kind), at, end.why);
          for (std::size_t i = 0; i < who.faults.size(); ++i)
            where += fmt::format("; {}: {}", who.tasks[i].text, who.faults[i].message);
          where += who.trouble() + joined(strict.refused());
          QVERIFY2(strict.refused().empty(), where.c_str());
          if (who.faults.empty()) { // no command after it can fail so
            QVERIFY2(end.finished, where.c_str());
            continue;
          }
          ++met;
          QVERIFY2(who.faults.size() == 1 && who.faults.front().kind == kind, where.c_str());
          QVERIFY2(end.finished == (choice != FaultChoice::Stop), where.c_str());
          std::set<std::pair<FeatureId, int>> keys;
          for (const RawTouch& t : session.touches())
            QVERIFY2(keys.insert({t.feature, t.touch}).second, where.c_str());
          RunSession again(plan_, way_);
          VERIFY_OK(replay(again, kept));
          QVERIFY2(again.touches() == session.touches() && again.byHand() == session.byHand(),
                   where.c_str());
          if (choice == FaultChoice::Retry) QVERIFY2(int(keys.size()) == planned(), where.c_str());
          if (choice == FaultChoice::Skip)
            QVERIFY2(int(keys.size()) + 6 >= planned(), where.c_str());
        }
    QVERIFY2(met > 400, fmt::format("{}", met).c_str());
  }

  // The key that ends a feature: what is left of it by hand is left out, by program it is touched.
  void theOperatorEndsAFeature() {
    for (int after = 0; after < 12; ++after) {
      SimulatedController machine(world());
      StrictMachine strict(machine, plan_->bench, 1);
      test::DirectChannel channel(strict);
      DmeClient client(channel, plan_->bench.controller);
      RunSession session(plan_, way_);
      AtTheMachine who(strict, plan_->bench, FaultChoice::Retry);
      who.press_after = after;
      const RunEnd end = conduct(session, client, who, kKeep);
      const std::string told = fmt::format("after {}: {} {}", after, end.why, who.trouble());
      QVERIFY2(strict.refused().empty(), joined(strict.refused()).c_str());
      // Of a feature without any touch it is asked instead; retried, it is touched.
      for (const Fault& f : who.faults)
        QVERIFY2(f.kind == FaultKind::FeatureEnded, told.c_str());
      QVERIFY2(who.faults.size() + session.skipped().size() <= 1, told.c_str());
      if (end.finished) QCOMPARE(int(session.touches().size()), planned());
      // Too few to find the part by: told, not passed over.
      if (!end.finished) QVERIFY2(end.why.find("touch") != std::string::npos, told.c_str());
    }
  }

  // A touch that is kept is not taken back by a key; it is told, and goes on as is chosen.
  void theKeyThatTakesBack() {
    SimulatedController machine(world());
    StrictMachine strict(machine, plan_->bench, 1);
    test::DirectChannel channel(strict);
    DmeClient client(channel, plan_->bench.controller);
    RunSession session(plan_, way_);
    AtTheMachine who(strict, plan_->bench, FaultChoice::Retry);
    who.press_after = 1;
    who.press = "Del";
    const RunEnd end = conduct(session, client, who, kKeep);
    QVERIFY2(end.finished, end.why.c_str());
    QCOMPARE(who.faults.size(), std::size_t(1));
    QVERIFY(who.faults.front().message.find("taken back") != std::string::npos);
  }

  // Only touches and keys end the wait for a hand, and an error that is told meanwhile.
  void whatEndsAWait() {
    const auto waited = [](const std::vector<std::string>& events) {
      Mute channel;
      channel.speaks_until = "(";
      DmeClient client(channel);
      channel.connect();
      channel.lines.clear();
      struct Later : Mute {};
      for (const std::string& e : events)
        channel.lines.push_back(e);
      return client.touchByHand({});
    };
    const auto touch = waited({"E0000 # Temperature(20)", "E0000 # KeyPress(\"F1\")",
                               "E0000 # Something(X(9), Y(9), Z(9))", "00007 # X(8), Y(8), Z(8)",
                               "E0000 ! Error(0, 30, \"Temperature\", \"warm\")", "nonsense",
                               "E0000 # PtMeas(X(1), Y(2), Z(3), IJK(0, 0, 1))"});
    QVERIFY2(touch.has_value(), touch ? "" : touch.error().message.c_str());
    NEAR((*touch - Vec3(1, 2, 3)).norm(), 0.0, 1e-9);
    const auto error = waited({"E0000 ! Error(3, 500, \"\", \"Emergency stop was pressed\")",
                               "E0000 # PtMeas(X(1), Y(2), Z(3))"});
    QVERIFY(!error);
    QCOMPARE(error.error().message, std::string("Emergency stop was pressed"));
    const auto bare = waited({"E0000 ! Error(3, 2504, PtMeas, \"Met something\")"});
    QVERIFY(!bare && bare.error().kind == FaultKind::UnexpectedTouch);
    const auto done = waited({"E0000 # KeyPress(\"Done\")"});
    QVERIFY(!done && done.error().kind == FaultKind::FeatureEnded);
  }

  // Without a word it is told to stop, and what is known of it then is told.
  void silence() {
    for (const bool confirms : {false, true}) {
      Mute channel;
      channel.confirms_abort = confirms;
      DmePatience patience;
      patience.command = 1000;
      patience.abort = 200;
      DmeClient client(channel, {}, patience);
      const auto begun = client.begin();
      QVERIFY(!begun);
      QVERIFY(begun.error().kind == FaultKind::LostConnection);
      QVERIFY2(begun.error().message.find(confirms ? "answered that it has" : "may still move") !=
                   std::string::npos,
               begun.error().message.c_str());
      QVERIFY(std::any_of(channel.sent.begin(), channel.sent.end(), [](const std::string& line) {
        return line.rfind("E", 0) == 0 && line.find("AbortE()") != std::string::npos;
      }));
    }
  }

  // What a strict controller does not take.
  void whatIsRefused() {
    SimulatedController machine(world());
    StrictMachine strict(machine, plan_->bench, 3);
    std::string said;
    int tag = 0;
    const auto say = [&](const std::string& command) {
      said.clear();
      const std::size_t before = strict.refused().size();
      strict.answer(fmt::format("{:05} {}", ++tag, command),
                    [&](const std::string& line) { said += line + "\n"; });
      return strict.refused().size() == before;
    };
    QVERIFY(!say("GoTo(X(1))")); // no session
    QVERIFY(say("StartSession()"));
    QVERIFY(!say("StartSession()"));
    QVERIFY(!say("GoTo(X(1))")); // not homed
    QVERIFY(say("Home()"));
    for (const char* bad : {"home()",
                            "Home(1)",
                            "GoTo()",
                            "GoTo(X(1), X(2))",
                            "GoTo(X(1), Tool.A(0))",
                            "GoTo(x(1))",
                            "GoTo(X(1e3))",
                            "GoTo(X(1),  Y(2))",
                            "GoTo(X(1) Y(2))",
                            "GoTo(X(1)) ",
                            "GoTo(X())",
                            "GoTo(X(.5))",
                            "GoTo(X(+5))",
                            "ChangeTool(T1)",
                            "ChangeTool(\"short/1\")",
                            "PtMeas(X(1), Y(2), Z(3))",
                            "PtMeas(X(1), Y(2), Z(3), IJK(0, 0, 0.5))",
                            "SetProp(Tool.PtMeasPar.Speed(0))",
                            "SetProp(Tool.Colour(1))",
                            "GetProp(Tool.Name)",
                            "GetProp(Alderpoint())",
                            "UserPt(X(1), Y(2), Z(3), IJK(0, 0, 1))",
                            "UserClear()",
                            "Get(Tool.Name())",
                            "OnPtMeasReport(X)",
                            "SetCoordSystem(MachineCsy())",
                            "Dance()"}) {
      QVERIFY2(!say(bad), bad);
      QVERIFY2(said.find("! Error(2, ") != std::string::npos, said.c_str());
    }
    strict.answer("12 Home()", [&](const std::string& line) { said = line; });
    QCOMPARE(said, std::string("12 Ho %"));
    // Where the part lay before is where it counts from, until the machine's axes are asked for.
    QVERIFY(say("Get(X())"));
    const std::string offset = said;
    QVERIFY(say("SetCoordSystem(MachineCsy)"));
    QVERIFY(say("Get(X())"));
    QVERIFY(said.substr(said.find('#')) != offset.substr(offset.find('#')));
    QVERIFY(say("EnableUser()"));
    QVERIFY(!say("GoTo(X(1))")); // the operator has it
    QVERIFY(say("DisableUser()"));
  }

  // Over a real line, late and in pieces, from the shell.
  void overASocketInPieces() {
    QTemporaryDir dir;
    QProcess machine;
    const QString routine = QString::fromStdString(test::dataPath("heron.alder"));
    machine.start(ALDER_MACHINE, {routine, "--strict", "--seed", "3"});
    QVERIFY(machine.waitForReadyRead(120000));
    const QString port = machine.readLine().trimmed().split(' ').last();
    const auto run = [&](const QStringList& more) {
      QProcess batch;
      batch.start(ALDER_BATCH, QStringList{"run", routine, "--machine", "127.0.0.1:" + port, "-o",
                                           dir.filePath("points.csv")} +
                                   more);
      batch.waitForFinished(300000);
      return std::make_pair(batch.exitCode(), batch.readAllStandardError().toStdString());
    };
    const auto unhomed = run({});
    QCOMPARE(unhomed.first, 2);
    QVERIFY2(unhomed.second.find("--home") != std::string::npos, unhomed.second.c_str());
    const auto unnamed = run({"--home"});
    QCOMPARE(unnamed.first, 2);
    QVERIFY2(unnamed.second.find("--tool") != std::string::npos &&
                 unnamed.second.find("T1") != std::string::npos,
             unnamed.second.c_str());
    QStringList named{"--home", "--clear"};
    int tool = 0;
    const auto project = openProject(test::dataPath("heron.alder"));
    VERIFY_OK(project);
    for (const Stylus& stylus : project->plan.bench.styli)
      for (const Tip& tip : stylus.tips)
        named << "--tool"
              << QString::fromStdString(fmt::format("{}/{}=T{}", stylus.name, tip.name, ++tool));
    const auto done = run(named);
    QVERIFY2(done.first == 0, done.second.c_str());
    QFile points(dir.filePath("points.csv"));
    QVERIFY(points.open(QIODevice::ReadOnly));
    int touches = 0;
    for (FeatureId id : measuringOrder(project->plan.steps))
      touches += static_cast<int>(project->plan.feature(id).touches.size());
    QCOMPARE(int(points.readAll().count('\n')), touches + 1);
    machine.kill();
    machine.waitForFinished();
  }
};
ALDER_TEST(StrictMachineTest)
#include "strict_machine_test.moc"
