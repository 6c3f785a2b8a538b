#include "base/units.h"
#include "exchange/routine/recipe_json.h"
#include "plan/edit.h"
#include "rehearse/rehearsal.h"
#include "route/draft.h"
#include "run/simulated_run.h"
#include "support.h"

using namespace alder;

namespace {

const NominalFeature& bore(const Plan& plan) {
  return plan.nominal(test::named(plan, "Bore ø11 · 2"));
}

std::vector<Touch> planned(const Plan& plan, const Recipe& recipe) {
  return planTouches(*plan.part, bore(plan), recipe, 1.5, {});
}

double angleOf(const Plan& plan, const Touch& t) {
  const Ideal& i = bore(plan).ideal;
  const Vec3 q = frameOf(i.point, i.direction).inverse() * t.point;
  return std::atan2(q.y(), q.x());
}

double depthOf(const Plan& plan, const Touch& t) {
  const Ideal& i = bore(plan).ideal;
  return (t.point - i.point).dot(i.direction);
}

} // namespace

class RecipeBookTest : public QObject {
  Q_OBJECT
 private slots:
  // The first entry whose conditions hold is followed, else the program proposes.
  void conditions() {
    const Plan& plan = test::heronPlan();
    const NominalFeature& n = bore(plan);
    Recipe own = recipeFor(n, plan.spec);
    own.per_row = 5;
    RecipeBook book;
    book.entries.push_back(entryFrom(n, own, "shop bore"));
    QCOMPARE(recipeFor(n, plan.spec, book).name, std::string("shop bore"));
    const auto without = [&](const std::function<void(BookEntry&)>& change) {
      RecipeBook other = book;
      change(other.entries[0]);
      return recipeFor(n, plan.spec, other).name != "shop bore";
    };
    QVERIFY(without([](BookEntry& e) { e.hole = false; }));
    QVERIFY(without([](BookEntry& e) { e.size_from = 12; }));
    QVERIFY(without([](BookEntry& e) { e.size_to = 10; }));
    QVERIFY(without([](BookEntry& e) { e.type = SurfaceType::Cone; }));
    QVERIFY(without([](BookEntry& e) { e.tolerance_to = 1e-4; }));
    QVERIFY(!without([](BookEntry& e) { e.hole.reset(); }));
    QCOMPARE(conditionsText(book.entries[0]), std::string("cylinder, inside, ø 8 to 14"));
    // what a feature does otherwise than its recipe
    Recipe other = own;
    other.name = "shop bore";
    other.edge_margin = 1, other.speed = 2;
    QCOMPARE(differences(other, recipeFollowed(n, plan.spec, book, other)),
             (std::vector<std::string>{"edge margin", "speed"}));
  }
  // A draft follows the book.
  void drafted() {
    Plan plan = beginPlan(test::heron(), test::heronBench());
    const FeatureId id = test::named(plan, "Bore ø11 · 2");
    Recipe own = plan.feature(id).recipe;
    own.rows = 3, own.per_row = 5;
    plan.book.entries.push_back(entryFrom(plan.nominal(id), own, "shop bore"));
    for (Feature& f : plan.features)
      f.recipe = recipeFor(plan.nominal(f.id), plan.spec, plan.book);
    const auto done = completePlan(std::move(plan));
    VERIFY_OK(done);
    int follow = 0;
    for (const Feature& f : done->features)
      if (f.recipe.name == "shop bore") {
        ++follow;
        QVERIFY(f.touches.size() > 10 && f.touches.size() <= 15); // where all can be reached
      }
    QCOMPARE(follow, 10); // all bores of ø8 to 14
  }
  void roundTripAndMistakes() {
    const Plan& plan = test::heronPlan();
    RecipeBook book;
    Recipe r = recipeFor(bore(plan), plan.spec);
    r.stroke = Stroke::Helix, r.pitch = 0.3, r.coverage = radians(200), r.clockwise = true;
    r.from_end = true, r.retract = 1.5, r.search = 3, r.speed = 6;
    book.entries.push_back(entryFrom(bore(plan), r, "helix"));
    book.entries.push_back(entryFrom(plan.nominal(FeatureId{0}), r, "plane"));
    const auto read = bookFromText(bookText(book), "recipes.json");
    VERIFY_OK(read);
    QVERIFY(*read == book);
    book.entries[1].recipe.name = "helix";
    QVERIFY(!validate(book));
    for (const char* bad : {"", "[]", R"({"format": "other"})",
                            R"({"format": "alderpoint-recipes", "entries": [{}]})",
                            R"({"format": "alderpoint-recipes", "entries": [{"kind": "blob"}]})"}) {
      const auto refused = bookFromText(bad, "recipes.json");
      QVERIFY(!refused && refused.error().message.starts_with("recipes.json"));
    }
  }
  // Start, coverage, direction and depths are those asked for.
  void rings() {
    const Plan& plan = test::heronPlan();
    Recipe r = recipeFor(bore(plan), plan.spec);
    r.rows = 2, r.per_row = 5, r.start_angle = radians(20), r.coverage = radians(180);
    r.first_depth = 5, r.last_depth = 7;
    auto touches = planned(plan, r);
    QCOMPARE(touches.size(), std::size_t(10));
    QCOMPARE(touches[5].row, 1);
    NEAR(depthOf(plan, touches[5]), 7.0, 1e-6);
    for (std::size_t k = 0; k < 5; ++k) {
      const double off = degrees(angleOf(plan, touches[k])) - (20 + 45.0 * static_cast<double>(k));
      NEAR(std::remainder(off, 360), 0.0, 1e-6);
      NEAR(depthOf(plan, touches[k]), 5.0, 1e-6);
    }
    r.clockwise = true;
    touches = planned(plan, r);
    NEAR(std::remainder(degrees(angleOf(plan, touches[4])) - (20 - 180.0), 360), 0.0, 1e-6);
    r.from_end = true;
    touches = planned(plan, r);
    NEAR(depthOf(plan, touches.front()), bore(plan).ideal.length - 7, 1e-6);
    NEAR(depthOf(plan, touches.back()), bore(plan).ideal.length - 5, 1e-6);
  }
  // A scan keeps its step, stays on the surface and closes its rings; a helix goes down evenly.
  void scans() {
    const Plan& plan = test::heronPlan();
    Recipe r = recipeFor(bore(plan), plan.spec);
    r.stroke = Stroke::Rows, r.rows = 2, r.pitch = 0.5;
    const auto ringed = planned(plan, r);
    QVERIFY(ringed.size() > 2 * kPi * 11 / 0.5);
    NEAR((ringed[0].point - ringed[ringed.size() / 2 - 1].point).norm(), 0.0, 1e-6);
    r.stroke = Stroke::Helix;
    const auto helix = planned(plan, r);
    for (std::size_t k = 1; k < helix.size(); ++k) {
      QVERIFY((helix[k].point - helix[k - 1].point).norm() < 0.75);
      QVERIFY(depthOf(plan, helix[k]) > depthOf(plan, helix[k - 1]));
    }
    const Ideal& i = bore(plan).ideal;
    for (const Touch& t : helix) {
      const Vec3 off = t.point - i.point;
      NEAR((off - off.dot(i.direction) * i.direction).norm(), 5.5, 1e-6);
    }
  }
  // The routed scan stays on the surface between its ends and takes the time its length asks for.
  void scannedOnTheMachine() {
    Plan plan = test::heronPlan();
    const FeatureId id = bore(plan).id;
    Recipe r = plan.feature(id).recipe;
    r.stroke = Stroke::Rows, r.rows = 2, r.pitch = 1, r.speed = 5;
    VERIFY_OK(applyEdit(plan, SetRecipe{id, r, {}, {}}));
    const Obstacles obstacles = obstaclesOf(plan);
    const auto way = routePlan(plan, obstacles);
    VERIFY_OK(way);
    const auto rehearsal = rehearse(plan, obstacles, *way);
    VERIFY_OK(rehearsal);
    QVERIFY(rehearsal->clear());
    std::size_t contacts = 0, approaches = 0;
    double length = 0, seconds = 0;
    for (std::size_t k = 1; k < way->positions.size(); ++k) {
      const Position &p = way->positions[k], &before = way->positions[k - 1];
      if (p.feature != id || p.touch < 0 || p.kind == MoveKind::Manual) continue;
      contacts += p.contact;
      approaches += p.kind == MoveKind::Approach;
      if (!p.contact || !before.contact) continue;
      length += (p.ball - before.ball).norm();
      seconds += rehearsal->times[k] - rehearsal->times[k - 1];
    }
    QCOMPARE(contacts, plan.feature(id).touches.size());
    QCOMPARE(approaches, std::size_t(2)); // once a ring
    NEAR(seconds, length / 5, 1e-6);
    // and measures what is there
    const auto run = runOnSimulatedMachine(plan, *way, {}, 3);
    VERIFY_OK(run);
  }
};
ALDER_TEST(RecipeBookTest)
#include "recipe_book_test.moc"
