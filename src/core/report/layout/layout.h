// A report layout: pages with items, filled from a ReportModel. The file is a template of the
// routine, the shop or the product (docs/files.md).
#pragma once

#include "base/error.h"
#include "base/id.h"
#include "report/layout/item.h"
#include <variant>

namespace alder {

using ItemBody = std::variant<TextItem, FieldsItem, CountsItem, TableItem, DetailItem, PlotItem,
                              ViewItem, HowItem, ListItem, HistoryItem, CapabilityItem, PictureItem,
                              SignatureItem, RuleItem, FormItem>;
std::string_view kindOf(const ItemBody& body);
std::string_view titleOf(const ItemBody& body);

struct LayoutItem {
  // On the page as it is laid out, mm. What lies below something that grows moves down with it;
  // what is longer than its place goes on on the next page.
  Area area;
  bool every_page = false; // stands on each page that this one becomes: a head, a foot
  ItemBody body;
  friend bool operator==(const LayoutItem&, const LayoutItem&) = default;
};

enum class PageFormat { A4, A3, Letter };
std::string_view name(PageFormat format);
PaperSize sizeOf(PageFormat format, bool landscape);

enum class Repeats { Once, EachRequirement };
std::string_view name(Repeats repeats);

struct LayoutPage {
  std::string name; // in the outline
  PageFormat format = PageFormat::A4;
  bool landscape = false;
  double margin = 14; // mm, of what flows from page to page
  Repeats repeats = Repeats::Once;
  RequirementFilter filter; // of the requirements that have a page each
  bool empty_too = false;   // else a page whose data are all empty is left out
  std::vector<LayoutItem> items;
  PaperSize size() const { return sizeOf(format, landscape); }
  friend bool operator==(const LayoutPage&, const LayoutPage&) = default;
};

struct Layout {
  std::string name;
  std::vector<LayoutPage> pages;
  friend bool operator==(const Layout&, const Layout&) = default;
};

// Items within their page, sizes above nothing, numbers and fields that exist.
Done validate(const Layout& layout);

} // namespace alder
