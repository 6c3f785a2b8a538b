#include "drafting/sheet_frame.h"

namespace alder::demo {
namespace {

constexpr double kCaption = 2.4, kText = 3.6;

void box(Paper& paper, const Vec2& low, const Vec2& high, Pen pen = Pen::Thin) {
  paper.lines({low, {high.x(), low.y()}, high, {low.x(), high.y()}}, true, pen);
}

} // namespace

void drawFrame(Paper& paper, double width, double height, const TitleBlock& title,
               const std::vector<std::string>& notes) {
  const Vec2 low(20, 10), high(width - 10, height - 10);
  box(paper, low, high, Pen::Thick);
  box(paper, low - Vec2(5, 5), high + Vec2(5, 5));
  const int columns = 8, rows = 6;
  for (int i = 0; i < columns; ++i) {
    const double x = low.x() + (high.x() - low.x()) * i / columns,
                 next = low.x() + (high.x() - low.x()) * (i + 1) / columns;
    for (const double y : {low.y() - 5, high.y()}) {
      if (i > 0) paper.line({x, y}, {x, y + 5});
      paper.text({(x + next) / 2 - 1, y + 1.3}, std::to_string(i + 1), kText);
    }
  }
  for (int i = 0; i < rows; ++i) {
    const double y = low.y() + (high.y() - low.y()) * i / rows,
                 next = low.y() + (high.y() - low.y()) * (i + 1) / rows;
    for (const double x : {low.x() - 5, high.x()}) {
      if (i > 0) paper.line({x, y}, {x + 5, y});
      paper.text({x + 1.3, (y + next) / 2 - 1}, std::string(1, static_cast<char>('F' - i)), kText);
    }
  }
  // Cells of the title block from its lower right corner: x, y, width, height, name, content.
  struct Cell {
    double x, y, w, h;
    const char* name;
    std::string content;
  };
  const Vec2 corner(high.x() - 150, low.y());
  for (const Cell& c : {Cell{0, 0, 60, 10, "Owner", title.owner},
                        {0, 10, 60, 10, "Material", title.material},
                        {0, 20, 30, 10, "Drawn", title.drawn},
                        {30, 20, 30, 10, "Checked", title.checked},
                        {60, 20, 90, 10, "Title", title.title},
                        {60, 10, 60, 10, "Drawing number", title.number},
                        {120, 10, 30, 10, "Revision", title.revision},
                        {60, 0, 25, 10, "Scale", title.scale},
                        {85, 0, 40, 10, "Date of issue", title.date},
                        {125, 0, 25, 10, "Sheet", title.sheet}}) {
    const Vec2 at = corner + Vec2(c.x, c.y);
    box(paper, at, at + Vec2(c.w, c.h));
    paper.text(at + Vec2(1, 7.2), c.name, kCaption);
    paper.text(at + Vec2(1.5, 2), c.content, kText);
  }
  double y = corner.y() + 30 + 5.5 * static_cast<double>(notes.size());
  for (const std::string& note : notes)
    paper.text({corner.x(), y -= 5.5}, note, kText);
}

} // namespace alder::demo
