#include "base/random.h"
#include "base/units.h"
#include "made_parts.h"
#include "made_specification.h"
#include "part/step_import.h"
#include "requirement/limits.h"
#include "requirement/typed/typed.h"
#include "support.h"

using namespace alder;

namespace {

// What a line of text is made of, in one line.
std::string told(const Typing& typing) {
  if (!typing) return fmt::format("?{}: {}", typing.error().at, typing.error().says);
  std::string all;
  for (const Typed& t : *typing) {
    if (!all.empty()) all += " + ";
    if (t.count > 1) all += std::to_string(t.count) + "x ";
    switch (t.what) {
    case TypedWhat::Datum:
      all += "datum " + t.words;
      continue;
    case TypedWhat::Thread:
      all += "thread " + t.words;
      continue;
    case TypedWhat::Texture:
      all += "texture " + t.words;
      continue;
    case TypedWhat::Basic:
      all += "basic ";
      break;
    case TypedWhat::Reference:
      all += "reference ";
      break;
    case TypedWhat::Requirement:
      break;
    }
    if (t.what != TypedWhat::Requirement) {
      all += describe(t.requirement);
      all = all.substr(0, all.rfind(" ±"));
      continue;
    }
    if (t.nominal_open)
      all += fmt::format("? {}{}/{}", t.requirement.fit, shortFigure(t.requirement.upper),
                         shortFigure(t.requirement.lower));
    else
      all += describe(t.requirement);
    if (t.kind_open) all += " (open)";
    if (t.limits_open) all += " (general)";
  }
  return all;
}

std::string toldOf(const char* text, LengthUnit unit = LengthUnit::Millimetre) {
  return told(typedText(text, {unit, ToleranceStandard::Iso}));
}

bool near(double a, double b) {
  return sameLimit(a, b, 0.6e-4);
}

// Every field that describe() writes, lengths in the unit.
std::string differs(const Requirement& a, const Requirement& b) {
  std::string what;
  const auto check = [&](bool same, const char* field) {
    if (!same) what += std::string(what.empty() ? "" : ", ") + field;
  };
  const bool angle = a.kind == Characteristic::Angle;
  const double by = angle ? degrees(1) : 1;
  check(a.kind == b.kind, "kind");
  if (isDimension(a.kind)) {
    check(near(a.nominal * by, b.nominal * by), "nominal");
    // deviations are written, of the nominal as it is written
    check(near((a.upper - a.nominal) * by, (b.upper - b.nominal) * by), "upper");
    check(near((a.lower - a.nominal) * by, (b.lower - b.nominal) * by), "lower");
    check(a.fit == b.fit && a.along == b.along && a.extreme == b.extreme, "fit, along, extreme");
    check(a.envelope == b.envelope, "envelope");
    check(a.general == b.general, "general");
    check(a.formula == b.formula && a.unit == b.unit, "formula");
    if (a.kind == Characteristic::Size) {
      check(a.radius == b.radius, "radius");
      check(sizeSymbol(a.association) == sizeSymbol(b.association), "association");
    }
  } else {
    check(near(a.tolerance, b.tolerance), "tolerance");
    check(a.material == b.material && a.reciprocity == b.reciprocity, "material");
    check(a.datums.size() == b.datums.size(), "datums");
    for (std::size_t i = 0; i < std::min(a.datums.size(), b.datums.size()); ++i)
      check(a.datums[i].letters == b.datums[i].letters &&
                a.datums[i].material == b.datums[i].material &&
                a.datums[i].may_fix == b.datums[i].may_fix,
            "a datum");
    check(a.free_offset == b.free_offset && near(a.unequal, b.unequal), "offset");
    check(near(a.projected, b.projected) && near(a.unit_length, b.unit_length), "lengths");
    check(a.separate == b.separate && a.together == b.together, "separate, together");
    check(a.zone_plane == b.zone_plane && a.section_plane == b.section_plane, "planes");
  }
  if (a.kind != Characteristic::Distance && !angle && !(a.radius && a.zone == Zone::Planar))
    check(a.zone == b.zone, "zone");
  return what;
}

} // namespace

