#include "base/files.h"
#include "base/random.h"
#include "exchange/results/result_file.h"
#include "made_results.h"
#include "support.h"

using namespace alder;
using alder::test::MadePart;
using alder::test::madeResultFile;
using alder::test::MadeResultFile;
using alder::test::MadeValue;

namespace {

QString differs(const MadeValue& made, const StatedResult& read, bool inch) {
  const double room = inch ? 2e-4 : 1e-6; // as a file in inches is rounded
  const auto near = [&](const std::optional<double>& a, double b) {
    return a && std::abs(*a - b) <= room;
  };
  const auto where = [&](const char* what) {
    return QString("line %1: %2").arg(read.line).arg(what);
  };
  if (!near(read.actual, made.actual)) return where("actual");
  if (made.nominal != 0 && !near(read.nominal, made.nominal)) return where("nominal");
  if (!near(read.upper, made.nominal + made.above) && !near(read.tolerance, made.above))
    return where("upper limit");
  if (!made.geometric && !near(read.lower, made.nominal + made.below)) return where("lower limit");
  if (read.degrees != made.degrees) return where("unit");
  const std::string name = read.name + " " + read.feature + " " + read.axis;
  if (name.find(made.feature) == std::string::npos) return where("name");
  return {};
}

QString differs(const MadeResultFile& made, const ResultsRead& read) {
  if (read.parts.size() != made.parts.size())
    return QString("%1 parts of %2").arg(read.parts.size()).arg(made.parts.size());
  for (std::size_t p = 0; p < read.parts.size(); ++p) {
    const ResultsOfPart& part = read.parts[p];
    const MadePart& own = made.parts[p];
    if (made.name != "untitled_tabs.txt" && part.serial != own.serial) return "serial number";
    if (part.values.size() != own.values.size())
      return QString("%1 values of %2").arg(part.values.size()).arg(own.values.size());
    for (std::size_t i = 0; i < part.values.size(); ++i)
      if (const QString d = differs(own.values[i], part.values[i], made.inch); !d.isEmpty())
        return d;
  }
  return {};
}

ResultText textOf(const std::string& bytes) {
  auto text = resultText(bytes, "file");
  return text ? std::move(*text) : ResultText{};
}

std::size_t lineWith(const ResultText& text, const std::string& words) {
  for (std::size_t i = 0; i < text.lines.size(); ++i)
    if (text.lines[i].find(words) != std::string::npos) return i;
  return text.lines.size();
}

} // namespace

// Descriptions of result files: proposed from the text, corrected by pointing, kept, used again.
class ResultKindsTest : public QObject {
  Q_OBJECT

 private slots:
  void proposedWithoutHelp_data() {
    QTest::addColumn<int>("layout");
    for (int k = 0; k < test::kResultLayouts; ++k)
      QTest::addRow("%s", madeResultFile(k, test::heronPlan().spec, 1).name.c_str()) << k;
  }
  void proposedWithoutHelp() {
    QFETCH(int, layout);
    for (unsigned seed = 1; seed <= 12; ++seed) {
      const MadeResultFile made = madeResultFile(layout, test::heronPlan().spec, seed);
      const auto file = readResultFile(made.bytes, made.name, std::vector<FileKind>{});
      VERIFY_OK(file);
      const QString d = differs(made, file->read);
      QVERIFY2(d.isEmpty(), qPrintable(QString("seed %1: %2").arg(seed).arg(d)));
      QCOMPARE(file->read.notRead(), std::size_t(0));
    }
  }

  // Kept as a file and read again, a kind reads another part's file as its own proposal does.
  void keptForTheNextFile_data() { proposedWithoutHelp_data(); }
  void keptForTheNextFile() {
    QFETCH(int, layout);
    const auto& spec = test::heronPlan().spec;
    const MadeResultFile first = madeResultFile(layout, spec, 3),
                         second = madeResultFile(layout, spec, 8);
    FileKind kind = proposeKind(textOf(first.bytes)).kind;
    kind.name = "ours";
    const auto kept = fileKindFromText(toJson(kind).dump(), "kind");
    VERIFY_OK(kept);
    QVERIFY(*kept == kind);
    // Among other kinds it is the one that is chosen.
    std::vector<FileKind> kinds;
    for (int other = 0; other < test::kResultLayouts; ++other) {
      if (other == layout) continue;
      kinds.push_back(proposeKind(textOf(madeResultFile(other, spec, 5).bytes)).kind);
      kinds.back().name = "other";
    }
    kinds.push_back(*kept);
    const auto file = readResultFile(second.bytes, second.name, kinds);
    VERIFY_OK(file);
    QVERIFY(file->known);
    const QString d = differs(second, file->read);
    QVERIFY2(d.isEmpty(), qPrintable(d));
  }

