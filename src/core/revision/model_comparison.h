// Two models of one part against each other: which surfaces of the older one are found in the newer
// one, where and how they changed. By geometry and by what lies next to what alone; numbers and
// order of faces in the files do not count. CAD frames, mm.
#pragma once

#include "part/model.h"

namespace alder {

enum class SurfaceFate {
  Stayed,   // the same material in the same place
  Trimmed,  // the same surface with other edges: a hole was put in, a neighbour moved
  Moved,    // and turned, without another size
  Resized,  // another diameter, width or cone angle; perhaps elsewhere too
  Reshaped, // freeform: the same face by its neighbours
  Gone,
  New, // of the newer model alone
};
std::string_view name(SurfaceFate fate); // "stayed", "trimmed", "moved", ...

struct SurfacePairing {
  SurfaceFate fate = SurfaceFate::Gone;
  std::vector<SurfaceId> now;     // in the newer model; several: it is parted by something new
  Frame move = Frame::Identity(); // from where it was to where it is, where it moved
  int move_of = 0; // those that moved by one move, linked to each other, have one number
  double off = 0;  // of a reshaped one the largest distance found, mm
};

struct ModelComparison {
  std::vector<SurfacePairing> before; // by SurfaceId of the older model
  std::vector<SurfaceId> fresh;       // of the newer model, that no older one became
  // How much of the older model's area is found again as it was, 0 to 1; and where the models agree
  // far better after a rigid move of the newer one as a whole, that move (newer to older).
  double found = 0;
  std::optional<Frame> elsewhere;
};

// Surfaces as PartModel has them: halves joined. A place counts as the same within 1e-4 mm.
ModelComparison compareModels(const PartModel& before, const PartModel& now);

// One thing that changed, told as a person would: the faces that went or came or moved together.
struct ModelChange {
  SurfaceFate fate = SurfaceFate::Gone;
  std::vector<FaceId> before, now;
  Frame move = Frame::Identity();
  std::string words; // "Bore ø8 moved by 2 mm along +X"
  bool isNew() const { return fate == SurfaceFate::New; }
};

// What a person has to see; surfaces that stayed or were only trimmed are not among it. `called`:
// what people call the feature with these faces of the older model; empty: nothing.
using FaceNames = std::function<std::string(const std::vector<FaceId>&)>;
std::vector<ModelChange> changesOf(const PartModel& before, const PartModel& now,
                                   const ModelComparison& comparison, const FaceNames& called);

// "moved by 2 mm along +X", "moved by (1.5, -0.5, 0) mm and turned by 10°".
std::string wordsOfMove(const Frame& move, const Vec3& at);

} // namespace alder
