#include "report/page.h"

#include "base/files.h"
#include <array>
#include <cairo-ft.h>
#include <cairo-pdf.h>
#include <cmath>
#include <numbers>

namespace alder {
namespace {
constexpr double kPointsPerMm = 72 / 25.4;
constexpr std::array<const char*, 3> kFontFiles{"Inter-Regular.otf", "Inter-SemiBold.otf",
                                                "JetBrainsMono-Regular.ttf"};
} // namespace

struct Page::Impl {
  FT_Library library = nullptr;
  std::array<FT_Face, 3> faces{};
  std::array<cairo_font_face_t*, 3> fonts{};
  cairo_surface_t* surface = nullptr;
  cairo_t* cairo = nullptr;

  ~Impl() {
    if (cairo) cairo_destroy(cairo);
    if (surface) cairo_surface_destroy(surface);
    for (auto* f : fonts)
      if (f) cairo_font_face_destroy(f);
    // cairo keeps scaled fonts in a cache that outlives the faces unless it is told to let go
    cairo_debug_reset_static_data();
    for (auto f : faces)
      if (f) FT_Done_Face(f);
    if (library) FT_Done_FreeType(library);
  }
  void use(Font font, double size) {
    cairo_set_font_face(cairo, fonts[static_cast<std::size_t>(font)]);
    cairo_set_font_size(cairo, size);
  }
  void color(const Ink& c) { cairo_set_source_rgb(cairo, c.r, c.g, c.b); }
};

Page::~Page() = default;

Result<std::unique_ptr<Page>> Page::open(std::string& out) {
  std::unique_ptr<Page> page(new Page);
  page->impl_ = std::make_unique<Impl>();
  Impl& i = *page->impl_;
  if (FT_Init_FreeType(&i.library) != 0) return fail("The font library cannot be started.");
  for (std::size_t k = 0; k < kFontFiles.size(); ++k) {
    const auto path = dataFolder() / "assets" / "fonts" / kFontFiles[k];
    if (FT_New_Face(i.library, path.c_str(), 0, &i.faces[k]) != 0)
      return fail("{}: the font cannot be read; install Alderpoint again.", path.string());
    i.fonts[k] = cairo_ft_font_face_create_for_ft_face(i.faces[k], 0);
  }
  const auto append = [](void* target, const unsigned char* data, unsigned length) {
    static_cast<std::string*>(target)->append(reinterpret_cast<const char*>(data), length);
    return CAIRO_STATUS_SUCCESS;
  };
  i.surface = cairo_pdf_surface_create_for_stream(append, &out, kWidth * kPointsPerMm,
                                                  kHeight * kPointsPerMm);
  cairo_pdf_surface_set_metadata(i.surface, CAIRO_PDF_METADATA_CREATOR, "Alderpoint");
  i.cairo = cairo_create(i.surface);
  cairo_scale(i.cairo, kPointsPerMm, kPointsPerMm);
  return page;
}

void Page::nextPage() {
  cairo_show_page(impl_->cairo);
}

void Page::text(double x, double y, const std::string& text, Font font, double size, Ink color) {
  impl_->use(font, size);
  impl_->color(color);
  cairo_move_to(impl_->cairo, x, y);
  cairo_show_text(impl_->cairo, text.c_str());
}

void Page::textRight(double x, double y, const std::string& t, Font font, double size, Ink color) {
  text(x - width(t, font, size), y, t, font, size, color);
}

double Page::width(const std::string& text, Font font, double size) {
  impl_->use(font, size);
  cairo_text_extents_t extents;
  cairo_text_extents(impl_->cairo, text.c_str(), &extents);
  return extents.x_advance;
}

std::string Page::fitted(const std::string& text, Font font, double size, double most) {
  if (width(text, font, size) <= most) return text;
  std::string cut = text;
  while (!cut.empty() && width(cut + "…", font, size) > most) {
    do
      cut.pop_back();
    while (!cut.empty() && (static_cast<unsigned char>(cut.back()) & 0xC0) == 0x80);
    // a lead byte without its followers goes too
    if (!cut.empty() && static_cast<unsigned char>(cut.back()) >= 0xC0) cut.pop_back();
  }
  return cut + "…";
}

void Page::line(double x0, double y0, double x1, double y1, double thickness, Ink color) {
  impl_->color(color);
  cairo_set_line_width(impl_->cairo, thickness);
  cairo_move_to(impl_->cairo, x0, y0);
  cairo_line_to(impl_->cairo, x1, y1);
  cairo_stroke(impl_->cairo);
}

void Page::box(double x, double y, double w, double h, Ink fill) {
  impl_->color(fill);
  cairo_rectangle(impl_->cairo, x, y, w, h);
  cairo_fill(impl_->cairo);
}

void Page::disc(double x, double y, double radius, Ink fill, bool filled) {
  impl_->color(fill);
  cairo_new_sub_path(impl_->cairo);
  cairo_arc(impl_->cairo, x, y, radius, 0, 2 * std::numbers::pi);
  cairo_set_line_width(impl_->cairo, 0.25);
  if (filled)
    cairo_fill(impl_->cairo);
  else
    cairo_stroke(impl_->cairo);
}

void Page::diamond(double x, double y, double r, Ink ink, bool filled) {
  impl_->color(ink);
  cairo_move_to(impl_->cairo, x, y - r);
  cairo_line_to(impl_->cairo, x + r, y);
  cairo_line_to(impl_->cairo, x, y + r);
  cairo_line_to(impl_->cairo, x - r, y);
  cairo_close_path(impl_->cairo);
  if (filled) return cairo_fill(impl_->cairo);
  cairo_set_line_width(impl_->cairo, 0.3);
  cairo_stroke(impl_->cairo);
}

void Page::halfDisc(double x, double y, double r, Ink fill) {
  disc(x, y, r, fill, false);
  impl_->color(fill);
  cairo_new_sub_path(impl_->cairo);
  cairo_arc(impl_->cairo, x, y, r, std::numbers::pi, 2 * std::numbers::pi);
  cairo_close_path(impl_->cairo);
  cairo_fill(impl_->cairo);
}

void Page::image(double x, double y, double w, int width, int height, const unsigned* pixels) {
  cairo_surface_t* image = cairo_image_surface_create(CAIRO_FORMAT_ARGB32, width, height);
  auto* data = reinterpret_cast<unsigned*>(cairo_image_surface_get_data(image));
  const int stride = cairo_image_surface_get_stride(image) / 4;
  for (int row = 0; row < height; ++row)
    std::copy(pixels + static_cast<std::ptrdiff_t>(row) * width,
              pixels + static_cast<std::ptrdiff_t>(row + 1) * width,
              data + static_cast<std::ptrdiff_t>(row) * stride);
  cairo_surface_mark_dirty(image);
  cairo_save(impl_->cairo);
  cairo_translate(impl_->cairo, x, y);
  cairo_scale(impl_->cairo, w / width, w / width);
  cairo_set_source_surface(impl_->cairo, image, 0, 0);
  cairo_paint(impl_->cairo);
  cairo_restore(impl_->cairo);
  cairo_surface_destroy(image);
}

void Page::finish() {
  cairo_show_page(impl_->cairo);
  cairo_surface_finish(impl_->surface);
}

} // namespace alder