  // Whatever is wrong in a proposal, pointing at it sets it right; the rest follows from it.
  void pointedAt() {
    // Two columns that nothing tells apart.
    const ResultText text = textOf("A;5.10;5.10\nB;6.20;6.20\nC;7.30;7.30\n");
    const Pointing last{0, 7, 11, ResultRole::Actual};
    const KindProposal p = proposeKind(text, {last});
    QCOMPARE(p.read.values(), std::size_t(3));
    const auto& rule = *std::find_if(p.kind.rules.begin(), p.kind.rules.end(),
                                     [](const LineRule& r) { return r.use == LineUse::Record; });
    QVERIFY(std::any_of(rule.fields.begin(), rule.fields.end(), [](const KindField& f) {
      return f.role == ResultRole::Actual && f.place.first == 2;
    }));
  }
  void serialPointedAt() {
    const ResultText text =
        textOf("Los 4711 / 12\nBore;32.000;32.011;0.025;0.000\nPin;8.000;8.004;0.022;0.000\n");
    const std::size_t at = text.lines[0].find("12");
    const KindProposal p = proposeKind(text, {{0, at, at + 2, ResultRole::Serial}});
    QCOMPARE(p.read.parts.size(), std::size_t(1));
    QVERIFY2(p.read.parts[0].serial.find("12") != std::string::npos,
             p.read.parts[0].serial.c_str());
  }
  void aKeptKindPointedAt() {
    const ResultText text = textOf("No;Name;Ist;Soll\n1;Bore;32.000;32.011\n2;Pin;8.000;8.004\n");
    FileKind kind = proposeKind(text).kind; // the titles are the wrong way round
    QCOMPARE(*readResults(text, kind).parts[0].values[0].actual, 32.0);
    const auto at = text.lines[1].find("32.011");
    kind = withPointing(kind, text, {1, at, at + 6, ResultRole::Actual});
    const auto nominal = text.lines[1].find("32.000");
    kind = withPointing(kind, text, {1, nominal, nominal + 6, ResultRole::Nominal});
    const auto read = readResults(text, kind);
    QCOMPARE(*read.parts[0].values[0].actual, 32.011);
    QCOMPARE(*read.parts[0].values[0].nominal, 32.0);
    QCOMPARE(*read.parts[0].values[1].actual, 8.004);
  }

