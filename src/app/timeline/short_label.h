// What of a name tells it from its neighbours, as much as fits.
#pragma once

#include <QFontMetricsF>
#include <QString>

namespace alder::app {

// "Bore ø11 · 3" is shortened to "ø11 · 3", "Bo… 3", "3", not to "Bor…", which all bores are.
QString shortLabel(const QString& name, const QFontMetricsF& metrics, double width);

} // namespace alder::app
