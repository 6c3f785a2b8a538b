#include "report/layout/arrange.h"

#include <algorithm>
#include <cmath>

namespace alder {
namespace {

constexpr double kLeast = 4;   // mm, of an item
constexpr double kBetween = 4; // below another one

struct Lines {
  std::vector<double> x, y;
};

Lines linesOn(const LayoutPage& page, std::size_t item) {
  const PaperSize size = page.size();
  Lines lines{{page.margin, size.width / 2, size.width - page.margin},
              {page.margin, size.height / 2, size.height - page.margin}};
  for (std::size_t i = 0; i < page.items.size(); ++i) {
    if (i == item) continue;
    const Area& a = page.items[i].area;
    lines.x.insert(lines.x.end(), {a.x, a.middle().x(), a.right()});
    lines.y.insert(lines.y.end(), {a.y, a.middle().y(), a.bottom()});
  }
  return lines;
}

// By how much one of `own` must move to the nearest line within reach, and to which.
std::optional<std::pair<double, double>> nearest(const std::vector<double>& own,
                                                 const std::vector<double>& lines, double reach) {
  std::optional<std::pair<double, double>> best;
  for (const double o : own)
    for (const double line : lines)
      if (std::abs(line - o) <= (best ? std::abs(best->first) - 1e-9 : reach))
        best = {line - o, line};
  return best;
}

} // namespace

Snapped snappedMove(const LayoutPage& page, std::size_t item, const Area& area, double reach) {
  const Lines lines = linesOn(page, item);
  Snapped s{area, {}, {}};
  if (const auto x = nearest({area.x, area.middle().x(), area.right()}, lines.x, reach))
    s.area.x += x->first, s.guide_x = x->second;
  else
    s.area.x = std::round(area.x);
  if (const auto y = nearest({area.y, area.middle().y(), area.bottom()}, lines.y, reach))
    s.area.y += y->first, s.guide_y = y->second;
  else
    s.area.y = std::round(area.y);
  const PaperSize size = page.size();
  s.area.x = std::clamp(s.area.x, 0.0, std::max(0.0, size.width - area.w));
  s.area.y = std::clamp(s.area.y, 0.0, std::max(0.0, size.height - area.h));
  return s;
}

Snapped snappedSize(const LayoutPage& page, std::size_t item, const Area& area, double reach) {
  const Lines lines = linesOn(page, item);
  Snapped s{area, {}, {}};
  double right = area.right(), bottom = area.bottom();
  if (const auto x = nearest({right}, lines.x, reach))
    right += x->first, s.guide_x = x->second;
  else
    right = std::round(right);
  if (const auto y = nearest({bottom}, lines.y, reach))
    bottom += y->first, s.guide_y = y->second;
  else
    bottom = std::round(bottom);
  const PaperSize size = page.size();
  s.area.w = std::clamp(right, area.x + kLeast, size.width) - area.x;
  s.area.h = std::clamp(bottom, area.y + kLeast, size.height) - area.y;
  return s;
}

template <std::size_t... I> static std::vector<ItemBody> oneOfEach(std::index_sequence<I...>) {
  return {ItemBody(std::variant_alternative_t<I, ItemBody>{})...};
}

std::vector<ItemBody> freshItems() {
  std::vector<ItemBody> all = oneOfEach(std::make_index_sequence<std::variant_size_v<ItemBody>>());
  for (ItemBody& body : all)
    if (auto* text = std::get_if<TextItem>(&body)) text->text = "Text";
  return all;
}

Area freshArea(const LayoutPage& page, const ItemBody& body) {
  const PaperSize size = page.size();
  const double wide = size.width - 2 * page.margin;
  struct Size {
    double wide;
    Area operator()(const TextItem&) const { return {0, 0, wide, 6}; }
    Area operator()(const FieldsItem&) const { return {0, 0, wide, 10}; }
    Area operator()(const CountsItem&) const { return {0, 0, wide, 5}; }
    Area operator()(const RuleItem&) const { return {0, 0, wide, 4}; }
    Area operator()(const SignatureItem&) const { return {0, 0, std::min(80.0, wide), 16}; }
    Area operator()(const PlotItem&) const { return {0, 0, std::min(88.0, wide), 62}; }
    Area operator()(const HistoryItem&) const { return {0, 0, std::min(88.0, wide), 62}; }
    Area operator()(const PictureItem&) const { return {0, 0, std::min(60.0, wide), 40}; }
    Area operator()(const ViewItem&) const { return {0, 0, wide, 90}; }
    Area operator()(const TableItem&) const { return {0, 0, wide, 80}; }
    Area operator()(const DetailItem&) const { return {0, 0, wide, 40}; }
    Area operator()(const HowItem&) const { return {0, 0, wide, 60}; }
    Area operator()(const ListItem&) const { return {0, 0, wide, 30}; }
    Area operator()(const CapabilityItem&) const { return {0, 0, wide, 60}; }
    Area operator()(const FormItem&) const { return {0, 0, wide, 120}; }
  };
  return std::visit(Size{wide}, body);
}

Area freePlace(const LayoutPage& page, const Area& wanted) {
  const PaperSize size = page.size();
  Area place{page.margin, page.margin, wanted.w, wanted.h};
  for (const LayoutItem& item : page.items)
    if (!item.every_page) place.y = std::max(place.y, item.area.bottom() + kBetween);
  place.y = std::min(place.y, std::max(page.margin, size.height - page.margin - wanted.h));
  return place;
}

} // namespace alder
