// Writes the demo's files: alderpoint-demo ROOT, with ROOT the folder of the project.
#include "base/files.h"
#include "drafting/heron_drawing.h"
#include "exchange/routine/project.h"
#include "heron.h"
#include "heron_report.h"
#include "heron_scan.h"
#include "part/step_import.h"
#include "redshank.h"
#include "rehearse/rehearsal.h"
#include "route/draft.h"
#include "route/router.h"
#include <array>
#include <cstdio>

namespace {

using namespace alder;

bool hitsClamp(const Plan& plan, const Obstacles& obstacles) {
  auto way = routePlan(plan, obstacles);
  if (!way) return false;
  auto rehearsal = rehearse(plan, obstacles, *way);
  if (!rehearsal) return false;
  for (const Clash& c : rehearsal->clashes)
    if (c.still.starts_with("clamp")) return true;
  return false;
}

// The variant: the clean routine with one hop forced to go straight, through a clamp. The first
// feature in measuring order that does so is taken.
Result<Plan> clampVariant(Plan plan) {
  const Obstacles obstacles = obstaclesOf(plan);
  const auto order = measuringOrder(plan.steps);
  for (std::size_t i = plan.alignment.size(); i < order.size(); ++i) {
    Feature& f = plan.feature(order[i]);
    f.entry = HopMode::Close;
    if (hitsClamp(plan, obstacles)) {
      plan.name += ", one hop through a clamp";
      return plan;
    }
    f.entry = HopMode::Proposed;
  }
  return fail("no straight hop of the demo meets a clamp; move one in heron_bench.cpp");
}

// A part of Saltmarsh Instruments by its number, name, revision and material.
Result<Plan> drafted(const std::string& step, const std::string& bench_json,
                     const std::array<const char*, 4>& data) {
  auto bench = readBench(bench_json, "bench.json");
  if (!bench) return pass(bench.error());
  auto part = importStep(step, data[1]);
  if (!part) return pass(part.error());
  auto plan = draftPlan(*part, std::move(*bench));
  if (!plan) return plan;
  plan->header[HeaderField::Number] = data[0], plan->header[HeaderField::Name] = data[1];
  plan->header[HeaderField::Revision] = data[2], plan->header[HeaderField::Material] = data[3];
  plan->header[HeaderField::Customer] = "Saltmarsh Instruments";
  return plan;
}

// The second part, in two set-ups.
Done writeRedshank(const std::filesystem::path& data) {
  auto step = demo::redshankStep();
  if (!step) return pass(step.error());
  if (auto done = writeFile(data / "redshank.step", *step); !done) return done;
  if (auto done = writeFile(data / "redshank-defects.json", demo::redshankDefectsJson()); !done)
    return done;
  auto plan =
      drafted(*step, demo::benchJson(false), {"TW-41", "Redshank housing", "A", "EN AW-6082"});
  if (!plan) return pass(plan.error());
  return saveProject({*plan, {}, {}}, data / "redshank.alder");
}

Done writeAll(const std::filesystem::path& root) {
  const auto data = root / "demo" / "data";
  auto step = demo::heronStep();
  if (!step) return pass(step.error());
  auto plain = demo::heronPlainStep();
  if (!plain) return pass(plain.error());
  auto drawing = demo::heronDrawing();
  if (!drawing) return pass(drawing.error());
  auto newer = demo::heronStep("MM", demo::HeronRevision::C);
  if (!newer) return pass(newer.error());
  auto newer_plain = demo::heronPlainStep(demo::HeronRevision::C);
  if (!newer_plain) return pass(newer_plain.error());
  auto newer_drawing = demo::heronDrawing(demo::HeronRevision::C);
  if (!newer_drawing) return pass(newer_drawing.error());
  const std::string bench_json = demo::benchJson(true);
  for (const auto& [path, text] :
       {std::pair{data / "heron.step", *step},
        {data / "heron-plain.step", *plain},
        {data / "heron-drawing.pdf", *drawing},
        {data / "heron-c.step", *newer},
        {data / "heron-plain-c.step", *newer_plain},
        {data / "heron-drawing-c.pdf", *newer_drawing},
        {data / "bench.json", bench_json},
        {root / "assets" / "benches" / "curlew.json", demo::benchJson(false)},
        {data / "heron-defects.json", demo::defectsJson()}})
    if (auto done = writeFile(path, text); !done) return done;
  auto plan = drafted(*step, bench_json, {"TW-40", "Heron gauge head", "B", "CuSn8 bronze"});
  if (!plan) return pass(plan.error());
  if (auto done = saveProject({*plan, {}, {}}, data / "heron.alder"); !done) return done;
  if (auto done = writeFile(data / "heron-report.txt", demo::reportOfOthers(plan->spec)); !done)
    return done;
  if (auto done = writeFile(data / "heron-scan.ply", demo::heronScan(*plan)); !done) return done;
  if (auto done = writeRedshank(data); !done) return done;
  auto variant = clampVariant(*plan);
  if (!variant) return pass(variant.error());
  return saveProject({*variant, {}, {}}, data / "heron-clamp.alder");
}

} // namespace

int main(int argc, char** argv) {
  if (argc != 2) {
    std::fputs("usage: alderpoint-demo ROOT\n", stderr);
    return 2;
  }
  if (auto done = writeAll(argv[1]); !done) {
    std::fprintf(stderr, "%s\n", done.error().message.c_str());
    return 2;
  }
  return 0;
}