  void layoutsOfOthers_data() {
    QTest::addColumn<QByteArray>("bytes");
    QTest::addColumn<int>("values");
    QTest::addColumn<QString>("name");
    QTest::addColumn<double>("actual");
    QTest::addColumn<double>("nominal");
    QTest::addColumn<double>("upper");
    QTest::newRow("framed by signs")
        << QByteArray("+---+----------+--------+--------+--------+--------+------+\n"
                      "| # | Check    | Target | Found  | Lo     | Hi     | Result |\n"
                      "+---+----------+--------+--------+--------+--------+------+\n"
                      "| 1 | Bore dia | 32.000 | 32.011 | 32.000 | 32.025 | ok   |\n"
                      "| 2 | Flatness |        |  0.011 |        |  0.020 | ok   |\n"
                      "| 3 | Pin hole |  8.000 |  8.025 |  8.000 |  8.022 | NOK  |\n")
        << 3 << "Bore dia" << 32.011 << 32.0 << 32.025;
    QTest::newRow("figures behind words, limits behind those")
        << QByteArray(
               "Kreis: Bohrung_32\n"
               "  Durchmesser   Soll:  32,0000  Ist:  32,0113  Abw:  0,0113  +0,0250  0,0000\n"
               "  X             Soll:   1,0000  Ist:   1,0021  Abw:  0,0021  +0,0500 -0,0500\n"
               "Kreis: Bohrung_8\n"
               "  Durchmesser   Soll:   8,0000  Ist:   8,0153  Abw:  0,0153  +0,0220  0,0000\n")
        << 3 << "Bohrung_32" << 32.0113 << 32.0 << 32.025;
    QTest::newRow("both limits in one word")
        << QByteArray("DIM 12  Bore dia  \xC3\x98"
                      "32.000 +0.025/-0.000   MEAS \xC3\x98"
                      "32.012\n"
                      "DIM 13  Dowel     \xC3\x98"
                      "8.000 +0.022/-0.000   MEAS \xC3\x98"
                      "8.009\n"
                      "DIM 14  Slot      6.000 +0.100/-0.000   MEAS 6.044\n")
        << 3 << "Bore dia" << 32.012 << 32.0 << 32.025;
    QTest::newRow("names behind the figures")
        << QByteArray("S/N           TW40-0017\n\n"
                      "Nominal   Measured  Tol.    Diff.   Description\n"
                      "32.000    32.011    0.025   0.011   12. Bore diameter\n"
                      "8.000     8.015     0.022   0.015   13. Dowel hole\n"
                      "45.000    44.988    0.050   -0.012  14. Height of the flange over A\n")
        << 3 << "Bore diameter" << 32.011 << 32.0 << 32.025;
    QTest::newRow("limits between brackets")
        << QByteArray("Bohrung D1      32,011 mm   (32,000 ... 32,025)\n"
                      "Bohrung D2       8,015 mm   (8,000 ... 8,022)\n"
                      "H\xF6he            44,988 mm   (44,950 ... 45,050)\n")
        << 3 << "Bohrung D1" << 32.011 << -1.0 << 32.025;
    QTest::newRow("values alone")
        << QByteArray("part,feature,characteristic,value\nA-1,Bore 32,diameter,32.0113\n"
                      "A-1,Bore 32,cylindricity,0.0041\nA-2,Bore 32,diameter,32.0201\n")
        << 3 << "Bore 32" << 32.0113 << -1.0 << -1.0;
    QTest::newRow("columns that say nothing of a value")
        << QByteArray(
               "Ergebnis  Merkmal      Pkt  Soll     Ist      Abw     +Tol    -Tol   Ausn.%\n"
               "OK        Bohrung 32    25  32,000  32,012   0,012   0,025   0,000     48\n"
               "OK        Bohrung 8     12   8,000   8,009   0,009   0,022   0,000     41\n"
               "NOK       Hoehe          8  45,000  45,062   0,062   0,050  -0,050    124\n")
        << 3 << "Bohrung 32" << 32.012 << 32.0 << 32.025;
    QTest::newRow("limits in brackets, then the value")
        << QByteArray("Part: TW-40 Heron   Serial: 0093\n\n"
                      "#12 Bore       [31.995 - 32.030]  = 32.012 mm   PASS\n"
                      "#13 Dowel      [ 7.990 -  8.022]  =  8.009 mm   PASS\n"
                      "#14 Slot       [ 6.000 -  6.100]  =  6.113 mm   FAIL\n")
        << 3 << "Bore" << 32.012 << -1.0 << 32.03;
    QTest::newRow("words that are a limit or its distance")
        << QByteArray("Bore diameter\n    nominal 32.000 measured 32.012 upper 0.025 lower 0.000\n"
                      "Dowel hole\n    nominal 8.000 measured 8.009 upper 0.022 lower 0.000\n"
                      "Slot width\n    nominal 6.000 measured 6.044 upper 0.100 lower 0.000\n")
        << 3 << "Bore diameter" << 32.012 << 32.0 << 32.025;
    QTest::newRow("side by side, date and time before the part")
        << QByteArray("Datum;Zeit;Teil;M1 Bohrung;M2 Stift;M3 Hoehe\n;;Soll;32,000;8,000;45,000\n"
                      ";;OTG;32,025;8,022;45,050\n;;UTG;32,000;8,000;44,950\n"
                      "12.11.2026;08:12;1001;32,011;8,009;44,988\n")
        << 3 << "M1 Bohrung" << 32.011 << 32.0 << 32.025;
    QTest::newRow("numbers and values") << QByteArray("MESSWERTE\n1  32,011\n2  8,009\n3  44,988\n")
                                        << 3 << "MESSWERTE" << 32.011 << -1.0 << -1.0;
    QTest::newRow("inches, to both sides")
        << QByteArray("\"Feature\",\"Char\",\"Actual (in)\",\"Nominal (in)\",\"Tol +/-\",\"Dev\"\n"
                      "\"Bore A\",\"Dia\",\"1.2603\",\"1.2598\",\"0.0010\",\"0.0005\"\n"
                      "\"Bore B\",\"Dia\",\"0.3153\",\"0.3150\",\"0.0010\",\"0.0003\"\n")
        << 2 << "Bore A" << 1.2603 * 25.4 << 1.2598 * 25.4 << 1.2608 * 25.4;
    QTest::newRow("deviations in micrometres")
        << QByteArray("Merkmal;Soll [mm];Abweichung [\xB5m];OT [\xB5m];UT [\xB5m]\n"
                      "Bohrung;32,000;11;25;0\nStift;8,000;15;22;0\nH\xF6he;45,000;-12;50;-50\n")
        << 3 << "Bohrung" << 32.011 << 32.0 << 32.025;
  }
  void layoutsOfOthers() {
    QFETCH(QByteArray, bytes);
    QFETCH(int, values);
    QFETCH(QString, name);
    QFETCH(double, actual);
    QFETCH(double, nominal);
    QFETCH(double, upper);
    const auto file = readResultFile(bytes.toStdString(), "a.txt", std::vector<FileKind>{});
    VERIFY_OK(file);
    QCOMPARE(static_cast<int>(file->read.values()), values);
    const StatedResult& first = file->read.parts[0].values[0];
    const std::string all = first.name + " " + first.feature;
    QVERIFY2(all.find(name.toStdString()) != std::string::npos, all.c_str());
    NEAR(*first.actual, actual, 1e-9);
    QCOMPARE(first.nominal.has_value(), nominal > 0);
    if (nominal > 0) NEAR(*first.nominal, nominal, 1e-9);
    const auto stated = first.upper ? first.upper
                        : first.tolerance && nominal > 0
                            ? std::optional(*first.nominal + *first.tolerance)
                            : first.tolerance;
    QCOMPARE(stated.has_value(), upper > 0);
    if (upper > 0) NEAR(*stated, upper, 1e-9);
  }

