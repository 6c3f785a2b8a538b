#include "base/error.h"

#include "pmi_mutations.h"
#include "support.h"

using namespace alder;

// Every way of saying a requirement in a model is right, or told.
class PmiVariantsTest : public QObject {
  Q_OBJECT

 private slots:
  void rightOrTold_data() {
    QTest::addColumn<QString>("records");
    QTest::addColumn<QString>("expected");
    const auto cases = test::pmiCases();
    QVERIFY(cases.size() >= 400);
    int number = 0;
    for (const test::PmiCase& c : cases)
      QTest::newRow(fmt::format("{}: {}", ++number, c.name).c_str())
          << QString::fromStdString(c.records) << QString::fromStdString(c.expected);
  }
  void rightOrTold() {
    QFETCH(QString, records);
    QFETCH(QString, expected);
    const test::PmiAnswer a = test::pmiAnswer(test::pmiFile(records.toStdString()));
    const auto found = a.requirements.find(60);
    const QString got =
        found == a.requirements.end() ? "no requirement" : QString::fromStdString(found->second);
    QString notes;
    for (const Note& n : a.notes)
      notes += QString("\n  #%1 %2").arg(n.entity).arg(QString::fromStdString(n.text));
    const bool told = a.told(60);
    const auto fail = [&](const char* why) {
      QFAIL(qPrintable(QString("%1: expected %2, got %3%4").arg(why, expected, got, notes)));
    };
    if (expected == "not a requirement" || expected == "not judged") {
      if (found != a.requirements.end()) fail("is a requirement");
      if (a.notes.empty()) fail("silent");
    } else if (expected == "told") {
      if (found == a.requirements.end()) fail("gone");
      if (!told) fail("silent");
    } else if (expected == "told or not judged") {
      if (found != a.requirements.end() && !told) fail("silent");
      if (a.notes.empty()) fail("silent");
    } else if (expected.startsWith("told or ")) {
      if (!told && got != expected.mid(8)) fail("wrong");
    } else if (expected.startsWith("told and ")) {
      if (!told) fail("silent");
      if (got != expected.mid(9)) fail("wrong");
    } else {
      if (got != expected) fail("wrong");
      if (told) fail("told without need");
    }
  }

  // No damage brings it down, and whatever then means something else shows in the answer or in a
  // note. Of cases that were told before nothing more is asked: a person looks at them anyway.
  void mutations() {
    const auto cases = test::pmiCases();
    const auto all = [](const test::PmiAnswer& a) {
      std::string text;
      for (const auto& [entity, line] : a.requirements)
        text += fmt::format("{} {}\n", entity, line);
      for (const Note& n : a.notes)
        text += fmt::format("#{} {}\n", n.entity, n.text);
      return text;
    };
    std::map<std::string, test::PmiAnswer> before;
    int tried = 0;
    const bool asked = qEnvironmentVariableIsSet("ALDERPOINT_MUTATIONS");
    const int most = asked ? qEnvironmentVariableIntValue("ALDERPOINT_MUTATIONS") : 20000;
    for (int seed = 1; seed <= most; ++seed) {
      Random random(static_cast<std::uint64_t>(seed));
      const auto which =
          static_cast<std::size_t>(random.uniform() * static_cast<double>(cases.size()));
      const test::PmiCase& original = cases[which];
      const test::PmiMutation m = test::mutated(original, random);
      const test::PmiAnswer now = test::pmiAnswer(test::pmiFile(m.records));
      auto found = before.find(original.name);
      if (found == before.end())
        found =
            before.emplace(original.name, test::pmiAnswer(test::pmiFile(original.records))).first;
      const bool already = std::any_of(found->second.notes.begin(), found->second.notes.end(),
                                       [&](const Note& n) { return n.entity == m.id; });
      if (!m.meaning || already || found->second.told(60) ||
          found->second.requirements.count(60) == 0)
        continue;
      ++tried;
      if (all(now) == all(found->second))
        QFAIL(qPrintable(
            QString("seed %1, %2: %3 is silent")
                .arg(seed)
                .arg(QString::fromStdString(original.name), QString::fromStdString(m.what))));
    }
    QVERIFY2(tried > most / 4, qPrintable(QString::number(tried)));
  }
};
ALDER_TEST(PmiVariantsTest)
#include "pmi_variants_test.moc"
