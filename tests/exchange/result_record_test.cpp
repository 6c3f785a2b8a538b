#include "exchange/runs/result_record.h"
#include "support.h"

using namespace alder;

// What was judged when a part was measured is found again, whatever the numbers are now.
class ResultRecordTest : public QObject {
  Q_OBJECT

  // Two that ask for the same, and a third.
  static Specification asked() {
    Specification spec;
    for (const auto& [number, nominal] : {std::pair{1, 8.0}, {2, 8.0}, {3, 12.0}}) {
      Requirement r;
      r.id = spec.requirements.next();
      r.balloon = number;
      r.nominal = nominal, r.lower = nominal - 0.1, r.upper = nominal + 0.1, r.tolerance = 0.2;
      spec.requirements.push_back(r);
    }
    return spec;
  }
  static std::vector<ResultRecord> judged(const Specification& spec, bool ids) {
    std::vector<ResultRecord> all;
    for (const Requirement& r : spec.requirements) {
      ResultRecord x;
      x.balloon = r.balloon, x.requirement = describe(spec, r), x.actual = r.id.value;
      if (ids) x.id = r.id;
      all.push_back(std::move(x));
    }
    return all;
  }

 private slots:
  void byIdWhateverTheNumber() {
    const Specification then = asked();
    const auto records = judged(then, true);
    Specification now = then;
    std::swap(now.requirements[0].balloon, now.requirements[1].balloon);
    now.requirements[2].balloon = 9;
    now.requirements[2].upper += 0.5;
    for (const Requirement& r : now.requirements) {
      const ResultRecord* found = recordOf(now, r, records);
      QVERIFY(found && found->actual == r.id.value);
    }
    Requirement added = now.requirements[0];
    added.id = now.requirements.next();
    now.requirements.push_back(added);
    QVERIFY(!recordOf(now, added, records));
  }

  // Of files from before: by number and words, by words alone, never another's.
  void withoutIds() {
    const Specification then = asked();
    const auto records = judged(then, false);
    for (const Requirement& r : then.requirements)
      QVERIFY(recordOf(then, r, records)->actual == r.id.value);
    Specification now = then;
    now.requirements[0].balloon = 3, now.requirements[2].balloon = 1;
    QVERIFY(recordOf(now, now.requirements[2], records)->actual == 2);
    const ResultRecord* first = recordOf(now, now.requirements[0], records);
    QVERIFY(!first || first->actual != 2); // number 3 was another's
    now = then;
    now.requirements[2].upper += 0.5; // its limits were changed since
    QVERIFY(recordOf(now, now.requirements[2], records)->actual == 2);
  }

  void keptInFiles() {
    for (const bool ids : {false, true})
      for (const ResultRecord& r : judged(asked(), ids)) {
        const auto json = parseJson(toJson(r).dump(), "r");
        VERIFY_OK(json);
        QVERIFY(readResult(JsonFields(*json, "r")) == r);
      }
  }
};

ALDER_TEST(ResultRecordTest)
#include "result_record_test.moc"
