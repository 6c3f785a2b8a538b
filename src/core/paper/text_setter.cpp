#include "paper/text_setter.h"

#include "base/files.h"
#include <array>
#include <cmath>
#include <fontconfig/fontconfig.h>
#include <numbers>
#include <pango/pangocairo.h>
#include <pango/pangofc-fontmap.h>

namespace alder {
namespace {

constexpr double kSymbolPen = 0.13; // of the square's half, as thick as the letters beside it

template <class T> struct Unref {
  void operator()(T* object) const { g_object_unref(object); }
};
template <class T> using Owned = std::unique_ptr<T, Unref<T>>;

constexpr std::array<const char*, 3> kFamilies{"Inter", "Inter", "JetBrains Mono"};

// Those of the system may be of another version, and set other widths.
constexpr const char* kOwnFontsOnly = R"(<?xml version="1.0"?><fontconfig><selectfont><rejectfont>
<glob>/usr/share/fonts/*Inter*</glob><glob>/usr/share/fonts/*JetBrains*</glob>
<glob>/usr/local/share/fonts/*Inter*</glob>
</rejectfont></selectfont></fontconfig>)";

cairo_status_t drawGlyph(cairo_scaled_font_t*, unsigned long glyph, cairo_t* cr,
                         cairo_text_extents_t* extents) {
  extents->x_advance = 1;
  cairo_translate(cr, 0.5, -0.5);
  cairo_scale(cr, 0.5, 0.5);
  cairo_set_line_width(cr, kSymbolPen);
  cairo_set_line_join(cr, CAIRO_LINE_JOIN_ROUND);
  for (const SymbolLine& line : linesOf(static_cast<Symbol>(glyph))) {
    cairo_new_path(cr);
    if (line.circle) {
      cairo_arc(cr, line.points[0].x(), line.points[0].y(),
                (line.points[1] - line.points[0]).norm(), 0, 2 * std::numbers::pi);
      cairo_close_path(cr);
    } else {
      for (const Vec2& p : line.points)
        cairo_line_to(cr, p.x(), p.y());
      if (line.closed) cairo_close_path(cr);
    }
    if (line.filled)
      cairo_fill(cr);
    else
      cairo_stroke(cr);
  }
  return CAIRO_STATUS_SUCCESS;
}

} // namespace

struct TextSetter::Impl {
  Owned<PangoFontMap> map;
  // Making one takes longer than setting a line of text.
  Owned<PangoContext> measuring, drawing;
  cairo_font_face_t* symbols = nullptr;

  ~Impl() {
    if (symbols) cairo_font_face_destroy(symbols);
  }

  Owned<PangoContext> context() const {
    Owned<PangoContext> context(pango_font_map_create_context(map.get()));
    cairo_font_options_t* options = cairo_font_options_create();
    cairo_font_options_set_hint_style(options, CAIRO_HINT_STYLE_NONE);
    cairo_font_options_set_hint_metrics(options, CAIRO_HINT_METRICS_OFF);
    cairo_font_options_set_antialias(options, CAIRO_ANTIALIAS_GRAY);
    pango_cairo_context_set_font_options(context.get(), options);
    cairo_font_options_destroy(options);
    pango_cairo_context_set_resolution(context.get(), 72);
    pango_context_set_round_glyph_positions(context.get(), FALSE);
    return context;
  }

  static Owned<PangoLayout> layout(PangoContext* context, const std::string& text,
                                   const TextStyle& style, double width) {
    Owned<PangoLayout> layout(pango_layout_new(context));
    PangoFontDescription* font = pango_font_description_new();
    pango_font_description_set_family_static(font, kFamilies[static_cast<std::size_t>(style.face)]);
    pango_font_description_set_absolute_size(font, style.size * kPointsPerMm * PANGO_SCALE);
    if (style.face == Typeface::Strong)
      pango_font_description_set_weight(font, PANGO_WEIGHT_SEMIBOLD);
    pango_layout_set_font_description(layout.get(), font);
    pango_font_description_free(font);
    pango_layout_set_text(layout.get(), text.c_str(), static_cast<int>(text.size()));
    if (width > 0) {
      // what fits by measure fits when it is drawn
      pango_layout_set_width(
          layout.get(), static_cast<int>(std::ceil((width + 0.01) * kPointsPerMm * PANGO_SCALE)));
      pango_layout_set_wrap(layout.get(), PANGO_WRAP_WORD_CHAR);
    }
    // What is copied from the page has no hyphens that nobody wrote.
    PangoAttrList* attributes = pango_attr_list_new();
    pango_attr_list_insert(attributes, pango_attr_insert_hyphens_new(FALSE));
    pango_layout_set_attributes(layout.get(), attributes);
    pango_attr_list_unref(attributes);
    // A column keeps its side, whichever way its words are written.
    pango_layout_set_auto_dir(layout.get(), TRUE);
    const bool leftward = pango_layout_get_direction(layout.get(), 0) == PANGO_DIRECTION_RTL;
    PangoAlignment align = style.align == Align::Middle  ? PANGO_ALIGN_CENTER
                           : style.align == Align::Right ? PANGO_ALIGN_RIGHT
                                                         : PANGO_ALIGN_LEFT;
    if (leftward && align != PANGO_ALIGN_CENTER)
      align = align == PANGO_ALIGN_LEFT ? PANGO_ALIGN_RIGHT : PANGO_ALIGN_LEFT;
    pango_layout_set_alignment(layout.get(), align);
    return layout;
  }
};

TextSetter::TextSetter()
    : impl_(std::make_unique<Impl>()) {}
TextSetter::~TextSetter() = default;

Result<std::unique_ptr<TextSetter>> TextSetter::create() {
  std::unique_ptr<TextSetter> setter(new TextSetter);
  FcConfig* config = FcInitLoadConfigAndFonts();
  if (!config) return fail("The fonts of the system cannot be read.");
  FcConfigParseAndLoadFromMemory(config, reinterpret_cast<const FcChar8*>(kOwnFontsOnly), FcTrue);
  FcConfigBuildFonts(config);
  const auto folder = dataFolder() / "assets" / "fonts";
  const bool there =
      std::filesystem::exists(folder / "Inter-Regular.otf") &&
      FcConfigAppFontAddDir(config, reinterpret_cast<const FcChar8*>(folder.c_str()));
  setter->impl_->map.reset(pango_cairo_font_map_new_for_font_type(CAIRO_FONT_TYPE_FT));
  pango_fc_font_map_set_config(PANGO_FC_FONT_MAP(setter->impl_->map.get()), config);
  FcConfigDestroy(config); // the map keeps its own
  if (!there)
    return fail("{}: the fonts cannot be read; install Alderpoint again.", folder.string());
  setter->impl_->measuring = setter->impl_->context();
  setter->impl_->drawing = setter->impl_->context();
  setter->impl_->symbols = cairo_user_font_face_create();
  cairo_user_font_face_set_render_glyph_func(setter->impl_->symbols, drawGlyph);
  return setter;
}

TextExtent TextSetter::measure(const std::string& text, const TextStyle& style,
                               double width) const {
  if (text.empty()) return {};
  const auto layout = Impl::layout(impl_->measuring.get(), text, style, width);
  PangoRectangle logical;
  pango_layout_get_extents(layout.get(), nullptr, &logical);
  const auto mm = [](int units) { return static_cast<double>(units) / PANGO_SCALE / kPointsPerMm; };
  return {mm(logical.width), mm(logical.height), mm(pango_layout_get_baseline(layout.get())),
          pango_layout_get_line_count(layout.get()),
          pango_layout_get_unknown_glyphs_count(layout.get())};
}

std::vector<std::string> TextSetter::lines(const std::string& text, const TextStyle& style,
                                           double width) const {
  std::vector<std::string> all;
  const auto layout = Impl::layout(impl_->measuring.get(), text, style, width);
  for (GSList* at = pango_layout_get_lines_readonly(layout.get()); at; at = at->next) {
    const auto* line = static_cast<const PangoLayoutLine*>(at->data);
    std::string piece = text.substr(static_cast<std::size_t>(line->start_index),
                                    static_cast<std::size_t>(line->length));
    while (!piece.empty() && piece.back() == ' ')
      piece.pop_back();
    all.push_back(std::move(piece));
  }
  return all;
}

double TextSetter::width(const std::string& text, const TextStyle& style) const {
  return measure(text, style).width;
}

void TextSetter::draw(cairo_t* cr, const TextMark& mark) const {
  if (mark.text.empty()) return;
  pango_cairo_update_context(cr, impl_->drawing.get());
  const auto layout = Impl::layout(impl_->drawing.get(), mark.text, mark.style, mark.area.w);
  const Ink& c = mark.style.ink;
  cairo_set_source_rgba(cr, c.r, c.g, c.b, c.a);
  cairo_move_to(cr, mark.area.x * kPointsPerMm, mark.area.y * kPointsPerMm);
  pango_cairo_show_layout(cr, layout.get());
}

void TextSetter::draw(cairo_t* cr, const SymbolMark& mark) const {
  cairo_set_font_face(cr, impl_->symbols);
  const double size = mark.size * kPointsPerMm;
  cairo_set_font_size(cr, size);
  cairo_set_source_rgba(cr, mark.ink.r, mark.ink.g, mark.ink.b, mark.ink.a);
  const cairo_glyph_t glyph{static_cast<unsigned long>(mark.symbol),
                            mark.centre.x() * kPointsPerMm - size / 2,
                            mark.centre.y() * kPointsPerMm + size / 2};
  const std::string word(spoken(mark.symbol));
  const cairo_text_cluster_t cluster{static_cast<int>(word.size()), 1};
  cairo_show_text_glyphs(cr, word.c_str(), static_cast<int>(word.size()), &glyph, 1, &cluster, 1,
                         static_cast<cairo_text_cluster_flags_t>(0));
}

} // namespace alder
