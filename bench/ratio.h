// A benchmark here is a ratio: our time over that of a general library for the same answer, or over
// a limit that a person notices. Median of several, both measured in the same run.
#pragma once

#include <functional>
#include <string>
#include <vector>

namespace alder::bench {

struct Ratio {
  std::string name;
  double goal = 1; // ok when the ratio is at most this
  std::function<double()> measure;
};

// Median seconds of `runs` calls.
double medianSeconds(const std::function<void()>& work, int runs);

std::vector<Ratio> againstCeres();      // least-squares associations
std::vector<Ratio> againstFcl();        // clearance of moving rods
std::vector<Ratio> againstProjection(); // distances to a freeform face
std::vector<Ratio> demoTimes();         // seconds that the demo takes, over the promise
std::vector<Ratio> manySteps();         // a routine of 100,000 steps, over what is noticed
std::vector<Ratio> largeRoutine();      // the same of a routine larger than most
std::vector<Ratio> runEvents();         // a touch of a long run, over one of a short run
std::vector<Ratio> measuredParts();     // 500 parts of a routine, over what is noticed
std::vector<Ratio> clouds();            // points of a scanner
std::vector<Ratio> reports();           // long and many, over what is noticed

} // namespace alder::bench
