#include "report/write/xlsx.h"

#include "base/files.h"
#include "paper/page_writer.h"
#include "report/article/forms.h"
#include "report/compose/content.h"
#include "report/layout/fields.h"
#include "report/layout/pick.h"
#include "report/workbook/template_fields.h"
#include "report/write/items_in_order.h"
#include <charconv>
#include <cmath>
#include <ctime>
#include <filesystem>
#include <map>
#include <unistd.h>
#include <xlsxwriter.h>

namespace alder {
namespace {

constexpr double kRowHeight = 15 * 25.4 / 72; // mm, the default of a sheet
constexpr double kPictureDots = 200 / 25.4;   // a millimetre

double widthOf(Column column) {
  switch (column) {
  case Column::Requirement:
    return 34;
  case Column::Feature:
    return 28;
  case Column::Number:
    return 7;
  case Column::Verdict:
    return 14;
  case Column::Share:
    return 13;
  default:
    return 11;
  }
}

lxw_color_t colourOf(Verdict v) {
  return v == Verdict::Within                            ? 0x0B7A75
         : v == Verdict::Near || v == Verdict::NotProved ? 0x8F5F00
         : v == Verdict::Outside                         ? 0xB5391A
                                                         : 0x5A646D;
}

class Workbook {
 public:
  Workbook(const std::string& path, const ReportModel& model, const Plan& plan,
           const TextSetter& setter, std::vector<std::string>& told)
      : model_(model)
      , plan_(plan)
      , setter_(setter)
      , views_(plan)
      , told_(told)
      , book_(workbook_new(path.c_str())) {}

  Done write(const Layout& layout) {
    if (!book_) return fail("The workbook cannot be begun; is the disk full?");
    describe();
    for (const LayoutPage& page : layout.pages)
      sheet(page);
    const lxw_error error = workbook_close(book_);
    if (error != LXW_NO_ERROR)
      return fail("The workbook cannot be written: {}.", lxw_strerror(error));
    return {};
  }

 private:
  void describe() {
    lxw_doc_properties properties{};
    std::string title = "Inspection report " + filled("{part.number} {serial}", model_);
    std::string author = model_.operated_by;
    properties.title = title.data();
    properties.author = author.data();
    std::tm day{}; // so that the same report gives the same bytes
    std::sscanf(model_.date.c_str(), "%d-%d-%d", &day.tm_year, &day.tm_mon, &day.tm_mday);
    day.tm_year -= 1900, day.tm_mon -= 1, day.tm_hour = 12;
    properties.created = timegm(&day);
    workbook_set_properties(book_, &properties);
  }

  struct Look {
    bool strong = false, wraps = false, head = false;
    double size = 11;
    std::string number;
    std::optional<lxw_color_t> colour;
    auto key() const { return std::tuple(strong, wraps, head, size, number, colour); }
  };
  lxw_format* format(const Look& look) {
    lxw_format*& f = formats_[look.key()];
    if (f) return f;
    f = workbook_add_format(book_);
    if (look.strong) format_set_bold(f);
    if (look.wraps) format_set_text_wrap(f);
    if (look.head) format_set_bottom(f, LXW_BORDER_THIN);
    if (look.size != 11) format_set_font_size(f, look.size);
    if (!look.number.empty()) format_set_num_format(f, look.number.c_str());
    if (look.colour) format_set_font_color(f, *look.colour);
    format_set_align(f, LXW_ALIGN_VERTICAL_TOP);
    return f;
  }

  // What a sheet may be called, once each.
  std::string sheetName(const std::string& wanted) {
    std::string name;
    for (const char c : wanted.substr(0, 28))
      name += std::string_view("[]:*?/\\'").find(c) == std::string::npos ? c : ' ';
    while (!name.empty() && (static_cast<unsigned char>(name.back()) & 0x80) && wanted.size() > 28)
      name.pop_back(); // not within a letter
    if (name.find_first_not_of(' ') == std::string::npos) name = "Report";
    const int count = ++names_[name];
    return count == 1 ? name : name + " " + std::to_string(count);
  }

  void sheet(const LayoutPage& page) {
    sheet_ = workbook_add_worksheet(book_, sheetName(page.name).c_str());
    row_ = 0, has_table_ = false;
    const bool table =
        std::any_of(page.items.begin(), page.items.end(), [](const LayoutItem& item) {
          return std::holds_alternative<TableItem>(item.body);
        });
    if (!table)
      for (const auto& [column, wide] : {std::pair(0, 14.0), {1, 36.0}, {2, 80.0}})
        worksheet_set_column(sheet_, static_cast<lxw_col_t>(column), static_cast<lxw_col_t>(column),
                             wide, nullptr);
    const auto items = itemsInOrder(page, model_);
    for (const OrderedItem& ordered : items) {
      context_row_ = ordered.row, item_ = ordered.item;
      std::visit([this](const auto& item) { add(item); }, ordered.item->body);
    }
    worksheet_set_paper(sheet_, page.format == PageFormat::A3   ? 8
                                : page.format == PageFormat::A4 ? 9
                                                                : 1);
    if (page.landscape) worksheet_set_landscape(sheet_);
    worksheet_fit_to_pages(sheet_, 1, 0);
  }