  // What a file of DMIS results says, by the standard.
  void dmisResults() {
    const std::string bytes = "PN(P)=PARTID/'Heron'\nSN(S)=PARTSN/'TW40-0031'\n"
                              "UNITS/INCH,ANGDEC\n"
                              "F(C1)=FEAT/CIRCLE,INNER,CART,0,0,0,0,0,1,1.25\n"
                              "T(D1)=TOL/DIAM,-0.001,0.002\n"
                              "FA(C1)=FEAT/CIRCLE,INNER,CART,0.001,0,0,0,0,1,1.2504\n"
                              "TA(D1)=TOL/DIAM,0.0004,INTOL\n"
                              "T(P1)=TOL/POS,2D,0.01\n"
                              "TA(P1)=TOL/POS,2D,0.002,INTOL\n";
    const auto file = readResultFile(bytes, "a.dmo", std::vector<FileKind>{});
    VERIFY_OK(file);
    QVERIFY(file->fixed);
    QCOMPARE(file->read.parts.size(), std::size_t(1));
    const ResultsOfPart& part = file->read.parts[0];
    QCOMPARE(part.serial, std::string("TW40-0031"));
    QCOMPARE(part.values.size(), std::size_t(2));
    NEAR(*part.values[0].actual, 1.2504 * 25.4, 1e-9);
    NEAR(*part.values[0].nominal, 1.25 * 25.4, 1e-9);
    NEAR(*part.values[0].upper, 1.252 * 25.4, 1e-9);
    NEAR(*part.values[0].lower, 1.249 * 25.4, 1e-9);
    NEAR(*part.values[1].actual, 0.002 * 25.4, 1e-9);
    NEAR(*part.values[1].upper, 0.01 * 25.4, 1e-9);
    QCOMPARE(part.values[1].axis, std::string("position"));
  }

