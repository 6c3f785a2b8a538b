#include "base/random.h"
#include "exchange/routine/plan_json.h"
#include "exchange/routine/step_text.h"
#include "plan/constructions/constructed_feature.h"
#include "plan/feature_edit.h"
#include "plan/references.h"
#include "plan/repeats/repeat.h"
#include "plan/steps/step_edit.h"
#include "requirement/from_pmi.h"
#include "support.h"

using namespace alder;

// Random edits on everything that has an id or speaks of one, undone and redone at random: no id is
// ever stale, and each means the same feature for as long as the routine lives.
class ReferencesTest : public QObject {
  Q_OBJECT

  class Editor {
   public:
    explicit Editor(std::uint64_t seed)
        : random_(seed) {}
    Plan plan = test::heronPlan();
    EditHistory history;
    std::map<std::string, int> done; // kinds of edit that were taken

    void step() {
      const double what = random_.uniform();
      if (what < 0.1 && history.undo(plan)) return void(++done["undo"]);
      if (what < 0.15 && history.redo(plan)) return void(++done["redo"]);
      auto [kind, edits] = drawn();
      if (edits.empty()) return;
      auto group = withCopies(plan, {kind, std::move(edits)});
      if (group && history.apply(plan, *group)) ++done[kind];
    }

   private:
    using Drawn = std::pair<std::string, std::vector<Edit>>;

    int below(std::size_t count) {
      return std::min(static_cast<int>(count) - 1,
                      static_cast<int>(random_.uniform() * static_cast<double>(count)));
    }
    FeatureId feature() { return plan.features[std::size_t(below(plan.features.size()))].id; }
    StepId stepId() { return plan.steps[std::size_t(below(plan.steps.size()))].id; }
    template <class T> std::vector<Edit> one(Result<T> edit) {
      return edit ? std::vector<Edit>{std::move(*edit)} : std::vector<Edit>{};
    }

    std::vector<Edit> addOne() {
      AddFeature add;
      const auto face = FaceId{below(plan.part->faces.size())};
      add.nominal.id = plan.spec.features.next();
      add.nominal.name = freeFeatureName(plan.spec, "Face");
      add.nominal.ideal = plan.nominal(feature()).ideal;
      add.nominal.faces = {face};
      const auto step = insertSteps(plan, measureSteps({add.nominal.id}), plan.steps.size(), 0);
      return step ? std::vector<Edit>{add, *step} : std::vector<Edit>{add};
    }
    std::vector<Edit> removeOne() {
      const FeatureId gone = feature();
      if (auto step = removeSteps(plan, {stepOf(plan.steps, gone)}))
        return {std::move(*step), RemoveFeature{gone}};
      return {RemoveFeature{gone}};
    }
    std::vector<Edit> construct() {
      std::vector<FeatureId> of{feature()};
      for (int more = below(3); more > 0; --more)
        if (const FeatureId f = feature(); std::find(of.begin(), of.end(), f) == of.end())
          of.push_back(f);
      const auto proposals = proposeConstructions(plan, of);
      if (proposals.empty()) return {};
      const auto& wanted = proposals[std::size_t(below(proposals.size()))].construction;
      auto spec = withConstructed(plan, wanted);
      return spec ? std::vector<Edit>{SetSpecification{std::move(*spec)}} : std::vector<Edit>{};
    }
    std::vector<Edit> require() {
      Requirement r;
      r.kind = Characteristic::Flatness;
      r.features = {feature()};
      r.tolerance = 0.1;
      return {SetSpecification{withRequirement(plan.spec, r)}};
    }
    std::vector<Edit> dropRequirement() {
      const auto& all = plan.spec.requirements;
      if (all.empty()) return {};
      auto spec = withoutRequirement(plan.spec, all[std::size_t(below(all.size()))].id);
      return spec ? std::vector<Edit>{SetSpecification{std::move(*spec)}} : std::vector<Edit>{};
    }
    // Without one of its constructed features, as a file or a template might bring it.
    std::vector<Edit> dropFromSpecification() {
      Specification spec = plan.spec;
      spec.features.erase(feature());
      return {SetSpecification{std::move(spec)}};
    }
    std::vector<Edit> stepOfRequirement() {
      const auto& all = plan.spec.requirements;
      if (all.empty()) return {};
      const RequirementId wanted = all[std::size_t(below(all.size()))].id;
      StepBody body = EvaluateStep{{wanted, all.front().id}};
      if (random_.uniform() < 0.5) body = BranchStep{wanted, BranchWhen::Outside, BranchDoes::Warn};
      const std::size_t at = indexOf(plan.steps, stepId());
      return one(insertSteps(plan, {{StepId{0}, 0, true, 0, body}}, at, plan.steps[at].depth));
    }
    std::vector<Edit> stepOfFeature() {
      const FeatureId f = feature();
      StepBody body = MoveStep{CountFrom::Feature, f, Vec3(0, 0, 300)};
      if (plan.nominal(f).isConstructed() && random_.uniform() < 0.5) body = ConstructStep{f};
      const std::size_t at = indexOf(plan.steps, stepId());
      return one(insertSteps(plan, {{StepId{0}, 0, true, 0, body}}, at, plan.steps[at].depth));
    }
    std::vector<Edit> paste() {
      const auto pasted = stepsFromText(stepsText(plan, {stepId(), stepId(), stepId()}), plan);
      if (!pasted) return {};
      return one(insertSteps(plan, pasted->steps, plan.steps.size(), 0));
    }
    std::vector<Edit> frames() {
      auto all = plan.frames;
      if (all.size() > 2) all.erase(all.begin());
      PartFrame f;
      f.name = "frame " + std::to_string(below(1000));
      f.stages.push_back({{feature()}, ""});
      all.push_back(f);
      return {SetFrames{all}};
    }
    std::vector<Edit> repeat() {
      auto made = repeatSteps(plan, {stepId()});
      return made ? std::vector<Edit>{made->first} : std::vector<Edit>{};
    }