  void text(int column, const std::string& words, const Look& look) {
    worksheet_write_string(sheet_, row_, static_cast<lxw_col_t>(column), cellText(words).c_str(),
                           format(look));
  }

  void number(int column, const ReportFigure& figure, Look look) {
    if (figure.empty()) return;
    look.number = figure.decimals > 0
                      ? "0." + std::string(static_cast<std::size_t>(figure.decimals), '0')
                      : "0";
    // As it is shown, so that what is computed from it is what was printed.
    const double power = std::pow(10, figure.decimals);
    worksheet_write_number(sheet_, row_, static_cast<lxw_col_t>(column),
                           std::round(figure.value * power) / power, format(look));
  }

  void add(const TextItem& item) {
    const std::string words = filled(item.text, model_);
    if (words.empty()) return;
    Look look;
    look.strong = item.look == TextLook::Title || item.look == TextLook::Heading;
    look.size = item.look == TextLook::Title ? 18 : item.look == TextLook::Heading ? 13 : 11;
    text(0, words, look);
    row_ += 1;
  }

  void add(const FieldsItem& item) {
    for (const std::string& f : item.fields_shown) {
      const std::string value = valueOf(f, model_);
      if (value.empty() && !item.empty_too) continue;
      text(0, std::string(captionOf(f)), {.colour = 0x5A646D});
      text(1, value, {});
      ++row_;
    }
    ++row_;
  }

  void add(const CountsItem& item) {
    std::array<int, kVerdictCount> count{};
    for (const ReportRow* row : picked(model_, item.filter))
      ++count[static_cast<std::size_t>(row->verdict)];
    for (int i = 0; i < kVerdictCount; ++i) {
      const auto verdict = static_cast<Verdict>(i);
      text(0, std::string(words(verdict)), {.colour = colourOf(verdict)});
      worksheet_write_number(sheet_, row_, 1, count[static_cast<std::size_t>(i)], format({}));
      ++row_;
    }
    ++row_;
  }

  void add(const TableItem& item) {
    const auto lines = linesOf(item, model_);
    if (lines.empty()) return;
    const lxw_row_t head = row_;
    int column = 0;
    for (const Column c : item.columns) {
      if (!has_table_)
        worksheet_set_column(sheet_, static_cast<lxw_col_t>(column), static_cast<lxw_col_t>(column),
                             widthOf(c), nullptr);
      text(column++, std::string(words(c)), {.strong = true, .wraps = true, .head = true});
    }
    ++row_;
    for (const TableLine& line : lines) {
      if (line.row)
        tableRow(item, *line.row, line.member);
      else
        text(0, line.heading, {.strong = true});
      ++row_;
    }
    colourByLimits(item, head + 1, row_ - 1);
    if (!has_table_) {
      worksheet_autofilter(sheet_, head, 0, row_ - 1,
                           static_cast<lxw_col_t>(item.columns.size() - 1));
      has_table_ = true;
    }
    ++row_;
  }

  void tableRow(const TableItem& item, const ReportRow& row, bool member) {
    int column = 0;
    for (const Column c : item.columns) {
      const int at = column++;
      if (const ReportFigure* figure = figureIn(row, c)) {
        number(at, *figure, {});
        continue;
      }
      if (c == Column::Share && row.share && !row.actual.empty()) {
        worksheet_write_number(sheet_, row_, static_cast<lxw_col_t>(at), *row.share,
                               format({.number = "0%"}));
        continue;
      }
      if (c == Column::Uncertainty && row.uncertainty) {
        worksheet_write_number(sheet_, row_, static_cast<lxw_col_t>(at), *row.uncertainty,
                               format({.number = "0.0000"}));
        continue;
      }
      if (c == Column::Number && !member) {
        worksheet_write_number(sheet_, row_, static_cast<lxw_col_t>(at), row.balloon, format({}));
        continue;
      }
      const bool wraps = c == Column::Requirement || c == Column::Feature;
      if (const std::string words = textOf(row, c, member); !words.empty())
        text(at, words, {.wraps = wraps});
    }
  }

