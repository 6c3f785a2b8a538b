#include "registry.h"
#include "stage/occt_view.h"
#include <QApplication>
#include <QSettings>
#include <QTemporaryDir>

int main(int argc, char** argv) {
  alder::app::OcctView::prepare();
  QApplication app(argc, argv);
  // Not the settings of whoever runs the tests.
  QTemporaryDir settings;
  QSettings::setDefaultFormat(QSettings::IniFormat);
  QSettings::setPath(QSettings::IniFormat, QSettings::UserScope, settings.path());
  QApplication::setOrganizationName("alderpoint-tests");
  QApplication::setApplicationName("alderpoint-tests");
  return alder::test::runRegistered(argc, argv);
}
