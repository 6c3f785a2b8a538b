#include "registry.h"
#include "stage/occt_view.h"
#include <QApplication>

int main(int argc, char** argv) {
  alder::app::OcctView::prepare();
  QApplication app(argc, argv);
  return alder::test::runRegistered(argc, argv);
}
