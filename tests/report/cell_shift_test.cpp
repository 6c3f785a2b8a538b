#include "report/workbook/cell_shift.h"
#include "support.h"
#include <QRandomGenerator>
#include <set>

using namespace alder;

// References after rows were put into sheets. Cells know by what they were called before; a
// reference must name the same ones after, and all copies where it named a repeated row.
class CellShiftTest : public QObject {
  Q_OBJECT

  using Cell = std::pair<int, int>; // column, row

  // What a reference names, by code of its own: "B2", "$B$2:C7".
  static std::set<Cell> cellsIn(const std::string& reference) {
    const auto one = [](std::string text) {
      std::erase(text, '$');
      Cell cell{0, 0};
      for (const char c : text)
        if (c >= 'A')
          cell.first = cell.first * 26 + c - 'A' + 1;
        else
          cell.second = cell.second * 10 + c - '0';
      return cell;
    };
    const auto colon = reference.find(':');
    const Cell a = one(reference.substr(0, colon)),
               b = colon == std::string::npos ? a : one(reference.substr(colon + 1));
    std::set<Cell> cells;
    for (int c = std::min(a.first, b.first); c <= std::max(a.first, b.first); ++c)
      for (int r = std::min(a.second, b.second); r <= std::max(a.second, b.second); ++r)
        cells.insert({c, r});
    return cells;
  }

 private slots:
  void sameCellsAsBefore() {
    QRandomGenerator random(20);
    for (int lot = 0; lot < 3000; ++lot) {
      RowShift shift;
      for (int k = random.bounded(4); k > 0; --k)
        shift.more[1 + random.bounded(20)] = 1 + random.bounded(5);
      // Row by row: where each of the old ones stands now, once or several times.
      std::map<int, std::vector<int>> now;
      int next = 1;
      for (int row = 1; row <= 30; ++row) {
        const auto more = shift.more.find(row);
        for (int k = 0; k <= (more == shift.more.end() ? 0 : more->second); ++k)
          now[row].push_back(next++);
      }
      const auto end = [&] {
        return (random.bounded(2) ? "$" : "") + columnName(1 + random.bounded(5)) +
               (random.bounded(2) ? "$" : "") + std::to_string(1 + random.bounded(25));
      };
      const bool range = random.bounded(2);
      const std::string before = range ? end() + ":" + end() : end();
      const std::string after = shiftedFormula(before, "A", {{"A", shift}});
      std::set<Cell> expected;
      for (const Cell& cell : cellsIn(before)) {
        const auto& rows = now[cell.second];
        // One cell alone is the first of its copies.
        for (std::size_t k = 0; k < (range ? rows.size() : 1); ++k)
          expected.insert({cell.first, rows[k]});
      }
      QVERIFY2(cellsIn(after) == expected, (before + " became " + after).c_str());
    }
  }

  void copiesReferToThemselves() {
    const SheetShifts shifts{{"Data", {{{6, 3}}}}};
    const auto in_copy = [&](const char* formula, int copy) {
      const CopiedRow copied{6, copy};
      return shiftedFormula(formula, "Data", shifts, &copied);
    };
    QCOMPARE(in_copy("C6-D6", 0), std::string("C6-D6"));
    QCOMPARE(in_copy("C6-D6", 2), std::string("C8-D8"));
    QCOMPARE(in_copy("C6/$C$2", 3), std::string("C9/$C$2"));
    QCOMPARE(in_copy("SUM(D$6:D6)", 2), std::string("SUM(D$6:D8)")); // a running sum
    QCOMPARE(in_copy("D6/SUM($D$6:$D$6)", 1), std::string("D7/SUM($D$6:$D$9)"));
    QCOMPARE(in_copy("D6-D12", 1), std::string("D7-D15"));
    QCOMPARE(in_copy("RANK(D6,D5:D7)", 1), std::string("RANK(D7,D5:D10)"));
    QCOMPARE(in_copy("Other!D6", 1), std::string("Other!D6")); // another sheet has its own rows
  }

  void whatIsNoReference() {
    const SheetShifts shifts{{"Data", {{{6, 3}}}}, {"It's", {{{1, 1}}}}};
    const std::pair<const char*, const char*> cases[]{
        {"LOG10(A7)", "LOG10(A10)"},
        {"IF(A7>0,\"A7 is \"\"A7\"\"\",A8)", "IF(A10>0,\"A7 is \"\"A7\"\"\",A11)"},
        {"Table1[[#This Row],[A7]]+A7", "Table1[[#This Row],[A7]]+A10"},
        {"Rate_A7*2", "Rate_A7*2"},
        {"A7B+A7", "A7B+A10"},
        {"'It''s'!A2+Data!A7", "'It''s'!A3+Data!A10"},
        {"Elsewhere!A7", "Elsewhere!A7"},
        {"'[Book A7.xlsx]Data'!A7", "'[Book A7.xlsx]Data'!A7"},
        {"SUM(A:A)+SUM(7:8)", "SUM(A:A)+SUM(10:11)"},
        {"1E7+A7", "1E7+A10"},
        {"XFD7+XFE7", "XFD10+XFE7"},
        {"Größe7+A7", "Größe7+A10"},
        {"$A$7:$A$9", "$A$10:$A$12"},
        {"-A7%", "-A10%"},
        {"'open text A7", "'open text A7"},
        {"\"open A7", "\"open A7"},
        {"[open A7", "[open A7"}};
    for (const auto& [before, after] : cases)
      QCOMPARE(QString::fromStdString(shiftedFormula(before, "Data", shifts)), QString(after));
  }

  void charts() {
    const SheetShifts shifts{{"My data", {{{6, 3}}}}};
    QCOMPARE(shiftedSource("'My data'!$D$6", shifts), std::string("'My data'!$D$6:$D$9"));
    QCOMPARE(shiftedSource("'My data'!$D$5", shifts), std::string("'My data'!$D$5"));
    QCOMPARE(shiftedSource("('My data'!$D$6,'My data'!$D$7)", shifts),
             std::string("('My data'!$D$6:$D$9,'My data'!$D$10)"));
  }

  void ranges() {
    const RowShift shift{{{6, 3}}};
    QCOMPARE(shiftedRanges("D6", shift), std::string("D6:D9"));
    QCOMPARE(shiftedRanges("A1:B2 D6:D8 F9", shift), std::string("A1:B2 D6:D11 F12"));
  }

  void moved() { QCOMPARE(movedFormula("A1+$B$2+C$3+$D4", 2, 1), std::string("B3+$B$2+D$3+$D6")); }

  // Whatever it is handed, it ends and keeps what it does not understand.
  void nonsense() {
    QRandomGenerator random(5);
    const std::string signs = "A7$:'\"[]!({,B1 .é\\";
    for (int lot = 0; lot < 20000; ++lot) {
      std::string text;
      for (int k = random.bounded(14); k > 0; --k)
        text += signs[static_cast<std::size_t>(random.bounded(static_cast<int>(signs.size())))];
      QCOMPARE(shiftedFormula(text, "S", {}), text);
      shiftedFormula(text, "S", {{"S", {{{1, 2}}}}});
    }
  }
};
ALDER_TEST(CellShiftTest)
#include "cell_shift_test.moc"
