#include "paper/page_writer.h"

#include "paper/pdf_finish.h"

#include <algorithm>
#include <cairo-pdf.h>
#include <cmath>
#include <numbers>

namespace alder {
namespace {

struct Context {
  cairo_surface_t* surface;
  cairo_t* cairo;
  explicit Context(cairo_surface_t* s)
      : surface(s)
      , cairo(cairo_create(s)) {}
  ~Context() {
    cairo_destroy(cairo);
    cairo_surface_destroy(surface);
  }
  Context(const Context&) = delete;
  Context& operator=(const Context&) = delete;
};

const char* nameOf(Role role) {
  switch (role) {
  case Role::Heading:
    return "H1";
  case Role::Subheading:
    return "H2";
  case Role::Paragraph:
    return "P";
  case Role::Table:
    return "Table";
  case Role::Row:
    return "TR";
  case Role::HeadCell:
    return "TH";
  case Role::Cell:
    return "TD";
  case Role::Figure:
    return "Figure";
  }
  return "P";
}

class Drawer {
 public:
  Drawer(cairo_t* cairo, const TextSetter& setter, bool tags)
      : cr_(cairo)
      , setter_(setter)
      , tags_(tags) {}

  void draw(const PaperPage& page) {
    for (const Mark& mark : page.marks)
      std::visit([this](const auto& m) { one(m); }, mark);
    while (!open_.empty())
      one(CloseTag{});
  }

 private:
  void source(const Ink& c) { cairo_set_source_rgba(cr_, c.r, c.g, c.b, c.a); }

  // The path that stands: filled, drawn.
  void paint(double width, const Ink& ink, const std::optional<Ink>& fill, bool dashed) {
    if (fill) {
      source(*fill);
      cairo_fill_preserve(cr_);
    }
    if (width > 0) {
      source(ink);
      cairo_set_line_width(cr_, width * kPointsPerMm);
      const double dash = 1.2 * kPointsPerMm;
      cairo_set_dash(cr_, &dash, dashed ? 1 : 0, 0);
      cairo_stroke_preserve(cr_);
    }
    cairo_new_path(cr_);
  }

  void one(const TextMark& m) { setter_.draw(cr_, m); }
  void one(const SymbolMark& m) { setter_.draw(cr_, m); }

  void one(const LineMark& m) {
    cairo_new_path(cr_);
    cairo_set_line_join(cr_, CAIRO_LINE_JOIN_ROUND);
    for (const Vec2& p : m.points)
      cairo_line_to(cr_, p.x() * kPointsPerMm, p.y() * kPointsPerMm);
    if (m.closed) cairo_close_path(cr_);
    paint(m.width, m.ink, m.fill, m.dashed);
  }

  void one(const RoundMark& m) {
    cairo_new_path(cr_);
    cairo_arc(cr_, m.centre.x() * kPointsPerMm, m.centre.y() * kPointsPerMm,
              m.radius * kPointsPerMm, 0, 2 * std::numbers::pi);
    cairo_close_path(cr_);
    paint(m.width, m.ink, m.fill, m.dashed);
  }

  void one(const PictureMark& m) {
    if (!m.raster || m.raster->width <= 0 || m.raster->height <= 0) return;
    const Raster& r = *m.raster;
    const bool opaque = std::all_of(r.pixels.begin(), r.pixels.end(),
                                    [](std::uint32_t p) { return p >> 24 == 255; });
    cairo_surface_t* image = cairo_image_surface_create(
        opaque ? CAIRO_FORMAT_RGB24 : CAIRO_FORMAT_ARGB32, r.width, r.height);
    auto* data = cairo_image_surface_get_data(image);
    const int stride = cairo_image_surface_get_stride(image);
    for (int row = 0; row < r.height; ++row)
      std::copy_n(
          r.pixels.data() + static_cast<std::ptrdiff_t>(row) * r.width, r.width,
          reinterpret_cast<std::uint32_t*>(data + static_cast<std::ptrdiff_t>(row) * stride));
    cairo_surface_mark_dirty(image);
    cairo_save(cr_);
    cairo_translate(cr_, m.area.x * kPointsPerMm, m.area.y * kPointsPerMm);
    cairo_scale(cr_, m.area.w * kPointsPerMm / r.width, m.area.h * kPointsPerMm / r.height);
    cairo_set_source_surface(cr_, image, 0, 0);
    cairo_pattern_set_filter(cairo_get_source(cr_), CAIRO_FILTER_GOOD);
    // Not cairo_paint: as the first thing on a page it makes Cairo 1.16 lose the tag it stands in.
    cairo_rectangle(cr_, 0, 0, r.width, r.height);
    cairo_fill(cr_);
    cairo_restore(cr_);
    cairo_surface_destroy(image);
  }

  void one(const OpenTag& m) {
    if (!tags_) return;
    open_.push_back(nameOf(m.role));
    cairo_tag_begin(cr_, open_.back(), nullptr);
  }
  void one(const CloseTag&) {
    if (!tags_ || open_.empty()) return;
    cairo_tag_end(cr_, open_.back());
    open_.pop_back();
  }

