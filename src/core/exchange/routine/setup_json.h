// Where the part stands in each set-up, in routines; see docs/files.md.
#pragma once

#include "plan/plan.h"
#include <functional>

namespace alder {

// Three rows of four numbers.
Json rigidJson(const Frame& frame);
Frame readRigid(const JsonFields& fields, const char* key);

Json toJson(const Supports& supports);
Supports readSupports(const JsonFields& fields);

// Of the one that is worked on only what is not in the routine itself.
Json toJson(const Setup& setup, bool worked_on);
using ReadFeatures = std::function<std::vector<FeatureId>(const JsonFields&, const char* key)>;
Setup readSetup(const JsonFields& fields, bool worked_on, const Specification& spec,
                const ReadFeatures& features);

} // namespace alder
