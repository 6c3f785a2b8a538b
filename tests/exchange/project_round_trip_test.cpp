#include "base/random.h"
#include "plan/repeats/repeat.h"
#include "plan/steps/step_edit.h"
#include "support.h"
#include <QTemporaryDir>

using namespace alder;

// Whatever can be done to a routine comes back from its file as it was.
class ProjectRoundTripTest : public QObject {
  Q_OBJECT

  // Edits of every kind that a file keeps, drawn at random; refused ones are passed over.
  class Editor {
   public:
    Editor(Plan& plan, std::uint64_t seed)
        : plan_(plan)
        , random_(seed) {}
    void edit() {
      const std::vector<Edit> edits = drawn();
      if (edits.empty()) return;
      if (auto group = withCopies(plan_, {"any", edits})) (void)applyEdits(plan_, *group);
    }

   private:
    int below(std::size_t count) {
      return std::min(static_cast<int>(count) - 1,
                      static_cast<int>(random_.uniform() * static_cast<double>(count)));
    }
    bool half() { return random_.uniform() < 0.5; }
    double length() { return random_.uniform(-200, 200); }
    Vec3 place() { return {length(), length(), length()}; }
    FeatureId feature() { return FeatureId{below(touchedCount(plan_))}; }
    StepId step() { return plan_.steps[static_cast<std::size_t>(below(plan_.steps.size()))].id; }
    std::string word() {
      static const std::vector<std::string> kWords{"",    "Ask \"him\"", "ø8 ±0.1", "a\nb",
                                                   "{x}", "Ä ∑ 漢",      "\t"};
      return kWords[static_cast<std::size_t>(below(kWords.size()))] + std::to_string(below(100));
    }
    std::vector<Edit> one(Result<Edit> edit) {
      return edit ? std::vector<Edit>{std::move(*edit)} : std::vector<Edit>{};
    }

    StepBody body() {
      const RequirementId asked =
          plan_.spec.requirements[static_cast<std::size_t>(below(plan_.spec.requirements.size()))]
              .id;
      switch (below(13)) {
      case 0:
        return MoveStep{half() ? CountFrom::Machine : CountFrom::Part, {}, place()};
      case 1:
        return MoveStep{CountFrom::Feature, feature(), place()};
      case 2:
        return TurnStep{radians(5 * below(18)), radians(5 * below(36))};
      case 3:
        return SwapStep{word(), word()};
      case 4:
        return WaitStep{word(), half() ? "clamp 1" : "", half(), std::abs(length())};
      case 5:
        return AskStep{word(), half(), word(), QuestionRole(below(3))};
      case 6:
        return NoteStep{word()};
      case 7:
        return UseFrameStep{plan_.frames.empty() ? "none" : plan_.frames.front().name,
                            half() ? 0 : 0.01, 1 + below(20)};
      case 8:
        return QualifyStep{half(), half(), half()};
      case 9:
        return EvaluateStep{half() ? std::vector<RequirementId>{asked, asked}
                                   : std::vector<RequirementId>{}};
      case 10:
        return BranchStep{asked, BranchWhen(below(3)), BranchDoes(below(3))};
      case 11:
        return OutputStep{OutputKind(below(3)), word(), below(2) ? word() : std::string()};
      default:
        return GroupStep{word()};
      }
    }
    PartFrame frame() {
      PartFrame f;
      f.name = word();
      f.fit = FrameFit(below(4));
      f.stages.push_back({{feature(), feature()}, half() ? "xyz" : ""});
      f.stages.push_back({{feature()}, half() ? "w" : "", 0.5 + below(4), Band{-0.1, 0.02}});
      f.held = half() ? "uv" : "";
      f.shift = place(), f.turn = 0.001 * place();
      return f;
    }
    Pattern pattern() {
      Pattern p;
      p.kind = PatternKind(below(5));
      p.count = 1 + below(4), p.rows = 1 + below(3);
      p.step = place(), p.to_row = place(), p.point = place();
      p.axis = place().normalized();
      p.angle = half() ? 0 : random_.uniform(-1, 1);
      for (int k = below(4); k > 0; --k)
        p.places.push_back({place(), half() ? 0 : random_.uniform(-3, 3)});
      return p;
    }

