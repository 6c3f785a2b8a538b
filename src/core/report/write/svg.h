// Marks as SVG, text as text.
#pragma once

#include "paper/text_setter.h"

namespace alder {

// For element content and attributes in double quotes.
std::string escapedXml(const std::string& text);
std::string base64(const std::string& bytes);
std::string svgOf(const std::vector<Mark>& marks, double width, double height,
                  const std::string& says, const TextSetter& setter);

} // namespace alder
