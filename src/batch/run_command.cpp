// Measuring: on the simulated machine within this program, or on one that is spoken to.
#include "commands.h"
#include "judge/judge.h"

#include "base/files.h"
#include "exchange/points/points_file.h"
#include "exchange/routine/project.h"
#include "exchange/runs/run_frames.h"
#include "exchange/runs/run_output.h"
#include "link/socket_channel.h"
#include "run/journal.h"
#include "run/simulated_run.h"
#include "store/run_database.h"
#include <chrono>
#include <cstdio>

namespace alder::batch {
namespace {

Result<Defects> defectsOf(const RunOptions& o, const Plan& plan) {
  if (o.defects.empty()) return Defects{};
  auto text = readFile(o.defects);
  if (!text) return pass(text.error());
  return readDefects(*text, o.defects, plan);
}

// Who speaks for the operator here: does as asked, and has the machine clear if told so before.
// Who touches by hand also drives clear where the routine foresees it.
class AbsentOperator : public WillingOperator {
 public:
  AbsentOperator(const RunOptions& o, std::filesystem::path folder)
      : WillingOperator({}, o.retries)
      , clear_(o.clear || o.machine.empty()) // that within this program begins so
      , home_(o.home)
      , folder_(std::move(folder)) {}
  bool mayHome(const std::string& why) override {
    if (home_) return true;
    why_ = why + " Say --home if it may.";
    return false;
  }
  std::optional<std::string> toolFor(const ToolWanted& tool,
                                     const std::vector<std::string>& names) override {
    why_ = unknownTool(tool, names) + " Name it in the bench (controller), or with --tool " +
           tool.stylus + "/" + tool.tip + "=NAME.";
    return {};
  }
  bool moveClear(const std::string& why, bool foreseen) override {
    if (foreseen || std::exchange(clear_, false)) return true;
    why_ = why + " Move it clear of the part and run again with --clear.";
    return false;
  }
  Done write(const Output& output, const RunSession& session) override {
    const auto now = std::chrono::system_clock::now().time_since_epoch();
    return writeOutput(output, session, folder_,
                       std::chrono::duration_cast<std::chrono::seconds>(now).count());
  }
  const std::string& why() const { return why_; }