    std::vector<Edit> steps() {
      switch (below(7)) {
      case 0:
        return one(removeSteps(plan_, {step()}));
      case 1:
        return one(moveSteps(plan_, {step(), step()}, step()));
      case 2:
        return one(groupSteps(plan_, {step(), step()}, word()));
      case 3:
        return one(enableSteps(plan_, {step()}, half()));
      case 4: {
        auto made = repeatSteps(plan_, {step()});
        return made ? std::vector<Edit>{made->first} : std::vector<Edit>{};
      }
      case 5: {
        for (const RoutineStep& s : plan_.steps)
          if (const auto* repeat = std::get_if<RepeatStep>(&s.body)) {
            RepeatStep changed = *repeat;
            changed.name = word();
            changed.requirements = half();
            if (half()) changed.pattern = pattern();
            if (!changed.copies.empty()) changed.copies.front().skipped = half();
            return one(changeStep(plan_, s.id, changed));
          }
        return {};
      }
      default: {
        const std::size_t at = indexOf(plan_.steps, step());
        return one(
            insertSteps(plan_, {{StepId{0}, 0, half(), 0, body()}}, at, plan_.steps[at].depth));
      }
      }
    }

    std::vector<Edit> drawn() {
      switch (below(9)) {
      case 0: {
        Recipe recipe = plan_.feature(feature()).recipe;
        recipe.name = word();
        recipe.rows = 1 + below(4), recipe.per_row = 3 + below(6);
        recipe.start_angle = random_.uniform(0, 3), recipe.clockwise = half();
        recipe.search = random_.uniform(0.5, 4);
        return {SetRecipe{feature(), recipe, {}, {}}};
      }
      case 1: {
        const FeatureId f = feature();
        return {SetAccess{
            f,
            {below(plan_.bench.styli.size()), 0, radians(15 * below(6)), radians(15 * below(12))},
            half()}};
      }
      case 2:
        return {SetHop{feature(), HopMode(below(4)), Points{place(), place()}}};
      case 3: {
        Shell shell = plan_.shell;
        shell.offset_low = place().cwiseAbs() + Vec3::Ones();
        shell.barred[static_cast<std::size_t>(below(4))] = half();
        shell.turned = random_.uniform(-1, 1), shell.with_part = half(), shell.planes = half();
        return {SetShell{shell}};
      }
      case 4: {
        auto frames = plan_.frames;
        if (frames.size() > 3) frames.clear();
        frames.push_back(frame());
        return {SetFrames{frames}};
      }
      case 5: {
        const auto& all = plan_.spec.requirements;
        Requirement r = all[static_cast<std::size_t>(below(all.size()))];
        r.tolerance = random_.uniform(0.01, 1);
        r.lower = r.nominal - random_.uniform(0, 1), r.upper = r.nominal + random_.uniform(0, 1);
        r.association = AssociateBy(below(4));
        return {SetRequirement{r}};
      }
      default:
        return steps();
      }
    }

    Plan& plan_;
    Random random_;
  };

 private slots:
  void generatedRoutines() {
    QTemporaryDir dir;
    const std::string path = (dir.path() + "/any.alder").toStdString();
    std::set<std::size_t> kinds;
    int frames = 0, copies = 0;
    for (std::uint64_t seed = 1; seed <= 24; ++seed) {
      Plan plan = test::heronPlan();
      Editor editor(plan, seed);
      Json as_read; // of a file that was opened half way
      for (int k = 0; k < 60; ++k) {
        if (k == 30) as_read = toJson(plan);
        editor.edit();
      }
      // What was given up since does not come back as a field that nobody knows.
      Json saved = toJson(plan);
      keepUnknown(as_read, saved);
      const auto again = planFromJson(saved, "routine.json", plan.part, plan.bench);
      VERIFY_OK(again);
      QCOMPARE(toJson(*again).dump(), toJson(plan).dump());
      for (const RoutineStep& s : plan.steps) {
        kinds.insert(s.body.index());
        if (const auto* repeat = std::get_if<RepeatStep>(&s.body))
          copies += static_cast<int>(repeat->copies.size());
      }
      frames += static_cast<int>(plan.frames.size());
      VERIFY_OK(saveProject({plan, {{"run-0001", "a,b\n1,2\n"}}, {}}, path));
      const auto read = openProject(path);
      VERIFY_OK(read);
      // Angles are kept in degrees to nine decimals, so that texts are compared, not figures.
      QCOMPARE(toJson(read->plan).dump(), toJson(plan).dump());
      QCOMPARE(routineKey(read->plan), routineKey(plan));
      QCOMPARE(read->runs.front().csv, std::string("a,b\n1,2\n"));
      // Copies follow in what was read as they did before.
      for (const RoutineStep& s : plan.steps)
        if (const auto* repeat = std::get_if<RepeatStep>(&s.body))
          for (const RepeatCopy& copy : repeat->copies)
            for (const auto& pair : copy.features)
              QCOMPARE(followsOriginal(read->plan, pair.second),
                       followsOriginal(plan, pair.second));
    }
    // They were of all kinds but constructed features.
    QVERIFY(kinds.size() >= std::variant_size_v<StepBody> - 1);
    QVERIFY(frames > 20 && copies > 20);
  }
};

ALDER_TEST(ProjectRoundTripTest)
#include "project_round_trip_test.moc"
