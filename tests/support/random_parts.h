// Parts drawn by lot, with tolerances: what a stranger brings. The same seed gives the same file.
#pragma once

#include "base/error.h"
#include <string>

namespace alder::test {

// A block, plate, disc, bracket, channel, wedge, tube or stepped block of 30 to 500 mm; holes
// (through, blind, stepped, countersunk, inclined), bosses, slots, pockets, cups and circles of
// holes on several sides; in inch, millimetre or metre; every second one turned and far away.
// From seed kTwoSided on: furnished from above and below, so that one standing does not reach all.
// From seed kAwkward on: freeform tops, thin walls, grooves and T-slots, bores of up to 15 times
// their diameter, tapers with inclined flats, and beams that are longer than the machine's travel.
inline constexpr unsigned kTwoSided = 1000, kAwkward = 2000;
struct RandomPart {
  std::string name; // "17-disc-inch"
  std::string step;
  int requirements = 0;
};

Result<RandomPart> randomPart(unsigned seed);

} // namespace alder::test
