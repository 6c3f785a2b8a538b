// Pictures from files: PNG and JPEG.
#pragma once

#include "base/error.h"
#include "paper/page.h"

namespace alder {

// As it is meant to be seen: a photograph is turned as its camera was held (Exif 2.3, tag 274).
// The error says "is no PNG or JPEG picture …", without the name of the file.
Result<Raster> rasterFromPicture(const std::string& bytes);

} // namespace alder
