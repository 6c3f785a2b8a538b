#include "sheets.h"

using namespace alder;
using namespace alder::test;

namespace {

struct Form {
  const char* name;
  std::function<double(double a, double t)> radius; // more than the even one, at angle and height
  std::function<double(double t)> shift;            // of the centre along X
  double inward, outward; // how far the surface reaches beyond the even radius, from the true place
};

const auto kEven = [](double, double) { return 0.0; };
const auto kStill = [](double) { return 0.0; };
double bow(double t) {
  return 4 * t * (1 - t);
}

// Heights 0, 1/4 to 1, angles in steps of 7.5 degrees: each form has touched points at its
// extremes.
const std::vector<Form> kForms{
    {"beside its place", kEven, [](double) { return 0.04; }, 0.04, 0.04},
    {"leaning", kEven, [](double t) { return 0.05 * t; }, 0.05, 0.05},
    {"tapered", [](double, double t) { return 0.04 * t; }, kStill, 0, 0.04},
    {"tapered with one side upright", [](double, double t) { return 0.05 * t; },
     [](double t) { return 0.05 * t; }, 0, 0.1},
    {"barrel", [](double, double t) { return 0.03 * bow(t); }, kStill, 0, 0.03},
    {"waisted", [](double, double t) { return -0.03 * bow(t); }, kStill, 0.03, 0},
    {"bowed", kEven, [](double t) { return 0.04 * bow(t); }, 0.04, 0.04},
    {"three lobes", [](double a, double) { return 0.02 * std::cos(3 * a); }, kStill, 0.02, 0.02},
    {"twisted oval", [](double a, double t) { return 0.02 * std::cos(2 * a - kPi * t); }, kStill,
     0.02, 0.02},
    {"bump and dent",
     [](double a, double t) {
       if (t != 0.5) return 0.0;
       return std::abs(a) < 0.01 ? -0.03 : std::abs(a - kPi) < 0.01 ? 0.03 : 0.0;
     },
     kStill, 0.03, 0.03},
};

J wall(const char* id, const Vec3& at, const Vec3& out, const Vec3& u, const Vec3& v) {
  J points = J::array();
  for (const double s : {0.0, 0.45, 1.0})
    for (const double t : {0.0, 0.55, 1.0}) {
      const Vec3 p = at + s * u + t * v;
      points.push_back({p.x(), p.y(), p.z()});
    }
  return {{"id", id},
          {"shape", "plane"},
          {"nominal",
           {{"point", {at.x(), at.y(), at.z()}}, {"direction", {out.x(), out.y(), out.z()}}}},
          {"points", points}};
}

} // namespace

// Ten forms of hole and shaft whose distance from their virtual condition is known exactly
// (ISO 2692 4.2 and 4.3, ASME Y14.5 surface interpretation): the size changed by 1 um either way.
class VirtualConditionTest : public QObject {
  Q_OBJECT

  static J feature(const Form& form, bool hole, double diameter) {
    J sections = J::array();
    for (const double t : {0.0, 0.25, 0.5, 0.75, 1.0})
      sections.push_back(ring(
          48, 30 * t, [&](double a) { return diameter / 2 + form.radius(a, t); }, form.shift(t)));
    J f = cylinder("it", hole, 0, 0, 10, sections);
    f["size_limits"] = hole ? J{10, 10.2} : J{9.8, 10};
    return f;
  }
  static bool good(const J& it, const char* modifier, const char* standard) {
    const Vec3 x = Vec3::UnitX(), y = Vec3::UnitY(), z = Vec3::UnitZ();
    const J features{wall("A", {-30, -20, 0}, -z, 70 * x, 50 * y),
                     wall("B", {-30, -20, 0}, -y, 70 * x, 30 * z),
                     wall("C", {-30, -20, 0}, -x, 50 * y, 30 * z), it};
    const J located{{"kind", "position"},
                    {"feature", "it"},
                    {"tolerance", 0.1},
                    {"zone", "diameter"},
                    {"modifier", modifier},
                    {"datums", {{{"feature", "A"}}, {{"feature", "B"}}, {{"feature", "C"}}}}};
    const auto e = evaluate(features, located, standard);
    if (!e || !e->actual) qFatal("%s", e ? e->how.c_str() : e.error().message.c_str());
    return e->verdict == Verdict::Within || e->verdict == Verdict::Near;
  }

 private slots:
  void toOneMicrometre_data() {
    QTest::addColumn<int>("form");
    QTest::addColumn<bool>("hole");
    QTest::addColumn<QString>("modifier");
    QTest::addColumn<QString>("standard");
    for (std::size_t k = 0; k < kForms.size(); ++k)
      for (const bool hole : {true, false})
        for (const char* modifier : {"M", "L"})
          for (const char* standard : {"ISO", "ASME"})
            QTest::addRow("%s %s %s %s", kForms[k].name, hole ? "hole" : "shaft", modifier,
                          standard)
                << static_cast<int>(k) << hole << modifier << standard;
  }
  void toOneMicrometre() {
    QFETCH(int, form);
    QFETCH(bool, hole);
    QFETCH(QString, modifier);
    QFETCH(QString, standard);
    const Form& f = kForms[static_cast<std::size_t>(form)];
    // The boundary lies inside the surface of a hole at M and of a shaft at L, else round it.
    const bool inside = hole == (modifier == "M");
    const double boundary = hole ? (modifier == "M" ? 9.9 : 10.3) : (modifier == "M" ? 10.1 : 9.7);
    const double limit = inside ? boundary + 2 * f.inward : boundary - 2 * f.outward;
    const double better = inside ? 0.001 : -0.001;
    const QByteArray m = modifier.toLatin1(), s = standard.toLatin1();
    QVERIFY(good(feature(f, hole, limit + better), m, s));
    QVERIFY(!good(feature(f, hole, limit - better), m, s));
  }
};
ALDER_TEST(VirtualConditionTest)
#include "virtual_condition_test.moc"