  void figures_data() {
    QTest::addColumn<QString>("text");
    QTest::addColumn<char>("decimal");
    QTest::addColumn<double>("value");
    QTest::addColumn<bool>("good");
    const auto row = [](const char* text, char decimal, double value, bool good = true) {
      QTest::addRow("%s by %c", text, decimal) << text << decimal << value << good;
    };
    row("32,012", ',', 32.012);
    row("32.012", '.', 32.012);
    row("32.012", ',', 0, false); // not thirty-two thousand
    row("32,012", '.', 0, false);
    row("1.234,5", ',', 1234.5);
    row("1,234.5", '.', 1234.5);
    row("1'234.5", '.', 1234.5);
    row("+0.013", '.', 0.013);
    row("\u22120.013", '.', -0.013);
    row(".5", '.', 0.5);
    row("-,5", ',', -0.5);
    row("1.2e-3", '.', 0.0012);
    row("12.5 mm", '.', 12.5);
    row("\u00d832.0", '.', 32);
    row("35°30'15\"", '.', 35 + 30 / 60.0 + 15 / 3600.0);
    row("-0°30'", '.', -0.5);
    row("\u00b10,1", ',', 0.1);
    row("12.03.2026", '.', 0, false);
    row("12.03.2026", ',', 0, false);
    row("2026-11-03", '.', 0, false);
    row("H7", '.', 0, false);
    row("12:30", '.', 0, false);
    row("1e999", '.', 0, false);
    row("--5", '.', 0, false);
    row("5-", '.', 0, false);
  }
  void figures() {
    QFETCH(QString, text);
    QFETCH(char, decimal);
    QFETCH(double, value);
    QFETCH(bool, good);
    const auto f = resultFigure(text.toStdString(), decimal);
    QCOMPARE(f.has_value(), good);
    if (good) NEAR(f->value, value, 1e-12);
  }

