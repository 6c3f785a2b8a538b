// alderpoint [FILE] [--bench BENCH.json] [--dark] [--desk NAME]
#include "shell/main_window.h"

#include <QApplication>
#include <QCommandLineParser>
#include <QTimer>

namespace {

// The picture is drawn through GLX, which Wayland has not: there the X server beside it is asked
// for.
void choosePlatform() {
  const bool wayland = qEnvironmentVariableIsSet("WAYLAND_DISPLAY") ||
                       qEnvironmentVariable("XDG_SESSION_TYPE") == "wayland";
  if (wayland && qEnvironmentVariableIsSet("DISPLAY") &&
      !qEnvironmentVariableIsSet("QT_QPA_PLATFORM"))
    qputenv("QT_QPA_PLATFORM", "xcb");
}

} // namespace

int main(int argc, char** argv) {
  choosePlatform();
  alder::app::OcctView::prepare();
  QApplication app(argc, argv);
  QApplication::setApplicationName("Alderpoint");
  QApplication::setOrganizationName("Alderpoint");
  QCommandLineParser parser;
  parser.addHelpOption();
  parser.addPositionalArgument("file", "part (STEP, IGES, BREP) or routine (*.alder)");
  const QCommandLineOption bench("bench", "bench to draft for", "file");
  const QCommandLineOption dark("dark", "dark colours");
  const QCommandLineOption desk(
      "desk", "desk to begin with: Part, Bench, Routine, Rehearsal, Verdict", "name");
  parser.addOptions({bench, dark, desk});
  parser.process(app);
  auto theme = alder::app::Theme::load(parser.isSet(dark));
  if (!theme) {
    std::fprintf(stderr, "%s\n", theme.error().message.c_str());
    return 2;
  }
  QApplication::setFont(theme->text());
  alder::app::MainWindow window(*theme);
  for (std::size_t i = 0; i < alder::app::kDeskNames.size(); ++i)
    if (parser.value(desk) == alder::app::kDeskNames[i])
      window.setDesk(static_cast<alder::app::Desk>(i));
  window.show();
  const auto files = parser.positionalArguments();
  if (!files.isEmpty())
    QTimer::singleShot(0, &window,
                       [&] { window.document().open(files.first(), parser.value(bench)); });
  return QApplication::exec();
}