  // By the cells themselves, so that a figure that is changed is judged anew.
  void colourByLimits(const TableItem& item, lxw_row_t first, lxw_row_t last) {
    std::map<Column, int> at;
    for (std::size_t i = 0; i < item.columns.size(); ++i)
      at.try_emplace(item.columns[i], static_cast<int>(i));
    const auto cell = [&](Column c) {
      char name[16];
      lxw_rowcol_to_cell(name, first, static_cast<lxw_col_t>(at[c]));
      return "$" + std::string(name); // the column holds, the row goes on
    };
    const auto where = [&](Column c, std::string formula, lxw_color_t colour) {
      lxw_format* f = workbook_add_format(book_);
      format_set_font_color(f, colour);
      format_set_bold(f);
      lxw_conditional_format rule{};
      rule.type = LXW_CONDITIONAL_TYPE_FORMULA;
      rule.value_string = formula.data();
      rule.format = f;
      const auto column = static_cast<lxw_col_t>(at[c]);
      worksheet_conditional_format_range(sheet_, first, column, last, column, &rule);
    };
    if (at.contains(Column::Actual)) {
      const std::string actual = cell(Column::Actual);
      if (at.contains(Column::Upper)) {
        const std::string upper = cell(Column::Upper);
        where(Column::Actual,
              fmt::format("=AND(ISNUMBER({0}),ISNUMBER({1}),{0}>{1})", actual, upper),
              colourOf(Verdict::Outside));
      }
      if (at.contains(Column::Lower)) {
        const std::string lower = cell(Column::Lower);
        where(Column::Actual,
              fmt::format("=AND(ISNUMBER({0}),ISNUMBER({1}),{0}<{1})", actual, lower),
              colourOf(Verdict::Outside));
      }
    }
    if (at.contains(Column::Verdict))
      for (int i = 0; i < kVerdictCount; ++i) {
        const auto verdict = static_cast<Verdict>(i);
        where(Column::Verdict, fmt::format("={}=\"{}\"", cell(Column::Verdict), words(verdict)),
              colourOf(verdict));
      }
  }

  void add(const HowItem& item) {
    for (const ReportRow* row : picked(model_, item.filter)) {
      worksheet_write_number(sheet_, row_, 0, row->balloon, format({}));
      text(1, row->text, {.strong = true});
      text(2, row->how, {.wraps = true});
      ++row_;
    }
    ++row_;
  }

  void add(const ListItem& item) {
    const auto lines = linesOfList(item.what, model_);
    if (lines.empty()) return;
    if (item.heading) text(0, std::string(words(item.what)), {.strong = true, .size = 13}), ++row_;
    for (const std::string& line : lines)
      text(0, line, {}), ++row_;
    ++row_;
  }

  void add(const DetailItem& item) {
    ComposeContext context = contextNow();
    const ReportRow* row = rowFor(item.number, context);
    if (!row) return;
    worksheet_write_number(sheet_, row_, 0, row->balloon, format({.strong = true, .size = 13}));
    text(1, row->text, {.strong = true, .size = 13});
    text(2, row->features, {});
    ++row_;
    const std::pair<const char*, const ReportFigure*> figures[]{{"Nominal", &row->nominal},
                                                                {"Lower", &row->lower},
                                                                {"Upper", &row->upper},
                                                                {"Actual", &row->actual},
                                                                {"Deviation", &row->deviation}};
    for (const auto& [caption, figure] : figures) {
      if (figure->empty()) continue;
      text(0, caption, {.colour = 0x5A646D});
      number(1, *figure, {});
      text(2, row->unit, {});
      ++row_;
    }
    text(0, "Verdict", {.colour = 0x5A646D});
    text(1, std::string(words(row->verdict)), {.strong = true, .colour = colourOf(row->verdict)});
    ++row_;
    for (const ReportRow& member : row->members) {
      text(0, member.number, {});
      text(1, member.features, {});
      number(2, member.actual, {.colour = colourOf(member.verdict)});
      text(3, std::string(words(member.verdict)), {.colour = colourOf(member.verdict)});
      ++row_;
    }
    if (item.how) text(1, row->how, {}), ++row_;
    ++row_;
  }

  void add(const CapabilityItem& item) {
    const auto lines = capabilityLines(item, model_, plan_);
    if (lines.empty()) return;
    int column = 0;
    for (const char* title : {"No.", "Requirement", "Parts", "Mean", "Std. dev.", "Lowest",
                              "Highest", "Cp", "Cpk", "Pp", "Ppk", "Outside"})
      text(column++, title, {.strong = true, .head = true});
    ++row_;
    for (const CapabilityLine& line : lines) {
      const auto whole = [&](int at, std::size_t value) {
        worksheet_write_number(sheet_, row_, static_cast<lxw_col_t>(at), static_cast<double>(value),
                               format({}));
      };
      whole(0, static_cast<std::size_t>(line.row->balloon));
      text(1, line.row->text, {});
      whole(2, line.parts);
      int at = 3;
      for (const ReportFigure* figure : {&line.mean, &line.spread, &line.lowest, &line.highest})
        number(at++, *figure, {});
      for (const auto& index : {line.cp, line.cpk, line.pp, line.ppk}) {
        if (index)
          worksheet_write_number(sheet_, row_, static_cast<lxw_col_t>(at), *index,
                                 format({.number = "0.00"}));
        ++at;
      }
      whole(at, line.outside);
      ++row_;
    }
    ++row_;
  }

