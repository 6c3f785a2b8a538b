#include "document/file_kinds.h"

#include "part/cad_kind.h"
#include <QFileInfo>

namespace alder::app {

bool isPartFile(const QString& path) {
  return isPartEnding("." + QFileInfo(path).suffix().toLower().toStdString());
}

} // namespace alder::app
