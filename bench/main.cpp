// alderpoint-bench [FILTER]: one line each, "NAME: ratio R, goal G, ok|short". Status 1 if any is
// short.
#include "ratio.h"

#include <algorithm>
#include <chrono>
#include <cstdio>

namespace alder::bench {

double medianSeconds(const std::function<void()>& work, int runs) {
  std::vector<double> seconds;
  for (int i = 0; i < runs; ++i) {
    const auto start = std::chrono::steady_clock::now();
    work();
    seconds.push_back(
        std::chrono::duration<double>(std::chrono::steady_clock::now() - start).count());
  }
  std::nth_element(seconds.begin(), seconds.begin() + runs / 2, seconds.end());
  return seconds[static_cast<std::size_t>(runs / 2)];
}

} // namespace alder::bench

int main(int argc, char** argv) {
  using namespace alder::bench;
  std::vector<Ratio> all;
  for (const auto& group :
       {againstCeres(), againstProjection(), againstFcl(), demoTimes(), largeRoutine(), manySteps(),
        runEvents(), measuredParts(), clouds(), reports()})
    all.insert(all.end(), group.begin(), group.end());
  bool every = true;
  for (const Ratio& r : all) {
    if (argc > 1 && r.name.find(argv[1]) == std::string::npos) continue;
    const double ratio = r.measure();
    const bool ok = ratio <= r.goal;
    every &= ok;
    std::printf("%s: ratio %.3f, goal %.2f, %s\n", r.name.c_str(), ratio, r.goal,
                ok ? "ok" : "short");
    std::fflush(stdout);
  }
  return every ? 0 : 1;
}
