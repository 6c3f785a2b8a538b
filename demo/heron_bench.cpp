#include "heron.h"

namespace alder::demo {
namespace {

// Machine, head and styli, made up. The pivot is where the two head axes cross.
constexpr const char* kMachine = R"json(
  "format": "alderpoint-bench", "version": 1,
  "name": "Curlew bench",
  "machine": {
    "name": "Curlew 9-12-8",
    "volume_mm": {"min": [0, 0, 60], "max": [900, 1200, 860]},
    "speed_mm_s": [350, 350, 300], "acceleration_mm_s2": [1400, 1400, 1200],
    "touch_speed_mm_s": 4, "touch_seconds": 0.25, "probing_noise_mm": 0.001,
    "bodies": [
      {"name": "beam", "moves_with": "y", "boxes": [{"min": [-250, 70, 1000], "max": [1150, 270, 1200]}]},
      {"name": "legs", "moves_with": "y", "boxes": [
        {"min": [-250, 30, 0], "max": [-110, 310, 1000]}, {"min": [1010, 30, 0], "max": [1150, 310, 1000]}]}
    ]
  },
  "head": {
    "name": "Plover indexing head", "kind": "indexing",
    "a_deg": {"min": 0, "max": 105, "step": 5}, "b_deg": {"min": -180, "max": 180, "step": 5},
    "turn_deg_s": 60, "turn_seconds": 0.8,
    "rods": [
      {"part": "head", "from": [0, 0, 0], "to": [0, 0, 8], "diameter_mm": 58},
      {"part": "head", "from": [0, 0, 30], "to": [0, 0, 80], "diameter_mm": 62},
      {"part": "ram", "from": [0, 0, 130], "to": [0, 0, 900], "diameter_mm": 96}
    ]
  },
  "probe": {"name": "Dunlin probe", "stylus_length_mm": 150, "stylus_weight_g": 25,
    "least_touch_speed_mm_s": 1, "touch_speed_mm_s": 10},
  "styli": [
    {"name": "short ø3", "tips": [{"name": "1", "ball_diameter_mm": 3, "elements": [
      {"part": "shaft", "length_mm": 32, "diameter_mm": 1.8, "weight_g": 1.5, "thread_far": "M2"},
      {"part": "probe", "length_mm": 48, "diameter_mm": 21, "thread_near": "M2"},
      {"part": "probe", "length_mm": 30, "diameter_mm": 27}]}]},
    {"name": "long ø4", "tips": [{"name": "1", "ball_diameter_mm": 4, "elements": [
      {"part": "shaft", "length_mm": 82, "diameter_mm": 2.8, "weight_g": 4, "thread_far": "M2"},
      {"part": "extension", "length_mm": 40, "diameter_mm": 11, "weight_g": 9, "thread_near": "M2", "thread_far": "M2"},
      {"part": "probe", "length_mm": 48, "diameter_mm": 21, "thread_near": "M2"},
      {"part": "probe", "length_mm": 30, "diameter_mm": 27}]}]},
    {"name": "star ø2", "tips": [
      {"name": "down", "ball_diameter_mm": 2, "elements": [
        {"part": "shaft", "length_mm": 30, "diameter_mm": 1.4, "weight_g": 1.2, "thread_far": "M2"},
        {"part": "probe", "length_mm": 48, "diameter_mm": 21, "thread_near": "M2"},
        {"part": "probe", "length_mm": 30, "diameter_mm": 27}]},
      {"name": "+X", "ball_diameter_mm": 2, "direction": [1, 0, 0], "elements": [
        {"part": "shaft", "length_mm": 15, "diameter_mm": 1.4, "weight_g": 0.8},
        {"part": "joint", "length_mm": 20, "diameter_mm": 4, "on_stem": true, "weight_g": 3, "thread_far": "M2"},
        {"part": "probe", "length_mm": 48, "diameter_mm": 21, "on_stem": true, "thread_near": "M2"},
        {"part": "probe", "length_mm": 30, "diameter_mm": 27, "on_stem": true}]},
      {"name": "-X", "ball_diameter_mm": 2, "direction": [-1, 0, 0], "elements": [
        {"part": "shaft", "length_mm": 15, "diameter_mm": 1.4, "weight_g": 0.8},
        {"part": "joint", "length_mm": 20, "diameter_mm": 4, "on_stem": true, "weight_g": 3, "thread_far": "M2"},
        {"part": "probe", "length_mm": 48, "diameter_mm": 21, "on_stem": true, "thread_near": "M2"},
        {"part": "probe", "length_mm": 30, "diameter_mm": 27, "on_stem": true}]}]}
  ],
  "rack": {"out": [0, -1, 0], "slide_mm": 70,
    "ports": [{"stylus": "short ø3", "at": [500, 1110, 300]}, {"stylus": "long ø4", "at": [580, 1110, 300]},
      {"stylus": "star ø2", "at": [660, 1110, 300]}],
    "bodies": [{"boxes": [{"min": [460, 1128, 255], "max": [700, 1146, 275]},
      {"min": [460, 1128, 0], "max": [480, 1146, 255]}, {"min": [680, 1128, 0], "max": [700, 1146, 255]}]}]})json";

// Where every tip reaches it at all angles of the head; beside the demo's fixture farther off, so
// that the ways about the part need not regard it.
constexpr const char* kSphere = R"json(,
  "sphere": {"centre": [232, 932, 180], "diameter_mm": 25})json";
