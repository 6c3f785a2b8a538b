#include "base/files.h"
#include "base/random.h"
#include "exchange/clouds/cloud_file.h"
#include "made_cloud.h"
#include "support.h"
#include <QTemporaryDir>
#include <cstring>

using namespace alder;
using alder::test::kCloudLayouts;
using alder::test::madeCloudFile;
using alder::test::MadeCloudFile;

namespace {

// One line that says where and what: the file is named, nothing runs over.
QString faultOf(const Error& error, const std::string& name) {
  const std::string& m = error.message;
  if (m.find('\n') != std::string::npos) return "more than one line";
  if (m.size() > 400) return "too long";
  if (m.find(name) == std::string::npos)
    return "does not name the file: " + QString::fromStdString(m);
  return {};
}

std::string binaryStl(const std::vector<std::array<Vec3, 3>>& triangles) {
  std::string out(80, ' ');
  const auto add = [&](auto value) {
    char raw[sizeof value];
    std::memcpy(raw, &value, sizeof value);
    out.append(raw, sizeof value);
  };
  add(static_cast<std::uint32_t>(triangles.size()));
  for (const auto& t : triangles) {
    for (int k = 0; k < 3; ++k)
      add(0.f);
    for (const Vec3& p : t)
      for (int k = 0; k < 3; ++k)
        add(static_cast<float>(p[k]));
    add(std::uint16_t{0});
  }
  return out;
}

std::string textStl(const std::vector<std::array<Vec3, 3>>& triangles) {
  std::string out = "solid made\n";
  for (const auto& t : triangles) {
    out += " facet normal 0 0 0\n  outer loop\n";
    for (const Vec3& p : t)
      out += fmt::format("   vertex {:.9e} {:.9e} {:.9e}\n", p.x(), p.y(), p.z());
    out += "  endloop\n endfacet\n";
  }
  return out + "endsolid made\n";
}

// A box from the origin to `size`, its normals outward.
std::vector<std::array<Vec3, 3>> boxOf(const Vec3& size) {
  Mesh mesh;
  mesh.appendBox(Box3(Vec3::Zero(), size), Frame::Identity(), 0);
  std::vector<std::array<Vec3, 3>> out;
  for (std::size_t i = 0; i < mesh.triangles.size(); ++i) {
    const Triangle t = mesh.triangle(i);
    out.push_back({t.a, t.b, t.c});
  }
  return out;
}

} // namespace

class CloudReadingTest : public QObject {
  Q_OBJECT
 private slots:
  void everyLayout();
  void inPieces();
  void meshes();
  void cutShort();
  void damaged();
  void otherFiles();
  void whatIsPassedOverIsTold();
  void units();
  void cancelled();
};

void CloudReadingTest::everyLayout() {
  for (unsigned seed = 1; seed <= 12; ++seed)
    for (int layout = 0; layout < kCloudLayouts; ++layout) {
      const MadeCloudFile made = madeCloudFile(layout, seed * 100 + static_cast<unsigned>(layout));
      const auto read = readCloudBytes(made.bytes, made.name);
      VERIFY_OK(read);
      QCOMPARE(read->cloud.points.size(), made.points.size());
      QCOMPARE(read->cloud.normals.size(), made.normals.size());
      for (std::size_t i = 0; i < made.points.size(); ++i) {
        // Single precision of a figure of thousands is a tenth of a micrometre or so.
        QVERIFY2((read->cloud.points[i] - made.points[i]).norm() < 1e-3,
                 qPrintable(QString("layout %1, point %2").arg(layout).arg(i)));
        if (!made.normals.empty())
          QVERIFY((read->cloud.normals[i].cast<double>() - made.normals[i]).norm() < 1e-5);
      }
      QVERIFY(!read->hash.empty());
      for (const std::string& note : read->notes)
        QVERIFY2(note.find("passed over") == std::string::npos, note.c_str());
    }
}

// A file larger than the blocks that it is read in gives every point once and in order.
void CloudReadingTest::inPieces() {
  QTemporaryDir folder;
  const std::string path = folder.filePath("large.xyz").toStdString();
  std::string text = "X Y Z\n";
  const int count = 900000;
  for (int i = 0; i < count; ++i)
    text += fmt::format("{}.5 {}.25 -3\n", i, i % 7);
  VERIFY_OK(writeFile(path, text));
  QVERIFY(text.size() > (8u << 20));
  const auto read = readCloudFile(path);
  VERIFY_OK(read);
  QCOMPARE(read->cloud.points.size(), static_cast<std::size_t>(count));
  for (int i = 0; i < count; ++i)
    if (read->cloud.points[static_cast<std::size_t>(i)] != Vec3(i + 0.5, i % 7 + 0.25, -3))
      QFAIL("a point is not where it was");
  QVERIFY(read->notes.empty());
}

