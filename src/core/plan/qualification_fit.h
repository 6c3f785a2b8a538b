// What is known of a tip from where it met the reference sphere. mm, machine frame.
#pragma once

#include "base/error.h"
#include "geometry/vec.h"
#include "plan/qualification.h"

namespace alder {

// `centres` of the ball at contact, as the machine believed them. Where nothing was known before,
// this tip finds the sphere; offsets of all others count from there. Replaces what was known of the
// tip. Error when no sphere fits.
Result<Qualification> withTip(Qualification known, const ReferenceSphere& sphere,
                              const Access& access, const Points& centres, std::int64_t now);

} // namespace alder
