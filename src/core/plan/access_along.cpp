#include "plan/access_along.h"

namespace alder {

Access accessAlong(const Bench& bench, int stylus, int tip, const Vec3& shank) {
  const Head& head = bench.head;
  const Tip& t = bench.styli[static_cast<std::size_t>(stylus)].tips[static_cast<std::size_t>(tip)];
  const auto off = [&](double a, double b) {
    return (shankDirection(t, a, b) - shank.normalized()).squaredNorm();
  };
  Access best{stylus, tip, head.a.nearest(0), head.b.nearest(0)};
  double least = off(best.a, best.b);
  for (int i = 0; i < stepsOf(head.a); ++i)
    for (int j = 0; j < stepsOf(head.b); ++j) {
      const double a = head.a.low + i * head.a.step, b = head.b.low + j * head.b.step;
      if (const double d = off(a, b); d < least - 1e-12) least = d, best.a = a, best.b = b;
    }
  // Between the steps, where the head may stand there: halved about the best.
  for (double step = head.a.any ? head.a.step / 2 : 0; step > 1e-9; step /= 2)
    for (const auto& [a, b] : {std::pair{best.a + step, best.b},
                               {best.a - step, best.b},
                               {best.a, best.b + step},
                               {best.a, best.b - step}})
      if (head.a.holds(a) && head.b.holds(b))
        if (const double d = off(a, b); d < least) least = d, best.a = a, best.b = b;
  return best;
}

} // namespace alder