// Points on the triangles: on the box and nowhere else, all over it, with its normals.
void CloudReadingTest::meshes() {
  const Vec3 size(30, 20, 10);
  const auto triangles = boxOf(size);
  std::string ply = "ply\nformat ascii 1.0\nelement vertex 36\nproperty float x\nproperty float "
                    "y\nproperty float z\nelement face 12\nproperty list uchar int "
                    "vertex_indices\nend_header\n",
              faces;
  for (std::size_t t = 0; t < triangles.size(); ++t) {
    for (const Vec3& p : triangles[t])
      ply += fmt::format("{} {} {}\n", p.x(), p.y(), p.z());
    faces += fmt::format("3 {} {} {}\n", 3 * t, 3 * t + 1, 3 * t + 2);
  }
  for (const std::string& bytes : {binaryStl(triangles), textStl(triangles), ply + faces}) {
    const auto read = readCloudBytes(bytes, "box");
    VERIFY_OK(read);
    QVERIFY(read->form.find("12 triangles") != std::string::npos);
    QCOMPARE(read->cloud.normals.size(), read->cloud.points.size());
    std::array<std::size_t, 6> on{};
    Vec3 sum = Vec3::Zero();
    for (std::size_t i = 0; i < read->cloud.points.size(); ++i) {
      const Vec3& p = read->cloud.points[i];
      bool found = false;
      for (int k = 0; k < 3 && !found; ++k)
        for (int side = 0; side < 2 && !found; ++side)
          if (std::abs(p[k] - (side ? size[k] : 0)) < 1e-5) {
            const double n = read->cloud.normals[i][k];
            if (std::abs(n - (side ? 1 : -1)) > 1e-5) continue;
            ++on[static_cast<std::size_t>(2 * k + side)];
            found = true;
          }
      QVERIFY(found);
      sum += p;
    }
    // As many on each face as its area asks for.
    const auto all = static_cast<double>(read->cloud.points.size());
    const double area = 2 * (30 * 20 + 30 * 10 + 20 * 10);
    NEAR(static_cast<double>(on[0]) / all, 200 / area, 0.1 * 200 / area);
    NEAR(static_cast<double>(on[4]) / all, 600 / area, 0.1 * 600 / area);
    NEAR((sum / all - size / 2).norm(), 0.0, 0.2);
  }
}

// Binary files and those with a count never give half a cloud; of other text nobody can know, but a
// last line that was cut is told or still three figures.
void CloudReadingTest::cutShort() {
  for (int layout = 0; layout < kCloudLayouts; ++layout) {
    const MadeCloudFile made = madeCloudFile(layout, 7u + static_cast<unsigned>(layout));
    Random random(static_cast<std::uint64_t>(layout));
    for (int k = 0; k < 40; ++k) {
      const auto length = static_cast<std::size_t>(random.uniform() * 0.999 *
                                                   static_cast<double>(made.bytes.size()));
      const auto read = readCloudBytes(made.bytes.substr(0, length), made.name);
      if (!read) {
        QVERIFY2(faultOf(read.error(), made.name).isEmpty(),
                 qPrintable(faultOf(read.error(), made.name)));
        continue;
      }
      QVERIFY2(made.name.ends_with(".txt") && layout != 5,
               qPrintable(QString("layout %1 cut at %2").arg(layout).arg(length)));
      // The last one may be short of digits.
      for (std::size_t i = 0; i + 1 < read->cloud.points.size(); ++i)
        QVERIFY((read->cloud.points[i] - made.points[i]).norm() < 1e-3);
    }
  }
  const auto whole = binaryStl(boxOf({1, 1, 1}));
  for (std::size_t cut = 1; cut < 200; cut += 7)
    QVERIFY(!readCloudBytes(whole.substr(0, whole.size() - cut), "box.stl"));
  const auto text = textStl(boxOf({1, 1, 1}));
  for (std::size_t cut = 15; cut < 600; cut += 13)
    QVERIFY(!readCloudBytes(text.substr(0, text.size() - cut), "box.stl"));
}

void CloudReadingTest::damaged() {
  for (int layout = 0; layout < kCloudLayouts; ++layout) {
    const MadeCloudFile made = madeCloudFile(layout, 70u + static_cast<unsigned>(layout));
    Random random(static_cast<std::uint64_t>(layout) + 99);
    for (int k = 0; k < 60; ++k) {
      std::string bytes = made.bytes;
      for (int n = 0; n < 1 + k % 5; ++n) {
        // The header most of all.
        const double where = k % 2 ? random.uniform() : random.uniform() * 0.02;
        bytes[static_cast<std::size_t>(where * static_cast<double>(bytes.size()))] =
            static_cast<char>(static_cast<int>(random.uniform() * 256));
      }
      const auto read = readCloudBytes(bytes, made.name);
      if (!read)
        QVERIFY2(faultOf(read.error(), made.name).isEmpty(),
                 qPrintable(faultOf(read.error(), made.name)));
      else
        QVERIFY(!read->cloud.points.empty());
    }
  }
}

