#include "store/run_database.h"

#include <QSqlDatabase>
#include <QSqlError>
#include <QSqlQuery>
#include <QUrl>
#include <QVariant>
#include <atomic>
#include <filesystem>

namespace alder {
namespace {

constexpr int kVersion = 1;

QString text(const std::string& s) {
  return QString::fromStdString(s);
}
std::string text(const QVariant& v) {
  return v.toString().toStdString();
}

} // namespace

struct RunDatabase::Link {
  QString name;  // of the connection
  QString label; // for messages, without the password

  ~Link() {
    QSqlDatabase::database(name, false).close();
    QSqlDatabase::removeDatabase(name);
  }
  QSqlDatabase database() const { return QSqlDatabase::database(name, false); }

  // Error with what the database says of it.
  Result<QSqlQuery> run(const QString& sql, const QVariantList& values = {}) const {
    QSqlQuery query(database());
    query.setForwardOnly(true);
    bool ok = false;
    if (values.isEmpty()) {
      ok = query.exec(sql); // tables cannot be made by what is prepared
    } else {
      ok = query.prepare(sql);
      for (const QVariant& v : values)
        query.addBindValue(v);
      ok = ok && query.exec();
    }
    if (!ok) return said(query.lastError());
    return query;
  }
  tl::unexpected<Error> said(const QSqlError& error) const {
    QString words = error.databaseText().isEmpty() ? error.driverText() : error.databaseText();
    words = words.simplified();
    return fail("The runs in {} cannot be reached: {}.", label.toStdString(),
                (words.endsWith('.') ? words.chopped(1) : words).toStdString());
  }

