#include "base/files.h"
#include "base/random.h"
#include "made_parts.h"
#include "part/cad_process.h"
#include "part/part_image.h"
#include "part/recognise.h"
#include "part/step_import.h"
#include "support.h"
#include <QElapsedTimer>

using namespace alder;

// CAD files are read in a process of their own: the same part comes back, and nothing that is in a
// file reaches this process but one line.
class CadProcessTest : public QObject {
  Q_OBJECT

  static std::string damaged(std::string bytes, std::uint64_t seed) {
    Random random(seed);
    const auto at = [&] {
      return static_cast<std::size_t>(random.uniform() * static_cast<double>(bytes.size()));
    };
    switch (seed % 4) {
    case 0: // bytes changed
    case 1:
      for (int k = 0; k < 40; ++k)
        bytes[at()] = static_cast<char>(32 + random.uniform() * 95);
      break;
    case 2: // a stretch is missing
      bytes.erase(at(), 1 + static_cast<std::size_t>(random.uniform() * 400));
      break;
    default: // figures and references changed
      for (int k = 0; k < 40; ++k) {
        const auto digit = bytes.find_first_of("0123456789", at());
        if (digit != std::string::npos)
          bytes[digit] = static_cast<char>('0' + random.uniform() * 10);
      }
    }
    return bytes;
  }

 private slots:
  void theSamePartComesBack() {
    for (const auto& step : {test::bracketStep("INCH", 1), test::shaftStep("MM", 0)}) {
      VERIFY_OK(step);
      const auto here = importStep(*step, "made.step");
      VERIFY_OK(here);
      const auto apart = importCadApart(*step, "made.step");
      VERIFY_OK(apart);
      QVERIFY((*apart)->bytes == *step);
      QCOMPARE((*apart)->faces.size(), (*here)->faces.size());
      QCOMPARE((*apart)->face_shapes.size(), (*here)->face_shapes.size());
      QVERIFY((*apart)->mesh.vertices == (*here)->mesh.vertices);
      QVERIFY((*apart)->mesh.triangles == (*here)->mesh.triangles);
      QCOMPARE((*apart)->pmi.tolerances.size(), (*here)->pmi.tolerances.size());
      for (std::size_t i = 0; i < (*here)->pmi.tolerances.size(); ++i) {
        const PmiTolerance &a = (*apart)->pmi.tolerances[i], &b = (*here)->pmi.tolerances[i];
        QVERIFY(a.type == b.type && a.magnitude == b.magnitude && a.faces == b.faces &&
                a.datums.size() == b.datums.size() && a.material == b.material);
      }
      for (std::size_t i = 0; i < (*here)->faces.size(); ++i) {
        const Ideal own = (*here)->faces[i].ideal, back = (*apart)->faces[i].ideal;
        QVERIFY(own.type == back.type && own.point == back.point && own.diameter == back.diameter);
        // The shape of a face is that of its figures.
        QVERIFY(idealOf((*apart)->face_shapes[i]).type == own.type);
      }
      // What was handed over once is handed over again as it is.
      const auto again = partFromImage(partImage(**apart));
      VERIFY_OK(again);
      QCOMPARE((*again)->mesh.tags, (*here)->mesh.tags);
    }
    QVERIFY(!partFromImage("nothing"));
    const auto cut = test::plateStep(1);
    VERIFY_OK(cut);
    std::string image = partImage(**importCadApart(*cut, "plate.step"));
    image.resize(image.size() / 2);
    QVERIFY(!partFromImage(image));
  }
  // 50 here; scripts/damaged asks for 2,000.
  void damagedFiles() {
    const int count = qEnvironmentVariableIsSet("ALDERPOINT_DAMAGED")
                          ? qEnvironmentVariableIntValue("ALDERPOINT_DAMAGED")
                          : 50;
    std::vector<std::string> good{*readFile(test::dataPath("heron.step"))};
    for (const auto& step :
         {test::bracketStep("MM", 0), test::shaftStep("INCH", 2), test::plateStep(1)})
      good.push_back(*step);
    int refused = 0;
    double longest = 0;
    for (int k = 0; k < count; ++k) {
      const auto seed = static_cast<std::uint64_t>(k) + 1;
      const std::string bytes = damaged(good[(k / 4) % good.size()], seed);
      QElapsedTimer timer;
      timer.start();
      const auto part = importCadApart(bytes, "damaged.step");
      longest = std::max(longest, static_cast<double>(timer.elapsed()) / 1000);
      QVERIFY2(timer.elapsed() < 60000, qPrintable(QString("seed %1").arg(seed)));
      if (part) continue;
      ++refused;
      const std::string& line = part.error().message;
      QVERIFY2(!line.empty() && line.find('\n') == std::string::npos, line.c_str());
      QVERIFY2(line.find("damaged.step") != std::string::npos, line.c_str());
    }
    qInfo("%d damaged files, %d refused, the longest took %.1f s", count, refused, longest);
  }
  void limits() {
    const auto step = readFile(test::dataPath("heron.step"));
    VERIFY_OK(step);
    const auto slow = importCadApart(*step, "heron.step", {}, {}, {0.02, 0});
    QVERIFY(!slow && slow.error().message.find("takes longer than") != std::string::npos);
#if !defined(ALDER_SANITIZED)
    // How much it needs depends on the machine. However little there is, the part that is read is
    // whole (the CAD library leaves faces out when it is refused memory), or memory is named.
    const auto whole = importCadApart(*step, "heron.step");
    VERIFY_OK(whole);
    std::size_t too_little = 20, enough = 1000;
    while (enough - too_little > 1) { // near the edge faces were left out
      const std::size_t megabytes = (too_little + enough) / 2;
      const auto part = importCadApart(*step, "heron.step", {}, {}, {0, megabytes});
      (part ? enough : too_little) = megabytes;
      if (part) {
        QVERIFY2(partImage(**part) == partImage(**whole), qPrintable(QString::number(megabytes)));
        continue;
      }
      const std::string& line = part.error().message;
      QVERIFY2(line.starts_with("heron.step") && line.find(" MB") != std::string::npos,
               line.c_str());
    }
    QVERIFY(too_little > 20 && enough < 1000);
#endif
    QVERIFY(!importCadApart("", "empty.step"));
    const auto text = importCadApart("not a STEP file", "text.step");
    QVERIFY(!text && text.error().message.find("text.step") != std::string::npos);
  }
  void cancelledAndProgress() {
    const auto step = readFile(test::dataPath("heron.step"));
    VERIFY_OK(step);
    std::stop_source stop;
    Progress progress;
    progress.stop = stop.get_token();
    std::vector<double> steps;
    progress.report = [&](double fraction, std::string_view) { steps.push_back(fraction); };
    VERIFY_OK(importCadApart(*step, "heron.step", progress));
    QVERIFY(steps.size() >= 3 && std::is_sorted(steps.begin(), steps.end()));
    progress.report = [&](double, std::string_view) { stop.request_stop(); };
    const auto cancelled = importCadApart(*step, "heron.step", progress);
    QVERIFY(!cancelled && cancelled.error().message == cancelledError().value().message);
  }
};
ALDER_TEST(CadProcessTest)
#include "cad_process_test.moc"
