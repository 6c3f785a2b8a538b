// The bench as a whole: which, what is wrong with it, where the part stands, the shell about it.
#include "card/card.h"
#include "card/fields.h"
#include "card/words.h"
#include <QFileInfo>
#include <algorithm>

namespace alder::app {

namespace {

constexpr std::array<const char*, 3> kAxes{"X", "Y", "Z"};

// About the upright line, or a level one, through the middle of the part.
Frame turnedInPlace(const Plan& plan, const Vec3& axis, double angle) {
  const Vec3 middle = plan.placement * plan.part->mesh.box().center();
  return smallMotion(angle * axis, Vec3::Zero(), middle) * plan.placement;
}

} // namespace

void Card::benchSection() {
  const Plan& plan = document_.plan();
  title(text(plan.bench.name), text(plan.bench.machine.name + " · " + plan.bench.head.name + " (" +
                                    std::string(name(plan.bench.head.kind)) + ")"));
  for (const SetupFinding& f : document_.setupFindings())
    paragraph(text(f.text), f.clash ? "error" : "second");
  QStringList benches{"as it is"};
  const auto shipped = shippedBenches();
  for (const auto& path : shipped)
    benches << QFileInfo(text(path)).completeBaseName();
  choice("change to", "shippedBench", benches, 0, [this, shipped](int index) {
    if (index > 0) document_.changeBench(text(shipped[static_cast<std::size_t>(index) - 1]));
  });
  setupsSection();
  placementSection();
  fixtureSection();
  stylusSection();
  shellSection();
  pairSection();
  qualifySection();
}

void Card::placementSection() {
  const Plan& plan = document_.plan();
  head("Part in the machine");
  for (int k = 0; k < 3; ++k)
    quantity(QString("origin %1").arg(kAxes[static_cast<std::size_t>(k)]),
             QString("origin%1").arg(kAxes[static_cast<std::size_t>(k)]).toLatin1(),
             Quantity::Length, 3, plan.placement.translation()[k], [this, k](double v) {
               Frame f = document_.plan().placement;
               f.translation()[k] = v;
               document_.edit("Move the part", {SetPlacement{f}});
             });
  for (int k = 0; k < 3; ++k)
    quantity(QString("turn about %1 by").arg(kAxes[static_cast<std::size_t>(k)]),
             QString("turn%1").arg(kAxes[static_cast<std::size_t>(k)]).toLatin1(), Quantity::Angle,
             2, 0, [this, k](double v) {
               document_.edit("Turn the part",
                              {SetPlacement{turnedInPlace(document_.plan(), Vec3::Unit(k), v)}});
             });
  standingRows();
  mateRows();
}

// Other ways to stand, with what is reached in each.
void Card::standingRows() {
  constexpr std::size_t kMost = 6;
  const auto& offers = document_.standingOffers();
  for (std::size_t i = 0; i < std::min(kMost, offers.size()); ++i) {
    const StandingOffer& o = offers[i];
    link("Lay it on " + text(o.on), QString("layOn%1").arg(i).toLatin1(),
         [this, i] { document_.layPart(i); });
    paragraph(
        QString("%1 of %2 features, %3 tips and angles").arg(o.reached).arg(o.of).arg(o.accesses),
        "second");
  }
  if (offers.empty())
    link("Other standings … (Ctrl+Alt+U)", "otherStandings",
         [this] { document_.tryOtherStandings(); });
}

// Sets the selected face or bore against a seat of the fixture.
void Card::mateRows() {
  const Plan& plan = document_.plan();
  const auto& selected = document_.selection().features;
  const bool one = selected.size() == 1;
  const bool round = one && plan.nominal(selected[0]).ideal.type != SurfaceType::Plane;
  std::vector<std::pair<std::size_t, std::size_t>> seats;
  QStringList words{one ? "choose a seat" : "none selected"};
  for (std::size_t b = 0; one && b < plan.bench.fixture.bodies.size(); ++b) {
    const FixtureBody& body = plan.bench.fixture.bodies[b];
    for (std::size_t s = 0; s < body.seats.size(); ++s)
      if (body.seats[s].axis == round) {
        seats.emplace_back(b, s);
        words << text(body.name + ", " + body.seats[s].name);
      }
  }
  auto* box =
      choice(one ? "set " + text(plan.nominal(selected[0]).name) + " on" : "set a face or bore on",
             "mate", words, 0, [this, seats](int index) {
               if (index == 0) return;
               const auto& [b, s] = seats[static_cast<std::size_t>(index) - 1];
               const FixtureBody& body = document_.plan().bench.fixture.bodies[b];
               document_.mateTo(body, body.seats[s]);
             });
  box->setEnabled(!seats.empty());
  for (const Mate& m : document_.mates())
    paragraph(text("Holds: " + m.text));
  if (!document_.mates().empty()) link("Release all", "letGo", [this] { document_.letGo(); });
}

void Card::editShell(const QString& what, const std::function<void(Shell&)>& change) {
  Shell shell = document_.plan().shell;
  change(shell);
  document_.edit(what, {SetShell{shell}});
}

void Card::shellSection() {
  const Plan& plan = document_.plan();
  head("Safe shell, distance");
  static constexpr std::array<const char*, 6> kSides{"left", "front", "", "right", "back", "top"};
  for (const std::size_t side : {5u, 0u, 3u, 1u, 4u}) {
    const auto k = static_cast<Eigen::Index>(side % 3);
    const bool low = side < 3;
    quantity(kSides[side], QString("shell%1").arg(kSides[side]).toLatin1(), Quantity::Length, 1,
             low ? plan.shell.offset_low[k] : plan.shell.offset_high[k], [this, k, low](double v) {
               editShell("Change the shell", [=](Shell& shell) {
                 (low ? shell.offset_low : shell.offset_high)[k] = v;
               });
             });
  }
  static constexpr std::array<const char*, 4> kBarred{"left", "front", "right", "back"};
  for (std::size_t i = 0; i < kBarred.size(); ++i)
    choice(QString("%1 side").arg(kBarred[i]), QString("bar%1").arg(kBarred[i]).toLatin1(),
           {"allowed", "barred"}, plan.shell.barred[i] ? 1 : 0, [this, i](int index) {
             editShell(index == 1 ? "Bar a side" : "Allow a side",
                       [=](Shell& shell) { shell.barred[i] = index == 1; });
           });
  choice("lies along", "shellFrame", {"the machine", "the part"}, plan.shell.with_part ? 1 : 0,
         [this](int index) {
           editShell("Change what the shell lies along",
                     [=](Shell& shell) { shell.with_part = index == 1; });
         });
  quantity("turned by", "shellTurned", Quantity::Angle, 1, plan.shell.turned, [this](double v) {
    editShell("Turn the shell", [=](Shell& shell) { shell.turned = v; });
  });
  choice("hops over it", "shellPlanes", {"the shortest way", "along its planes"},
         plan.shell.planes ? 1 : 0, [this](int index) {
           editShell(index == 1 ? "Hop along the planes" : "Hop the shortest way",
                     [=](Shell& shell) { shell.planes = index == 1; });
         });
  paragraph("Hops do not pass a barred side. The table side always is barred, the top never.");
}

// Pairs of bodies that are checked otherwise than all others.
void Card::pairSection() {
  const Plan& plan = document_.plan();
  head("Clash checks, exceptions");
  const auto change = [this](const QString& what,
                             const std::function<void(std::vector<PairRule>&)>& how) {
    auto pairs = document_.plan().pairs;
    how(pairs);
    document_.edit(what, {SetPairs{std::move(pairs)}});
  };
  for (std::size_t i = 0; i < plan.pairs.size(); ++i) {
    paragraph(text(describe(plan.pairs[i])));
    link("Remove it", QString("dropPair%1").arg(i).toLatin1(), [change, i] {
      change("Check the pair again",
             [i](auto& pairs) { pairs.erase(pairs.begin() + static_cast<std::ptrdiff_t>(i)); });
    });
  }
  if (plan.pairs.empty()) paragraph("None: all that moves is checked against all that stands.");
  QStringList moving{"all",    "ball",  "shaft", "extension", "joint",
                     "module", "probe", "head",  "ram"};
  for (const MachineBody& b : plan.bench.machine.bodies)
    if (!b.stands()) moving << text(b.name);
  QStringList still{"all", "part", "table"};
  for (const FixtureBody& b : plan.bench.fixture.bodies)
    still << text(b.name);
  for (const BenchSolid& s : benchSolids(plan.bench))
    still << text(s.name);
  const auto keep = [this](int PairDraft::*which) {
    return [this, which](int index) { pair_draft_.*which = index; };
  };
  choice("what moves", "pairMoving", moving, std::min<int>(pair_draft_.moving, moving.size() - 1),
         keep(&PairDraft::moving));
  choice("what stands", "pairStill", still, std::min<int>(pair_draft_.still, still.size() - 1),
         keep(&PairDraft::still));
  auto* why = new QLineEdit(pair_draft_.reason);
  why->setObjectName("pairReason");
  why->setPlaceholderText("words or mm");
  connect(why, &QLineEdit::textChanged, this, [this](const QString& t) { pair_draft_.reason = t; });
  row("reason", why);
  paragraph("Words: why the pair is not checked. A length: the margin that it must keep.");
  link("Add this exception", "addPair", [=, this] {
    PairRule rule;
    if (pair_draft_.moving > 0) rule.moving = moving[pair_draft_.moving].toStdString();
    if (pair_draft_.still > 0) rule.still = still[pair_draft_.still].toStdString();
    const auto margin = parseQuantity(pair_draft_.reason.toStdString(), Quantity::Length);
    if (margin)
      rule.margin = *margin;
    else
      rule.off = true, rule.reason = pair_draft_.reason.trimmed().toStdString();
    pair_draft_ = {};
    change(rule.off ? "Leave a pair unchecked" : "Ask for a margin",
           [rule](auto& pairs) { pairs.push_back(rule); });
  });
}

} // namespace alder::app