  Done makeTables() const {
    for (const char* sql :
         {"CREATE TABLE IF NOT EXISTS alderpoint (version INTEGER NOT NULL)",
          "CREATE TABLE IF NOT EXISTS runs (id VARCHAR(64) PRIMARY KEY, routine TEXT NOT NULL, "
          "part TEXT NOT NULL, person TEXT NOT NULL, bench TEXT NOT NULL, seconds BIGINT NOT NULL, "
          "qualification TEXT NOT NULL, points TEXT NOT NULL)",
          "CREATE INDEX IF NOT EXISTS runs_by_routine ON runs (routine, seconds)",
          "CREATE TABLE IF NOT EXISTS results (run VARCHAR(64) NOT NULL REFERENCES runs (id), "
          "place INTEGER NOT NULL, balloon INTEGER NOT NULL, requirement TEXT NOT NULL, "
          "actual DOUBLE PRECISION, lower_limit DOUBLE PRECISION NOT NULL, "
          "upper_limit DOUBLE PRECISION NOT NULL, share DOUBLE PRECISION NOT NULL, "
          "verdict TEXT NOT NULL, how TEXT NOT NULL, PRIMARY KEY (run, place))"})
      if (auto done = run(sql); !done) return pass(done.error());
    auto version = run("SELECT version FROM alderpoint");
    if (!version) return pass(version.error());
    if (!version->next()) {
      version->finish();
      auto done = run("INSERT INTO alderpoint (version) VALUES (?)", {kVersion});
      return done ? Done{} : Done(pass(done.error()));
    }
    if (version->value(0).toInt() > kVersion)
      return fail("The runs in {} were kept by a newer program; use that one, or another place.",
                  label.toStdString());
    return {};
  }
};

RunDatabase::RunDatabase(std::unique_ptr<Link> link)
    : link_(std::move(link)) {}
RunDatabase::RunDatabase(RunDatabase&&) noexcept = default;
RunDatabase::~RunDatabase() = default;

Result<RunDatabase> RunDatabase::open(const std::string& where) {
  static std::atomic<int> count = 0;
  auto link = std::make_unique<Link>();
  link->name = QString("alderpoint-runs-%1").arg(++count);
  const QUrl url(text(where));
  const bool shop = url.scheme() == "postgresql" || url.scheme() == "postgres";
  link->label = shop ? url.toString(QUrl::RemovePassword) : text(where);
  {
    QSqlDatabase database = QSqlDatabase::addDatabase(shop ? "QPSQL" : "QSQLITE", link->name);
    if (!database.isValid())
      return fail("{}: the driver for this kind of database is not installed.",
                  link->label.toStdString());
    if (shop) {
      database.setHostName(url.host());
      if (url.port() > 0) database.setPort(url.port());
      database.setUserName(url.userName());
      database.setPassword(url.password());
      database.setDatabaseName(url.path().mid(1));
      database.setConnectOptions("connect_timeout=5");
    } else {
      std::error_code ignored;
      std::filesystem::create_directories(std::filesystem::path(where).parent_path(), ignored);
      database.setDatabaseName(text(where));
      database.setConnectOptions("QSQLITE_BUSY_TIMEOUT=5000");
    }
    if (!database.open()) return link->said(database.lastError());
  }
  if (auto done = link->makeTables(); !done) return pass(done.error());
  return RunDatabase(std::move(link));
}

Done RunDatabase::add(const RunRecord& run) {
  return write(run, false);
}

Done RunDatabase::replace(const RunRecord& run) {
  return write(run, true);
}

Done RunDatabase::write(const RunRecord& r, bool instead) {
  if (r.id.empty()) return fail("A run without an id cannot be kept.");
  QSqlDatabase database = link_->database();
  if (!database.transaction()) return link_->said(database.lastError());
  const auto all = [&]() -> Done {
    auto there = link_->run("SELECT seconds FROM runs WHERE id = ?", {text(r.id)});
    if (!there) return pass(there.error());
    qlonglong seconds = r.seconds;
    if (there->next()) {
      if (!instead) return {};
      seconds = there->value(0).toLongLong(); // its place among the parts
    }
    there->finish();
    for (const char* old : {"DELETE FROM results WHERE run = ?", "DELETE FROM runs WHERE id = ?"})
      if (auto gone = link_->run(old, {text(r.id)}); !gone) return pass(gone.error());
    auto run = link_->run(
        "INSERT INTO runs (id, routine, part, person, bench, seconds, qualification, points) "
        "VALUES (?, ?, ?, ?, ?, ?, ?, ?)",
        {text(r.id), text(r.routine), text(r.part), text(r.person), text(r.bench), seconds,
         text(r.qualification), text(r.points)});
    if (!run) return pass(run.error());
    int place = 0;
    for (const ResultRecord& e : r.results) {
      auto result =
          link_->run("INSERT INTO results (run, place, balloon, requirement, actual, lower_limit, "
                     "upper_limit, share, verdict, how) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?)",
                     {text(r.id), place++, e.balloon, text(e.requirement),
                      e.actual ? QVariant(*e.actual) : QVariant(QMetaType(QMetaType::Double)),
                      e.lower, e.upper, e.share, text(e.verdict), text(e.how)});
      if (!result) return pass(result.error());
    }
    return {};
  }();
  if (!all) {
    database.rollback();
    return all;
  }
  return database.commit() ? Done{} : Done(link_->said(database.lastError()));
}

Result<std::vector<RunRecord>> RunDatabase::runsOf(const std::string& routine, bool with_points) {
  auto runs = link_->run(
      QString("SELECT id, part, person, bench, seconds, qualification%1 FROM runs WHERE routine = "
              "? ORDER BY seconds, id")
          .arg(with_points ? ", points" : ""),
      {text(routine)});
  if (!runs) return pass(runs.error());
  std::vector<RunRecord> all;
  std::map<std::string, std::size_t> by_id;
  while (runs->next()) {
    RunRecord r;
    r.id = text(runs->value(0));
    r.routine = routine;
    r.part = text(runs->value(1));
    r.person = text(runs->value(2));
    r.bench = text(runs->value(3));
    r.seconds = runs->value(4).toLongLong();
    r.qualification = text(runs->value(5));
    if (with_points) r.points = text(runs->value(6));
    by_id[r.id] = all.size();
    all.push_back(std::move(r));
  }
  auto results = link_->run(
      "SELECT results.run, balloon, requirement, actual, lower_limit, upper_limit, share, verdict, "
      "how FROM results JOIN runs ON runs.id = results.run WHERE routine = ? ORDER BY "
      "results.run, place",
      {text(routine)});
  if (!results) return pass(results.error());
  while (results->next()) {
    const auto run = by_id.find(text(results->value(0)));
    if (run == by_id.end()) continue; // came meanwhile
    ResultRecord e;
    e.balloon = results->value(1).toInt();
    e.requirement = text(results->value(2));
    if (!results->value(3).isNull()) e.actual = results->value(3).toDouble();
    e.lower = results->value(4).toDouble();
    e.upper = results->value(5).toDouble();
    e.share = results->value(6).toDouble();
    e.verdict = text(results->value(7));
    e.how = text(results->value(8));
    all[run->second].results.push_back(std::move(e));
  }
  return all;
}

Result<std::vector<std::string>> RunDatabase::routines() {
  auto found = link_->run("SELECT DISTINCT routine FROM runs ORDER BY routine");
  if (!found) return pass(found.error());
  std::vector<std::string> names;
  while (found->next())
    names.push_back(text(found->value(0)));
  return names;
}

} // namespace alder
