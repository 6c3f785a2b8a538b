// Border with zones (ISO 5457), title block (ISO 7200) and notes of a drawing sheet.
#pragma once

#include "drafting/paper.h"

namespace alder::demo {

struct TitleBlock {
  std::string number, title, owner, material, scale, sheet, date, drawn, checked, revision;
};

void drawFrame(Paper& paper, double width, double height, const TitleBlock& title,
               const std::vector<std::string>& notes);

} // namespace alder::demo
