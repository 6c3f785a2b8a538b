// Small conversions that the sections of the card share.
#pragma once

#include "base/units.h"
#include "requirement/specification.h"
#include <QString>

namespace alder::app {

inline QString text(const std::string& s) {
  return QString::fromStdString(s);
}

inline QString text(std::string_view s) {
  return QString::fromUtf8(s.data(), static_cast<qsizetype>(s.size()));
}

// With the requirement's own decimals and unit.
inline QString shownFigure(const Requirement& r, double value) {
  if (r.kind == Characteristic::Value)
    return text(figure(value, r.decimals)) + (r.unit.empty() ? "" : " " + text(r.unit));
  return text(figure(r.kind == Characteristic::Angle ? degrees(value) : value, r.decimals)) +
         (r.kind == Characteristic::Angle ? "°" : " mm");
}

} // namespace alder::app
