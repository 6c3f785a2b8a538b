// Where the labels of a picture stand, so that their leaders do not cross each other and no label
// covers another, the picture's middle, or a leader. One layout for paper and stage; the unit is
// the caller's (mm or pixels), y downward.
//
// Labels stand in places round the middle and each gets one so that the sum of the leaders' lengths
// is least. Two leaders that cross could change places and be shorter together, so none do; and as
// the middle is convex, a leader within it meets no label but its own.
#pragma once

#include "paper/area.h"
#include <optional>
#include <vector>

namespace alder {

struct CalloutAsked {
  Vec2 anchor = Vec2::Zero(); // what it speaks of
  double width = 0, height = 0;
  std::optional<Vec2> pinned; // the upper left corner of a label that a person has put there
};

struct CalloutSpace {
  Area all;                // labels stay within
  Area middle;             // and out of this, which holds the anchors
  std::vector<Area> taken; // what else they must not cover: a scale, a title
  double gap = 1;          // between two labels, and to the middle
};

struct CalloutPlaced {
  Area label;
  Vec2 from = Vec2::Zero(); // the leader, from the label's side to the anchor
  Vec2 to = Vec2::Zero();
};

// In the order asked; nothing for those that have no room, or whose anchor lies outside the middle.
// Where there are more than places, those whose leaders would be longest have none. A pinned label
// stands where it is put; leaders keep clear of it as far as they can.
std::vector<std::optional<CalloutPlaced>> placeCallouts(const std::vector<CalloutAsked>& asked,
                                                        const CalloutSpace& space);

// Whether two segments cross, or one passes through an area; touching with an end is neither.
bool segmentsCross(const Vec2& a, const Vec2& b, const Vec2& c, const Vec2& d);
bool crossesArea(const Vec2& a, const Vec2& b, const Area& area);

} // namespace alder