  void add(const SignatureItem& item) {
    row_ += 2;
    text(0, filled(item.caption, model_), {});
    ++row_;
  }
  void add(const RuleItem&) {}

  // Each field with its number and caption before it, so that every value has a cell of its own.
  void add(const FormItem& item) {
    const FilledForm form = formOf(item.form, plan_, model_);
    const auto fields = [&](const FormFields& all) {
      for (const auto& row : all)
        for (const FormField& f : row) {
          text(0, f.head(), {.colour = 0x5A646D});
          text(2, f.value, {});
          ++row_;
        }
      ++row_;
    };
    fields(form.head);
    for (const FormTable& table : form.tables)
      formTable(table);
    fields(form.foot);
    for (const std::string& note : form.notes)
      text(0, note, {}), ++row_;
  }

  void formTable(const FormTable& table) {
    if (!table.title.empty()) text(0, table.title, {.strong = true}), ++row_;
    int column = 0;
    for (const FormColumn& c : table.columns) {
      if (!has_table_)
        worksheet_set_column(sheet_, static_cast<lxw_col_t>(column), static_cast<lxw_col_t>(column),
                             c.wraps ? 24 : 9, nullptr);
      text(column++, c.head(), {.strong = true, .wraps = true, .head = true});
    }
    has_table_ = true;
    ++row_;
    for (const auto& cells : table.rows) {
      column = 0;
      for (const FormCell& cell : cells) {
        std::optional<lxw_color_t> colour; // of the worst
        for (const FormResult& r : cell.results)
          if (!colour || r.verdict == Verdict::Outside) colour = colourOf(r.verdict);
        if (cell.figure)
          number(column, *cell.figure, {.colour = colour});
        else if (!cell.text.empty())
          text(column, cell.text, {.wraps = true, .colour = colour});
        ++column;
      }
      ++row_;
    }
    ++row_;
  }

  // What is drawn on paper is a picture here.
  template <class Item> void add(const Item&) {
    ComposeContext context = contextNow();
    const Content content = contentOf(*item_, context);
    if (content.empty()) return;
    PaperPage page;
    page.size = {item_->area.w, 0};
    for (const auto* rows : {&content.head, &content.rows})
      for (const ContentRow& row : *rows) {
        for (Mark& m : moved(row.marks, {0, page.size.height}))
          page.marks.push_back(std::move(m));
        page.size.height += row.height;
      }
    const std::string png = pngOf(rasterOf(page, kPictureDots, setter_));
    lxw_image_options options{};
    // Pictures count 96 dots to the inch
    options.x_scale = options.y_scale = 96 / 25.4 / kPictureDots;
    std::string says(titleOf(item_->body));
    options.description = says.data();
    worksheet_insert_image_buffer_opt(
        sheet_, row_, 0, reinterpret_cast<const unsigned char*>(png.data()), png.size(), &options);
    row_ += static_cast<lxw_row_t>(std::ceil(page.size.height / kRowHeight)) + 1;
  }

  ComposeContext contextNow() { return {model_, plan_, setter_, views_, context_row_, told_}; }

  const ReportModel& model_;
  const Plan& plan_;
  const TextSetter& setter_;
  ViewFinder views_;
  std::vector<std::string>& told_;
  lxw_workbook* book_;
  lxw_worksheet* sheet_ = nullptr;
  lxw_row_t row_ = 0;
  bool has_table_ = false;
  const ReportRow* context_row_ = nullptr;
  const LayoutItem* item_ = nullptr;
  std::map<std::string, int> names_;
  std::map<std::tuple<bool, bool, bool, double, std::string, std::optional<lxw_color_t>>,
           lxw_format*>
      formats_;
};

} // namespace

Result<std::string> reportXlsx(const Layout& layout, const ReportModel& model, const Plan& plan,
                               const TextSetter& setter, std::vector<std::string>& told) {
  // The library writes files only.
  std::string path = (std::filesystem::temp_directory_path() / "alderpoint-XXXXXX").string();
  const int file = mkstemp(path.data());
  if (file < 0) return fail("{}: no file can be made there.", path);
  close(file);
  const Done done = Workbook(path, model, plan, setter, told).write(layout);
  Result<std::string> bytes = done ? readFile(path) : Result<std::string>(pass(done.error()));
  std::error_code ignored;
  std::filesystem::remove(path, ignored);
  return bytes;
}

} // namespace alder
