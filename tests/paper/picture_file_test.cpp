#include "base/files.h"
#include "base/random.h"
#include "paper/page_writer.h"
#include "paper/picture_file.h"
#include "support.h"

using namespace alder;

// Pictures as other programs wrote them: turned as the camera was held, damaged, in other colours.
class PictureFileTest : public QObject {
  Q_OBJECT

  static std::string bytesOf(const std::string& name) {
    return *readFile(dataFolder() / "tests" / "data" / "pictures" / name);
  }
  static bool isNear(std::uint32_t pixel, int r, int g, int b) {
    const auto off = [&](unsigned shift, int want) {
      return std::abs(static_cast<int>((pixel >> shift) & 255U) - want);
    };
    return (pixel >> 24U) == 255 && off(16, r) < 15 && off(8, g) < 15 && off(0, b) < 15;
  }

 private slots:
  // Red, green, blue and yellow quarters, stored in each of the eight ways that a camera has.
  void turnedAsTheCameraWasHeld() {
    for (int way = 1; way <= 8; ++way) {
      const auto raster = rasterFromPicture(bytesOf("turned-" + std::to_string(way) + ".jpg"));
      VERIFY_OK(raster);
      QCOMPARE(raster->width, 48);
      QCOMPARE(raster->height, 32);
      const auto at = [&](int x, int y) {
        return raster->pixels[static_cast<std::size_t>(y) * 48 + static_cast<std::size_t>(x)];
      };
      QVERIFY2(isNear(at(5, 5), 200, 30, 30) && isNear(at(40, 5), 30, 160, 40) &&
                   isNear(at(5, 28), 30, 40, 190) && isNear(at(40, 28), 230, 220, 40),
               qPrintable(QString::number(way)));
    }
  }

  void otherColours() {
    const auto grey = rasterFromPicture(bytesOf("grey.jpg"));
    VERIFY_OK(grey);
    const std::uint32_t pixel = grey->pixels[0];
    QCOMPARE((pixel >> 16U) & 255U, pixel & 255U);
    const auto printing = rasterFromPicture(bytesOf("four-colours.jpg"));
    QVERIFY(!printing);
    QVERIFY(printing.error().message.find("RGB") != std::string::npos);
  }

  void pngAgain() {
    Raster raster{
        3, 2, {0xff102030u, 0xff405060u, 0xff708090u, 0xffa0b0c0u, 0xffd0e0f0u, 0xffffffffu}};
    const auto again = rasterFromPicture(pngOf(raster));
    VERIFY_OK(again);
    QVERIFY(again->pixels == raster.pixels);
  }

  // Cut off, with bytes changed by lot, or no picture: an answer, and one of the right size.
  void damaged() {
    Random random(11);
    const std::string whole = bytesOf("turned-6.jpg");
    QVERIFY(!rasterFromPicture(""));
    QVERIFY(!rasterFromPicture("plain text"));
    QVERIFY(!rasterFromPicture("\xff\xd8\xff"));
    for (int i = 0; i < 400; ++i) {
      std::string bytes = whole;
      if (i % 2 == 0) bytes.resize(static_cast<std::size_t>(random.uniform(0, 1) * 700));
      for (int k = 0; k < 4 && !bytes.empty(); ++k)
        bytes[static_cast<std::size_t>(random.uniform(0, static_cast<double>(bytes.size())))] =
            static_cast<char>(random.bits());
      const auto raster = rasterFromPicture(bytes);
      if (raster)
        QCOMPARE(raster->pixels.size(), static_cast<std::size_t>(raster->width) *
                                            static_cast<std::size_t>(raster->height));
    }
  }
};
ALDER_TEST(PictureFileTest)
#include "picture_file_test.moc"
