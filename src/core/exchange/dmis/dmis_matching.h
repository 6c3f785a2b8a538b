// What a DMIS definition means here: features of the plan, tips and angles of the bench.
#pragma once

#include "exchange/dmis/dmis_statement.h"
#include "exchange/routine/feature_search.h"
#include "plan/plan.h"

namespace alder::dmis {

// Lengths and angles of the program in mm and radians.
struct Units {
  double length = 1, angle = 3.14159265358979323846 / 180;
  Frame system = Frame::Identity(); // in which places are meant, in the CAD frame
};

// UNITS/ as it says; false where it asks for degrees, minutes and seconds, which are not read.
bool readUnits(const Statement& said, Units& units);

// The feature that FEAT/ defines, by its geometry; of several alike the one of this name, else the
// nearest. Nothing when the plan has none.
std::optional<FeatureId> featureFor(const Plan& plan, const Statement& feat, const Units& units,
                                    const std::string& name);
// Tip and head angles that SNSDEF/ defines; `why` when it is only the nearest, or there is none.
std::optional<Access> accessFor(const Plan& plan, const Statement& sensor, const Units& units,
                                std::string& why);
// The requirement that TOL/ defines, without features, id and balloon.
std::optional<Requirement> requirementFor(const Statement& tolerance, const Units& units);

} // namespace alder::dmis
