// A picture of a file, to be shown.
#pragma once

#include <QPixmap>
#include <string>

namespace alder::app {

// At most that large, in its own proportions; nothing where the bytes are no picture.
inline QPixmap pixmapOf(const std::string& bytes, const QSize& most) {
  QPixmap pixmap;
  pixmap.loadFromData(reinterpret_cast<const uchar*>(bytes.data()),
                      static_cast<uint>(bytes.size()));
  if (pixmap.width() <= most.width() && pixmap.height() <= most.height()) return pixmap;
  return pixmap.scaled(most, Qt::KeepAspectRatio, Qt::SmoothTransformation);
}

} // namespace alder::app
