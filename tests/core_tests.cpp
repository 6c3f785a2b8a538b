#include "registry.h"
#include <QCoreApplication>

int main(int argc, char** argv) {
  QCoreApplication app(argc, argv);
  return alder::test::runRegistered(argc, argv);
}
