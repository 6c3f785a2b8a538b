// Where balloons stand on a sheet: beside what they number, on free paper as far as there is some,
// with leaders that cross neither texts nor each other.
#pragma once

#include "requirement/specification.h"
#include "sheet/sheet_file.h"

namespace alder {

constexpr double kBalloonRadius = 3.6; // mm

// From the rim of its balloon to what it numbers.
struct BalloonLeader {
  Vec2 from = Vec2::Zero(), to = Vec2::Zero();
};
BalloonLeader leaderOf(const Vec2& balloon, const Box2& text);

// For requirements of one drawing that have a spot and no place for their balloon yet; those that
// have one keep it. `sheets` from its first page on. Requirements at one spot share their place.
Specification withBalloons(const Specification& spec, const std::string& drawing,
                           const std::vector<DrawingSheet>& sheets);

// What is drawn over the drawing, for requirements whose balloons have their place.
std::vector<BalloonMark> marksOf(const Specification& spec, const std::string& drawing,
                                 const std::vector<DrawingSheet>& sheets);

} // namespace alder
