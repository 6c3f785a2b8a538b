// Drawings by three other writers (TeX, Cairo by hand, LibreOffice Draw): what they ask for is
// listed beside them by whoever drew them.
#include "drawing/proposal.h"

#include "base/files.h"
#include "base/units.h"
#include "sheet/sheet_file.h"
#include "support.h"
#include <nlohmann/json.hpp>

namespace {

using namespace alder;
using Json = nlohmann::json;

std::filesystem::path folder() {
  return dataFolder() / "tests" / "data" / "drawings";
}

DrawingReading read(const std::string& name) {
  const auto bytes = readFile(folder() / (name + ".pdf"));
  if (!bytes) return {};
  const auto sheets = readSheets(*bytes, name, 1, 10);
  return sheets ? readingOf(*sheets) : DrawingReading{};
}

bool same(double a, double b) {
  return std::abs(a - b) < 1e-6;
}

std::string datumsOf(const Requirement& r) {
  std::string all;
  for (const DatumReference& d : r.datums)
    for (std::size_t i = 0; i < d.letters.size(); ++i)
      all += (i > 0 ? "-" : all.empty() ? "" : " ") + d.letters[i];
  return all;
}

std::string listed(const Json& letters) {
  std::string all;
  for (const auto& l : letters)
    all += (all.empty() ? "" : " ") + l.get<std::string>();
  return all;
}

bool fits(const Json& asked, const DrawingProposal& p) {
  const std::string kind = asked["kind"];
  if (p.as == ProposedAs::Datum)
    return kind == "datum" && listed(asked["datums"]) == p.typed[0].words;
  if (p.as == ProposedAs::Basic || p.as == ProposedAs::Reference)
    return kind == name(p.as) && same(asked["nominal"], p.typed[0].requirement.nominal);
  if (p.as == ProposedAs::Thread || p.as == ProposedAs::Texture) return kind == name(p.as);
  if (p.as != ProposedAs::Requirement) return false;
  const Typed& t = p.typed.back();
  const Requirement& r = t.requirement;
  if (kind != name(r.kind)) return false;
  if (asked.contains("zone") && asked["zone"] != "" && asked["zone"] != name(r.zone)) return false;
  if (t.count != asked.value("count", 1)) return false;
  const double by = r.kind == Characteristic::Angle ? degrees(1) : 1;
  if (asked.contains("tolerance"))
    return same(asked["tolerance"], r.tolerance) && listed(asked["datums"]) == datumsOf(r) &&
           (asked.value("modifier", "") == "M") == (r.material == MaterialModifier::Maximum);
  if (!same(asked["nominal"], r.nominal * by)) return false;
  if (!asked.contains("lower") && !asked.contains("upper")) return t.limits_open;
  const auto limit = [&](const char* which, double value) { // none is written: open
    return asked.contains(which) ? same(asked[which], value * by) : std::isinf(value);
  };
  return !t.limits_open && limit("lower", r.lower) && limit("upper", r.upper);
}

class ForeignDrawingsTest : public QObject {
  Q_OBJECT

 private slots:
  void isReadAsItsAuthorMeant_data() {
    QTest::addColumn<QString>("drawing");
    for (const char* name : {"bracket", "flange", "plate"})
      QTest::newRow(name) << name;
  }
  void isReadAsItsAuthorMeant() {
    QFETCH(QString, drawing);
    const DrawingReading reading = read(drawing.toStdString());
    const auto text = readFile(folder() / (drawing.toStdString() + ".json"));
    QVERIFY(text);
    const Json answer = Json::parse(*text);
    QCOMPARE(reading.unit == LengthUnit::Inch, answer["unit"] == "in");
    std::vector<bool> used(reading.proposals.size());
    std::size_t found = 0;
    for (const Json& asked : answer["asks"]) {
      bool here = false;
      for (std::size_t i = 0; i < used.size() && !here; ++i)
        if (!used[i] && fits(asked, reading.proposals[i])) used[i] = here = true;
      if (here)
        ++found;
      else
        qInfo("not read: %s", asked.dump().c_str());
    }
    const double share = static_cast<double>(found) / static_cast<double>(answer["asks"].size());
    QVERIFY2(share >= 0.9, qPrintable(QString::number(share)));
    // None is invented.
    for (std::size_t i = 0; i < used.size(); ++i) {
      const DrawingProposal& p = reading.proposals[i];
      const bool counts = p.as != ProposedAs::Note && p.as != ProposedAs::Title &&
                          p.as != ProposedAs::NotUnderstood;
      QVERIFY2(used[i] || !counts, p.text.c_str());
      QVERIFY(p.as != ProposedAs::NotUnderstood || !p.says.empty());
    }
  }

  void generalTolerancesAreRead() {
    const auto bracket = read("bracket"), plate = read("plate");
    QVERIFY(bracket.general && plate.general);
    QCOMPARE(bracket.general->linear, 'm');
    QCOMPARE(plate.general->linear, 'f');
    QVERIFY(!read("flange").general);
  }
};

} // namespace

ALDER_TEST(ForeignDrawingsTest)
#include "foreign_drawings_test.moc"
