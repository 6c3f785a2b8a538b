#include "base/files.h"
#include "direct_channel.h"
#include "run/journal.h"
#include "run/simulated_run.h"
#include "support.h"

using namespace alder;

namespace {

// Chooses always the same after a fault, and remembers what was told.
class Scripted : public WillingOperator {
 public:
  explicit Scripted(FaultChoice choice)
      : choice_(choice) {}
  FaultChoice choose(const Fault& fault, const RunTask& during) override {
    faults.push_back(fault);
    tasks.push_back(during);
    return choice_;
  }
  std::optional<std::string> answer(const RunTask& ask) override {
    asked.push_back(ask.text);
    return reply;
  }
  bool proceed(const RunTask& wait) override {
    waits.push_back(wait.text);
    return go_on;
  }
  std::vector<Fault> faults;
  std::vector<RunTask> tasks;
  std::vector<std::string> asked, waits;
  bool go_on = true;
  std::optional<std::string> reply = "0042";

 private:
  FaultChoice choice_;
};

using TouchKey = std::pair<FeatureId, int>;

std::multiset<TouchKey> touchesIn(const std::vector<RawTouch>& touches) {
  std::multiset<TouchKey> keys;
  for (const RawTouch& t : touches)
    keys.insert({t.feature, t.touch});
  return keys;
}

} // namespace

class RunTest : public QObject {
  Q_OBJECT
 private:
  std::shared_ptr<const Plan> plan_;
  std::shared_ptr<const Way> way_;

