// Drawings that are damaged, large or no vectors; they are read by another program, which may end.
#include "sheet/sheet_file.h"

#include "base/files.h"
#include "base/random.h"
#include "drafting/paper.h"
#include "sheet/strokes.h"
#include "sheet/text_line.h"
#include "support.h"
#include <cairo.h>

namespace {

using namespace alder;

std::string bytesOf(const char* name) {
  const auto bytes = readFile(dataFolder() / "tests" / "data" / "drawings" / name);
  return bytes ? *bytes : std::string();
}

class SheetFileTest : public QObject {
  Q_OBJECT

 private slots:
  // Each is refused with one line that names the file, or read.
  void damagedFiles() {
    int refused = 0, read = 0;
    for (const char* name : {"bracket.pdf", "flange.pdf", "plate.pdf"}) {
      const std::string whole = bytesOf(name);
      QVERIFY(!whole.empty());
      Random random(7);
      for (int i = 0; i < 16; ++i) {
        std::string bytes = whole;
        if (i % 3 == 0)
          bytes.resize(static_cast<std::size_t>(random.uniform() * 1. * bytes.size()));
        for (int k = 0; k < (i % 3) * 40; ++k)
          bytes[static_cast<std::size_t>(random.uniform() * static_cast<double>(bytes.size()))] =
              static_cast<char>(random.bits());
        const auto sheets = readSheets(bytes, name, 1, 3);
        if (sheets) {
          ++read;
          for (const DrawingSheet& s : *sheets)
            (void)textLines(s);
        } else {
          ++refused;
          const std::string& says = sheets.error().message;
          QVERIFY2(says.find(name) != std::string::npos && says.find('\n') == std::string::npos,
                   says.c_str());
        }
      }
    }
    QVERIFY(refused > 5 && read > 5);
  }

  void aLockedFileSaysSo() {
    const auto sheets = sheetsOf(bytesOf("locked.pdf"), "locked.pdf");
    QVERIFY(!sheets && sheets.error().message.find("password") != std::string::npos);
  }

  // Any page of many by itself, without the others.
  void fiveHundredPages() {
    std::string pdf;
    auto paper = demo::Paper::open(pdf, 420, 297);
    QVERIFY(paper);
    for (int i = 1; i <= 500; ++i) {
      (*paper)->text({50, 50}, "page " + std::to_string(i), 5);
      (*paper)->nextSheet();
    }
    (*paper)->finish();
    const auto sizes = sheetsOf(pdf, "many.pdf");
    QVERIFY(sizes);
    QCOMPARE(sizes->size(), std::size_t{500});
    const auto sheets = readSheets(pdf, "many.pdf", 250, 251);
    QVERIFY(sheets);
    QCOMPARE(sheets->size(), std::size_t{2});
    QCOMPARE(textLines(sheets->front()).front().text, std::string("page 250"));
    const auto picture = drawSheet(pdf, "many.pdf", 500, 75);
    QVERIFY(picture);
    QCOMPARE(picture->width, 1240);
    QVERIFY(!drawSheet(pdf, "many.pdf", 501, 75));
  }

  // Pages that are turned, and a crop box, are as they are shown.
  void textStandsWhereItIsShown() {
    const auto sheets = readSheets(bytesOf("bracket.pdf"), "bracket.pdf", 1, 1);
    QVERIFY(sheets);
    QVERIFY(std::abs(sheets->front().size.width - 297) < 0.1);
    bool slanted = false, upright = false;
    for (const TextLine& l : textLines(sheets->front())) {
      slanted |= l.text == "80,62 ±0,2" && std::abs(l.box.angle - 0.519) < 0.01;
      upright |= l.text.starts_with("70") && std::abs(l.box.angle - 1.5708) < 0.01;
    }
    QVERIFY(slanted && upright);
  }

  // A picture of a sheet: its ruled lines, and its text where Tesseract has its languages.
  void aScanIsRead() {
    std::string pdf;
    auto paper = demo::Paper::open(pdf, 210, 148);
    QVERIFY(paper);
    (*paper)->text({30, 100}, "40.5 H7", 5);
    (*paper)->lines({{30, 40}, {80, 40}, {80, 60}, {30, 60}}, true);
    (*paper)->nextSheet();
    (*paper)->finish();
    const auto picture = drawSheet(pdf, "a.pdf", 1, 200);
    QVERIFY(picture);
    cairo_surface_t* image =
        cairo_image_surface_create(CAIRO_FORMAT_RGB24, picture->width, picture->height);
    for (int y = 0; y < picture->height; ++y)
      for (int x = 0; x < picture->width; ++x) {
        const auto at = 3 * static_cast<std::size_t>(y * picture->width + x);
        auto* row = cairo_image_surface_get_data(image) + y * cairo_image_surface_get_stride(image);
        reinterpret_cast<std::uint32_t*>(row)[x] =
            static_cast<std::uint32_t>(picture->rgb[at]) << 16 |
            static_cast<std::uint32_t>(picture->rgb[at + 1]) << 8 | picture->rgb[at + 2];
      }
    cairo_surface_mark_dirty(image);
    std::string png;
    const auto append = [](void* target, const unsigned char* data, unsigned length) {
      static_cast<std::string*>(target)->append(reinterpret_cast<const char*>(data), length);
      return CAIRO_STATUS_SUCCESS;
    };
    cairo_surface_write_to_png_stream(image, append, &png);
    cairo_surface_destroy(image);
    const auto sheets = readSheets(png, "scan.png", 1, 1);
    QVERIFY2(sheets, sheets ? "" : sheets.error().message.c_str());
    QVERIFY(std::abs(sheets->front().size.width - 210) < 1);
    bool text = false;
    for (const TextLine& l : textLines(sheets->front()))
      text |= l.text.find("40.5") != std::string::npos && l.scanned &&
              (l.box.at - Vec2(30, 100)).norm() < 1.5;
    QVERIFY(text);
    int ruled = 0;
    for (const StraightStroke& s : strokesOf(sheets->front()).segments)
      ruled += s.length() > 15;
    QCOMPARE(ruled, 4);
  }

