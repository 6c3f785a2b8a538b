// alderpoint-cad LABEL MEGABYTES: reads a CAD file for the other programs; see part/cad_process.h.
#include "part/cad_process.h"

#include <cstdlib>

int main(int argc, char** argv) {
  if (argc != 3) return 2;
  return alder::runCadReader(argv[1], std::strtoull(argv[2], nullptr, 10));
}
