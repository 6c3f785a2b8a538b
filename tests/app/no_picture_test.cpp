#include "window_driver.h"

using namespace alder;
using namespace alder::app;

// On a platform without X or OpenGL the stage says what is missing, and all else works. Run by ctest
// with the offscreen platform and no display.
class NoPictureTest : public WindowDriver {
  Q_OBJECT

 private slots:
  void allButThePictureWorks() {
    if (QGuiApplication::platformName() != "offscreen")
      QSKIP("needs QT_QPA_PLATFORM=offscreen and no DISPLAY");
    makeWindow();
    document().open(data("heron.alder"));
    QVERIFY(idle());
    QVERIFY(!window_->stage().view().missing().isEmpty());
    QTest::qWait(300);
    for (int desk = 0; desk < 5; ++desk) {
      window_->setDesk(static_cast<Desk>(desk));
      selectBalloon(9);
      window_->stage().frameSelection();
      QTest::mouseClick(&window_->stage(), Qt::LeftButton, {}, window_->stage().rect().center());
      QTest::qWait(50);
    }
    QVERIFY(!window_->grab().isNull());
    document().edit("Rename", {SetName{"seen by nobody"}});
    QVERIFY(idle());
    QVERIFY(document().save(dir_.filePath("kept.alder")));
  }
};
ALDER_TEST(NoPictureTest)
#include "no_picture_test.moc"
