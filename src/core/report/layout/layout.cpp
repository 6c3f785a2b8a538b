#include "report/layout/layout.h"

#include "report/layout/fields.h"
#include "report/layout/pick.h"
#include <array>

namespace alder {
namespace {

template <std::size_t N, class E>
std::string_view named(const std::array<std::string_view, N>& names, E value) {
  return names[static_cast<std::size_t>(value)];
}

Done validateItem(const TextItem& item) {
  return fieldsKnown(item.text);
}
Done validateItem(const FieldsItem& item) {
  if (item.columns < 1 || item.columns > 6)
    return fail("header fields stand in 1 to 6 columns, not {}", item.columns);
  for (const std::string& field : item.fields_shown)
    if (!isField(field)) return fail("there is no field \"{}\"", field);
  return {};
}
Done validateItem(const CountsItem& item) {
  return validate(item.filter);
}
Done validateItem(const TableItem& item) {
  if (item.columns.empty()) return fail("the table has no columns");
  return validate(item.filter);
}
Done validateItem(const ViewItem& item) {
  return validate(item.filter);
}
Done validateItem(const HowItem& item) {
  return validate(item.filter);
}
Done validateItem(const CapabilityItem& item) {
  return validate(item.filter);
}
Done validateItem(const SignatureItem& item) {
  return fieldsKnown(item.caption);
}
template <class Item> Done validateItem(const Item&) {
  return {};
}

} // namespace

std::string_view name(TextLook look) {
  static constexpr std::array<std::string_view, 5> kNames{"title", "heading", "body", "small",
                                                          "figures"};
  return named(kNames, look);
}
std::string_view name(Align align) {
  static constexpr std::array<std::string_view, 3> kNames{"left", "middle", "right"};
  return named(kNames, align);
}
std::string_view name(Column column) {
  static constexpr std::array<std::string_view, kColumnCount> kNames{
      "number", "requirement", "feature",   "sheet_zone",  "key",   "nominal", "lower",
      "upper",  "actual",      "deviation", "uncertainty", "share", "verdict"};
  return named(kNames, column);
}
std::string_view words(Column column) {
  static constexpr std::array<std::string_view, kColumnCount> kWords{
      "No.",    "Requirement", "Feature",   "Zone",           "Key",    "Nominal", "Lower", "Upper",
      "Actual", "Deviation",   "U (k = 2)", "Tolerance used", "Verdict"};
  return named(kWords, column);
}
std::string_view name(GroupBy group) {
  static constexpr std::array<std::string_view, 5> kNames{"", "kind", "verdict", "feature",
                                                          "sheet_zone"};
  return named(kNames, group);
}
std::string_view name(OrderBy order) {
  static constexpr std::array<std::string_view, 3> kNames{"number", "worst", "feature"};
  return named(kNames, order);
}
std::string_view name(DeviationsAs as) {
  static constexpr std::array<std::string_view, kDeviationsAs> kNames{"suitable", "points",
                                                                      "whiskers", "map", "zone"};
  return named(kNames, as);
}
std::string_view name(Listed what) {
  static constexpr std::array<std::string_view, 5> kNames{"tips", "steps", "frames", "again",
                                                          "documents"};
  return named(kNames, what);
}
std::string_view words(Listed what) {
  static constexpr std::array<std::string_view, 5> kWords{
      "Tips", "Steps of the routine", "Part frames", "Measured again", "Attached documents"};
  return named(kWords, what);
}
std::string_view name(PageFormat format) {
  static constexpr std::array<std::string_view, 3> kNames{"A4", "A3", "Letter"};
  return named(kNames, format);
}
std::string_view name(Repeats repeats) {
  static constexpr std::array<std::string_view, 2> kNames{"", "requirement"};
  return named(kNames, repeats);
}

std::string_view name(ArticleForm form) {
  static constexpr std::array<std::string_view, kArticleForms> kNames{"parts", "products",
                                                                      "characteristics"};
  return named(kNames, form);
}

PaperSize sizeOf(PageFormat format, bool landscape) {
  const PaperSize s = format == PageFormat::A4   ? PaperSize{210, 297}
                      : format == PageFormat::A3 ? PaperSize{297, 420}
                                                 : PaperSize{215.9, 279.4};
  return landscape ? PaperSize{s.height, s.width} : s;
}

std::string_view kindOf(const ItemBody& body) {
  return std::visit([](const auto& item) { return item.kKind; }, body);
}
std::string_view titleOf(const ItemBody& body) {
  return std::visit([](const auto& item) { return item.kTitle; }, body);
}

Done validate(const Layout& layout) {
  if (layout.pages.empty()) return fail("A report layout needs a page.");
  for (std::size_t p = 0; p < layout.pages.size(); ++p) {
    const LayoutPage& page = layout.pages[p];
    const std::string where = fmt::format("Page {} of the layout", p + 1);
    const PaperSize size = page.size();
    if (!(page.margin >= 0 && page.margin < std::min(size.width, size.height) / 3))
      return fail("{}: a margin of {} mm leaves no room.", where, page.margin);
    if (auto done = validate(page.filter); !done)
      return fail("{}: {}.", where, done.error().message);
    for (const LayoutItem& item : page.items) {
      const Area& a = item.area;
      const std::string what = fmt::format("{}, {}", where, titleOf(item.body));
      if (!(a.w > 0 && a.h >= 0)) return fail("{}: has no size.", what);
      if (!Area{0, 0, size.width, size.height}.holds(a, 0.01))
        return fail("{}: does not stand within the page ({} x {} mm).", what, size.width,
                    size.height);
      const Done done = std::visit([](const auto& body) { return validateItem(body); }, item.body);
      if (!done) return fail("{}: {}.", what, done.error().message);
    }
  }
  return {};
}

} // namespace alder
