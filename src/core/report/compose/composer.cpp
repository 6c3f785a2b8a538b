#include "report/compose/composer.h"

#include "report/compose/content.h"
#include "report/layout/fields.h"
#include "report/layout/pick.h"
#include <algorithm>
#include <cmath>

namespace alder {
namespace {

constexpr double kBandGap = 2; // mm between a head or foot and what flows
constexpr double kSame = 0.01;

struct Position {
  std::size_t page = 0;
  double y = 0;
  bool operator<(const Position& o) const { return std::pair(page, y) < std::pair(o.page, o.y); }
};

// Whether it keeps the height it was laid out with.
bool keepsHeight(const ItemBody& body) {
  return std::holds_alternative<TextItem>(body) || std::holds_alternative<PictureItem>(body) ||
         std::holds_alternative<SignatureItem>(body) || std::holds_alternative<RuleItem>(body);
}

// One page of the layout, which becomes as many as its contents need.
class PageFlow {
 public:
  PageFlow(const LayoutPage& page, std::size_t layout_page, ComposeContext& context,
           Composed& composed)
      : page_(page)
      , layout_page_(layout_page)
      , c_(context)
      , composed_(composed)
      , first_(composed.pages.size()) {}

  // Nothing is added where its data are all empty.
  void run(const std::string& outline) {
    bool data = false, any = false;
    for (const LayoutItem& item : page_.items) {
      contents_.push_back(contentOf(item, c_));
      if (item.every_page) continue;
      data |= contents_.back().data;
      any |= contents_.back().data && !contents_.back().empty();
    }
    if (data && !any && !page_.empty_too) return;
    findBands();
    pageAt(0).outline = outline;
    for (const std::size_t i : order())
      place(i);
    for (std::size_t p = 0; p < pages_; ++p)
      for (std::size_t i = 0; i < page_.items.size(); ++i)
        if (page_.items[i].every_page) band(i, p);
  }

 private:
  PaperPage& pageAt(std::size_t page) {
    while (pages_ <= page) {
      composed_.pages.push_back({page_.size(), {}, {}});
      ++pages_;
    }
    return composed_.pages[first_ + page];
  }

  static double heightOf(const Content& content) {
    double h = 0;
    for (const ContentRow& row : content.rows)
      h += row.height;
    return h;
  }

  // What flows stands between the heads and the feet that are on every page.
  void findBands() {
    const double height = page_.size().height;
    top_ = page_.margin, bottom_ = height - page_.margin;
    for (std::size_t i = 0; i < page_.items.size(); ++i) {
      if (!page_.items[i].every_page) continue;
      const Area& a = page_.items[i].area;
      if (a.middle().y() < height / 2)
        top_ = std::max(top_, a.y + std::max(a.h, heightOf(contents_[i])) + kBandGap);
      else
        bottom_ = std::min(bottom_, footTop(i) - kBandGap);
    }
    if (bottom_ < top_ + 20) top_ = page_.margin, bottom_ = height - page_.margin;
  }

  // A foot grows upward.
  double footTop(std::size_t i) const {
    const Area& a = page_.items[i].area;
    return std::min(a.y, a.bottom() - heightOf(contents_[i]));
  }

  std::vector<std::size_t> order() {
    std::vector<std::size_t> all;
    for (std::size_t i = 0; i < page_.items.size(); ++i)
      if (!page_.items[i].every_page) all.push_back(i);
    std::stable_sort(all.begin(), all.end(), [&](std::size_t a, std::size_t b) {
      const Area &x = page_.items[a].area, &y = page_.items[b].area;
      return std::pair(x.y, x.x) < std::pair(y.y, y.x);
    });
    ends_.assign(page_.items.size(), {});
    return all;
  }

  bool above(std::size_t a, std::size_t b) const {
    const LayoutItem &x = page_.items[a], &y = page_.items[b];
    return a != b && !x.every_page && !y.every_page && x.area.bottom() <= y.area.y + kSame &&
           (x.area.y < y.area.y || a < b);
  }

  // Below each item that lies directly above, by the distance that they have in the layout.
  Position startOf(std::size_t i) const {
    const double own = page_.items[i].area.y;
    std::optional<Position> start;
    for (std::size_t k = 0; k < page_.items.size(); ++k) {
      if (!above(k, i)) continue;
      bool directly = true;
      for (std::size_t m = 0; m < page_.items.size() && directly; ++m)
        directly = !(above(k, m) && above(m, i));
      if (!directly) continue;
      const Position below{ends_[k].page, ends_[k].y + own - page_.items[k].area.bottom()};
      if (!start || *start < below) start = below;
    }
    return start.value_or(Position{0, own});
  }

  void place(std::size_t i) {
    const LayoutItem& item = page_.items[i];
    Content& content = contents_[i];
    Position at = startOf(i);
    if (content.empty()) {
      ends_[i] = at;
      return;
    }
    double head = 0;
    for (const ContentRow& row : content.head)
      head += row.height;
    Piece piece{i, at, {}};
    const auto begin = [&](Position from) {
      piece = {i, from, {}};
      for (const ContentRow& row : content.head)
        put(piece, row, item.area.x);
    };
    // Not with its head alone at the foot of a page.
    if (at.y > top_ && at.y + head + needed(content, 0) > bottom_) at = {at.page + 1, top_};
    begin(at);
    for (std::size_t k = 0; k < content.rows.size(); ++k) {
      const bool at_begin = piece.end.y <= std::max(piece.start.y, top_) + head + kSame;
      if (piece.end.y + needed(content, k) > bottom_ + kSame && !at_begin) {
        finish(piece, content);
        begin({piece.end.page + 1, top_});
      }
      put(piece, content.rows[k], item.area.x);
    }
    finish(piece, content);
    ends_[i] = piece.end;
    if (keepsHeight(item.body) && piece.end.page == at.page)
      ends_[i].y = std::max(piece.end.y, at.y + item.area.h);
  }