  void badFiles_data() {
    QTest::addColumn<QByteArray>("bytes");
    QTest::newRow("empty") << QByteArray();
    QTest::newRow("blanks") << QByteArray("  \n\n\t\n");
    QTest::newRow("a picture") << QByteArray("\x89PNG\r\n\x1a\n\0\0\0\rIHDR", 16);
    QTest::newRow("zeros") << QByteArray(5000, '\0');
    QTest::newRow("prose") << QByteArray("Dear Sir,\nthe parts are fine.\nYours\n");
    QTest::newRow("no line ends") << QByteArray("1.5 ").repeated(100'000);
    QByteArray crowd("Serial;Name;Nominal;Actual\n");
    for (int k = 0; k < 5001; ++k)
      crowd += "P" + QByteArray::number(k) + ";Bore;32.000;32.012\n";
    QTest::newRow("too many parts") << crowd;
    QTest::newRow("a packed file") << QByteArray("PK\x03\x04 and no more");
  }
  void badFiles() {
    QFETCH(QByteArray, bytes);
    const auto file = readResultFile(bytes.toStdString(), "odd.bin", std::vector<FileKind>{});
    QVERIFY(!file);
    QVERIFY(file.error().message.starts_with("odd.bin: "));
    QCOMPARE(file.error().message.find('\n'), std::string::npos);
  }

  // Cut off anywhere, or with bytes changed: one line, or what can be read of it.
  void damaged() {
    Random random(7);
    for (int layout = 0; layout < test::kResultLayouts; ++layout) {
      const std::string whole = madeResultFile(layout, test::heronPlan().spec, 2).bytes;
      for (int k = 0; k < 12; ++k) {
        std::string bytes = whole;
        if (k % 2 == 0)
          bytes.resize(
              static_cast<std::size_t>(random.uniform() * static_cast<double>(whole.size())));
        for (int n = 0; n < k && !bytes.empty(); ++n)
          bytes[random.bits() % bytes.size()] = static_cast<char>(random.bits());
        const auto file = readResultFile(bytes, "a", std::vector<FileKind>{});
        if (file)
          for (const ResultsOfPart& p : file->read.parts)
            for (const StatedResult& v : p.values)
              QVERIFY(std::isfinite(*v.actual));
        else
          QCOMPARE(file.error().message.find('\n'), std::string::npos);
      }
    }
  }

  void encodings() {
    QCOMPARE(textOf("a\nb").encoding, TextEncoding::Utf8);
    QCOMPARE(textOf("Pr\xFC"
                    "fer;1\n")
                 .encoding,
             TextEncoding::Windows1252);
    QCOMPARE(textOf("Pr\xFC"
                    "fer;1\n")
                 .lines[0],
             std::string("Prüfer;1"));
    QCOMPARE(textOf(std::string("\xFE\xFF\0A\0\n\0B", 8)).lines,
             (std::vector<std::string>{"A", "B"}));
    QCOMPARE(textOf("\xEF\xBB\xBFx\r\ny\rz\n").lines, (std::vector<std::string>{"x", "y", "z"}));
  }
  void workbookRows() {
    const std::vector<std::vector<std::string>> rows{{"Name", "Actual"}, {}, {"ø8 & <x>", "8.015"}};
    for (const bool shared : {true, false}) {
      const ResultText text = textOf(test::madeWorkbook(rows, shared));
      QVERIFY(text.spreadsheet);
      QCOMPARE(text.lines, (std::vector<std::string>{"Name\tActual", "", "ø8 & <x>\t8.015"}));
    }
  }
  // A page header that begins like a result takes none away, and figures beside what is known of
  // the part are told.
  void pageHeadersTakeNothing() {
    const ResultText text = textOf("Bore report  page 1\nSerial: 7\n"
                                   "Bore 32  32.000  32.011  0.025  0.000\n"
                                   "Pin 8     8.000   8.004  0.022  0.000\n"
                                   "Bore 9    9.000   9.004  0.022  0.000\n");
    QCOMPARE(proposeKind(text).read.values(), std::size_t(3));
    FileKind kind = proposeKind(text).kind;
    LineRule swallows;
    swallows.begins = "pin";
    kind.rules.insert(kind.rules.begin(), swallows);
    QCOMPARE(readResults(text, kind).values(), std::size_t(3));
    ResultText more = text;
    more.lines[1] = "Serial: 7   air   20.35";
    QVERIFY(readResults(more, kind).lines[1].not_read || readResults(more, kind).values() == 4);
  }
  // The demo's report: one nominal of an old drawing waits, the air is nothing.
  void demoReport() {
    const auto bytes = readFile(test::dataPath("heron-report.txt"));
    VERIFY_OK(bytes);
    const auto file = readResultFile(*bytes, "heron-report.txt", std::vector<FileKind>{});
    VERIFY_OK(file);
    QCOMPARE(file->read.values(), std::size_t(36));
    QCOMPARE(file->read.notRead(), std::size_t(0));
    const auto counts =
        countsOf(matchResults(test::heronPlan().spec, file->read.parts[0], "k", {}));
    QCOMPARE(counts.settled, std::size_t(34));
    QCOMPARE(counts.waiting, std::size_t(1));
    QCOMPARE(counts.left, std::size_t(1));
  }
  // Lines with figures that nothing reads are told.
  void notReadIsTold() {
    ResultText text = textOf(madeResultFile(0, test::heronPlan().spec, 4).bytes);
    const std::size_t at = lineWith(text, "2;");
    const FileKind kind = proposeKind(text).kind;
    text.lines[at] = "Temperatur;20,3;20,4";
    const ResultsRead read = readResults(text, kind);
    QVERIFY(read.lines[at].spans.empty());
    QVERIFY(read.lines[at].not_read);
    QCOMPARE(read.notRead(), std::size_t(1));
  }
  void badKinds_data() {
    QTest::addColumn<QByteArray>("json");
    QTest::newRow("no JSON") << QByteArray("{");
    QTest::newRow("another file") << QByteArray("{\"a\":1}");
    QTest::newRow("newer") << QByteArray("{\"result_file_kind\":2}");
    const QByteArray good = QByteArray::fromStdString(
        toJson(proposeKind(textOf(madeResultFile(3, test::heronPlan().spec, 1).bytes)).kind)
            .dump());
    QTest::newRow("a role") << QByteArray(good).replace("\"actual\"", "\"aktual\"");
    QTest::newRow("a use") << QByteArray(good).replace("\"record\"", "\"rekord\"");
    QTest::newRow("decimal") << QByteArray(good).replace("\"decimal\":\".\"", "\"decimal\":\"x\"");
    QTest::newRow("unit") << QByteArray(good).replace("\"unit\":\"mm\"", "\"unit\":\"deg\"");
  }
  void badKinds() {
    QFETCH(QByteArray, json);
    const auto kind = fileKindFromText(json.toStdString(), "k.json");
    QVERIFY(!kind);
    QVERIFY(kind.error().message.find("k.json") != std::string::npos);
  }
};

ALDER_TEST(ResultKindsTest)
#include "result_kinds_test.moc"
