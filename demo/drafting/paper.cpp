#include "drafting/paper.h"

#include "base/files.h"
#include <cairo-ft.h>
#include <cairo-pdf.h>
#include <numbers>

namespace alder::demo {

struct Paper::Impl {
  FT_Library library = nullptr;
  FT_Face face = nullptr;
  cairo_font_face_t* font = nullptr;
  cairo_surface_t* surface = nullptr;
  cairo_t* cairo = nullptr;
  double height = 0;

  ~Impl() {
    if (cairo) cairo_destroy(cairo);
    if (surface) cairo_surface_destroy(surface);
    if (font) cairo_font_face_destroy(font);
    cairo_debug_reset_static_data(); // its cache outlives the face otherwise
    if (face) FT_Done_Face(face);
    if (library) FT_Done_FreeType(library);
  }
  void use(Pen pen) {
    cairo_set_line_width(cairo, pen == Pen::Thick ? 0.5 : 0.25);
    const double hidden[] = {2, 1}, centre[] = {6, 1, 0.5, 1};
    if (pen == Pen::Hidden)
      cairo_set_dash(cairo, hidden, 2, 0);
    else if (pen == Pen::Centre)
      cairo_set_dash(cairo, centre, 4, 0);
    else
      cairo_set_dash(cairo, nullptr, 0, 0);
  }
};

Paper::~Paper() = default;

Result<std::unique_ptr<Paper>> Paper::open(std::string& out, double width, double height) {
  constexpr double kPoints = 72 / 25.4;
  std::unique_ptr<Paper> paper(new Paper);
  paper->impl_ = std::make_unique<Impl>();
  Impl& i = *paper->impl_;
  const auto path = dataFolder() / "assets" / "fonts" / "Inter-Regular.otf";
  if (FT_Init_FreeType(&i.library) != 0 || FT_New_Face(i.library, path.c_str(), 0, &i.face) != 0)
    return fail("{}: the font cannot be read.", path.string());
  i.font = cairo_ft_font_face_create_for_ft_face(i.face, 0);
  const auto append = [](void* target, const unsigned char* data, unsigned length) {
    static_cast<std::string*>(target)->append(reinterpret_cast<const char*>(data), length);
    return CAIRO_STATUS_SUCCESS;
  };
  i.height = height;
  i.surface =
      cairo_pdf_surface_create_for_stream(append, &out, width * kPoints, height * kPoints);
  // so that the same drawing is the same file
  cairo_pdf_surface_set_metadata(i.surface, CAIRO_PDF_METADATA_CREATE_DATE, "2026-09-14T08:00:00Z");
  i.cairo = cairo_create(i.surface);
  cairo_set_source_rgb(i.cairo, 0, 0, 0);
  cairo_scale(i.cairo, kPoints, kPoints);
  cairo_translate(i.cairo, 0, height);
  return paper;
}

void Paper::nextSheet() {
  cairo_show_page(impl_->cairo);
}

void Paper::line(const Vec2& a, const Vec2& b, Pen pen) {
  lines({a, b}, false, pen);
}

void Paper::lines(const std::vector<Vec2>& points, bool closed, Pen pen) {
  impl_->use(pen);
  cairo_new_path(impl_->cairo); // where a text ended is a point of it otherwise
  for (const Vec2& p : points)
    cairo_line_to(impl_->cairo, p.x(), -p.y());
  if (closed) cairo_close_path(impl_->cairo);
  cairo_stroke(impl_->cairo);
}

void Paper::arc(const Vec2& c, double radius, double from, double to, Pen pen) {
  impl_->use(pen);
  cairo_new_sub_path(impl_->cairo);
  cairo_arc_negative(impl_->cairo, c.x(), -c.y(), radius, -from, -to);
  cairo_stroke(impl_->cairo);
}

void Paper::circle(const Vec2& centre, double radius, Pen pen) {
  impl_->use(pen);
  cairo_new_sub_path(impl_->cairo);
  cairo_arc(impl_->cairo, centre.x(), -centre.y(), radius, 0, 2 * std::numbers::pi);
  cairo_close_path(impl_->cairo);
  cairo_stroke(impl_->cairo);
}

void Paper::fill(const std::vector<Vec2>& points) {
  cairo_new_path(impl_->cairo);
  for (const Vec2& p : points)
    cairo_line_to(impl_->cairo, p.x(), -p.y());
  cairo_fill(impl_->cairo);
}

void Paper::text(const Vec2& at, const std::string& text, double size, double angle) {
  cairo_save(impl_->cairo);
  cairo_set_font_face(impl_->cairo, impl_->font);
  cairo_set_font_size(impl_->cairo, size);
  cairo_translate(impl_->cairo, at.x(), -at.y());
  cairo_rotate(impl_->cairo, -angle);
  cairo_move_to(impl_->cairo, 0, 0);
  cairo_show_text(impl_->cairo, text.c_str());
  cairo_restore(impl_->cairo);
}

double Paper::width(const std::string& text, double size) {
  cairo_set_font_face(impl_->cairo, impl_->font);
  cairo_set_font_size(impl_->cairo, size);
  cairo_text_extents_t extents;
  cairo_text_extents(impl_->cairo, text.c_str(), &extents);
  return extents.x_advance;
}

void Paper::finish() {
  cairo_surface_finish(impl_->surface);
}

} // namespace alder::demo
