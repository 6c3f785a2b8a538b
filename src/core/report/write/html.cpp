#include "report/write/html.h"

#include "report/article/forms.h"
#include "report/compose/content.h"
#include "report/layout/fields.h"
#include "report/layout/pick.h"
#include "report/write/items_in_order.h"
#include "report/write/svg.h"

namespace alder {
namespace {

constexpr const char* kStyle = R"(
body{font-family:Inter,system-ui,sans-serif;color:#1f262c;max-width:210mm;margin:10mm auto;padding:0 6mm;font-size:14px}
h1{font-size:26px;margin:0 0 4px}h2{font-size:18px;margin:22px 0 8px}p{margin:4px 0}
.fields{display:grid;grid-template-columns:repeat(auto-fill,minmax(60mm,1fr));gap:2px 16px;margin:8px 0}
.fields span{color:#5a646d;display:inline-block;min-width:24mm}
table{border-collapse:collapse;width:100%;margin:10px 0;font-size:12px}
th{text-align:left;color:#5a646d;border-bottom:1px solid #1f262c;padding:3px 5px}
td{border-bottom:1px solid #d9d5cb;padding:3px 5px;vertical-align:top;overflow-wrap:anywhere}
td.f,th.f{text-align:right;font-family:"JetBrains Mono",monospace;white-space:nowrap}
tr.group td{font-weight:600;border-bottom:none;padding-top:10px}
.within{color:#0b7a75}.near,.not-proved{color:#b97800}.outside{color:#c8401a}.unmeasured{color:#8a9096}
.second{color:#5a646d}hr{border:none;border-top:1px solid #1f262c}
.sign{margin-top:14mm;border-top:1px solid #1f262c;width:80mm;color:#5a646d}
@media print{body{margin:0;max-width:none}}
)";

std::string classOf(Verdict verdict) {
  std::string text(name(verdict));
  for (char& c : text)
    if (c == ' ') c = '-';
  return text;
}

bool isFigure(Column column) {
  return column == Column::Number || column == Column::Nominal || column == Column::Lower ||
         column == Column::Upper || column == Column::Actual || column == Column::Deviation ||
         column == Column::Uncertainty || column == Column::Share;
}

struct HtmlItem {
  const LayoutItem& item;
  ComposeContext& c;
  std::string& out;

  void operator()(const TextItem& text) const {
    const std::string words = filled(text.text, c.model);
    if (words.empty()) return;
    const char* tag = text.look == TextLook::Title     ? "h1"
                      : text.look == TextLook::Heading ? "h2"
                                                       : "p";
    out += fmt::format("<{0}{2}>{1}</{0}>\n", tag, escapedXml(words),
                       text.look == TextLook::Small ? " class=\"second\"" : "");
  }
  void operator()(const FieldsItem& fields) const {
    out += "<div class=\"fields\">";
    for (const std::string& f : fields.fields_shown)
      if (const std::string value = valueOf(f, c.model); !value.empty() || fields.empty_too)
        out += fmt::format("<div><span>{}</span> {}</div>", captionOf(f), escapedXml(value));
    out += "</div>\n";
  }
  void operator()(const TableItem& table) const {
    const auto lines = linesOf(table, c.model);
    if (lines.empty()) return;
    out += "<table><thead><tr>";
    for (const Column column : table.columns)
      out += fmt::format("<th{}>{}</th>", isFigure(column) ? " class=\"f\"" : "", words(column));
    out += "</tr></thead><tbody>\n";
    for (const TableLine& line : lines) {
      if (!line.row) {
        out += fmt::format("<tr class=\"group\"><td colspan=\"{}\">{}</td></tr>\n",
                           table.columns.size(), escapedXml(line.heading));
        continue;
      }
      out += "<tr>";
      for (const Column column : table.columns) {
        const bool coloured = column == Column::Actual || column == Column::Verdict;
        const std::string of = (isFigure(column) ? "f " : "") +
                               (coloured ? classOf(line.row->verdict) : std::string());
        out += fmt::format("<td class=\"{}\">{}</td>", of,
                           escapedXml(textOf(*line.row, column, line.member)));
      }
      out += "</tr>\n";
    }
    out += "</tbody></table>\n";
  }
  void operator()(const SignatureItem& signature) const {
    out +=
        fmt::format("<p class=\"sign\">{}</p>\n", escapedXml(filled(signature.caption, c.model)));
  }
  void operator()(const RuleItem&) const { out += "<hr>\n"; }
  void operator()(const FormItem& form) const {
    const FilledForm filled_in = formOf(form.form, c.plan, c.model);
    const auto fields = [&](const FormFields& all) {
      if (all.empty()) return;
      out += "<table class=\"form\"><tbody>\n";
      for (const auto& row : all) {
        out += "<tr>";
        for (const FormField& f : row)
          out += fmt::format("<td><span class=\"second\">{}</span><br>{}</td>", f.head(),
                             escapedXml(f.value));
        out += "</tr>\n";
      }
      out += "</tbody></table>\n";
    };
    fields(filled_in.head);
    for (const FormTable& table : filled_in.tables) {
      if (!table.title.empty()) out += fmt::format("<h2>{}</h2>\n", table.title);
      out += "<table><thead><tr>";
      for (const FormColumn& column : table.columns)
        out += fmt::format("<th>{}</th>", column.head());
      out += "</tr></thead><tbody>\n";
      for (const auto& row : table.rows) {
        out += "<tr>";
        for (const FormCell& cell : row)
          out += "<td>" + cellOf(cell) + "</td>";
        out += "</tr>\n";
      }
      out += "</tbody></table>\n";
    }
    fields(filled_in.foot);
    for (const std::string& note : filled_in.notes)
      out += fmt::format("<p>{}</p>\n", escapedXml(note));
  }
  static std::string cellOf(const FormCell& cell) {
    if (cell.results.empty()) return escapedXml(cell.text);
    std::string all;
    for (const FormResult& r : cell.results)
      all += fmt::format("{}<span class=\"{}\">{}{}</span>", all.empty() ? "" : "<br>",
                         classOf(r.verdict), escapedXml(r.text),
                         r.verdict == Verdict::Within ? "" : fmt::format(", {}", words(r.verdict)));
    return all;
  }
  void operator()(const HowItem& how) const {
    for (const ReportRow* row : picked(c.model, how.filter))
      out += fmt::format("<p><b>{} {}</b><br><span class=\"second\">{}</span></p>\n", row->number,
                         escapedXml(row->text), escapedXml(row->how));
  }
  void operator()(const ListItem& list) const {
    const auto lines = linesOfList(list.what, c.model);
    if (lines.empty()) return;
    if (list.heading) out += fmt::format("<h2>{}</h2>\n", words(list.what));
    for (const std::string& line : lines)
      out += fmt::format("<p class=\"second\">{}</p>\n", escapedXml(line));
  }
  // What is drawn on paper is drawn here.
  template <class Item> void operator()(const Item&) const {
    const Content content = contentOf(item, c);
    double y = 0;
    std::vector<Mark> marks;
    std::string says(titleOf(item.body));
    for (const auto* rows : {&content.head, &content.rows})
      for (const ContentRow& row : *rows) {
        for (Mark& m : moved(row.marks, {0, y})) {
          if (const auto* tag = std::get_if<OpenTag>(&m); tag && !tag->says.empty())
            says = tag->says;
          marks.push_back(std::move(m));
        }
        y += row.height;
      }
    if (!marks.empty()) out += svgOf(marks, item.area.w, y, says, c.setter);
  }
};

} // namespace

std::string reportHtml(const Layout& layout, const ReportModel& model, const Plan& plan,
                       const TextSetter& setter, std::vector<std::string>& told) {
  ViewFinder views(plan);
  std::string body;
  for (const LayoutPage& page : layout.pages)
    for (const OrderedItem& ordered : itemsInOrder(page, model)) {
      ComposeContext context{model, plan, setter, views, ordered.row, told};
      std::visit(HtmlItem{*ordered.item, context, body}, ordered.item->body);
    }
  const std::string title = "Inspection report " + filled("{part.number} {serial}", model);
  return fmt::format("<!DOCTYPE html>\n<html lang=\"en\"><head><meta charset=\"utf-8\">"
                     "<title>{}</title><style>{}</style></head>\n<body>\n{}</body></html>\n",
                     escapedXml(title), kStyle, body);
}

} // namespace alder