class TypedTextTest : public QObject {
  Q_OBJECT
 private slots:
  void asWritten_data();
  void asWritten();
  void inInches_data();
  void inInches();
  void faults_data();
  void faults();
  void whatIsPrintedIsReadBack();
  void oddInputsGetOneLine();
};

void TypedTextTest::asWritten_data() {
  QTest::addColumn<QString>("is");
  const auto row = [](const char* text, const char* is) { QTest::newRow(text) << QString(is); };
  row("32 H7", "32 H7 +0.025/0 (open)");
  row("ø32H7", "ø32 H7 +0.025/0");
  row("Ø 32 H7 (+0.025/0)", "ø32 H7 +0.025/0");
  row("⌀8 g6", "ø8 g6 -0.005/-0.014");
  row("48 ±0.1", "48 ±0.1 (open)");
  row("48±0,1", "48 ±0.1 (open)");
  row("48 +/- 0.1 mm", "48 ±0.1 (open)");
  row("R5 +0.2/0", "R5 +0.2/0");
  row("d32H7", "ø32 H7 +0.025/0");
  row("R0.5 MAX", "R0.5 MAX");
  row("R.5max.", "R0.5 MAX");
  row("max. ø10,2", "ø10.2 MAX");
  row("20 min", "20 MIN (open)");
  row("4x MAX R2", "4x R2 MAX");
  row("45° MIN", "45° MIN");
  row("ø10 +0.2 MAX", "ø10 +0.2 MAX");
  row("10 -0.2 MIN GG", "10 -0.2 MIN GG (open)");
  row("48 along X MAX", "48 along X MAX");
  row("#2 - #1 = 3 mm MAX", "#2 - #1 = 3 mm MAX");
  row("#2 = 3 +0.1 MIN", "#2 = 3 +0.1 MIN");
  row("6x dia 11 +0.2/0", "6x ø11 +0.2/0");
  row("Sd12 +-0.02", "Sø12 ±0.02");
  row("pos d0.05 M A B", "position ø0.05 M | A | B");
  row("d0.05 A", "position ø0.05 | A");
  row("45deg +-0.5", "45° ±0.5");
  row("SR12 ±0.5", "SR12 ±0.5");
  row("Sø12.7 ±0.02", "Sø12.7 ±0.02");
  row("6x ø11 +0.2/0", "6x ø11 +0.2/0");
  row("6 × Ø11 +0.2 0", "6x ø11 +0.2/0");
  row("ø11 +0.2/0 6 PLACES", "6x ø11 +0.2/0");
  row("48 0/-0.1", "48 0/-0.1 (open)");
  row("48 -0.1/-0.3", "48 -0.1/-0.3 (open)");
  row("48 -0.3/-0.1", "48 -0.1/-0.3 (open)");
  row("48 +0.3 -0.1", "48 +0.3/-0.1 (open)");
  row("48.1/47.9", "48 ±0.1 (open)");
  row("47.9-48.1", "48 ±0.1 (open)");
  row("47.9 … 48.1", "48 ±0.1 (open)");
  row("47.9 to 48.1", "48 ±0.1 (open)");
  row("ø48.1 47.9", "?6: a sign is missing: write ±, or + and - before the deviations");
  row("48", "48 ±0 (open) (general)");
  row("H7", "? H70/0 (open)");
  row("±0.1", "? 0.1/-0.1 (open)");
  row("+0.1/-0.2", "? 0.1/-0.2 (open)");
  row("45° ±0.5°", "45° ±0.5");
  row("45°30' ± 15'", "45.5° ±0.25");
  row("90° +1/0", "90° +1/0");
  row("2x45°", "2 ±0 (general) + 45° ±0 (general)");
  row("1,5 x 30°", "1.5 ±0 (general) + 30° ±0 (general)");
  row("4x 45° ±1°", "4x 45° ±1");
  row("[48]", "basic 48");
  row("[ø90]", "basic ø90");
  row("(48)", "reference 48");
  row("ø32 H7 E", "ø32 H7 +0.025/0 E");
  row("ø32 H7 Ⓔ", "ø32 H7 +0.025/0 E");
  row("ø32 ±0.1 GN", "ø32 ±0.1 GN");
  row("ø32 ±0.1 (GG)", "ø32 ±0.1 GG");
  row("48 ±0.3 by ISO 2768-m", "48 ±0.3 by ISO 2768-m (open)");
  row("M8", "thread M8");
  row("4x M8x1.25-6H", "4x thread M8x1.25-6H");
  row("Ra 1.6", "texture Ra 1.6");
  row("datum A", "datum A");
  row("[A]", "datum A");
  row("⌀0.05 M A B", "position ø0.05 M | A | B");
  row("ø0.05 Ⓜ A B Ⓜ C", "position ø0.05 M | A | B M | C");
  row("⌖|⌀0.05|A|B|C", "position ø0.05 | A | B | C");
  row("pos ø0.05 ABC", "position ø0.05 | A | B | C");
  row("position 0.1 | A-B | C L", "position 0.1 | A-B | C L");
  row("flat 0.02", "flatness 0.02");
  row("⏥ 0,02", "flatness 0.02");
  row("// 0.05 A", "parallelism 0.05 | A");
  row("⟂ ø0.03 A", "perpendicularity ø0.03 | A");
  row("perp 0.03 A", "perpendicularity 0.03 | A");
  row("total runout 0.08 B", "total runout 0.08 | B");
  row("runout 0.08 A-B", "circular runout 0.08 | A-B");
  row("profile 0.12 UZ+0.02 | A | B | C", "surface profile 0.12 UZ+0.02 | A | B | C");
  row("⌓ 0.5 Ⓤ 0.1 A", "surface profile 0.5 UZ-0.15 | A");
  row("6x position ø0.25 M | A | B | C", "6x position ø0.25 M | A | B | C");
  row("position ø0.2 P 20 | A", "position ø0.2 P 20 | A");
  row("position ø0.2 | P", "position ø0.2 | P");
  row("flatness 0.1/100", "flatness 0.1 / 100");
  row("position ø0.1 SZ | A", "position ø0.1 SZ | A");
  row("position ø0.1 SIM2 | A", "position ø0.1 SIM2 | A");
  row("line profile 0.1 | A intersection plane // B",
      "line profile 0.1 | A intersection plane // B");
  row("smallest 12 ±0.1", "smallest 12 ±0.1");
  row("12 along X ±0.1", "12 along X ±0.1");
  row("a + b = 12.5 mm ±0.2", "a + b = 12.5 mm ±0.2");
}

