#include "paper/picture_file.h"

#include <algorithm>
#include <cairo.h>
#include <memory>
#include <turbojpeg.h>

namespace alder {
namespace {

constexpr const char* kDamaged = "is no PNG or JPEG picture, or damaged; choose another file.";
constexpr double kMostPixels = 1e8; // 400 MB in memory

Result<Raster> fromPng(const std::string& bytes) {
  struct Rest {
    const std::string& bytes;
    std::size_t at = 0;
  } rest{bytes};
  const auto read = [](void* from, unsigned char* data, unsigned length) {
    auto& r = *static_cast<Rest*>(from);
    if (r.at + length > r.bytes.size()) return CAIRO_STATUS_READ_ERROR;
    std::copy_n(r.bytes.data() + r.at, length, data);
    r.at += length;
    return CAIRO_STATUS_SUCCESS;
  };
  const std::unique_ptr<cairo_surface_t, decltype(&cairo_surface_destroy)> surface(
      cairo_image_surface_create_from_png_stream(read, &rest), cairo_surface_destroy);
  if (cairo_surface_status(surface.get()) != CAIRO_STATUS_SUCCESS) return fail("{}", kDamaged);
  Raster raster;
  raster.width = cairo_image_surface_get_width(surface.get());
  raster.height = cairo_image_surface_get_height(surface.get());
  raster.pixels.assign(
      static_cast<std::size_t>(raster.width) * static_cast<std::size_t>(raster.height), 0);
  const std::unique_ptr<cairo_surface_t, decltype(&cairo_surface_destroy)> target(
      cairo_image_surface_create_for_data(reinterpret_cast<unsigned char*>(raster.pixels.data()),
                                          CAIRO_FORMAT_ARGB32, raster.width, raster.height,
                                          raster.width * 4),
      cairo_surface_destroy);
  const std::unique_ptr<cairo_t, decltype(&cairo_destroy)> to(cairo_create(target.get()),
                                                              cairo_destroy);
  cairo_set_source_surface(to.get(), surface.get(), 0, 0);
  cairo_paint(to.get());
  cairo_surface_flush(target.get());
  return raster;
}

// Bytes of an Exif block; what lies outside it is 0.
class Exif {
 public:
  Exif(const unsigned char* data, std::size_t size)
      : data_(data)
      , size_(size)
      , little_(size > 1 && data[0] == 'I') {}
  unsigned number(std::size_t at, std::size_t bytes) const {
    unsigned value = 0;
    if (at + bytes > size_) return 0;
    for (std::size_t k = 0; k < bytes; ++k)
      value = value << 8U | data_[little_ ? at + bytes - 1 - k : at + k];
    return value;
  }
  // 1 to 8 (Exif 2.3, 4.6.4 A); 1: as it lies.
  unsigned orientation() const {
    const std::size_t first = number(4, 4), count = number(first, 2);
    for (std::size_t i = 0; i < count && first + 2 + 12 * i < size_; ++i)
      if (const std::size_t entry = first + 2 + 12 * i; number(entry, 2) == 274)
        return std::clamp(number(entry + 8, 2), 1U, 8U);
    return 1;
  }

 private:
  const unsigned char* data_;
  std::size_t size_;
  bool little_;
};

// Of the first application segment "Exif" (ITU-T T.81, annex B, gives the segments).
unsigned orientationOf(const std::string& jpeg) {
  const auto* data = reinterpret_cast<const unsigned char*>(jpeg.data());
  std::size_t at = 2;
  while (at + 10 < jpeg.size() && data[at] == 0xff && data[at + 1] != 0xda) {
    const std::size_t length = static_cast<std::size_t>(data[at + 2]) << 8U | data[at + 3];
    if (length < 2 || at + 2 + length > jpeg.size()) return 1;
    if (data[at + 1] == 0xe1 && length > 8 && jpeg.compare(at + 4, 4, "Exif") == 0)
      return Exif(data + at + 10, length - 8).orientation();
    at += 2 + length;
  }
  return 1;
}

// The place in the file of what is seen at x, y.
Raster turned(const Raster& r, unsigned orientation) {
  if (orientation == 1) return r;
  const bool aside = orientation > 4;
  Raster out{aside ? r.height : r.width, aside ? r.width : r.height, {}};
  out.pixels.reserve(r.pixels.size());
  for (int y = 0; y < out.height; ++y)
    for (int x = 0; x < out.width; ++x) {
      int u = aside ? y : x, v = aside ? x : y;
      if (orientation == 2 || orientation == 3 || orientation == 7 || orientation == 8)
        u = r.width - 1 - u;
      if (orientation == 3 || orientation == 4 || orientation == 6 || orientation == 7)
        v = r.height - 1 - v;
      out.pixels.push_back(
          r.pixels[static_cast<std::size_t>(v) * static_cast<std::size_t>(r.width) +
                   static_cast<std::size_t>(u)]);
    }
  return out;
}

Result<Raster> fromJpeg(const std::string& bytes) {
  const std::unique_ptr<void, int (*)(void*)> jpeg(tjInitDecompress(), tjDestroy);
  const auto* data = reinterpret_cast<const unsigned char*>(bytes.data());
  int width = 0, height = 0, sampling = 0, colors = 0;
  if (!jpeg ||
      tjDecompressHeader3(jpeg.get(), data, bytes.size(), &width, &height, &sampling, &colors) != 0)
    return fail("{}", kDamaged);
  if (colors == TJCS_CMYK || colors == TJCS_YCCK)
    return fail("is a JPEG picture in the four colours of printing; save it in RGB.");
  if (static_cast<double>(width) * height > kMostPixels)
    return fail("has {} x {} pixels; at most {:.0f} million can be shown. Make it smaller.", width,
                height, kMostPixels / 1e6);
  Raster raster{width, height, {}};
  raster.pixels.assign(static_cast<std::size_t>(width) * static_cast<std::size_t>(height), 0);
  // Bytes in the order of a raster's word on this machine: blue first.
  if (tjDecompress2(jpeg.get(), data, bytes.size(),
                    reinterpret_cast<unsigned char*>(raster.pixels.data()), width, 4 * width,
                    height, TJPF_BGRA, 0) != 0 &&
      tjGetErrorCode(jpeg.get()) == TJERR_FATAL)
    return fail("{}", kDamaged);
  return turned(raster, orientationOf(bytes));
}

} // namespace

Result<Raster> rasterFromPicture(const std::string& bytes) {
  return bytes.starts_with("\xff\xd8\xff") ? fromJpeg(bytes) : fromPng(bytes);
}

} // namespace alder