 private:
  bool clear_, home_;
  std::filesystem::path folder_; // of what the routine writes
  std::string why_;
};

Result<std::unique_ptr<SocketChannel>> channelTo(const std::string& address) {
  const auto colon = address.rfind(':');
  const int port = colon == std::string::npos ? 0 : std::atoi(address.c_str() + colon + 1);
  if (port <= 0 || port > 65535)
    return fail("--machine {}: write HOST:PORT, such as 127.0.0.1:1294.", address);
  return std::make_unique<SocketChannel>(address.substr(0, colon), port);
}

// The bench's, and before them those that were told here.
Result<ControllerNames> controllerNames(const RunOptions& o, const Bench& bench) {
  ControllerNames names = bench.controller;
  for (const std::string& told : o.tools) {
    const auto is = told.rfind('='), slash = told.find('/');
    if (is == std::string::npos || slash == std::string::npos || slash > is ||
        is + 1 == told.size())
      return fail("--tool {}: write STYLUS/TIP=NAME, such as short/1=T1.", told);
    names.tools.insert(names.tools.begin(), {told.substr(0, slash),
                                             told.substr(slash + 1, is - slash - 1),
                                             {},
                                             {},
                                             told.substr(is + 1)});
  }
  return names;
}

// Begins the journal, or goes on with the one that is there.
Result<std::optional<JournalFile>> journalFor(const RunOptions& o, RunSession& session,
                                              const std::string& key) {
  if (o.journal.empty()) return std::optional<JournalFile>();
  const auto opened = [](Result<JournalFile> file) -> Result<std::optional<JournalFile>> {
    if (!file) return pass(file.error());
    return std::optional<JournalFile>(std::move(*file));
  };
  if (!std::filesystem::exists(o.journal)) {
    const auto now = std::chrono::system_clock::now().time_since_epoch();
    return opened(JournalFile::create(
        o.journal, {session.plan().name, key, session.kind(),
                    std::chrono::duration_cast<std::chrono::seconds>(now).count()}));
  }
  auto text = readFile(o.journal);
  if (!text) return pass(text.error());
  auto journal = readJournal(*text, o.journal);
  if (!journal) return pass(journal.error());
  if (journal->head.key != key)
    return fail("{}: is a run of the routine as it was before a change; it cannot go on.",
                o.journal);
  if (journal->head.kind != session.kind())
    return fail("{}: was begun {}; go on with it so.", o.journal, name(journal->head.kind));
  if (auto done = replay(session, journal->events); !done)
    return fail("{}: {}", o.journal, done.error().message);
  return opened(JournalFile::goOn(o.journal));
}

// Under the name told, else the serial number that was answered.
Done keep(const RunOptions& o, const std::vector<std::shared_ptr<RunSession>>& sessions,
          const Run& all) {
  std::vector<Answered> answers;
  for (const auto& session : sessions)
    answers.insert(answers.end(), session->answers().begin(), session->answers().end());
  std::string head, part = o.part;
  if (part.empty()) part = answerFor(QuestionRole::SerialNumber, answers);
  for (const Answered& a : answers)
    head += "# " + a.what + ": " + a.value + "\n";
  auto database = openDatabase(o.database);
  if (!database) return pass(database.error());
  const StoredRun run{part.empty() ? "part" : part,
                      withId(head + frameLines(all) + pointsText(all), freshId())};
  const auto since_1970 = std::chrono::system_clock::now().time_since_epoch();
  const Plan& plan = sessions.front()->plan();
  return database->add(
      recordOf(plan, run, judgeAll(plan, measurementsOf(all)),
               std::chrono::duration_cast<std::chrono::seconds>(since_1970).count()));
}

} // namespace

namespace {

// A run of one set-up: in the place-th file of the journal.
struct SetupRun {
  const SetupWay& setup;
  std::size_t place = 0;
};

RunOptions withJournalOf(RunOptions o, std::size_t place) {
  if (o.journal.empty() || place == 0) return o;
  const std::filesystem::path path = o.journal;
  o.journal = (path.parent_path() /
               fmt::format("{}-{}{}", path.stem().string(), place + 1, path.extension().string()))
                  .string();
  return o;
}

Result<std::shared_ptr<RunSession>> runSetup(const RunOptions& all, const SetupRun& which) {
  const RunOptions o = withJournalOf(all, which.place);
  const auto plan = std::make_shared<const Plan>(which.setup.plan);
  auto defects = defectsOf(o, *plan);
  if (!defects) return pass(defects.error());
  auto session = std::make_shared<RunSession>(plan, std::make_shared<const Way>(which.setup.way),
                                              o.by_hand ? RunKind::ByHand : RunKind::Automatic);
  auto journal = journalFor(o, *session, routineKey(*plan));
  if (!journal) return pass(journal.error());

  std::unique_ptr<SocketChannel> channel;
  std::unique_ptr<Controller> machine;
  DmeClient* client = nullptr;
  if (o.machine.empty()) {
    machine = std::make_unique<SimulatedController>(SimulatedWorld{
        plan, std::move(*defects), seedOfSetup(o.seed, which.place), {}, Vec3::Zero(), {}});
  } else {
    auto opened = channelTo(o.machine);
    if (!opened) return pass(opened.error());
    channel = std::move(*opened);
    auto names = controllerNames(o, plan->bench);
    if (!names) return pass(names.error());
    auto spoken_to = std::make_unique<DmeClient>(*channel, std::move(*names));
    client = spoken_to.get();
    machine = std::move(spoken_to);
  }
  AbsentOperator who(o, std::filesystem::path(o.routine).parent_path());
  const RunEnd end = conduct(*session, *machine, who, [&](const RunEvent& event) -> Done {
    if (*journal) return (*journal)->add(event);
    return {};
  });
  if (!end.finished) {
    const std::string& why = !who.why().empty()       ? who.why()
                             : !who.trouble().empty() ? who.trouble()
                                                      : end.why;
    return fail("{}{}", why,
                o.journal.empty() ? ""
                                  : fmt::format(" {} touches are kept in {}.",
                                                session->touchesDone(), o.journal));
  }
  if (client) (void)client->end(); // all is measured, whatever it says to that
  return session;
}

} // namespace

Result<int> run(const RunOptions& o) {
  auto project = openProject(o.routine);
  if (!project) return pass(project.error());
  const auto since_1970 = std::chrono::system_clock::now().time_since_epoch();
  project->plan.qualified =
      withoutStale(project->plan.qualified, project->plan.bench,
                   std::chrono::duration_cast<std::chrono::seconds>(since_1970).count());
  auto ways = waysOf(project->plan, o.setup);
  if (!ways) return pass(ways.error());
  if (ways->size() > 1 && !o.machine.empty())
    return fail("{}: has {} set-ups, and nobody turns the part here; say --setup with one of them.",
                o.routine, ways->size());
  Run all;
  std::vector<std::shared_ptr<RunSession>> sessions;
  for (std::size_t i = 0; i < ways->size(); ++i) {
    auto session = runSetup(o, {(*ways)[i], i});
    if (!session) return pass(session.error());
    appendRun(all, (*session)->run());
    sessions.push_back(std::move(*session));
  }
  if (!o.database.empty())
    if (auto done = keep(o, sessions, all); !done) return pass(done.error());
  const auto csv = pointsText(all);
  if (o.output.empty()) {
    std::fputs(csv.c_str(), stdout);
  } else if (auto done = writeFile(o.output, csv); !done) {
    return pass(done.error());
  }
  return 0;
}

} // namespace alder::batch
