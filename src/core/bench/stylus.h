// Styli: what is screwed together from the ball up to the pivot of the head. Lengths mm, weights in
// grams; the stylus frame has the axes of the machine at A0 B0.
#pragma once

#include "bench/json_fields.h"
#include <string>
#include <vector>

namespace alder {

// A round-ended rod of the moving machine, for clash checks.
struct Rod {
  Vec3 a, b;
  double diameter = 0;
  std::string part; // shank, extension, joint, module, probe, head, ram
};

// One piece of the chain. Straight, conical (another diameter at its far end), or cranked: its own
// direction, which those after it keep.
struct Element {
  std::string part; // shank, extension, joint, module, probe
  double length = 0;
  double diameter = 0, diameter_far = 0; // at the end towards the ball, and at the other
  Vec3 along = Vec3::UnitZ();            // from the ball towards the head
  double grams = 0;
  std::string thread_near, thread_far; // what it screws into on either side; empty: not told
};

// One ball, or a disc: the slice of a ball about its middle, across the shank. A disc touches with
// its rim, which is round both ways.
struct Tip {
  std::string name;
  double ball_diameter = 0;        // of a disc that of its rim
  double disc_thickness = 0;       // 0: a ball
  Vec3 direction = -Vec3::UnitZ(); // along the tip's shank, from the stem to the ball
  Vec3 pivot_to_ball = Vec3::Zero();
  std::vector<Element> elements; // from the ball up
  std::vector<Rod> rods;         // relative to the ball centre, everything up to the pivot
  // The chain along the tip's own direction, measured from the ball centre, up to the pivot; only
  // for straight tips.
  struct Segment {
    double from = 0, to = 0, diameter = 0;
    std::string part;
  };
  std::vector<Segment> segments;
  bool disc() const { return disc_thickness > 0; }
  // How near an edge it can touch: the ball's radius, half the thickness of a disc.
  double edgeRoom() const { return (disc() ? disc_thickness : ball_diameter) / 2; }
  // Round-ended rods that together cover the disc, about its middle.
  std::vector<Rod> discRods() const;
  bool straight() const { return !segments.empty(); }
  // Of what is exchanged with the stylus: up to the probe.
  double length() const;
  double grams() const;
  double probeLength() const; // of the probe, which stays at the head when the stylus is swapped
};

struct Stylus {
  std::string name;
  std::vector<Tip> tips;
  // Of the longest tip and of all together; elements that several tips have alike count once.
  double length() const;
  double grams() const;
};

// Complains about what does not assemble: parts in an order in which they cannot be screwed
// together, threads that do not fit, shanks thicker than their ball.
Stylus readStylus(const JsonFields& fields);

} // namespace alder