void TypedTextTest::asWritten() {
  QFETCH(QString, is);
  QCOMPARE(QString::fromStdString(toldOf(QTest::currentDataTag())), is);
}

void TypedTextTest::inInches_data() {
  QTest::addColumn<double>("nominal");
  QTest::addColumn<double>("upper");
  QTest::addColumn<double>("lower");
  const auto row = [](const char* text, double nominal, double upper, double lower) {
    QTest::newRow(text) << nominal << upper << lower;
  };
  row(".750 ±.005", 19.05, 0.127, -0.127);
  row("ø1.250 +.002/-.000", 31.75, 0.0508, 0);
  row("3/4 ±1/64", 19.05, 25.4 / 64, -25.4 / 64);
  row("1 1/2 ±.01", 38.1, 0.254, -0.254);
  row("1-1/2 ±.01", 38.1, 0.254, -0.254);
  row("19.05 mm ±0.1", 19.05, 0.1, -0.1);
  row(".755/.745", 19.05, 0.127, -0.127);
}

void TypedTextTest::inInches() {
  QFETCH(double, nominal);
  QFETCH(double, upper);
  QFETCH(double, lower);
  const auto typing =
      typedText(QTest::currentDataTag(), {LengthUnit::Inch, ToleranceStandard::Asme});
  QVERIFY2(typing, told(typing).c_str());
  const Requirement& r = typing->front().requirement;
  NEAR(r.nominal, nominal, 1e-9);
  NEAR(r.upper - r.nominal, upper, 1e-9);
  NEAR(r.lower - r.nominal, lower, 1e-9);
  // and a unit of its own in a sheet in millimetres
  if (std::string_view(QTest::currentDataTag()) != ".750 ±.005") return;
  const auto own = typedText("0.75\" ±0.005");
  QVERIFY(own);
  NEAR(own->front().requirement.upper, 19.05 + 0.127, 1e-9);
}

