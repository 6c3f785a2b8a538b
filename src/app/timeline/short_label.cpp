#include "timeline/short_label.h"

namespace alder::app {

QString shortLabel(const QString& name, const QFontMetricsF& metrics, double width) {
  const auto fits = [&](const QString& text) {
    return !text.isEmpty() && metrics.horizontalAdvance(text) <= width;
  };
  const QString separator = " · ";
  const auto first = name.indexOf(' '), last = name.lastIndexOf(separator),
             word = name.lastIndexOf(' ');
  if (fits(name)) return name;
  if (first < 0) return metrics.elidedText(name, Qt::ElideRight, width);
  // Parted at a separator the rest would begin with it.
  if (QString rest = name.mid(first + 1); fits(rest) && !rest.startsWith("· ")) return rest;
  const QString part = last >= 0 ? name.mid(last + separator.size()) : QString();
  const QString end = fits(part) ? part : name.mid(word + 1);
  for (auto letters = first - 1; letters >= 2; --letters)
    if (const QString both = name.left(letters) + "… " + end; fits(both)) return both;
  return fits(end) ? end : QString();
}

} // namespace alder::app
