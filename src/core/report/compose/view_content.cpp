#include "report/compose/content.h"

#include "base/units.h"
#include "judge/verdict.h"
#include "paper/callout_layout.h"
#include "report/compose/deviation_picture.h"
#include "report/layout/pick.h"
#include <algorithm>
#include <cmath>
#include <numeric>

namespace alder {
namespace {

using namespace inks;

constexpr double kDots = 300 / 25.4; // a millimetre of paper
constexpr double kBalloon = 2.5, kGap = 1.2;
constexpr double kScaleHigh = 6.5; // of the scale below a picture of deviations
const TextStyle kFigures{Typeface::Figures, 2.4, kInk, Align::Left};
const TextStyle kSmall{Typeface::Text, 2.3, kSecond, Align::Left};

std::string labelText(const ViewItem& item, const ReportRow& row) {
  std::string text;
  const auto add = [&](const std::string& more) {
    if (!more.empty()) text += (text.empty() ? "" : "  ") + more;
  };
  if (item.indicator) add(row.text);
  if (item.actual) add(row.actual.text);
  if (item.deviation) add(row.deviation.text);
  if (item.share && row.share && !row.actual.empty()) add(figure(100 * *row.share, 0) + " %");
  if (item.verdict) add(std::string(words(row.verdict)));
  return text;
}

class ViewDrawing {
 public:
  ViewDrawing(const ViewItem& item, const Area& area, ComposeContext& context)
      : item_(item)
      , c_(context)
      , all_{0, 0, area.w, area.h} {}

  ContentRow draw() {
    const ReportRow* own = item_.of_page ? c_.row : nullptr;
    kept_ = own ? viewWith(c_.plan.views, own->requirement) : keptView();
    std::vector<const ReportRow*> rows = own ? std::vector{own} : picked(c_.model, item_.filter);
    if (kept_ && !own)
      std::erase_if(rows, [&](const ReportRow* r) { return !kept_->find(r->requirement); });
    choosePlace(rows);
    const PartView view = kept_ ? viewOf(*kept_, middle_.w, middle_.h)
                          : own ? c_.views.viewOf(c_.plan.spec.requirement(own->requirement))
                                : wholeView(c_.plan);
    const int w = std::max(8, static_cast<int>(std::lround(middle_.w * kDots))),
              h = std::max(8, static_cast<int>(std::lround(middle_.h * kDots)));
    const PartPicture part(*c_.plan.part, view.toward, view.up, w, h, view.window, view.section);
    row_.height = all_.h;
    row_.marks.push_back(
        OpenTag{Role::Figure, own ? "The part where requirement " + own->number + " is measured"
                                  : "The part with the numbers of its requirements"});
    std::optional<DeviationPicture> off;
    if (item_.deviations)
      off.emplace(rows, item_.deviations_as, DeviationPicture::Place{part, middle_, kDots, view},
                  c_);
    if (off && off->empty()) off.reset();
    Raster picture = part.draw(!item_.without_edges, off ? off->tint() : PartPicture::Tint{});
    for (std::uint32_t& pixel : picture.pixels) // opaque: half as much to be packed
      if (pixel == 0) pixel = 0xffffffffu;
    row_.marks.push_back(PictureMark{middle_, std::make_shared<const Raster>(std::move(picture))});
    if (off) {
      for (Mark& m : off->marks())
        row_.marks.push_back(std::move(m));
      for (Mark& m : off->scale({all_.x, all_.bottom() - kScaleHigh, all_.w, kScaleHigh}))
        row_.marks.push_back(std::move(m));
    }
    callouts(rows, part);
    row_.marks.push_back(CloseTag{});
    return std::move(row_);
  }

 private:
  const KeptView* keptView() {
    if (item_.kept.empty()) return nullptr;
    const KeptView* kept = viewNamed(c_.plan.views, item_.kept);
    if (!kept)
      c_.told.push_back(fmt::format(
          "The routine keeps no view {}; the whole part is shown instead.", item_.kept));
    return kept;
  }

  // Where a person put the label of a kept view, within the picture; nothing: it is laid out.
  std::optional<Vec2> pinnedAt(const ReportRow& row, const PartPicture& part,
                               const Vec2& size) const {
    const KeptCallout* callout = kept_ ? kept_->find(row.requirement) : nullptr;
    if (!callout || !callout->label) return {};
    const Vec3 right = kept_->up.cross(kept_->towards).normalized(),
               up = kept_->towards.cross(right).normalized();
    const Vec2 middle =
        onPaper(part, kept_->centre + callout->label->x() * right + callout->label->y() * up);
    const Vec2 corner = middle - size / 2;
    return Vec2(std::clamp(corner.x(), all_.x, std::max(all_.x, all_.right() - size.x())),
                std::clamp(corner.y(), room_.y, std::max(room_.y, room_.bottom() - size.y())));
  }

  Vec2 onPaper(const PartPicture& part, const Vec3& p) const {
    return Vec2(middle_.x, middle_.y) + part.project(p) / kDots;
  }

  double labelWidth(const ReportRow& row) const {
    const std::string text = labelText(item_, row);
    return 2 * kBalloon + (text.empty() ? 0 : 1.2 + c_.setter.width(text, kFigures));
  }

  // The picture stands in the middle, and leaves as much room for labels as they need.
  void choosePlace(const std::vector<const ReportRow*>& rows) {
    room_ = all_;
    if (item_.deviations) room_.h -= kScaleHigh;
    double wide = 0;
    for (const ReportRow* row : rows)
      wide = std::max(wide, labelWidth(*row));
    wide = std::min(wide, 0.3 * all_.w);
    const double high = 2 * kBalloon + kGap;
    const double columns = 2 * std::floor((room_.h - 2 * kBalloon) / high + 1);
    middle_ = room_;
    if (rows.empty()) return;
    middle_.x += wide + kGap, middle_.w -= 2 * (wide + kGap);
    if (static_cast<double>(rows.size()) > columns) { // rows above and below too
      middle_.y += high, middle_.h -= 2 * high;
    }
  }

