#include "base/id.h"
#include "base/random.h"
#include "base/table.h"
#include "support.h"
#include <map>

using namespace alder;

namespace {

struct Thing {
  Id<struct ThingTag> id;
  std::string name;
  friend bool operator==(const Thing&, const Thing&) = default;
};
using Things = Table<Thing>;

} // namespace

class TableTest : public QObject {
  Q_OBJECT

 private slots:
  void idsStay() {
    Things things;
    for (const char* name : {"a", "b", "c"})
      things.push_back({things.next(), name});
    const auto a = things[0].id, b = things[1].id, c = things[2].id;
    things.erase(b);
    QCOMPARE(things.at(a).name, std::string("a"));
    QCOMPARE(things.at(c).name, std::string("c"));
    QVERIFY(!things.find(b) && !things.holds(b));
    QCOMPARE(things.placeOf(c), std::size_t(1));
    QCOMPARE(things.placeOf(b), things.size());
    things.push_back({things.next(), "d"});
    QVERIFY(things.back().id != b && things.back().id > c); // what was given is not given again
    things.insert(0, {b, "b"});                             // but may come back
    QCOMPARE(things.placeOf(b), std::size_t(0));
    QCOMPARE(things.at(a).name, std::string("a"));
  }
  void whatCannotBe() {
    Things things{{{0}, "a"}};
    QVERIFY_THROWS_EXCEPTION(std::invalid_argument, (void)things.push_back({{0}, "again"}));
    QVERIFY_THROWS_EXCEPTION(std::invalid_argument, (void)things.push_back({{}, "none"}));
    QVERIFY_THROWS_EXCEPTION(std::out_of_range, (void)things.at({7}));
    QVERIFY(!things.find({}) && !things.find({-5}) && !things.find({100}));
    things.erase({7});
    QCOMPARE(things.size(), std::size_t(1));
  }
  // Against a map and a list kept by hand.
  void likeAMap() {
    Random random(3);
    Things things;
    std::vector<int> order;
    std::map<int, std::string> known;
    int given = 0;
    for (int k = 0; k < 2000; ++k) {
      const auto place = static_cast<std::size_t>(random.uniform() * double(order.size() + 1));
      if (random.uniform() < 0.6) {
        QCOMPARE(things.next().value, given);
        things.insert(place, {things.next(), std::to_string(k)});
        order.insert(order.begin() + std::ptrdiff_t(place), given);
        known[given++] = std::to_string(k);
      } else if (place < order.size()) {
        things.erase({order[place]});
        known.erase(order[place]);
        order.erase(order.begin() + std::ptrdiff_t(place));
      }
    }
    QCOMPARE(things.size(), order.size());
    for (int id = 0; id < given; ++id) {
      const Thing* found = things.find({id});
      QCOMPARE(found != nullptr, known.count(id) == 1);
      if (found) QCOMPARE(found->name, known[id]);
    }
    for (std::size_t i = 0; i < order.size(); ++i)
      QCOMPARE(things[i].id.value, order[i]);
  }
};

ALDER_TEST(TableTest)
#include "table_test.moc"