  struct Piece {
    std::size_t item;
    Position start;
    std::vector<Mark> marks;
    Position end = start;
  };

  // Of a row with those that it must not be parted from.
  double needed(const Content& content, std::size_t from) const {
    double h = 0;
    for (std::size_t k = from; k < content.rows.size(); ++k) {
      h += content.rows[k].height;
      if (!content.rows[k].with_next || h > (bottom_ - top_) / 2) break;
    }
    return h;
  }

  static void put(Piece& piece, const ContentRow& row, double x) {
    for (Mark& m : moved(row.marks, {x, piece.end.y}))
      piece.marks.push_back(std::move(m));
    piece.end.y += row.height;
  }

  void finish(Piece& piece, const Content& content) {
    PaperPage& page = pageAt(piece.end.page);
    if (content.table) page.marks.push_back(OpenTag{Role::Table});
    for (Mark& m : piece.marks)
      page.marks.push_back(std::move(m));
    if (content.table) page.marks.push_back(CloseTag{});
    const Area& a = page_.items[piece.item].area;
    composed_.placed.push_back({layout_page_,
                                piece.item,
                                first_ + piece.end.page,
                                {a.x, piece.start.y, a.w, piece.end.y - piece.start.y}});
  }

  void band(std::size_t i, std::size_t page) {
    const Area& a = page_.items[i].area;
    double y = a.middle().y() < page_.size().height / 2 ? a.y : footTop(i);
    const double from = y;
    for (const ContentRow& row : contents_[i].rows) {
      for (Mark& m : moved(row.marks, {a.x, y}))
        pageAt(page).marks.push_back(std::move(m));
      y += row.height;
    }
    composed_.placed.push_back(
        {layout_page_, i, first_ + page, {a.x, from, a.w, std::max(a.h, y - from)}});
  }

  const LayoutPage& page_;
  std::size_t layout_page_;
  ComposeContext& c_;
  Composed& composed_;
  std::size_t first_, pages_ = 0;
  double top_ = 0, bottom_ = 0;
  std::vector<Content> contents_;
  std::vector<Position> ends_;
};

void replace(std::string& text, std::string_view sign, const std::string& by) {
  for (std::size_t at = text.find(sign); at != std::string::npos;
       at = text.find(sign, at + by.size()))
    text.replace(at, sign.size(), by);
}

// Numbers of pages, once they are counted; and signs that no font has.
void finishTexts(Composed& composed, const TextSetter& setter) {
  int unknown = 0;
  const std::string count = std::to_string(composed.pages.size());
  for (std::size_t p = 0; p < composed.pages.size(); ++p)
    for (Mark& mark : composed.pages[p].marks) {
      auto* text = std::get_if<TextMark>(&mark);
      if (!text) continue;
      const auto foreign = [](char c) { return static_cast<unsigned char>(c) >= 0x80; };
      if (std::none_of(text->text.begin(), text->text.end(), foreign)) continue;
      replace(text->text, kPageSign, std::to_string(p + 1));
      replace(text->text, kPagesSign, count);
      unknown += setter.measure(text->text, text->style, text->area.w).unknown;
    }
  if (unknown > 0)
    composed.told.push_back(fmt::format(
        "{} signs have no font on this computer and are drawn as boxes; install the fonts of their "
        "script, such as fonts-noto or fonts-droid-fallback.",
        unknown));
}

} // namespace

Composed compose(const Layout& layout, const ReportModel& model, const Plan& plan,
                 const TextSetter& setter) {
  Composed composed;
  ViewFinder views(plan);
  ComposeContext context{model, plan, setter, views, nullptr, composed.told};
  for (std::size_t p = 0; p < layout.pages.size(); ++p) {
    const LayoutPage& page = layout.pages[p];
    if (page.repeats == Repeats::Once) {
      context.row = nullptr;
      PageFlow(page, p, context, composed).run(page.name);
      continue;
    }
    for (const ReportRow* row : picked(model, page.filter)) {
      context.row = row;
      PageFlow(page, p, context, composed).run(row->number + "  " + row->text);
    }
  }
  if (composed.pages.empty()) {
    PaperPage page;
    if (!layout.pages.empty()) page.size = layout.pages.front().size();
    const std::string words = "No requirement fits this layout.";
    page.marks = {OpenTag{Role::Paragraph},
                  TextMark{{14, 20, page.size.width - 28, 6}, words, styleOf(TextLook::Body)},
                  CloseTag{}};
    composed.told.push_back(words);
    composed.pages.push_back(std::move(page));
  }
  finishTexts(composed, setter);
  std::sort(composed.told.begin(), composed.told.end());
  composed.told.erase(std::unique(composed.told.begin(), composed.told.end()), composed.told.end());
  return composed;
}

Result<std::string> reportPdf(const Composed& composed, const ReportModel& model,
                              const TextSetter& setter) {
  PdfHead head;
  head.title = filled("{part.number} {part.name}", model);
  if (head.title.find_first_not_of(' ') == std::string::npos) head.title = model.title;
  head.title = "Inspection report " + head.title;
  if (!model.part_serial.empty()) head.title += " " + model.part_serial;
  head.author = model.operated_by;
  head.subject = filled("{outcome}", model);
  head.keywords = model.standard;
  head.created = model.date + "T00:00:00";
  return pdfOf(composed.pages, head, setter);
}

} // namespace alder