void CloudReadingTest::otherFiles() {
  const std::string step = "ISO-10303-21;\nHEADER;\n";
  std::string nothing(1000, '\0');
  for (const std::string& bytes :
       {std::string(), std::string("\n\n\n"), std::string("no points at all\nin these lines\n"),
        step, nothing, std::string("ASTM-E57") + nothing, std::string("\xff\xfe\x31\x00", 4),
        std::string("1 2\n3 4\n"), std::string("ply\nformat ascii 1.0\nend_header\n"),
        std::string("ply\nformat ascii 1.0\nelement vertex 4000000000\nproperty float x\nproperty "
                    "float y\nproperty float z\nend_header\n1 2 3\n"),
        std::string("ply\nelement vertex -3\n"), std::string("ply\n"),
        std::string(20 << 20, '1')}) {
    const auto read = readCloudBytes(bytes, "odd.bin");
    QVERIFY2(!read, bytes.substr(0, 40).c_str());
    QVERIFY2(faultOf(read.error(), "odd.bin").isEmpty(), read.error().message.c_str());
  }
  QVERIFY(readCloudBytes("ASTM-E57" + nothing, "scan.e57").error().message.find("E57") !=
          std::string::npos);
  QTemporaryDir folder;
  QVERIFY(!readCloudFile(folder.path().toStdString()));
  QVERIFY(!readCloudFile(folder.filePath("absent.ply").toStdString()));
}

void CloudReadingTest::whatIsPassedOverIsTold() {
  std::string text = "x y z quality\n";
  for (int i = 0; i < 300; ++i)
    text += fmt::format("{} 1 2 0.5\n", i);
  text.insert(text.find("\n17 ") + 1, "laser off\n");
  text += "nan nan nan 0\n";
  const auto read = readCloudBytes(text, "a.txt");
  VERIFY_OK(read);
  QCOMPARE(read->cloud.points.size(), std::size_t{300});
  QCOMPARE(read->notes.size(), std::size_t{3});
  QVERIFY2(read->notes[0].find("line 19: \"laser off\"") != std::string::npos,
           read->notes[0].c_str());
  QVERIFY(read->notes[1].find("nan") != std::string::npos);
  QVERIFY(read->notes[2].find("quality") != std::string::npos);
  // More than a few: the file is not what it seems.
  for (int i = 0; i < 40; ++i)
    text += "laser off\n";
  QVERIFY(!readCloudBytes(text, "a.txt"));
}

void CloudReadingTest::units() {
  const Box3 part(Vec3::Zero(), Vec3(200, 100, 50));
  for (const CloudUnit& unit : cloudUnits())
    for (const double seen : {1.0, 0.6, 1.7}) {
      if (unit.name == "cm") continue;
      const auto likely = likelyUnit(Box3(part.min(), Vec3(part.max() * (seen / unit.mm))), part);
      QVERIFY(likely);
      QCOMPARE(likely->name, unit.name);
      QVERIFY(cloudUnitNamed(unit.name));
    }
  QVERIFY(!likelyUnit(Box3(part.min(), Vec3(part.max() * 1e5)), part));
  QVERIFY(!likelyUnit(Box3(Vec3::Zero(), Vec3::Zero()), part));
  QVERIFY(!cloudUnitNamed("furlong"));
  // A file may say it in its titles.
  for (const auto& [titles, unit] : {std::pair{"x y z", ""},
                                     {"X[mm] Y[mm] Z[mm]", "mm"},
                                     {"x(inch) y(inch) z(inch)", "in"},
                                     {"Xin Yin Zin", "in"},
                                     {"x/m y/m z/m", "m"}}) {
    const auto read = readCloudBytes(std::string(titles) + "\n1 2 3\n4 5 6\n7 8 9\n", "a.txt");
    VERIFY_OK(read);
    QCOMPARE(read->cloud.points.size(), std::size_t{3});
    QCOMPARE(read->unit ? std::string(read->unit->name) : std::string(), std::string(unit));
  }
}

void CloudReadingTest::cancelled() {
  QTemporaryDir folder;
  const std::string path = folder.filePath("a.txt").toStdString();
  VERIFY_OK(writeFile(path, madeCloudFile(0, 1).bytes));
  std::stop_source stop;
  stop.request_stop();
  const auto read = readCloudFile(path, {{}, stop.get_token()});
  QVERIFY(!read);
  QCOMPARE(read.error().code, ErrorCode::Cancelled);
}

ALDER_TEST(CloudReadingTest)
#include "cloud_reading_test.moc"
