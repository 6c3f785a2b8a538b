// Features and tolerances of a plan as DMIS definitions (ISO 22093 FEAT, TOL).
#pragma once

#include "plan/plan.h"

namespace alder::dmis {

std::string featureLabel(FeatureId id);           // "F7"
std::string toleranceLabel(const Requirement& r); // "T12", by its balloon

// "CYLNDR", as in FEAT/ and MEAS/.
std::string featureWord(const Ideal& ideal);
// "F(F7)=FEAT/CYLNDR,INNER,CART,…"
std::string featureDefinition(const Plan& plan, FeatureId id);

// "T(T9)=TOL/POS,2D,0.25,MMC,DAT(A)"; nothing where DMIS has no word for it, and `why` says so.
std::optional<std::string> toleranceDefinition(const Plan& plan, const Requirement& r,
                                               std::string& why);

} // namespace alder::dmis