void TypedTextTest::faults_data() {
  QTest::addColumn<int>("at");
  QTest::addColumn<QString>("says");
  const auto row = [](const char* text, int at, const char* says) {
    QTest::newRow(text) << at << QString(says);
  };
  row("", 0, "nothing is written");
  row("   ", 0, "nothing is written");
  row("32 H7x", 5, "\"x\" is not understood");
  row("32 Q7", 3, "fit");
  row("32 H7 (+0.021/0)", 3, "H7 of 32 is 0.025/0, not 0.021/0");
  row("48 +0.1", 3, "other deviation");
  row("48 ±", 3, "missing after ±");
  row("MAX", 0, "a figure is missing");
  row("+0.1 MAX", 0, "a figure is missing");
  row("48 MAX 3", 7, "\"3\" is not understood");
  row("48 ±0.1 MIN", 8, "\"MIN\" is not understood");
  row("position A B", 9, "value");
  row("position ø0 | A", 9, "above zero");
  row("position ø0.1 | A | A", 18, "twice");
  row("position ø0.1 | A | B | C | D", 26, "three datums");
  row("position ø0.1 | A |", 19, "missing after the last |");
  row("48 ±0.1 TYP", 8, "4x");
  row("(48", 3, "closing )");
  row("48 ±0.1 apples", 8, "\"apples\"");
  row("0 ±0.1 mm ø", 10, "\"ø\"");
  row("ø0 ±0.1", 1, "above zero");
  row("99x99x99", 5, "grades end at 18");
}

void TypedTextTest::faults() {
  QFETCH(int, at);
  QFETCH(QString, says);
  const auto typing = typedText(QTest::currentDataTag());
  QVERIFY2(!typing, told(typing).c_str());
  QVERIFY2(QString::fromStdString(typing.error().says).contains(says), told(typing).c_str());
  QCOMPARE(static_cast<int>(typing.error().at), at);
}

// Every kind of requirement with all that it can carry, in both units and by all standards.
void TypedTextTest::whatIsPrintedIsReadBack() {
  std::vector<PartPtr> parts;
  for (const auto& step : {test::bracketStep("MM", 0), test::shaftStep("MM", 0)}) {
    VERIFY_OK(step);
    const auto part = importStep(*step, "made.step");
    VERIFY_OK(part);
    parts.push_back(*part);
  }
  std::map<Characteristic, int> read;
  for (std::uint64_t seed = 1; seed <= 60; ++seed) {
    Specification spec = test::madeSpecification(*parts[seed % 2], seed);
    Random random(seed);
    for (Requirement& r : spec.requirements) {
      if (random.uniform() < 0.3) r.envelope = r.kind == Characteristic::Size;
      if (random.uniform() < 0.3 && r.kind == Characteristic::Distance)
        r.along = static_cast<Along>(static_cast<int>(random.uniform() * 4.99));
      if (random.uniform() < 0.3 && r.kind == Characteristic::Distance)
        r.extreme = static_cast<Extreme>(static_cast<int>(random.uniform() * 2.99));
      if (random.uniform() < 0.3 && r.kind == Characteristic::Size)
        r.association = static_cast<AssociateBy>(static_cast<int>(random.uniform() * 13.99));
      if (random.uniform() < 0.1 && !isDimension(r.kind)) r.general = "ISO 2768-mK";
      if (random.uniform() < 0.2) r.separate = !isDimension(r.kind);
      if (random.uniform() < 0.2 && isDimension(r.kind) && r.kind != Characteristic::Value)
        r.general = "ISO 2768-m";
      if (random.uniform() < 0.2 && !isDimension(r.kind)) r.reciprocity = r.free_offset = true;
      if (random.uniform() < 0.2 && !isDimension(r.kind)) r.zone = static_cast<Zone>(seed % 3);
    }
    for (const ToleranceStandard standard :
         {ToleranceStandard::Iso, ToleranceStandard::Asme, ToleranceStandard::Asme2009})
      for (const LengthUnit unit : {LengthUnit::Millimetre, LengthUnit::Inch}) {
        spec.standard = standard;
        for (Requirement r : spec.requirements) {
          r.standard.reset();
          if (unit == LengthUnit::Inch && !r.fit.empty()) r.fit.clear();          // of millimetres
          if (!isDimension(r.kind) && inUnit(r, unit).tolerance < 1e-4) continue; // written as 0
          const std::string text = describe(spec, inUnit(r, unit));
          const auto typing = typedText(text, {unit, standard});
          QVERIFY2(typing, (text + ": " + told(typing)).c_str());
          QCOMPARE(typing->size(), std::size_t{1});
          Typed t = typing->front();
          QCOMPARE(t.what, TypedWhat::Requirement);
          if (t.kind_open) t.requirement.kind = r.kind; // 48 ±0.1
          const std::string what = differs(inUnit(r, unit), inUnit(t.requirement, unit));
          QVERIFY2(what.empty(), (text + ": " + what).c_str());
          QVERIFY2(describe(spec, inUnit(t.requirement, unit)) == text,
                   (text + " became " + describe(spec, inUnit(t.requirement, unit))).c_str());
          ++read[r.kind];
        }
      }
  }
  QCOMPARE(read.size(), static_cast<std::size_t>(Characteristic::Value));
}