  // The numbers are where they were asked for, however the page is turned; all else is as before.
  void balloonsAreDrawnOver() {
    std::string pdf;
    auto paper = demo::Paper::open(pdf, 210, 148);
    QVERIFY(paper);
    for (int page = 0; page < 2; ++page) {
      (*paper)->text({30, 100}, "40 H7", 5);
      (*paper)->line({30, 40}, {80, 40});
      (*paper)->circle({100, 60}, 10);
      (*paper)->nextSheet();
    }
    (*paper)->finish();
    for (const int turn : {0, 90, 180, 270}) {
      std::string turned = pdf;
      const std::string mark = "/Type /Page ", entry = fmt::format("/Type /Page /Rotate {} ", turn);
      std::size_t pages = 0;
      for (std::size_t at = 0; (at = turned.find(mark, at)) != std::string::npos; ++pages)
        turned.replace(at, mark.size(), entry), at += entry.size();
      QCOMPARE(pages, std::size_t{2});
      const auto before = readSheets(turned, "a.pdf", 1, 2);
      QVERIFY(before);
      BalloonMark m;
      m.page = 2, m.text = "12.3", m.centre = {60, 70}, m.leader_from = {55, 70};
      m.leader_to = {35, 72}, m.key = true;
      const auto with = drawBalloons(turned, "a.pdf", {m});
      QVERIFY2(with, with ? "" : with.error().message.c_str());
      QCOMPARE(*drawBalloons(turned, "a.pdf", {m}), *with);
      const auto after = readSheets(*with, "b.pdf", 1, 2);
      QVERIFY(after);
      QVERIFY(after->at(0).characters == before->at(0).characters &&
              after->at(0).paths == before->at(0).paths);
      const DrawingSheet &old = before->at(1), &now = after->at(1);
      QVERIFY(now.characters.size() == old.characters.size() + 4);
      QVERIFY(std::equal(old.characters.begin(), old.characters.end(), now.characters.begin()));
      QVERIFY(std::equal(old.paths.begin(), old.paths.end(), now.paths.begin()));
      bool number = false;
      for (const TextLine& l : textLines(now))
        number |= l.text == "12.3" && (l.box.middle() - Vec2(60, 70)).norm() < 0.4 &&
                  std::abs(l.box.angle) < 0.01;
      QVERIFY2(number, qPrintable(QString::number(turn)));
      int rings = 0;
      for (const RoundLine& r : strokesOf(now).rounds)
        rings += r.whole && (r.centre - Vec2(60, 70)).norm() < 0.05;
      QVERIFY(rings >= 2);
    }
    BalloonMark wrong;
    wrong.page = 3, wrong.text = "1";
    const auto refused = drawBalloons(pdf, "a.pdf", {wrong});
    QVERIFY(!refused && refused.error().message.find("no page 3") != std::string::npos);
    wrong.page = 1, wrong.text = "1) Tj";
    QVERIFY(!drawBalloons(pdf, "a.pdf", {wrong}));
  }

  // Handed from program to program whole.
  void bytesThereAndBack() {
    DrawingSheet s;
    s.size = {420, 297};
    s.characters = {{"ø", {1, 2}, 3, 0.5, 4, true}};
    s.paths = {{{{1, 2}, {3, 4}}, true, false, true, false, 0.25}};
    s.pictures = {{{0, 0}, {1, 1}, 10, 20}};
    const auto back = sheetsFromBytes(sheetsToBytes({s, s}));
    QVERIFY(back);
    QCOMPARE(back->size(), std::size_t{2});
    QVERIFY(back->back().characters == s.characters && back->back().paths == s.paths &&
            back->back().pictures == s.pictures);
    std::string cut = sheetsToBytes({s});
    cut.pop_back();
    QVERIFY(!sheetsFromBytes(cut));
  }
};

} // namespace

ALDER_TEST(SheetFileTest)
#include "sheet_file_test.moc"