  // What labels keep out of: the part as it is seen, with all that is pointed at.
  Area shownPart(const PartPicture& part, const std::vector<CalloutAsked>& asked) const {
    Box2 box;
    const Box2 seen = part.bounds();
    if (!seen.isEmpty())
      for (const Vec2& corner : {seen.min(), seen.max()})
        box.extend(Vec2(middle_.x, middle_.y) + corner / kDots);
    for (const CalloutAsked& a : asked)
      if (middle_.holds(a.anchor)) box.extend(a.anchor);
    if (box.isEmpty()) return middle_;
    const Area about =
        Area{box.min().x(), box.min().y(), box.sizes().x(), box.sizes().y()}.inner(-1);
    const double x = std::max(about.x, middle_.x), y = std::max(about.y, middle_.y);
    return {x, y, std::min(about.right(), middle_.right()) - x,
            std::min(about.bottom(), middle_.bottom()) - y};
  }

  void callouts(const std::vector<const ReportRow*>& rows, const PartPicture& part) {
    struct Pointed {
      const ReportRow* row;
      bool seen;
    };
    std::vector<Pointed> pointed;
    std::vector<CalloutAsked> asked;
    std::vector<std::string> left_out;
    for (const ReportRow* row : rows) {
      const auto anchor =
          anchorOf(c_.plan, c_.plan.spec.requirement(row->requirement), part, row->worst);
      if (!anchor) continue;
      pointed.push_back({row, anchor->seen});
      const double w = std::min(labelWidth(*row), middle_.x - kGap);
      const Vec2 size(std::max(w, 2 * kBalloon), 2 * kBalloon);
      asked.push_back(
          {onPaper(part, anchor->place), size.x(), size.y(), pinnedAt(*row, part, size)});
    }
    CalloutSpace space{room_, shownPart(part, asked), {}, kGap};
    auto placed = placeCallouts(asked, space);
    const auto all_placed = [](const auto& p) { return p.has_value(); };
    const bool some_left = !std::all_of(placed.begin(), placed.end(), all_placed);
    const double strip = c_.setter.measure("7", kSmall).height;
    if (some_left) { // where it is told which
      space.all.h -= strip;
      placed = placeCallouts(asked, space);
    }
    for (std::size_t i = 0; i < placed.size(); ++i) {
      if (placed[i])
        callout(*pointed[i].row, pointed[i].seen, *placed[i]);
      else
        left_out.push_back(pointed[i].row->number);
    }
    if (left_out.empty()) return;
    constexpr std::size_t kNamed = 14;
    std::string words = "No room in this view for";
    for (std::size_t i = 0; i < std::min(left_out.size(), kNamed); ++i)
      words += (i ? ", " : " ") + left_out[i];
    if (left_out.size() > kNamed) words += fmt::format(" and {} more", left_out.size() - kNamed);
    words += ": show them in another one.";
    row_.marks.push_back(
        TextMark{{room_.x, room_.bottom() - strip, room_.w, strip}, words, kSmall});
  }

  void callout(const ReportRow& row, bool seen, const CalloutPlaced& p) {
    const Ink color = inkOf(row.verdict);
    const std::string text = labelText(item_, row);
    row_.marks.push_back(LineMark{{p.from, p.to}, 0.12, kSecond, {}, false, !seen});
    row_.marks.push_back(
        RoundMark{p.to, 0.5, 0.15, color, seen ? color : kWhite}); // hollow: hidden behind
    // The balloon stands at the leader's end of its label.
    const bool at_right = p.from.x() > p.label.middle().x();
    const Vec2 balloon(at_right ? p.label.right() - kBalloon : p.label.x + kBalloon,
                       p.label.middle().y());
    row_.marks.push_back(RoundMark{balloon, kBalloon - 0.1, 0.25, color, kWhite});
    const TextStyle number{Typeface::Figures, row.number.size() > 3 ? 1.9 : 2.5, color,
                           Align::Middle};
    const TextExtent n = c_.setter.measure(row.number, number);
    row_.marks.push_back(
        TextMark{{balloon.x() - kBalloon, balloon.y() - n.height / 2, 2 * kBalloon, n.height},
                 row.number,
                 number});
    if (text.empty()) return;
    TextStyle style = kFigures;
    style.align = at_right ? Align::Right : Align::Left;
    const double room = p.label.w - 2 * kBalloon - 1.2;
    TextExtent e = c_.setter.measure(text, style, room);
    while (e.height > p.label.h && style.size > 1.2) { // in two lines, and smaller
      style.size *= 0.9;
      e = c_.setter.measure(text, style, room);
    }
    row_.marks.push_back(TextMark{{at_right ? p.label.x : balloon.x() + kBalloon + 1.2,
                                   balloon.y() - e.height / 2, room, e.height},
                                  text,
                                  style});
  }

  const ViewItem& item_;
  ComposeContext& c_;
  const KeptView* kept_ = nullptr;
  Area all_, room_, middle_; // of the item; without the scale; of the picture
  ContentRow row_;
};

} // namespace

Content viewContent(const ViewItem& item, const Area& area, ComposeContext& context) {
  Content content;
  content.data = item.of_page;
  if (!context.plan.part || context.plan.part->mesh.triangles.empty() || area.h < 20 || area.w < 30)
    return content;
  if (item.of_page && !context.row) return content;
  content.rows.push_back(ViewDrawing(item, area, context).draw());
  return content;
}

} // namespace alder