    Drawn drawn() {
      switch (below(14)) {
      case 0:
        return {"add", addOne()};
      case 1:
      case 2:
        return {"remove", removeOne()};
      case 3:
      case 4:
        return {"construct", construct()};
      case 5:
        return {"require", require()};
      case 6:
        return {"drop requirement", dropRequirement()};
      case 7:
      case 12:
        return {"drop from specification", dropFromSpecification()};
      case 8:
        return {"step", stepOfFeature()};
      case 9:
        return {"paste", paste()};
      case 10:
        return {"frame", frames()};
      case 11:
        return {"step of requirement", stepOfRequirement()};
      default:
        return random_.uniform() < 0.5 ? Drawn{"repeat", repeat()}
                                       : Drawn{"remove steps", one(removeSteps(plan, {stepId()}))};
      }
    }

    Random random_;
  };

  // Read from the file's text by itself, whatever the code takes for a reference: every number
  // under one of these keys is the id of a feature or requirement that is listed.
  static std::string stale(const Json& routine) {
    std::set<int> there, asked;
    for (const Json& f : routine["features"])
      there.insert(f["id"].get<int>());
    for (const Json& r : routine["requirements"])
      asked.insert(r["id"].get<int>());
    std::string found;
    const std::set<std::string> keys{"feature", "features", "of", "alignment", "original", "copy"};
    for (const Json& r : routine["requirements"])
      if (const int upper = r["upper_segment"].get<int>(); upper >= 0 && !asked.count(upper))
        found += "upper segment " + r.dump() + "; ";
    for (const Json& s : routine["steps"]) {
      for (const Json& id : s["kind"] == "evaluate" ? s["requirements"] : Json::array())
        if (!asked.count(id.get<int>())) found += s.dump() + "; ";
      if (s["kind"] == "branch" && !asked.count(s["requirement"].get<int>()))
        found += s.dump() + "; ";
    }
    const std::function<void(const Json&, const std::string&)> walk = [&](const Json& json,
                                                                          const std::string& key) {
      if (json.is_number_integer() && keys.count(key) && !there.count(json.get<int>()))
        found += key + " " + json.dump() + "; ";
      for (const auto& [inner, value] : json.items())
        if (json.is_object())
          walk(value, inner);
        else if (json.is_array())
          walk(value, key);
    };
    for (const auto& [key, value] : routine.items())
      if (key == "features") {
        for (const Json& f : value)
          if (f.contains("from")) walk(f["from"], "from");
      } else if (key != "recipes") {
        walk(value, key);
      }
    return found;
  }

