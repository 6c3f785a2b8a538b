// What holds the part: bodies from a kit (plates, rests, clamps, vices, V-blocks), from boxes and
// cylinders, or from a mesh; each in the state in which it stands. Machine frame, mm.
#pragma once

#include "bench/json_fields.h"
#include "geometry/mesh.h"
#include <optional>
#include <string>
#include <vector>

namespace alder {

enum class FixtureKind { Plate, Rest, Clamp, Vice, VBlock, Other };
std::string_view name(FixtureKind kind); // "plate", "rest", "clamp", "vice", "v block", "other"

// A face or an axis that a part is set against.
struct Seat {
  std::string name; // "top", "axis", "fixed jaw"
  bool axis = false;
  Vec3 point = Vec3::Zero(), direction = Vec3::UnitZ(); // of a face: its normal, out of the body
};

struct FixtureBody {
  std::string name;
  FixtureKind kind = FixtureKind::Rest;
  Mesh mesh;
  std::string fixture = {}; // whose it is, where there are several
  bool open = false;        // of clamps and vices
  std::vector<Seat> seats = {};
  bool can_open = false;
  Mesh other = {};      // in its other state, where it can open
  bool support = false; // stands under the part and follows it, see plan/standing/support.h
};

// Where a part lay in the fixture, kept so that it need not be found again. CAD frame of the part
// in the machine frame.
struct KeptFrame {
  std::string name;
  Frame placement = Frame::Identity();
};

struct Fixture {
  std::vector<FixtureBody> bodies;
  std::optional<Frame> placement; // CAD frame of the part in the machine frame
  std::vector<KeptFrame> frames;
  const KeptFrame* frame(const std::string& name) const; // nothing: there is none
};

// The same fixture with a body opened or closed; unchanged where there is none of this name, or it
// cannot open.
void setOpen(Fixture& fixture, const std::string& body, bool open);

// Reads `fixture` (one, with the placement of the part and the frames kept) and `fixtures` (more of
// them, each with its own place) of a bench.
Fixture readFixtures(const JsonFields& bench);
KeptFrame readKeptFrame(const JsonFields& f);
Json toJson(const KeptFrame& frame);

} // namespace alder
