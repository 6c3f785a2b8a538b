#include "registry.h"

#include <QTest>
#include <cstdio>
#include <map>
#include <string>

namespace alder::test {
namespace {

std::map<std::string, MakeTest>& tests() {
  static std::map<std::string, MakeTest> all;
  return all;
}

} // namespace

Registered::Registered(const char* name, MakeTest make) {
  tests().emplace(name, make);
}

int runRegistered(int argc, char** argv) {
  if (argc < 2) {
    int failed = 0;
    for (const auto& [name, make] : tests())
      failed += QTest::qExec(make().get(), argc, argv) != 0;
    return failed;
  }
  const auto found = tests().find(argv[1]);
  if (found == tests().end()) {
    std::fprintf(stderr, "There is no test %s here.\n", argv[1]);
    return 2;
  }
  argv[1] = argv[0];
  return QTest::qExec(found->second().get(), argc - 1, argv + 1);
}

} // namespace alder::test