 private slots:
  void neverStale() {
    std::map<std::string, int> done;
    for (std::uint64_t seed = 1; seed <= 8; ++seed) {
      Editor e(seed);
      const std::string start = toJson(e.plan).dump();
      std::map<FeatureId, std::string> meant; // name of each id, as first seen
      for (int k = 0; k < 140; ++k) {
        e.step();
        const Json json = toJson(e.plan);
        QCOMPARE(stale(json), std::string());
        VERIFY_OK(allThere(e.plan));
        for (std::size_t i = 0; i < e.plan.features.size(); ++i) {
          const NominalFeature& f = e.plan.spec.features[i];
          QCOMPARE(e.plan.features[i].id.value, f.id.value);
          QCOMPARE(f.name, meant.emplace(f.id, f.name).first->second);
        }
      }
      const std::string end = toJson(e.plan).dump();
      const auto read = planFromJson(toJson(e.plan), "routine", e.plan.part, e.plan.bench);
      VERIFY_OK(read);
      QCOMPARE(toJson(*read).dump(), end);
      int back = 0;
      while (e.history.undo(e.plan))
        ++back;
      QCOMPARE(toJson(e.plan).dump(), start);
      for (int k = 0; k < back; ++k)
        QVERIFY(e.history.redo(e.plan));
      QCOMPARE(toJson(e.plan).dump(), end);
      for (const auto& [kind, count] : e.done)
        done[kind] += count;
    }
    for (const char* kind : {"add", "remove", "construct", "require", "drop requirement", "step",
                             "step of requirement", "drop from specification", "paste", "frame",
                             "repeat", "remove steps", "undo", "redo"})
      QVERIFY2(done[kind] > 3, kind); // each was taken, and not only refused
  }
  // What a step asks for cannot go; and a new one is another, whatever number it gets.
  void stepsKeepWhatTheyAskFor() {
    Plan plan = test::heronPlan();
    const RequirementId last = plan.spec.requirements.back().id;
    const int number = plan.spec.requirements.back().balloon;
    const auto put = insertSteps(
        plan, {{StepId{0}, 0, true, 0, BranchStep{last, BranchWhen::Outside, BranchDoes::Stop}}},
        plan.steps.size(), 0);
    VERIFY_OK(put);
    VERIFY_OK(applyEdit(plan, *put));
    const auto without = withoutRequirement(plan.spec, last);
    VERIFY_OK(without);
    const auto refused = applyEdit(plan, SetSpecification{*without});
    QVERIFY(!refused);
    QCOMPARE(
        refused.error().message,
        fmt::format("A step asks for requirement {}; change or remove that step first.", number));
    VERIFY_OK(applyEdit(plan, *removeSteps(plan, {plan.steps.back().id})));
    VERIFY_OK(applyEdit(plan, SetSpecification{*without}));
    plan.spec = withRequirement(plan.spec, test::heronPlan().spec.requirements.back());
    QCOMPARE(plan.spec.requirements.back().balloon, number);
    QVERIFY(plan.spec.requirements.back().id != last);
  }
  // Older files name requirements by number. What none has is told by a note in the step's place.
  void stepsOfOlderFiles() {
    const Plan& plan = test::heronPlan();
    const int number = plan.spec.requirements[4].balloon;
    Json old = toJson(plan);
    const auto step = [](int id, Json fields) {
      fields.update({{"id", id}, {"depth", 0}, {"left_out", false}, {"before", 0}});
      return fields;
    };
    const Json branch{
        {"kind", "branch"}, {"balloon", number}, {"when", "within"}, {"does", "warn"}};
    Json to_none = branch;
    to_none["balloon"] = 999;
    old["steps"].push_back(step(9001, {{"kind", "evaluate"}, {"balloons", {number, number}}}));
    old["steps"].push_back(step(9002, branch));
    old["steps"].push_back(step(9003, to_none));
    old["steps"].push_back(step(9004, {{"kind", "evaluate"}, {"balloons", {number, 999}}}));
    old["steps"].push_back(step(9005, {{"kind", "evaluate"}, {"balloons", Json::array()}}));
    const auto read = planFromJson(old, "routine.json", plan.part, plan.bench);
    VERIFY_OK(read);
    const auto body = [&](std::size_t from_end) -> const StepBody& {
      return read->steps[read->steps.size() - from_end].body;
    };
    const RequirementId id = plan.spec.requirements[4].id;
    QCOMPARE(read->steps.size(), plan.steps.size() + 5);
    QVERIFY(body(5) == StepBody(EvaluateStep{{id, id}}));
    QVERIFY(body(4) == StepBody(BranchStep{id, BranchWhen::Within, BranchDoes::Warn}));
    for (const std::size_t told : {2u, 3u}) {
      const auto* note = std::get_if<NoteStep>(&body(told));
      QVERIFY(note && note->text.find("999") != std::string::npos);
    }
    QVERIFY(body(1) == StepBody(EvaluateStep{}));
    old["steps"].back() = step(9005, {{"kind", "evaluate"}, {"requirements", {777}}});
    QVERIFY(!planFromJson(old, "routine.json", plan.part, plan.bench));
  }
  // To another routine they go by number, as a person would read them.
  void stepsOfAnotherRoutine() {
    Plan plan = test::heronPlan();
    const auto put =
        insertSteps(plan, {{StepId{0}, 0, true, 0, EvaluateStep{{test::balloon(plan, 3).id}}}},
                    plan.steps.size(), 0);
    VERIFY_OK(put);
    VERIFY_OK(applyEdit(plan, *put));
    const std::string text = stepsText(plan, {plan.steps.back().id});
    Plan other = test::heronPlan();
    Requirement again = test::balloon(other, 3);
    other.spec.requirements.erase(again.id);
    again.id = other.spec.requirements.next();
    other.spec.requirements.push_back(again);
    const auto pasted = stepsFromText(text, other);
    VERIFY_OK(pasted);
    QVERIFY(pasted->steps.front().body == StepBody(EvaluateStep{{again.id}}));
  }
  // A specification that lacks what a frame stands on is refused too, not only by steps.
  void framesKeepWhatTheyStandOn() {
    Plan plan = test::heronPlan();
    Construction c;
    c.kind = ConstructionKind::Copy;
    c.of = {plan.features[0].id};
    auto spec = withConstructed(plan, c, "moved");
    VERIFY_OK(spec);
    VERIFY_OK(applyEdit(plan, SetSpecification{*spec}));
    const FeatureId moved = plan.spec.features.back().id;
    PartFrame frame;
    frame.name = "there";
    frame.stages.push_back({{moved}, ""});
    VERIFY_OK(applyEdit(plan, SetFrames{{frame}}));
    Specification without = plan.spec;
    without.features.erase(moved);
    const auto refused = applyEdit(plan, SetSpecification{without});
    QVERIFY(!refused);
    QVERIFY2(refused.error().message.find("Frame there") != std::string::npos,
             refused.error().message.c_str());
    QVERIFY(plan.features.holds(moved));
  }
  // An id that a file never gave, or that stands in it twice, is one line that names the place.
  void damagedIds() {
    const Plan& plan = test::heronPlan();
    const auto refused = [&](const Json& json) {
      const auto read = planFromJson(json, "routine.json", plan.part, plan.bench);
      return read ? std::string() : read.error().message;
    };
    const Json good = toJson(plan);
    QCOMPARE(refused(good), std::string());
    Json twice = good;
    twice["features"][3]["id"] = 2;
    QVERIFY2(refused(twice).find("is there twice") != std::string::npos, refused(twice).c_str());
    Json huge = good;
    huge["requirements"][3]["id"] = 2'000'000'000;
    QVERIFY2(refused(huge).find("from 0 on") != std::string::npos, refused(huge).c_str());
    Json gone = good;
    gone["requirements"][3]["features"] = {777};
    QVERIFY2(refused(gone).find("not there") != std::string::npos, refused(gone).c_str());
    Json upper = good;
    upper["requirements"][3]["upper_segment"] = 777;
    QVERIFY2(refused(upper).find("upper segment") != std::string::npos, refused(upper).c_str());
  }
  // Version 1 wrote zones and modifiers as numbers and did not say what an answer is for.
  void filesOfVersionOne() {
    Plan plan = test::heronPlan();
    Steps steps = plan.steps;
    steps.push_back(
        {freeId(steps), 0, true, 0, AskStep{"SERIAL no.", false, "", QuestionRole::SerialNumber}});
    steps.push_back({freeId(steps), 0, true, 0, AskStep{"Temperature", true, "°C"}});
    VERIFY_OK(applyEdit(plan, SpliceSteps{0, plan.steps.size(), steps}));
    Json old = toJson(plan);
    old["version"] = 1;
    int written = 0;
    const auto number = [&](Json& value, const std::vector<std::string>& names) {
      const auto at = std::find(names.begin(), names.end(), value.get<std::string>());
      QVERIFY(at != names.end());
      value = at - names.begin();
      ++written;
    };
    for (Json& r : old["requirements"]) {
      number(r["zone"], {"planar", "diameter", "sphere"});
      number(r["material"], {"none", "maximum", "least"});
      for (Json& d : r["datums"])
        number(d["material"], {"none", "maximum", "least"});
    }
    for (Json& s : old["steps"])
      s.erase("role");
    QVERIFY(written > 70);
    const auto read = planFromJson(old, "routine.json", plan.part, plan.bench);
    VERIFY_OK(read);
    QCOMPARE(toJson(*read).dump(), toJson(plan).dump());
    Json wrong = old;
    wrong["requirements"][0]["zone"] = 3; // was taken for the nearest one, without a word
    const auto refused = planFromJson(wrong, "routine.json", plan.part, plan.bench);
    QVERIFY(!refused);
    QVERIFY2(refused.error().message.find("planar, diameter") != std::string::npos,
             refused.error().message.c_str());
  }
  // What a newer program said of a feature stays with that feature when others go.
  void unknownFieldsStayWithTheirRecord() {
    const Json old =
        Json::parse(R"({"features":[{"id":0,"hue":"red"},{"id":4,"hue":"blue"},{"id":7}]})");
    Json fresh = Json::parse(R"({"features":[{"id":4},{"id":5}]})");
    keepUnknown(old, fresh);
    QCOMPARE(fresh["features"][0].value("hue", ""), std::string("blue"));
    QCOMPARE(fresh["features"].size(), std::size_t(2));
    QVERIFY(!fresh["features"][1].contains("hue"));
  }
};

ALDER_TEST(ReferencesTest)
#include "references_test.moc"
