// Stylus, tip and head angles with which something is touched.
#pragma once

namespace alder {

struct Access {
  int stylus = -1; // index into the bench's styli
  int tip = 0;
  double a = 0, b = 0;
  bool valid() const { return stylus >= 0; }
  friend bool operator==(const Access&, const Access&) = default;
};

} // namespace alder
