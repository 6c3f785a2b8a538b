// Progress and cancel for long work. The worker calls `step` often; the caller owns the stop
// source.
#pragma once

#include "base/error.h"
#include <functional>
#include <stop_token>
#include <string_view>

namespace alder {

struct Progress {
  // fraction 0..1 and what is being done; may be called from any thread
  std::function<void(double, std::string_view)> report;
  std::stop_token stop;

  bool cancelled() const { return stop.stop_requested(); }
  void step(double fraction, std::string_view what) const {
    if (report) report(fraction, what);
  }
};

inline tl::unexpected<Error> cancelledError() {
  return tl::unexpected<Error>(Error{"Cancelled; nothing was changed.", ErrorCode::Cancelled});
}

} // namespace alder
