#include "run/journal.h"

#include "base/files.h"
#include "bench/json_fields.h"
#include <cerrno>
#include <cstring>
#include <fcntl.h>
#include <unistd.h>

namespace alder {
namespace {

// 2: frames are events of their own.
constexpr int kJournalVersion = 2;

struct EventWriter {
  Json operator()(const Touched& e) const {
    return {{"touch", {e.touch.feature.value, e.touch.touch}},
            {"ball", toJson(e.touch.ball)},
            {"radius", e.touch.radius},
            {"by_hand", e.by_hand}};
  }
  Json operator()(const Skipped& e) const { return {{"skipped", {e.feature.value, e.touch}}}; }
  Json operator()(const Answered& e) const {
    return {
        {"answered", e.step.value}, {"what", e.what}, {"value", e.value}, {"role", name(e.role)}};
  }
  Json operator()(const Waited& e) const { return {{"waited", e.step.value}}; }
  Json operator()(const SphereTouched& e) const {
    return {{"sphere", {e.step.value, e.touch}},
            {"ball", toJson(e.ball)},
            {"stylus", e.access.stylus},
            {"tip", e.access.tip},
            {"a", e.access.a},
            {"b", e.access.b},
            {"seconds", e.seconds}};
  }
  Json operator()(const Branched& e) const {
    return {{"branched", e.step.value}, {"taken", e.taken}};
  }
  Json operator()(const TipGivenUp& e) const {
    return {{"tip_given_up", e.step.value},
            {"stylus", e.access.stylus},
            {"tip", e.access.tip},
            {"a", e.access.a},
            {"b", e.access.b}};
  }
  Json operator()(const Framed& e) const { return {{"framed", e.frame}, {"given_up", e.given_up}}; }
  Json operator()(const Rerouted& e) const {
    return {{"from", toJson(e.ball)},
            {"stylus", e.access.stylus},
            {"tip", e.access.tip},
            {"a", e.access.a},
            {"b", e.access.b}};
  }
};

Vec3 vectorIn(const Json& json) {
  return {json.at(0).get<double>(), json.at(1).get<double>(), json.at(2).get<double>()};
}

Access accessIn(const Json& json) {
  return {json.at("stylus").get<int>(), json.at("tip").get<int>(), json.at("a").get<double>(),
          json.at("b").get<double>()};
}

// Journals of the first versions do not say what an answer was for.
Answered answerIn(const Json& json) {
  Answered a{StepId{json["answered"].get<int>()}, json.at("what").get<std::string>(),
             json.at("value").get<std::string>()};
  const auto role =
      json.contains("role") ? questionRoleNamed(json["role"].get<std::string>()) : std::nullopt;
  a.role = role.value_or(likelyRole(a.what));
  return a;
}

RunEvent eventFrom(const Json& json) {
  if (json.contains("touch"))
    return Touched{{FeatureId{json["touch"].at(0).get<int>()}, json["touch"].at(1).get<int>(),
                    vectorIn(json.at("ball")), json.at("radius").get<double>()},
                   json.at("by_hand").get<bool>()};
  if (json.contains("skipped"))
    return Skipped{FeatureId{json["skipped"].at(0).get<int>()}, json["skipped"].at(1).get<int>()};
  if (json.contains("answered")) return answerIn(json);
  if (json.contains("waited")) return Waited{StepId{json["waited"].get<int>()}};
  if (json.contains("branched"))
    return Branched{StepId{json["branched"].get<int>()}, json.at("taken").get<bool>()};
  if (json.contains("tip_given_up"))
    return TipGivenUp{StepId{json["tip_given_up"].get<int>()}, accessIn(json)};
  if (json.contains("framed"))
    return Framed{json["framed"].get<std::string>(), json.at("given_up").get<bool>()};
  if (json.contains("sphere"))
    return SphereTouched{StepId{json["sphere"].at(0).get<int>()}, accessIn(json),
                         json["sphere"].at(1).get<int>(), vectorIn(json.at("ball")),
                         json.at("seconds").get<std::int64_t>()};
  return Rerouted{vectorIn(json.at("from")), accessIn(json)};
}

} // namespace

std::string journalLine(const RunHead& head) {
  return Json{{"alderpoint_run", kJournalVersion}, {"routine", head.routine}, {"key", head.key},
              {"kind", name(head.kind)},           {"seconds", head.seconds}, {"again", head.again}}
             .dump() +
         "\n";
}

std::string journalLine(const RunEvent& event) {
  return std::visit(EventWriter{}, event).dump() + "\n";
}

Result<RunJournal> readJournal(const std::string& text, const std::string& label) {
  RunJournal journal;
  int line = 0;
  for (std::size_t at = 0; at < text.size(); ++line) {
    const auto end = text.find('\n', at);
    if (end == std::string::npos) break;
    try {
      const Json json = Json::parse(text.substr(at, end - at));
      if (line == 0) {
        if (json.at("alderpoint_run").get<int>() != kJournalVersion)
          return fail("{}: was written by another version; set the file aside and run again.",
                      label);
        journal.head = {json.at("routine").get<std::string>(), json.at("key").get<std::string>(),
                        json.at("kind").get<std::string>() == name(RunKind::ByHand)
                            ? RunKind::ByHand
                            : RunKind::Automatic,
                        json.at("seconds").get<std::int64_t>(), json.value("again", "")};
      } else {
        journal.events.push_back(eventFrom(json));
      }
    } catch (const Json::exception&) {
      return fail("{}: line {}: is not a line of a run; set the file aside and run again.", label,
                  line + 1);
    }
    at = end + 1;
  }
  if (line == 0) return fail("{}: holds no run.", label);
  return journal;
}

Done replay(RunSession& session, const std::vector<RunEvent>& events) {
  for (const RunEvent& event : events)
    if (auto done = session.take(event); !done) return done;
  return {};
}

Result<JournalFile> JournalFile::create(const std::filesystem::path& path, const RunHead& head) {
  const int file = ::open(path.c_str(), O_CREAT | O_EXCL | O_WRONLY | O_APPEND | O_CLOEXEC, 0644);
  if (file < 0)
    return fail("{}: the run cannot be kept there ({}).", path.string(), std::strerror(errno));
  JournalFile journal(file, path.string());
  if (auto done = journal.write(journalLine(head)); !done) return pass(done.error());
  return journal;
}

Result<JournalFile> JournalFile::goOn(const std::filesystem::path& path) {
  auto text = readFile(path);
  if (!text) return pass(text.error());
  const auto end = text->rfind('\n');
  const auto whole = end == std::string::npos ? 0 : end + 1;
  const int file = ::open(path.c_str(), O_WRONLY | O_APPEND | O_CLOEXEC);
  if (file < 0 || ::ftruncate(file, static_cast<off_t>(whole)) != 0) {
    const std::string why = std::strerror(errno);
    if (file >= 0) ::close(file);
    return fail("{}: the run cannot go on there ({}).", path.string(), why);
  }
  return JournalFile(file, path.string());
}

JournalFile::JournalFile(JournalFile&& other) noexcept
    : file_(std::exchange(other.file_, -1))
    , path_(std::move(other.path_)) {}

JournalFile::~JournalFile() {
  if (file_ >= 0) ::close(file_);
}

Done JournalFile::add(const RunEvent& event) {
  return write(journalLine(event));
}

Done JournalFile::write(const std::string& line) {
  const auto written = ::write(file_, line.data(), line.size());
  if (written != static_cast<ssize_t>(line.size()) || ::fdatasync(file_) != 0)
    return fail("{}: what was measured cannot be kept ({}); make room on the disk.", path_,
                std::strerror(errno));
  return {};
}

} // namespace alder