// Cut, doubled and mixed by lot: read, or one line that says where.
void TypedTextTest::oddInputsGetOneLine() {
  Random random(7);
  const std::vector<std::string> pieces{"32",
                                        " H7",
                                        "±",
                                        "0.1",
                                        " ",
                                        "ø",
                                        "⌖",
                                        "|",
                                        "A",
                                        "Ⓜ",
                                        "(",
                                        ")",
                                        "6x",
                                        "/",
                                        "+",
                                        "-",
                                        "°",
                                        "R",
                                        "S",
                                        "MAX",
                                        "TYP",
                                        "UZ",
                                        "P",
                                        "SIM",
                                        "mm",
                                        "in",
                                        "[",
                                        "]",
                                        "\"",
                                        "'",
                                        "=",
                                        "≥",
                                        "M8",
                                        "Ra",
                                        "…",
                                        "\xff",
                                        "\xe2",
                                        "1e9",
                                        "..",
                                        ",",
                                        "99999999999999999999",
                                        "\n",
                                        "\t",
                                        "to",
                                        "flat",
                                        "日本"};
  int refused = 0, taken = 0;
  for (int k = 0; k < 20000; ++k) {
    std::string text;
    const int n = 1 + static_cast<int>(random.uniform() * 7);
    for (int i = 0; i < n; ++i)
      text += pieces[std::min(pieces.size() - 1,
                              static_cast<std::size_t>(random.uniform() * double(pieces.size())))];
    const auto typing = typedText(
        text, {k % 2 ? LengthUnit::Inch : LengthUnit::Millimetre, ToleranceStandard::Iso});
    if (!typing) {
      ++refused;
      const TextFault& f = typing.error();
      QVERIFY2(!f.says.empty() && f.says.find('\n') == std::string::npos && f.length > 0,
               text.c_str());
      QVERIFY2(f.at <= text.size(), text.c_str());
      continue;
    }
    ++taken;
    for (const Typed& t : *typing)
      if (t.what == TypedWhat::Requirement) {
        const Requirement& r = t.requirement;
        QVERIFY2(!std::isnan(r.lower + r.nominal) && (hasLower(r) || hasUpper(r)) &&
                     r.lower <= r.upper,
                 text.c_str());
      }
  }
  QVERIFY(refused > 1000 && taken > 300);
}

ALDER_TEST(TypedTextTest)
#include "typed_text_test.moc"
