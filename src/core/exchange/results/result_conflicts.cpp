#include "base/units.h"
#include "exchange/results/result_matching.h"
#include "requirement/limits.h"
#include <algorithm>
#include <cmath>

namespace alder {
namespace {

double shown(const Requirement& r, double v) {
  return r.kind == Characteristic::Angle ? degrees(v) : v;
}

// To the last digit that the file shows.
bool same(double file, double own, double digit) {
  return std::abs(file - own) <= 0.51 * digit + 1e-9 + 1e-9 * std::abs(own);
}

// A limit that is nominal and deviation added was rounded twice.
bool roundedSame(double file, double own, double digit) {
  return std::abs(file - own) <= 0.98 * digit + 1e-9 * std::abs(own);
}

// One figure where the other counts in inches, or the other way round.
std::optional<std::string> unitSuspected(double file, double own) {
  if (file == 0 || own == 0) return {};
  const auto near = [](double a, double b) { return std::abs(a - b) <= 0.002 * std::abs(b); };
  if (near(file * kMmPerInch, own))
    return fmt::format("The unit seems wrong: {:.6g} times 25.4 is the nominal {:.6g}.", file, own);
  if (near(file, own * kMmPerInch))
    return fmt::format("The unit seems wrong: {:.6g} is 25.4 times the nominal {:.6g}.", file, own);
  return {};
}

void compareDimension(const StatedResult& v, const Requirement& r, std::vector<std::string>& out) {
  const double digit = std::max(v.last_digit, 1e-6);
  const double nominal = shown(r, r.nominal), lower = shown(r, r.lower), upper = shown(r, r.upper);
  if (v.nominal && !same(*v.nominal, nominal, digit)) {
    if (auto unit = unitSuspected(*v.nominal, nominal))
      out.push_back(std::move(*unit));
    else
      out.push_back(fmt::format("The file has the nominal {:.6g}, the requirement {:.6g}.",
                                *v.nominal, nominal));
  }
  // A nominal that says the same already was compared.
  const bool compared = v.nominal && same(*v.nominal, nominal, digit);
  if (!compared && !v.nominal && v.actual && upper > lower && !hasSingleLimit(r)) {
    const double width = upper - lower;
    if (*v.actual > upper + 5 * width || *v.actual < lower - 5 * width) {
      if (auto unit = unitSuspected(*v.actual, nominal))
        out.push_back(std::move(*unit));
      else
        out.push_back(
            fmt::format("The file has {:.6g} and no nominal; the requirement's is {:.6g}.",
                        *v.actual, nominal));
    }
  }
  if (v.nominal && !same(*v.nominal, nominal, digit)) return; // the limits differ with it
  const auto compare = [&](const char* which, std::optional<double> file, double own) {
    if (file && !std::isfinite(own))
      out.push_back(
          fmt::format("The file has the {} limit {:.6g}, the requirement none.", which, *file));
    else if (file && !roundedSame(*file, own, digit))
      out.push_back(fmt::format("The file has the {} limit {:.6g}, the requirement {:.6g}.", which,
                                *file, own));
  };
  compare("lower", v.lower, lower);
  compare("upper", v.upper, upper);
  if (v.tolerance && !v.upper && !v.lower && !hasSingleLimit(r) &&
      !same(*v.tolerance, upper - lower, digit) && !same(*v.tolerance, (upper - lower) / 2, digit))
    out.push_back(fmt::format("The file has the tolerance {:.6g}, the requirement {:.6g}.",
                              *v.tolerance, upper - lower));
}

void compareTolerance(const StatedResult& v, const Requirement& r, std::vector<std::string>& out) {
  const double digit = std::max(v.last_digit, 1e-6);
  if (v.nominal && !same(*v.nominal, 0, digit))
    out.push_back(fmt::format("The file has the nominal {:.6g}; a geometrical tolerance has none.",
                              *v.nominal));
  const auto stated = v.upper ? v.upper : v.tolerance;
  if (!stated || same(*stated, r.tolerance, digit)) return;
  const bool bonus = r.material != MaterialModifier::None && *stated > r.tolerance;
  if (auto unit = bonus ? std::nullopt : unitSuspected(*stated, r.tolerance))
    out.push_back(std::move(*unit));
  else if (bonus)
    out.push_back(fmt::format("The file allows {:.6g}, {:.6g} more than the tolerance {:.6g}: a "
                              "bonus that cannot be followed back.",
                              *stated, *stated - r.tolerance, r.tolerance));
  else
    out.push_back(fmt::format("The file has the tolerance {:.6g}, the requirement {:.6g}.", *stated,
                              r.tolerance));
}

} // namespace

std::vector<std::string> conflictsOf(const Specification& spec, const StatedResult& v,
                                     const Requirement& r) {
  std::vector<std::string> out;
  const bool angle = r.kind == Characteristic::Angle;
  if (v.degrees && !angle && r.kind != Characteristic::Value)
    out.push_back("The file's value is an angle, the requirement is a length.");
  isDimension(r.kind) ? compareDimension(v, r, out) : compareTolerance(v, r, out);
  const auto word = characteristicOfWord(v.axis);
  if (word && word->kind && *word->kind != r.kind && r.kind != Characteristic::Value &&
      !standFor(*word->kind, r.kind))
    out.push_back(
        fmt::format("The file says {}, the requirement is {}.", v.axis, describe(spec, r)));
  if (const auto passed = passedBy(v.status); passed && v.actual && out.empty()) {
    const double digit = std::max(v.last_digit, 1e-9);
    const double upper = isDimension(r.kind) ? shown(r, r.upper) : r.tolerance;
    const double lower = isDimension(r.kind) ? shown(r, r.lower) : 0;
    const bool within = *v.actual <= upper + 1e-9 && *v.actual >= lower - 1e-9;
    const bool at_limit =
        std::abs(*v.actual - upper) <= digit || std::abs(*v.actual - lower) <= digit;
    if (within != *passed && !at_limit && r.material == MaterialModifier::None)
      out.push_back(fmt::format("The file says {}; by these limits {:.6g} is {}.", v.status,
                                *v.actual, within ? "within" : "outside"));
  }
  return out;
}

} // namespace alder
