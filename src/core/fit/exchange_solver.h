// Chebyshev problems over many points: solved on few, to which the worst of all are added until
// none is beyond (exchange; Remez 1934 in spirit). The caller keeps the current place; steps are
// small changes of it, counted in mm at the points' reach.
#pragma once

#include "fit/association.h"
#include "fit/minimax.h"

namespace alder {

enum class Sides { Both, Upper, Lower }; // which deviations count: |d|, d, -d

struct ExchangeProblem {
  // deviations of all points at the current place
  std::function<void(std::vector<double>&)> all;
  // deviation of one point at the current place and its derivatives by the step
  std::function<double(std::size_t, SmallVector&)> one;
  // a place after a step, as a function from point to deviation
  std::function<std::function<double(std::size_t)>(const SmallVector&)> after;
  // the derivatives of one point's deviation at a place after a step; optional, and faster
  std::function<std::function<void(std::size_t, SmallVector&)>(const SmallVector&)> slope_after;
  // how far the place after a step is from where the present round began, mm
  std::function<double(const SmallVector&)> drift;
  std::function<void()> begin_round;
  std::function<void(const SmallVector&)> accept;
  std::function<std::function<void()>()> remember; // see MinimaxProblem
  double reach = 1;
  // mm over which the deviations bend little; `worst` is the largest that counts
  std::function<double(double worst)> curvature_step;
  std::function<Eigen::Index()> step_size; // how many entries a step has
};

struct Exchanged {
  double worst = 1e300;
  std::vector<Contact> contacts;
};
// `first`: points that count from the beginning; with all that can be the worst near a good place,
// the search does not leave it for a worse one.
Exchanged solveByExchange(const ExchangeProblem& problem, Sides sides,
                          const std::vector<std::size_t>& first = {});

} // namespace alder