  // The alignment features and two more, with a question and a wait.
  void makeShort() {
    Plan plan = test::heronPlan();
    plan.bench.machine.probing_noise = 0.0005;
    std::vector<FeatureId> measured = plan.alignment;
    for (FeatureId id : test::orderOf(plan))
      if (measured.size() < plan.alignment.size() + 2 &&
          std::find(measured.begin(), measured.end(), id) == measured.end() &&
          plan.feature(id).access == plan.feature(plan.alignment.front()).access)
        measured.push_back(id);
    for (FeatureId id : measured)
      plan.feature(id).touches.resize(std::min<std::size_t>(plan.feature(id).touches.size(), 6));
    plan.steps = measureSteps(measured);
    const auto put = [&](std::size_t at, int id, StepBody body) {
      auto step = plan.steps.emplace(plan.steps.begin() + static_cast<std::ptrdiff_t>(at));
      step->id = StepId{id};
      step->body = std::move(body);
    };
    put(0, 100, AskStep{"Serial number", false, ""});
    put(plan.steps.size(), 101, WaitStep{"Take the part out"});
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

  void overTheLineAsWithin() {
    std::vector<std::vector<RawTouch>> came;
    for (const bool over_line : {false, true}) {
      SimulatedController machine(world());
      DmeServer server(machine, plan_->bench);
      test::DirectChannel channel(server);
      DmeClient client(channel, plan_->bench.controller);
      RunSession session(plan_, way_);
      Scripted who(FaultChoice::Stop);
      const RunEnd end = conduct(session, over_line ? static_cast<Controller&>(client) : machine,
                                 who, [](const RunEvent&) -> Done { return {}; });
      QVERIFY2(end.finished, end.why.c_str());
      QCOMPARE(who.asked.size(), std::size_t(1));
      QCOMPARE(who.waits.size(), std::size_t(1));
      QVERIFY(who.faults.empty());
      QCOMPARE(session.answers().front().value, std::string("0042"));
      QCOMPARE(session.answers().front().what, std::string("Serial number"));
      QCOMPARE(int(session.touches().size()), planned());
      QCOMPARE(session.touchesLeft(), 0);
      came.push_back(session.touches());
    }
    for (std::size_t i = 0; i < came[0].size(); ++i)
      NEAR((came[0][i].ball - came[1][i].ball).norm(), 0.0, 1e-6);
  }

  // Header data come before the machine moves.
  void questionsComeFirst() {
    SimulatedController machine(world());
    RunSession session(plan_, way_);
    Scripted who(FaultChoice::Stop);
    who.reply.reset();
    const RunEnd end = conduct(session, machine, who, [](const RunEvent&) -> Done { return {}; });
    QVERIFY(!end.finished);
    QCOMPARE(end.why, std::string("Stopped by the operator."));
    QCOMPARE(machine.commands(), 0);
  }

  // Each fault at each command; whatever the operator chooses, it ends in a clear state.
  void everyFaultAtEveryCommand() {
    SimulatedController clean(world());
    RunSession untroubled(plan_, way_);
    Scripted nobody(FaultChoice::Stop);
    QVERIFY(
        conduct(untroubled, clean, nobody, [](const RunEvent&) -> Done { return {}; }).finished);
    const int commands = clean.commands();
    QVERIFY(commands > 60);
    int met = 0;
    for (const FaultChoice choice : {FaultChoice::Retry, FaultChoice::Skip, FaultChoice::Stop})
      for (const FaultKind kind : {FaultKind::MissedTouch, FaultKind::UnexpectedTouch,
                                   FaultKind::LostConnection, FaultKind::EmergencyStop})
        for (int at = 1; at <= commands; ++at) {
          SimulatedController machine(world({{at, kind}}));
          DmeServer server(machine, plan_->bench);
          test::DirectChannel channel(server);
          DmeClient client(channel, plan_->bench.controller);
          RunSession session(plan_, way_);
          Scripted who(choice);
          std::vector<RunEvent> kept;
          const RunEnd end = conduct(session, client, who, [&](const RunEvent& e) -> Done {
            kept.push_back(e);
            return {};
          });
          std::string where = fmt::format("{} at {}", name(kind), at);
          for (std::size_t i = 0; i < who.faults.size(); ++i)
            where += fmt::format("; {}: {}", who.tasks[i].text, who.faults[i].message);
          where += who.trouble();
          if (who.faults.empty()) { // no command after it can fail so
            QVERIFY2(end.finished, where.c_str());
            continue;
          }
          ++met;
          QVERIFY2(who.faults.size() == 1 && who.faults.front().kind == kind, where.c_str());
          QVERIFY2(!who.faults.front().message.empty(), where.c_str());
          QCOMPARE(end.finished, choice != FaultChoice::Stop);
          if (!end.finished) QCOMPARE(end.why, std::string("Stopped by the operator."));
          // Nothing twice, nothing lost: what was kept is what the session holds.
          const auto keys = touchesIn(session.touches());
          QCOMPARE(std::set<TouchKey>(keys.begin(), keys.end()).size(), keys.size());
          RunSession again(plan_, way_);
          VERIFY_OK(replay(again, kept));
          QVERIFY2(again.touches() == session.touches() && again.byHand() == session.byHand(),
                   where.c_str());
          if (choice == FaultChoice::Retry)
            QVERIFY2(int(keys.size()) == planned(),
                     fmt::format("{}: {} of {}", where, keys.size(), planned()).c_str());
          if (choice == FaultChoice::Skip && end.finished)
            QVERIFY2(int(keys.size()) + 6 >= planned(), where.c_str());
        }
    QVERIFY(met > 500);
  }

  // Broken off anywhere, it goes on from the journal and the machine, and comes to the same set.
  void brokenOffAndGoneOn() {
    SimulatedController reference_machine(world());
    RunSession reference(plan_, way_);
    Scripted nobody(FaultChoice::Stop);
    QVERIFY(conduct(reference, reference_machine, nobody, [](const RunEvent&) -> Done {
              return {};
            }).finished);
    const auto events = reference.touches().size() + reference.byHand().size() + 2;
    for (std::size_t stop_after = 1; stop_after <= events; ++stop_after) {
      SimulatedController machine(world());
      std::string text = journalLine(RunHead{"short", "k", RunKind::Automatic, 7});
      std::size_t count = 0;
      RunSession first(plan_, way_);
      const RunEnd broken = conduct(first, machine, nobody, [&](const RunEvent& e) -> Done {
        if (count == stop_after) return fail("The disk is full.");
        text += journalLine(e);
        ++count;
        return {};
      });
      if (!broken.finished) QCOMPARE(broken.why, std::string("The disk is full."));
      text += "{\"touch\":[1,"; // not written to its end
      const auto journal = readJournal(text, "run");
      VERIFY_OK(journal);
      QCOMPARE(journal->events.size(), count);
      RunSession second(plan_, way_);
      VERIFY_OK(replay(second, journal->events));
      const RunEnd end =
          conduct(second, machine, nobody, [](const RunEvent&) -> Done { return {}; });
      QVERIFY2(end.finished,
               fmt::format("after {}: {} {}", stop_after, end.why,
                           nobody.faults.empty() ? nobody.trouble() : nobody.faults.back().message)
                   .c_str());
      QCOMPARE(touchesIn(second.touches()), touchesIn(reference.touches()));
      QCOMPARE(touchesIn(second.byHand()), touchesIn(reference.byHand()));
    }
  }

  // All by hand: the machine never moves by itself.
  void guidedByHand() {
    struct Still : SimulatedController {
      using SimulatedController::SimulatedController;
      int moves = 0;
      Answer<void> goTo(const Vec3& ball) override {
        ++moves;
        return SimulatedController::goTo(ball);
      }
    } machine(world());
    RunSession session(plan_, way_, RunKind::ByHand);
    Scripted who(FaultChoice::Stop);
    const RunEnd end = conduct(session, machine, who, [](const RunEvent&) -> Done { return {}; });
    QVERIFY2(end.finished, end.why.c_str());
    QCOMPARE(int(session.touches().size()), planned());
    QCOMPARE(machine.moves, 0);
    for (const RawTouch& t : session.touches())
      QVERIFY(std::abs(session.deviation(t)) < 0.05);
  }

  void journalsThatAreDamaged() {
    QVERIFY(!readJournal("", "run"));
    const std::string head = journalLine(RunHead{"a", "b", RunKind::ByHand, 5});
    QVERIFY(readJournal(head, "run")->head.kind == RunKind::ByHand);
    const auto bad = readJournal(head + "{\"touch\":[0]}\n", "run.journal");
    QVERIFY(!bad && bad.error().message.find("run.journal: line 2") != std::string::npos);
    // A touch of another routine, one twice, or a tip that is not there, is not taken.
    RunSession session(plan_, way_);
    QVERIFY(!session.take(Rerouted{Vec3::Zero(), {0, 99, 0, 0}}));
    QVERIFY(!session.take(Rerouted{Vec3::Zero(), {-1, 0, 0, 0}}));
    QVERIFY(!session.take(Touched{{FeatureId{9999}, 0, Vec3::Zero(), 1}, false}));
    const auto first = plan_->alignment.front();
    SimulatedController machine(world());
    Scripted who(FaultChoice::Stop);
    QVERIFY(conduct(session, machine, who, [](const RunEvent&) -> Done { return {}; }).finished);
    QVERIFY(!session.take(Touched{{first, 0, Vec3::Zero(), 1}, false}));
  }

  void journalFiles() {
    QTemporaryDir dir;
    const auto path = std::filesystem::path(dir.path().toStdString()) / "run.journal";
    const RunHead head{"Heron", "key", RunKind::Automatic, 12};
    {
      auto file = JournalFile::create(path, head);
      VERIFY_OK(file);
      VERIFY_OK(file->add(Waited{StepId{3}}));
      QVERIFY(!JournalFile::create(path, head)); // never over another
    }
    VERIFY_OK(writeFile(path, *readFile(path) + "{\"wai"));
    {
      auto file = JournalFile::goOn(path);
      VERIFY_OK(file);
      VERIFY_OK(file->add(Answered{StepId{4}, "Operator", "M. \"Reed\""}));
      VERIFY_OK(file->add(Skipped{FeatureId{2}, 5}));
      VERIFY_OK(file->add(Rerouted{Vec3(1, 2.5, 1e-9), {1, 0, 0.25, -1}}));
      VERIFY_OK(file->add(Touched{{FeatureId{1}, 2, Vec3(0.1, 1.0 / 3, 2), 1.5}, true}));
      VERIFY_OK(file->add(SphereTouched{StepId{9}, {1, 0, 0.5, -1}, 3, Vec3(1, 2, 3.25), 1234567}));
      VERIFY_OK(file->add(Branched{StepId{8}, true}));
      VERIFY_OK(file->add(Framed{"left seat", true}));
      VERIFY_OK(file->add(TipGivenUp{StepId{7}, {1, 0, 0.25, -1}}));
    }
    const auto read = readJournal(*readFile(path), "run");
    VERIFY_OK(read);
    const std::vector<RunEvent> expected{
        Waited{StepId{3}},
        Answered{StepId{4}, "Operator", "M. \"Reed\""},
        Skipped{FeatureId{2}, 5},
        Rerouted{Vec3(1, 2.5, 1e-9), {1, 0, 0.25, -1}},
        Touched{{FeatureId{1}, 2, Vec3(0.1, 1.0 / 3, 2), 1.5}, true},
        SphereTouched{StepId{9}, {1, 0, 0.5, -1}, 3, Vec3(1, 2, 3.25), 1234567},
        Branched{StepId{8}, true},
        Framed{"left seat", true},
        TipGivenUp{StepId{7}, {1, 0, 0.25, -1}}};
    QVERIFY(read->events == expected);
  }

  void linesOfTheProtocol() {
    const auto line = readDmeLine("00012 PtMeas(X(1.5), Y(-2), Z(+3e1), IJK(0,0,1))\r\n");
    VERIFY_OK(line);
    QCOMPARE(line->tag, std::string("00012"));
    const DmeCall& call = line->calls.front();
    QCOMPARE(*call.number("Y"), -2.0);
    QCOMPARE(*call.number("Z"), 30.0);
    QCOMPARE(call.find("IJK")->numbers.size(), std::size_t(3));
    const auto again = readDmeLine(dmeText(*line));
    VERIFY_OK(again);
    QCOMPARE(dmeText(*again), dmeText(*line));
    const auto error = readDmeLine("00003 ! Error(3, 1006, \"PtMeas\", \"Surface not found\")");
    VERIFY_OK(error);
    QCOMPARE(error->mark, '!');
    QCOMPARE(error->calls.front().texts.back(), std::string("Surface not found"));
    QVERIFY(readDmeLine("E0001 AbortE()").has_value());
    for (const char* bad : {"", "12 Home()", "00001 Home", "00001 GoTo(X(1)", "00001 GoTo(X(1)))",
                            "0000x Home()", "00001 ", "00001 GoTo(\"a)", "00001 A() B()"})
      QVERIFY2(!readDmeLine(bad), bad);
  }

  // A machine that does not know the command, or is told nonsense, says so and goes on.
  void theMachineAnswersNonsense() {
    SimulatedController machine(world());
    DmeServer server(machine, plan_->bench);
    std::string said;
    const auto say = [&](const char* line) {
      said.clear();
      return server.answer(line, [&](const std::string& reply) { said += reply + "\n"; });
    };
    QVERIFY(say("00001 GoTo(X(1), Y(2), Z(3))"));
    QVERIFY(said.find("No session") != std::string::npos);
    QVERIFY(say("00002 StartSession()"));
    QCOMPARE(said, std::string("00002 &\nE0000 # Alderpoint(UserPt, UserClear)\n00002 %\n"));
    QVERIFY(say("00003 Dance()"));
    QVERIFY(said.find("501") != std::string::npos);
    QVERIFY(say("00004 GoTo(X(1), Y(2))"));
    QVERIFY(said.find("509") != std::string::npos);
    QVERIFY(say("00005 PtMeas(X(1), Y(2), Z(3), IJK(0,0,0))"));
    QVERIFY(said.find("509") != std::string::npos);
    QVERIFY(say("garbage"));
    QVERIFY(said.find("!") != std::string::npos);
    QVERIFY(say("00006 GoTo(X(99999), Y(2), Z(3))"));
    QVERIFY(said.find("out of travel") != std::string::npos);
    QVERIFY(say("00009 ClearAllErrors()"));
    for (const char* unknown : {"SetProp(Tool.Colour(1))", "GetProp(Tool.Colour())", "Get(Q())",
                                "GoTo(X(1), Y(2), Z(3), Tool.A(0), Tool.B(0))", "GoTo(Q(1))",
                                "SetProp(Tool.PtMeasPar.Speed(0))", "SetCoordSystem(PartCsy)"}) {
      QVERIFY(say((std::string("00010 ") + unknown).c_str()));
      QVERIFY2(said.find("! Error(2, 509,") != std::string::npos, said.c_str());
    }
    QVERIFY(say("00011 ChangeTool(\"none/1\")"));
    QVERIFY(said.find("1502") != std::string::npos);
    QVERIFY(say("00012 GetProp(Tool.Name())"));
    QVERIFY(said.find("# Tool.Name(\"" + asciiName(plan_->bench.styli[0].name) + "/") !=
            std::string::npos);
    QVERIFY(say("00007 Get(X(), Y(), Z())"));
    QVERIFY(said.find("# X(") != std::string::npos);
    QVERIFY(!say("00008 EndSession()"));
  }

  void driftMovesTheMachine() {
    SimulatedWorld w = world();
    w.drift = Vec3(0, 0, 3600); // 1 mm a second
    SimulatedController machine(w);
    QVERIFY(machine.turn(0, 0).has_value());
    const auto before = machine.posture()->ball;
    QVERIFY(machine.goTo(before - Vec3(0, 0, 10)).has_value());
    QVERIFY(machine.seconds() > 0);
    // The plan's first plane is met lower by what the machine has risen meanwhile.
    const Feature& f = plan_->feature(plan_->alignment.front());
    const Touch& t = f.touches.front();
    TouchCommand command{plan_->placement * t.point, turn(plan_->placement, t.normal), 2, 8, 0};
    if (f.access.stylus != 0) return;
    const auto ball = machine.touch(command);
    QVERIFY2(ball.has_value(), ball ? "" : ball.error().message.c_str());
    const double off =
        (*ball - command.surface).dot(command.normal) - plan_->tip(f.access).ball_diameter / 2;
    QVERIFY(std::abs(off) > 0.05);
  }

  void faultsByName() {
    VERIFY_OK(faultFromText("missed@12"));
    QCOMPARE(faultFromText("lost@3")->command, 3);
    for (const char* bad : {"missed", "missed@", "missed@0", "gone@1", "stop@1x"})
      QVERIFY2(!faultFromText(bad), bad);
  }
};
ALDER_TEST(RunTest)
#include "run_test.moc"
