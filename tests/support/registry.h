// Tests of a program announce themselves; the program runs the one it is asked for by name.
#pragma once

#include <QObject>
#include <memory>

namespace alder::test {

using MakeTest = std::unique_ptr<QObject> (*)();

struct Registered {
  Registered(const char* name, MakeTest make);
};

// argv[1] names the test class, the rest goes to Qt Test. Without arguments all run.
int runRegistered(int argc, char** argv);

} // namespace alder::test

// CMake reads the names from these lines: one a file, at the start of a line.
#define ALDER_TEST(Class)                                                                          \
  static const alder::test::Registered registered_##Class(                                         \
      #Class, []() -> std::unique_ptr<QObject> { return std::make_unique<Class>(); });
