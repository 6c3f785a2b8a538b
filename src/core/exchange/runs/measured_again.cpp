#include "exchange/runs/measured_again.h"

#include "base/local_time.h"
#include "exchange/points/csv.h"
#include "exchange/points/points_file.h"
#include "exchange/results/stated_lines.h"
#include "plan/id_text.h"
#include <algorithm>
#include <set>

namespace alder {
namespace {

constexpr std::string_view kAgain = "# again: ", kReplaced = "# replaced: ";

std::string namesOf(const Plan& plan, const std::vector<FeatureId>& features) {
  std::string names;
  for (std::size_t i = 0; i < features.size(); ++i)
    names += (i == 0                     ? ""
              : i + 1 == features.size() ? " and "
                                         : ", ") +
             plan.nominal(features[i]).name;
  return names;
}

// A row under another header; what that does not know stays empty.
std::string rowUnder(const std::vector<std::string>& header, const CsvTable& table,
                     std::size_t row) {
  std::string line;
  for (const std::string& name : header) {
    const int column = table.column(name);
    if (&name != &header.front()) line += ',';
    if (column >= 0) line += table.rows[row][static_cast<std::size_t>(column)];
  }
  return line + "\n";
}

// A value that was stated for what is touched now counts no longer either.
bool statesOf(const Plan& plan, std::string_view line, const std::set<FeatureId>& touched) {
  const auto stated = statedLine(line);
  const Requirement* r = stated ? plan.spec.requirements.find(stated->requirement) : nullptr;
  if (!r) return false;
  const auto own = touchedFor(plan.spec, r->features);
  return std::any_of(own.begin(), own.end(), [&](FeatureId id) { return touched.contains(id); });
}

} // namespace

Result<std::string> withMeasuredAgain(const Plan& plan, const std::string& csv,
                                      const std::string& label, const Run& again,
                                      const std::vector<FeatureId>& features,
                                      std::int64_t seconds) {
  const auto table = readCsv(csv, label);
  if (!table) return pass(table.error());
  const int column = table->column("feature");
  if (column < 0)
    return fail("{}: line 1: column \"feature\" is missing; the header must name it.", label);
  Run only = again;
  const std::set<FeatureId> wanted(features.begin(), features.end());
  std::erase_if(only.points, [&](const MeasuredPoint& p) { return !wanted.count(p.feature); });
  for (FeatureId id : features)
    if (std::none_of(only.points.begin(), only.points.end(),
                     [&](const MeasuredPoint& p) { return p.feature == id; }))
      return fail("{} was not touched again; the run stays as it was.", plan.nominal(id).name);
  const auto fresh = readCsv(pointsText(only), label);
  if (!fresh) return pass(fresh.error());

  std::set<int> gone; // lines of the text
  for (std::size_t i = 0; i < table->rows.size(); ++i)
    if (const auto id = featureNamed(plan, table->rows[i][static_cast<std::size_t>(column)]);
        id && wanted.count(*id))
      gone.insert(table->lines[i]);
  std::string out;
  if (!gone.empty()) // else they are measured for the first time, as those of a further set-up
    out = fmt::format("{}{} measured again on {}\n", kAgain, namesOf(plan, features),
                      localTime(seconds, "%Y-%m-%d %H:%M"));
  int number = 0;
  for (std::size_t at = 0; at < csv.size();) {
    const auto end = std::min(csv.find('\n', at), csv.size());
    const std::string_view line = std::string_view(csv).substr(at, end - at);
    if (gone.count(++number) || statesOf(plan, line, wanted)) out += kReplaced;
    out.append(csv, at, end - at);
    out += '\n';
    at = end + 1;
  }
  for (std::size_t i = 0; i < fresh->rows.size(); ++i)
    out += rowUnder(table->header, *fresh, i);
  return out;
}

std::vector<std::string> measuredAgainIn(const std::string& csv) {
  std::vector<std::string> all;
  for (std::size_t at = 0; at < csv.size() && csv[at] == '#';) {
    const auto end = std::min(csv.find('\n', at), csv.size());
    if (csv.compare(at, kAgain.size(), kAgain) == 0)
      all.push_back(csv.substr(at + kAgain.size(), end - at - kAgain.size()));
    at = end + 1;
  }
  std::reverse(all.begin(), all.end());
  return all;
}

} // namespace alder
