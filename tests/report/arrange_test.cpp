#include "report/layout/arrange.h"

#include "base/random.h"
#include "support.h"
#include <algorithm>
#include <cmath>

using namespace alder;

class ArrangeTest : public QObject {
  Q_OBJECT

  static LayoutPage page() {
    LayoutPage page;
    page.items.push_back({{20, 30, 60, 40}, false, TextItem{}});
    page.items.push_back({{120, 101.3, 33.3, 20}, false, RuleItem{}});
    return page;
  }

 private slots:
  void takesHoldOfGuides() {
    const LayoutPage p = page();
    // left edge on the other's left edge, lower edge on its lower edge
    const Snapped s = snappedMove(p, 0, {118.6, 87, 60, 33}, 2);
    NEAR(s.area.x, 120.0, 1e-12);
    NEAR(s.area.bottom(), 121.3, 1e-12);
    QVERIFY(s.guide_x && s.guide_y);
    NEAR(*s.guide_x, 120.0, 1e-12);
    // the middle of the page
    NEAR(snappedMove(p, 0, {74.2, 200, 60, 10}, 2).area.middle().x(), 105.0, 1e-12);
    // nothing near: whole millimetres
    const Snapped free = snappedMove(p, 0, {41.3, 201.6, 11, 10}, 0.1);
    NEAR(free.area.x, 41.0, 1e-12);
    NEAR(free.area.y, 202.0, 1e-12);
    QVERIFY(!free.guide_x && !free.guide_y);
    // the right edge alone
    const Snapped sized = snappedSize(p, 0, {20, 30, 99, 72}, 2);
    NEAR(sized.area.right(), 120.0, 1e-12);
    NEAR(sized.area.bottom(), 101.3, 1e-12);
    NEAR(sized.area.x, 20.0, 1e-12);
  }

  // Wherever it is dragged it stays on the page, keeps its size, and does not leap.
  void byLot() {
    Random random(5);
    const LayoutPage p = page();
    const PaperSize size = p.size();
    for (int i = 0; i < 3000; ++i) {
      const Area wanted{random.uniform(-60, 250), random.uniform(-60, 330), random.uniform(4, 180),
                        random.uniform(4, 250)};
      const Snapped moved = snappedMove(p, 0, wanted, 2);
      QVERIFY(Area({0, 0, size.width, size.height}).holds(moved.area, 1e-9));
      QVERIFY(moved.area.w == wanted.w && moved.area.h == wanted.h);
      const double free_x = std::clamp(wanted.x, 0.0, size.width - wanted.w);
      QVERIFY(std::abs(moved.area.x - free_x) <= 2.5);
      const Area inside{std::abs(wanted.x) / 2, std::abs(wanted.y) / 2, wanted.w, wanted.h};
      const Snapped sized = snappedSize(p, 1, inside, 2);
      QVERIFY(sized.area.w >= 4 - 1e-9 && sized.area.h >= 4 - 1e-9);
      QVERIFY(sized.area.x == inside.x && sized.area.y == inside.y);
    }
  }

  void freshOnes() {
    LayoutPage p;
    const auto fresh = freshItems();
    QCOMPARE(fresh.size(), std::variant_size_v<ItemBody>);
    for (const PageFormat format : {PageFormat::A4, PageFormat::A3, PageFormat::Letter})
      for (const bool landscape : {false, true}) {
        p.format = format, p.landscape = landscape;
        p.items.clear();
        for (const ItemBody& body : fresh) {
          LayoutItem item{freePlace(p, freshArea(p, body)), false, body};
          p.items.push_back(item);
        }
        Layout layout{"All", {p}};
        VERIFY_OK(validate(layout));
        QVERIFY(p.items[1].area.y >= p.items[0].area.bottom());
      }
  }
};

ALDER_TEST(ArrangeTest)
#include "arrange_test.moc"