constexpr const char* kSphereBesideFixture = R"json(,
  "sphere": {"centre": [120, 980, 160], "diameter_mm": 25})json";

// Plate, three rests under the flange and two clamps on its edge. The clamp at 300 degrees stands
// in the straight way from one hole of the circle to the next.
constexpr const char* kFixture = R"json(,
  "fixture": {
    "placement": {"origin": [450, 600, 90], "z": [0, 0, 1], "x": [1, 0, 0]},
    "bodies": [
      {"name": "plate", "kind": "plate", "boxes": [{"min": [340, 490, 0], "max": [560, 710, 20]}]},
      {"name": "rest 1", "kind": "rest", "cylinders": [{"from": [480, 600, 20], "to": [480, 600, 90], "diameter_mm": 14}]},
      {"name": "rest 2", "kind": "rest", "cylinders": [{"from": [435, 626, 20], "to": [435, 626, 90], "diameter_mm": 14}]},
      {"name": "rest 3", "kind": "rest", "cylinders": [{"from": [435, 574, 20], "to": [435, 574, 90], "diameter_mm": 14}]},
      {"name": "clamp 1", "kind": "clamp",
        "boxes": [{"min": [39, -7, 110], "max": [84, 7, 120], "at": [450, 600, 0], "turn_z_deg": 60},
                  {"min": [68, -7, 20], "max": [84, 7, 110], "at": [450, 600, 0], "turn_z_deg": 60}],
        "cylinders": [{"from": [488, 665.8, 120], "to": [488, 665.8, 134], "diameter_mm": 13}],
        "opens": {"about": [488, 665.8, 0], "turn_z_deg": 110}},
      {"name": "clamp 2", "kind": "clamp",
        "boxes": [{"min": [39, -7, 110], "max": [84, 7, 120], "at": [450, 600, 0], "turn_z_deg": 300},
                  {"min": [68, -7, 20], "max": [84, 7, 110], "at": [450, 600, 0], "turn_z_deg": 300}],
        "cylinders": [{"from": [488, 534.2, 120], "to": [488, 534.2, 134], "diameter_mm": 13}],
        "opens": {"about": [488, 534.2, 0], "turn_z_deg": -110}}
    ]
  })json";

} // namespace

std::string benchJson(bool with_fixture) {
  return "{" + std::string(kMachine) +
         (with_fixture ? std::string(kSphereBesideFixture) + kFixture : std::string(kSphere)) +
         "\n}\n";
}

// What is wrong with the simulated part, and how it lies on the table. Requirements that must come
// out outside are worked out in docs/demo.md.
std::string defectsJson() {
  return R"json({
  "format": "alderpoint-defects", "version": 1,
  "part": {"move_mm": [1.2, -0.8, 0], "turn_deg": [0, 0, 0.4]},
  "features": [
    {"feature": "Bore ø11 · 2", "move_mm": [0.24, 0.1, 0]},
    {"feature": "Slot 6", "resize_mm": 0.14},
    {"feature": "Boss ø60", "lobes": {"count": 3, "amplitude_mm": 0.06}},
    {"feature": "Plane · 1", "waves": {"count": 2, "amplitude_mm": 0.003}}
  ]
}
)json";
}

} // namespace alder::demo
