#include "base/units.h"
#include "part/step_text.h"
#include "part/step_units.h"
#include "support.h"

using namespace alder;

namespace {
std::string file(const std::string& data) {
  return "ISO-10303-21;\nHEADER;\nFILE_SCHEMA(('AP242_MANAGED'));\nENDSEC;\nDATA;\n" + data +
         "ENDSEC;\nEND-ISO-10303-21;\n";
}
} // namespace

class StepTextTest : public QObject {
  Q_OBJECT
 private slots:
  // Of two instances with one number the first counts, whatever they are, and it is known.
  void numbersThatStandTwice() {
    const auto text = StepText::parse("ISO-10303-21;\nDATA;\n#1=FIRST(1.);\n#1=SECOND(2.);\n"
                                      "#2=DIRECTION('',(1.,0.,0.));\n#2=FIRST(3.);\nENDSEC;\n");
    VERIFY_OK(text);
    QVERIFY(text->instance(1)->is("FIRST"));
    QVERIFY(text->ofType("SECOND").empty());
    QCOMPARE(text->ofType("FIRST"), std::vector<int>{1});
    QCOMPARE(text->twice(), (std::vector<int>{1, 2}));
  }
  void values() {
    const auto t = StepText::parse(file("#1 = DATUM ( 'it''s; \\X2\\00D8\\X0\\', .T., $, *, "
                                        "(1,#7,-2.5E-3), LENGTH_MEASURE(3.) ) ; /* #2=X(); */\n"));
    VERIFY_OK(t);
    QCOMPARE(t->schema(), std::string("AP242_MANAGED"));
    const auto* i = t->instance(1);
    QVERIFY(i && i->is("DATUM"));
    const auto& v = i->records[0].values;
    QCOMPARE(v.size(), std::size_t(6));
    QCOMPARE(v[0].text, std::string("it's; Ø"));
    QCOMPARE(v[1].text, std::string("T"));
    QVERIFY(v[2].kind == StepValue::Kind::Null);
    QCOMPARE(v[4].items[1].reference, 7);
    QCOMPARE(v[4].items[2].number, -0.0025);
    QCOMPARE(v[5].items[0].number, 3.0);
    QVERIFY(!t->instance(2));
  }
  void complexInstances() {
    const auto t =
        StepText::parse(file("#5=(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT(.MILLI.,.METRE.));\n"));
    VERIFY_OK(t);
    QCOMPARE(t->instance(5)->records.size(), std::size_t(3));
    QCOMPARE(t->ofType("SI_UNIT"), std::vector<int>{5});
  }
  void brokenInstancesAreListed() {
    const auto t = StepText::parse(file("#1=DATUM('a';\n#2=DATUM('','',#9,.F.,'A');\n"));
    VERIFY_OK(t);
    QCOMPARE(t->broken(), std::vector<int>{1});
    QVERIFY(t->instance(2));
  }
  // As files come from anywhere: a byte order mark, comments in odd places, letters beyond Latin.
  void oddFiles() {
    const auto t =
        StepText::parse("\xEF\xBB\xBF" + file("#1 /* a = b; */ = /* #9=X(); */ DATUM /* ( */ "
                                              "('\\X4\\0001F600\\X0\\\\S\\d') /* ; */ ;\n"
                                              "#2=CARTESIAN_POINT('',(1.,2.,3.));\n"));
    VERIFY_OK(t);
    QCOMPARE(t->instance(1)->records[0].values[0].text, std::string("\xF0\x9F\x98\x80\u00e4"));
    QVERIFY(!t->instance(2)); // geometry is read on demand
    QVERIFY(t->has(2));
    QCOMPARE(t->anyInstance(2)->records[0].values[1].items[2].number, 3.0);
    QVERIFY(!t->has(9));
  }
  // Directives that a string breaks off in.
  void brokenDirectives() {
    for (const char* end : {"\\", "\\P", "\\PA", "\\PA\\", "\\S", "\\S\\", "\\X", "\\X\\", "\\X\\4",
                            "\\X2\\", "\\X2\\00", "\\X2\\D83D", "\\X4\\0001", "\\X2\\00D8"}) {
      const auto t = StepText::parse(file(std::string("#1=DATUM('a") + end + "');\n"));
      VERIFY_OK(t);
      QVERIFY2(t->instance(1), end);
      QVERIFY(t->instance(1)->records[0].values[0].text.starts_with("a"));
    }
  }
  // Numbers that no reader of 31 bits holds are changed for reading, and told as they were.
  void numbersBeyondThirtyOneBits() {
    const std::string given = file("#4294967297=DATUM('','#4294967297',#12,.F.,'A');\n"
                                   "#12=X(#4294967297,#99999999999);\n");
    const PlainStep plain = plainStep(given);
    const auto t = StepText::parse(plain.bytes);
    VERIFY_OK(t);
    const int datum = t->ofType("DATUM").front();
    QCOMPARE(plain.original(datum), std::int64_t(4294967297));
    QCOMPARE(plain.original(12), std::int64_t(12));
    const auto& x = t->instance(12)->records[0].values;
    QCOMPARE(x[0].reference, datum);
    QVERIFY(x[1].reference != datum && !t->instance(x[1].reference));
    QCOMPARE(t->instance(datum)->records[0].values[1].text, std::string("#4294967297"));
    const PlainStep commented =
        plainStep("#1=X(#5000000000); /* don't #6000000000 */ #7=Y(#5000000000);");
    QCOMPARE(commented.bytes, std::string("#1=X(#8); /* don't #6000000000 */ #7=Y(#8);"));
    QCOMPARE(plainStep(file("#12=X();\n")).bytes, file("#12=X();\n"));
  }
  void notStep() {
    QVERIFY(!StepText::parse(""));
    QVERIFY(!StepText::parse("%PDF-1.4 something"));
  }
  void unitsInEveryForm() {
    const auto t = StepText::parse(
        file("#1=(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT(.MILLI.,.METRE.));\n"
             "#2=(LENGTH_UNIT()NAMED_UNIT(*)SI_UNIT($,.METRE.));\n"
             "#3=LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE(25.4),#1);\n"
             "#4=(CONVERSION_BASED_UNIT('INCH',#3)LENGTH_UNIT()NAMED_UNIT(#9));\n"
             "#5=(NAMED_UNIT(*)PLANE_ANGLE_UNIT()SI_UNIT($,.RADIAN.));\n"
             "#6=PLANE_ANGLE_MEASURE_WITH_UNIT(PLANE_ANGLE_MEASURE(0.0174532925199433),#5);\n"
             "#7=(CONVERSION_BASED_UNIT('DEGREE',#6)NAMED_UNIT(#9)PLANE_ANGLE_UNIT());\n"
             "#10=LENGTH_MEASURE_WITH_UNIT(LENGTH_MEASURE(0.5),#4);\n"
             "#11=LENGTH_MEASURE_WITH_UNIT(POSITIVE_LENGTH_MEASURE(0.002),#2);\n"
             "#12=PLANE_ANGLE_MEASURE_WITH_UNIT(PLANE_ANGLE_MEASURE(90.),#7);\n"
             "#13=(LENGTH_MEASURE_WITH_UNIT()MEASURE_REPRESENTATION_ITEM()MEASURE_WITH_UNIT(LENGTH_"
             "MEASURE(2.),#4)REPRESENTATION_ITEM('nominal value'));\n"
             "#14=MEASURE_REPRESENTATION_ITEM('upper limit',LENGTH_MEASURE(3.),#1);\n"));
    VERIFY_OK(t);
    NEAR(readMeasure(*t, 10)->value, 12.7, 1e-12);
    NEAR(readMeasure(*t, 11)->value, 2.0, 1e-12);
    NEAR(readMeasure(*t, 12)->value, kPi / 2, 1e-9);
    QVERIFY(readMeasure(*t, 12)->angle);
    NEAR(readMeasure(*t, 13)->value, 50.8, 1e-12);
    NEAR(readMeasure(*t, 14)->value, 3.0, 1e-12);
    QVERIFY(!readMeasure(*t, 99));
  }
  void mutilatedFilesNeverCrash() {
    const std::string whole = file("#1=(A('x')B(#2,(1.,2.),.C.));\n#2=DATUM('','',#3,.F.,'A');\n");
    for (std::size_t n = 0; n < whole.size(); ++n) {
      (void)StepText::parse(whole.substr(0, n));
      std::string changed = whole;
      changed[n] = '(';
      (void)StepText::parse(changed);
    }
    (void)StepText::parse(file("#1=A(" + std::string(5000, '(') + ";"));
  }
};
ALDER_TEST(StepTextTest)
#include "step_text_test.moc"
