#include "plan/qualification_fit.h"

#include "fit/association.h"
#include <algorithm>
#include <cmath>

namespace alder {

Result<Qualification> withTip(Qualification known, const ReferenceSphere& sphere,
                              const Access& access, const Points& centres, std::int64_t now) {
  auto fit = associate(Shape::Sphere, centres, {});
  if (!fit) return pass(fit.error());
  if (known.tips.empty()) known.sphere = fit->point;
  QualifiedTip tip;
  tip.access = access;
  tip.offset = known.sphere - fit->point;
  tip.diameter = fit->diameter - sphere.diameter;
  tip.form = fit->form;
  double squares = 0;
  for (const double d : fit->deviations)
    squares += d * d;
  // A sphere has four unknowns.
  const auto count = static_cast<double>(centres.size());
  tip.sigma = count > 4 ? std::sqrt(squares / (count - 4)) : 0;
  tip.touches = static_cast<int>(centres.size());
  tip.seconds = now;
  std::erase_if(known.tips, [&](const QualifiedTip& t) { return t.access == access; });
  known.tips.push_back(tip);
  return known;
}

} // namespace alder
