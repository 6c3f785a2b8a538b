// A step with one thing changed.
#pragma once

#include <functional>

namespace alder::app {

template <class Body> Body with(Body body, const std::function<void(Body&)>& change) {
  change(body);
  return body;
}

} // namespace alder::app
