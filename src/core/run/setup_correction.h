// The rigid move from where the part should sit to where it sits, for the machine tool that is to
// follow it. Lengths mm, angles radians.
#pragma once

#include "run/run.h"

namespace alder {

// In which order turns are made about the axes, each about the axis as the turns before have left
// it: "xyz" turns about x first. Any order of the three letters.
struct SetupCorrection {
  std::string order = "xyz";
  Vec3 turn = Vec3::Zero(); // about x, y, z
  Vec3 move = Vec3::Zero(); // of the origin of the frame that it is told in, along its axes
  friend bool operator==(const SetupCorrection&, const SetupCorrection&) = default;
};

// Told in a frame (given in the machine frame): that of the part as planned, or the machine's own
// where it is the identity. Error when the order is none, or applying the figures would not lead
// back to the motion.
Result<SetupCorrection> correctionBetween(const Frame& planned, const Frame& found, const Frame& in,
                                          const std::string& order);
// The motion that the figures say, in the same frame.
Frame motionOf(const SetupCorrection& correction);

// "move 1.200, -0.800, 0.000 mm; turn 0.0000, 0.0000, 0.4000 deg (xyz)"
std::string describe(const SetupCorrection& correction);

std::string correctionTable(const SetupCorrection& correction);
std::string correctionJson(const SetupCorrection& correction);
std::string correctionMatrix(const SetupCorrection& correction); // four rows of four
// A placement by ISO 10303-21: one AXIS2_PLACEMENT_3D, mm.
std::string correctionStep(const SetupCorrection& correction, const std::string& name);
// Text with {x} {y} {z} {a} {b} {c} {name} {order} replaced: a program for a machine tool by ISO
// 6983. Error names a word in braces that is none of these.
Result<std::string> correctionFromTemplate(const SetupCorrection& correction,
                                           const std::string& name, const std::string& text);

} // namespace alder
