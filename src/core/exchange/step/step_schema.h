// Files of AP203 and AP214 as AP242 (ISO 10303-203, -214, -242), whose product structure and
// geometry are those of the same integrated resources.
#pragma once

#include "exchange/step/step_edit.h"

namespace alder {

// Contexts of a product under the names of AP242; records that only AP203 has are taken out.
void toAp242(const StepText& text, StepEdit& edit);
// The header of `bytes`, made from `text`, says AP242; one that did already stays.
std::string withSchema(std::string bytes, const StepText& text);

} // namespace alder