  cairo_t* cr_;
  const TextSetter& setter_;
  bool tags_;
  std::vector<const char*> open_;
};

void describe(cairo_surface_t* surface, const PdfHead& head) {
  const std::pair<cairo_pdf_metadata_t, const std::string*> texts[]{
      {CAIRO_PDF_METADATA_TITLE, &head.title},
      {CAIRO_PDF_METADATA_AUTHOR, &head.author},
      {CAIRO_PDF_METADATA_SUBJECT, &head.subject},
      {CAIRO_PDF_METADATA_KEYWORDS, &head.keywords},
      {CAIRO_PDF_METADATA_CREATE_DATE, &head.created}};
  cairo_pdf_surface_set_metadata(surface, CAIRO_PDF_METADATA_CREATOR, "Alderpoint");
  for (const auto& [what, text] : texts)
    if (!text->empty()) cairo_pdf_surface_set_metadata(surface, what, text->c_str());
}

void outline(cairo_surface_t* surface, const std::vector<PaperPage>& pages) {
  for (std::size_t i = 0; i < pages.size(); ++i) {
    if (pages[i].outline.empty()) continue;
    const std::string link = "page=" + std::to_string(i + 1) + " pos=[0 0]";
    cairo_pdf_surface_add_outline(surface, CAIRO_PDF_OUTLINE_ROOT, pages[i].outline.c_str(),
                                  link.c_str(), CAIRO_PDF_OUTLINE_FLAG_OPEN);
  }
}

} // namespace

Result<std::string> pdfOf(const std::vector<PaperPage>& pages, const PdfHead& head,
                          const TextSetter& setter) {
  std::string out;
  const auto append = [](void* target, const unsigned char* data, unsigned length) {
    static_cast<std::string*>(target)->append(reinterpret_cast<const char*>(data), length);
    return CAIRO_STATUS_SUCCESS;
  };
  const PaperSize first = pages.empty() ? PaperSize{} : pages.front().size;
  cairo_status_t status = CAIRO_STATUS_SUCCESS;
  {
    Context c(cairo_pdf_surface_create_for_stream(append, &out, first.width * kPointsPerMm,
                                                  first.height * kPointsPerMm));
    describe(c.surface, head);
    for (const PaperPage& page : pages) {
      cairo_pdf_surface_set_size(c.surface, page.size.width * kPointsPerMm,
                                 page.size.height * kPointsPerMm);
      Drawer(c.cairo, setter, true).draw(page);
      cairo_show_page(c.cairo);
    }
    outline(c.surface, pages);
    cairo_surface_finish(c.surface);
    status = cairo_status(c.cairo);
    if (status == CAIRO_STATUS_SUCCESS) status = cairo_surface_status(c.surface);
  }
  if (status != CAIRO_STATUS_SUCCESS)
    return fail("The pages cannot be written as PDF: {}.", cairo_status_to_string(status));
  std::vector<std::string> figures;
  for (const PaperPage& page : pages)
    for (const Mark& mark : page.marks)
      if (const auto* tag = std::get_if<OpenTag>(&mark); tag && tag->role == Role::Figure)
        figures.push_back(tag->says);
  return finishedPdf(out, figures);
}

Raster rasterOf(const PaperPage& page, double dots, const TextSetter& setter, const Ink& paper) {
  Raster raster;
  raster.width = std::max(1, static_cast<int>(std::lround(page.size.width * dots)));
  raster.height = std::max(1, static_cast<int>(std::lround(page.size.height * dots)));
  raster.pixels.assign(
      static_cast<std::size_t>(raster.width) * static_cast<std::size_t>(raster.height), 0);
  Context c(cairo_image_surface_create_for_data(
      reinterpret_cast<unsigned char*>(raster.pixels.data()), CAIRO_FORMAT_ARGB32, raster.width,
      raster.height, raster.width * 4));
  cairo_set_source_rgba(c.cairo, paper.r, paper.g, paper.b, paper.a);
  cairo_paint(c.cairo);
  cairo_scale(c.cairo, dots / kPointsPerMm, dots / kPointsPerMm);
  Drawer(c.cairo, setter, false).draw(page);
  cairo_surface_flush(c.surface);
  return raster;
}

std::string pngOf(const Raster& raster) {
  std::vector<std::uint32_t> pixels = raster.pixels;
  Context c(cairo_image_surface_create_for_data(reinterpret_cast<unsigned char*>(pixels.data()),
                                                CAIRO_FORMAT_ARGB32, raster.width, raster.height,
                                                raster.width * 4));
  std::string out;
  cairo_surface_write_to_png_stream(
      c.surface,
      [](void* target, const unsigned char* data, unsigned length) {
        static_cast<std::string*>(target)->append(reinterpret_cast<const char*>(data), length);
        return CAIRO_STATUS_SUCCESS;
      },
      &out);
  return out;
}

} // namespace alder
