// What can stand on the pages of a report layout: one struct for each kind of item, with its fields
// by name (see layout_json.h), and what it is called.
#pragma once

#include "judge/verdict.h"
#include "paper/page.h"
#include <memory>
#include <set>
#include <string>
#include <string_view>
#include <vector>

namespace alder {

// Which requirements. All conditions hold together; what is empty asks for nothing.
struct RequirementFilter {
  std::set<Verdict> verdicts;
  std::string numbers; // balloons as typed: "1-10, 14"
  std::string groups;  // kinds as typed: "Sizes, Form"
  bool key_only = false;
  friend bool operator==(const RequirementFilter&, const RequirementFilter&) = default;
};

enum class TextLook { Title, Heading, Body, Small, Figures };
enum class Column {
  Number,
  Requirement,
  Feature,
  SheetZone,
  Key,
  Nominal,
  Lower,
  Upper,
  Actual,
  Deviation,
  Uncertainty,
  Share,
  Verdict
};
inline constexpr int kColumnCount = 13;
enum class GroupBy { Nothing, Kind, Verdict, Feature, SheetZone };
enum class OrderBy { Number, Worst, Feature };
// Names in files and words for people.
std::string_view name(TextLook look);
std::string_view name(Align align);
std::string_view name(Column column);
std::string_view name(GroupBy group);
std::string_view name(OrderBy order);
std::string_view words(Column column); // "Tolerance used"

// Free text; of what stands in braces the fields are filled in, see fields.h.
struct TextItem {
  static constexpr std::string_view kKind = "text", kTitle = "Text";
  std::string text;
  TextLook look = TextLook::Body;
  Align align = Align::Left;
  static void fields(auto& self, auto& f) {
    f("text", self.text);
    f.named("look", self.look, 5);
    f.named("align", self.align, 3);
  }
  friend bool operator==(const TextItem&, const TextItem&) = default;
};

// Fields with their captions in a grid, those that are empty left out.
struct FieldsItem {
  static constexpr std::string_view kKind = "fields", kTitle = "Header fields";
  std::vector<std::string> fields_shown{"part.number", "part.name", "part.revision", "serial",
                                        "date"};
  int columns = 3;
  bool empty_too = false;
  static void fields(auto& self, auto& f) {
    f("fields", self.fields_shown);
    f("columns", self.columns);
    f.whereTrue("empty_too", self.empty_too);
  }
  friend bool operator==(const FieldsItem&, const FieldsItem&) = default;
};

// How many are within, near a limit, outside.
struct CountsItem {
  static constexpr std::string_view kKind = "counts", kTitle = "Counts of verdicts";
  RequirementFilter filter;
  static void fields(auto& self, auto& f) { f("filter", self.filter); }
  friend bool operator==(const CountsItem&, const CountsItem&) = default;
};

struct TableItem {
  static constexpr std::string_view kKind = "table", kTitle = "Table of requirements";
  std::vector<Column> columns{
      Column::Number, Column::Requirement, Column::Feature,   Column::Nominal, Column::Lower,
      Column::Upper,  Column::Actual,      Column::Deviation, Column::Share,   Column::Verdict};
  GroupBy group = GroupBy::Nothing;
  OrderBy order = OrderBy::Number;
  RequirementFilter filter;
  bool members = false; // a row for each feature of a pattern too
  static void fields(auto& self, auto& f) {
    f.list("columns", self.columns, kColumnCount);
    f.named("group", self.group, 5);
    f.named("order", self.order, 3);
    f("filter", self.filter);
    f("members", self.members);
  }
  friend bool operator==(const TableItem&, const TableItem&) = default;
};

// One requirement: callout, figures, verdict. On a page for each requirement the page's own.
struct DetailItem {
  static constexpr std::string_view kKind = "requirement", kTitle = "Requirement in detail";
  int number = 0; // balloon; 0: the page's
  bool how = true;
  static void fields(auto& self, auto& f) {
    f("number", self.number);
    f("how", self.how);
  }
  friend bool operator==(const DetailItem&, const DetailItem&) = default;
};

struct PlotItem {
  static constexpr std::string_view kKind = "plot", kTitle = "Plot of deviations";
  int number = 0;
  static void fields(auto& self, auto& f) { f("number", self.number); }
  friend bool operator==(const PlotItem&, const PlotItem&) = default;
};

// How deviations are drawn on the part: as suits how close the points stand (whiskers, or a map
// where they would run together), or always as points, whiskers, a map of colours, or whiskers
// in the tolerance zone.
enum class DeviationsAs { Suitable, Dots, Whiskers, Map, Zone };
inline constexpr int kDeviationsAs = 5;
std::string_view name(DeviationsAs as);

// The part as it stands, or from where the page's requirement is seen best, with callouts.
struct ViewItem {
  static constexpr std::string_view kKind = "view", kTitle = "View of the part";
  bool of_page = false;    // the view of the page's requirement, else the whole part
  std::string kept;        // a view that the routine keeps, by its name, with its callouts
  bool deviations = false; // of the page's requirement, else of those that are called out
  DeviationsAs deviations_as = DeviationsAs::Suitable;
  bool without_edges = false;
  // In callouts, beside the balloon.
  bool indicator = false, actual = false, deviation = false, share = false, verdict = false;
  RequirementFilter filter; // of the callouts
  static void fields(auto& self, auto& f) {
    f("of_page", self.of_page);
    f.whereSaid("kept_view", self.kept);
    f("deviations", self.deviations);
    f.named("deviations_as", self.deviations_as, kDeviationsAs);
    f.whereTrue("without_edges", self.without_edges);
    f("indicator", self.indicator);
    f("actual", self.actual);
    f.whereTrue("deviation", self.deviation);
    f("share", self.share);
    f.whereTrue("verdict", self.verdict);
    f("filter", self.filter);
  }
  friend bool operator==(const ViewItem&, const ViewItem&) = default;
};

// How each figure came about.
struct HowItem {
  static constexpr std::string_view kKind = "how", kTitle = "How it was evaluated";
  RequirementFilter filter;
  static void fields(auto& self, auto& f) { f("filter", self.filter); }
  friend bool operator==(const HowItem&, const HowItem&) = default;
};

enum class Listed { Tips, RoutineSteps, Frames, Again, Documents };
std::string_view name(Listed what);
std::string_view words(Listed what);

// A list of lines: what is known of the tips, the steps of the routine, the frames.
struct ListItem {
  static constexpr std::string_view kKind = "list", kTitle = "List";
  Listed what = Listed::Tips;
  bool heading = true;
  static void fields(auto& self, auto& f) {
    f.named("what", self.what, 5);
    f("heading", self.heading);
  }
  friend bool operator==(const ListItem&, const ListItem&) = default;
};

struct HistoryItem {
  static constexpr std::string_view kKind = "history", kTitle = "History chart";
  int number = 0;
  static void fields(auto& self, auto& f) { f("number", self.number); }
  friend bool operator==(const HistoryItem&, const HistoryItem&) = default;
};

struct CapabilityItem {
  static constexpr std::string_view kKind = "capability", kTitle = "Capability";
  RequirementFilter filter;
  static void fields(auto& self, auto& f) { f("filter", self.filter); }
  friend bool operator==(const CapabilityItem&, const CapabilityItem&) = default;
};

// PNG or JPEG from a file, kept in the layout.
struct PictureItem {
  static constexpr std::string_view kKind = "picture", kTitle = "Picture from a file";
  std::string name;
  std::shared_ptr<const std::string> bytes;
  static void fields(auto& self, auto& f) {
    f("name", self.name);
    f.bytes("picture", self.bytes);
  }
  bool operator==(const PictureItem& o) const {
    return name == o.name && (bytes == o.bytes || (bytes && o.bytes && *bytes == *o.bytes));
  }
};

enum class ArticleForm { Parts, Products, Characteristics };
inline constexpr int kArticleForms = 3;
std::string_view name(ArticleForm form); // "parts", "products", "characteristics"

// A form of a first article inspection, see report/article/forms.h.
struct FormItem {
  static constexpr std::string_view kKind = "as9102_form", kTitle = "First-article form";
  ArticleForm form = ArticleForm::Parts;
  static void fields(auto& self, auto& f) { f.named("form", self.form, kArticleForms); }
  friend bool operator==(const FormItem&, const FormItem&) = default;
};

// A line to sign on, with what stands under it.
struct SignatureItem {
  static constexpr std::string_view kKind = "signature", kTitle = "Signature";
  std::string caption = "Date, signature";
  static void fields(auto& self, auto& f) { f("caption", self.caption); }
  friend bool operator==(const SignatureItem&, const SignatureItem&) = default;
};

struct RuleItem {
  static constexpr std::string_view kKind = "rule", kTitle = "Ruled line";
  static void fields(auto&, auto&) {}
  friend bool operator==(const RuleItem&, const RuleItem&) = default;
};

} // namespace alder
