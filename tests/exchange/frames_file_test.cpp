#include "exchange/routine/frames_file.h"

#include "support.h"

using namespace alder;

class FramesFileTest : public QObject {
  Q_OBJECT

 private:
  static FramesFile some() {
    const Plan& plan = test::heronPlan();
    PartFrame cast{"cast", FrameFit::InsideBand, {}, "uvw", Vec3(0, 0, 1.5), Vec3(0, 0, 0.1)};
    cast.stages.push_back(
        {{test::named(plan, "Plane · 1"), test::named(plan, "Plane · 2")}, "", 2, Band{-0.1, 0.2}});
    cast.stages.push_back({{test::named(plan, "Bore ø32")}, "xy"});
    return {{cast}, {{"left seat", test::anyMotion(3)}}};
  }

 private slots:
  // What was written is read again, and as text is the same.
  void roundTrip() {
    const Plan& plan = test::heronPlan();
    const std::string text = framesText(plan, some());
    const auto read = framesFromText(text, "frames.json", plan);
    VERIFY_OK(read);
    QVERIFY(read->frames == some().frames);
    QCOMPARE(read->kept.size(), std::size_t(1));
    QCOMPARE(read->kept[0].name, std::string("left seat"));
    QVERIFY((read->kept[0].placement.matrix() - some().kept[0].placement.matrix()).norm() < 1e-12);
    QCOMPARE(framesText(plan, {read->frames, {}}), framesText(plan, {some().frames, {}}));
  }
  // A routine for the same part drafted anew has other ids, but the same names.
  void intoAnotherRoutine() {
    Plan other = test::heronPlan();
    std::string text = framesText(test::heronPlan(), some());
    const FeatureId bore = test::named(other, "Bore ø32");
    other.spec.features[static_cast<std::size_t>(bore.value)].name = "Well";
    const auto missing = framesFromText(text, "frames.json", other);
    QVERIFY(!missing);
    QVERIFY2(missing.error().message.find("frames.json") != std::string::npos &&
                 missing.error().message.find("Bore ø32") != std::string::npos,
             missing.error().message.c_str());
  }
  void whatHasTheNameIsReplaced() {
    PartFrame a{"a", FrameFit::InOrder, {{{FeatureId{0}}, ""}}, "", Vec3::Zero(), Vec3::Zero()};
    PartFrame b = a;
    b.name = "b";
    PartFrame a2 = a;
    a2.held = "x";
    const auto all = withFrames({a}, {a2, b});
    QVERIFY((all == std::vector<PartFrame>{a2, b}));
  }
  void badFiles_data() {
    QTest::addColumn<QByteArray>("text");
    QTest::addColumn<QByteArray>("words");
    const QByteArray head = R"({"format": "alderpoint-frames", )";
    QTest::newRow("no json") << QByteArray("{") << QByteArray("line 1");
    QTest::newRow("another file") << QByteArray("{}") << QByteArray("no part frames");
    QTest::newRow("newer") << head + R"("version": 2})" << QByteArray("newer version");
    QTest::newRow("fit") << head + R"("frames": [{"name": "a", "fit": "somehow", "stages": []}]})"
                         << QByteArray("fit");
    QTest::newRow("no features")
        << head + R"("frames": [{"name": "a", "stages": [{"features": []}]}]})"
        << QByteArray("needs a feature");
    QTest::newRow("odd feature")
        << head + R"("frames": [{"name": "a", "stages": [{"features": [7]}]}]})"
        << QByteArray("\"7\"");
    QTest::newRow("parallel")
        << head + R"("places": [{"name": "a", "origin": [0,0,0], "z": [1,0,0], "x": [1,0,0]}]})"
        << QByteArray("parallel");
  }
  void badFiles() {
    QFETCH(QByteArray, text);
    QFETCH(QByteArray, words);
    const auto read = framesFromText(text.toStdString(), "frames.json", test::heronPlan());
    QVERIFY(!read);
    QVERIFY2(read.error().message.find(words.toStdString()) != std::string::npos,
             read.error().message.c_str());
  }
};
ALDER_TEST(FramesFileTest)
#include "frames_file_test.moc"
