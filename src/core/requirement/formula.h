// Values computed from other results: arithmetic with + - * / ^, parentheses, min, max, sqrt, abs
// and sin, cos, tan, asin, acos, atan in degrees; units mm, in and deg after a number. "#9" is the
// figure of requirement 9, "\"Bore ø32\".diameter" a quantity of a measured feature: diameter,
// radius, width, form, angle (apex), x, y, z (centre or foot of the axis), i, j, k (direction).
// Lengths mm, angles degrees.
#pragma once

#include "base/error.h"
#include <functional>
#include <string>
#include <vector>

namespace alder {

struct FormulaReference {
  std::string text;     // as written
  int balloon = 0;      // of a requirement; 0: a feature
  std::string feature;  // its name
  std::string quantity; // "diameter"
};

// What the formula refers to, in the order written. Error when a reference is not complete.
Result<std::vector<FormulaReference>> referencesIn(const std::string& formula);

// The same with other numbers for requirements; one that cannot be read stays as it is.
std::string renumberedFormula(const std::string& formula, const std::function<int(int)>& number);

// Error when it cannot be read, whatever the values are.
Done checkFormula(const std::string& formula);

// Error names what cannot be read or computed, and where.
using ReferenceValue = std::function<Result<double>(const FormulaReference&)>;
Result<double> evaluateFormula(const std::string& formula, const ReferenceValue& value);

} // namespace alder
