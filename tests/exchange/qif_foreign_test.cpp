#include "exchange/qif/qif_file.h"

#include "base/random.h"
#include "base/units.h"
#include "made_parts.h"
#include "part/step_import.h"
#include "plan/edit.h"
#include "qif_document.h"
#include "requirement/limits.h"
#include "route/draft.h"
#include "support.h"
#include <set>

using namespace alder;

namespace {

std::string inLines(const std::vector<std::string>& lines) {
  return fmt::format("{}", fmt::join(lines, "\n"));
}

// A plate 100 x 70 x 10 with two bores ø12, which nothing is asked of.
PartPtr plate() {
  static const PartPtr kPart = [] {
    const auto step = test::plateStep(1);
    if (!step) qFatal("%s", step.error().message.c_str());
    const auto part = importStep(*step, "plate.step");
    if (!part) qFatal("%s", part.error().message.c_str());
    return *part;
  }();
  return kPart;
}

Plan bare() {
  Plan plan = beginPlan(plate(), test::heronBench());
  return plan;
}

// The bores of the plate, along its axis.
std::vector<const Surface*> bores() {
  std::vector<const Surface*> found;
  for (const Surface& s : plate()->surfaces)
    if (s.ideal.type == SurfaceType::Cylinder) found.push_back(&s);
  return found;
}
const Surface& top() {
  const Surface* best = nullptr;
  for (const Surface& s : plate()->surfaces)
    if (s.ideal.type == SurfaceType::Plane && s.ideal.direction.z() > 0.99 &&
        (!best || s.ideal.point.z() > best->ideal.point.z()))
      best = &s;
  return *best;
}

std::string vec(const Vec3& v, double scale = 1) {
  return fmt::format("{} {} {}", v.x() * scale, v.y() * scale, v.z() * scale);
}

struct Dialect {
  std::string prefix;       // of the elements
  double unit = 1;          // mm
  bool radians = false;     // angles
  bool items = true;        // else nominals alone
  bool deviations = false;  // limits as plus and minus
  std::string extra = {};   // within the list of characteristic definitions
  std::string plan = {};    // section
  std::string feature = {}; // within the first feature nominal
};

// A file as another program might write it: two bores, their sizes, and the position of both to the
// top.
std::string foreign(const Dialect& d) {
  const double s = 1 / d.unit;
  const Surface &a = *bores()[0], &b = *bores()[1];
  const auto at = [&](const Surface& surface) {
    // Anywhere along its axis, the other way round.
    return fmt::format("<Axis><AxisPoint>{}</AxisPoint><Direction>{}</Direction></Axis>",
                       vec(surface.ideal.point + 3 * surface.ideal.direction, s),
                       vec(-surface.ideal.direction, 2));
  };
  const auto limits =
      d.deviations ? fmt::format("<Tolerance><PlusTolerance>{}</PlusTolerance><MinusTolerance>"
                                 "{}</MinusTolerance></Tolerance>",
                                 0.05 * s, 0.02 * s)
                   : fmt::format("<Tolerance><MaxValue>{}</MaxValue><MinValue>{}</MinValue>"
                                 "<DefinedAsLimit>1</DefinedAsLimit></Tolerance>",
                                 12.05 * s, 11.98 * s);
  const double angle = d.radians ? 1 : 180 / 3.14159265358979323846;
  std::string text = fmt::format(
      "<?xml version='1.0'?>\n<QIFDocument {}='http://qifstandards.org/xsd/qif3' "
      "versionQIF='3.0.0' "
      "idMax='90'>\n<QPId>1b4e28ba-2fa1-11d2-883f-b9a761bde3fb</QPId>\n"
      "<FileUnits><PrimaryUnits><AngularUnit><SIUnitName>radian</SIUnitName><UnitName>{}</UnitName>"
      "<UnitConversion><Factor>{}</Factor></UnitConversion></AngularUnit>"
      "<LinearUnit><SIUnitName>meter</SIUnitName><UnitName>{}</UnitName><UnitConversion><Factor>{}"
      "</Factor></UnitConversion></LinearUnit></PrimaryUnits></FileUnits>\n"
      "<DatumDefinitions n='1'><DatumDefinition id='9'><DatumLabel>A</DatumLabel>"
      "<FeatureNominalIds "
      "n='1'><Id>21</Id></FeatureNominalIds></DatumDefinition></DatumDefinitions>\n"
      "<DatumReferenceFrames n='1'><DatumReferenceFrame id='12'><Datums n='1'><Datum>"
      "<DatumDefinitionId>9</DatumDefinitionId><Precedence><PrecedenceEnum>PRIMARY</PrecedenceEnum>"
      "</Precedence></Datum></Datums></DatumReferenceFrame></DatumReferenceFrames>\n",
      d.prefix.empty() ? "xmlns" : "xmlns:" + d.prefix, d.radians ? "radian" : "degree", 1 / angle,
      d.unit == 1 ? "mm" : "inch", d.unit / 1000);
  text += fmt::format(
      "<Features><FeatureDefinitions n='2'><CylinderFeatureDefinition id='10'><InternalExternal>"
      "INTERNAL</InternalExternal><Diameter>{}</Diameter></CylinderFeatureDefinition>"
      "<PlaneFeatureDefinition id='11'/></FeatureDefinitions>\n<FeatureNominals n='4'>"
      "<PlaneFeatureNominal id='21'><FeatureDefinitionId>11</FeatureDefinitionId><Name>top</Name>{}"
      "<Location>{}</Location><Normal>{}</Normal></PlaneFeatureNominal>"
      "<CylinderFeatureNominal "
      "id='22'><FeatureDefinitionId>10</FeatureDefinitionId><Name>H1</Name>{}"
      "</CylinderFeatureNominal><CylinderFeatureNominal id='23'><FeatureDefinitionId>10"
      "</FeatureDefinitionId><Name>H2</Name>{}</CylinderFeatureNominal>"
      "<GroupFeatureNominal id='24'><FeatureNominalIds n='2'><Id>22</Id><Id>23</Id>"
      "</FeatureNominalIds></GroupFeatureNominal></FeatureNominals>\n",
      12 * s, d.feature, vec(top().ideal.point, s), vec(top().ideal.direction), at(a), at(b));
  text += d.items ? "<FeatureItems n='1'><CylinderFeatureItem id='32'><FeatureName>hole one"
                    "</FeatureName><FeatureNominalId>22</FeatureNominalId></CylinderFeatureItem>"
                    "</FeatureItems></Features>\n"
                  : "</Features>\n";
  text += fmt::format(
      "<Characteristics><CharacteristicDefinitions n='2'><DiameterCharacteristicDefinition "
      "id='40'>{}"
      "</DiameterCharacteristicDefinition>\n<PositionCharacteristicDefinition "
      "id='41'><ToleranceValue>"
      "{}</ToleranceValue><MaterialCondition>MAXIMUM</MaterialCondition><DatumReferenceFrameId>12"
      "</DatumReferenceFrameId><ZoneShape><DiametricalZone/></ZoneShape>"
      "</PositionCharacteristicDefinition>{}</CharacteristicDefinitions>\n<CharacteristicNominals "
      "n='2'>"
      "<DiameterCharacteristicNominal id='50'><CharacteristicDefinitionId>40"
      "</CharacteristicDefinitionId><FeatureNominalIds n='1'><Id>22</Id></FeatureNominalIds>"
      "<TargetValue>{}</TargetValue></DiameterCharacteristicNominal>"
      "<PositionCharacteristicNominal id='51'><CharacteristicDefinitionId>41"
      "</CharacteristicDefinitionId><FeatureNominalIds n='1'><Id>24</Id></FeatureNominalIds>"
      "</PositionCharacteristicNominal></CharacteristicNominals>\n",
      limits, 0.3 * s, d.extra, 12 * s);
  text += d.items
              ? "<CharacteristicItems n='2'><DiameterCharacteristicItem id='60'>"
                "<QPId>0e5cd0a6-0a44-4b8e-8f34-6d3c1e7a9a01</QPId><CharacteristicDesignator>"
                "<Designator>17</Designator></CharacteristicDesignator><FeatureItemIds n='1'>"
                "<Id>32</Id></FeatureItemIds><CharacteristicNominalId>50</CharacteristicNominalId>"
                "</DiameterCharacteristicItem><PositionCharacteristicItem id='61'>"
                "<CharacteristicNominalId>51</CharacteristicNominalId>"
                "</PositionCharacteristicItem></CharacteristicItems></Characteristics>\n"
              : "</Characteristics>\n";
  text += d.plan + "</QIFDocument>\n";
  if (d.prefix.empty()) return text;
  // All elements by the prefix.
  std::string out;
  for (std::size_t i = 0; i < text.size(); ++i) {
    out += text[i];
    if (text[i] != '<' || text[i + 1] == '?') continue;
    if (text[i + 1] == '/') out += text[++i];
    out += d.prefix + ":";
  }
  return out;
}

const Requirement* of(const Specification& spec, Characteristic kind) {
  for (const Requirement& r : spec.requirements)
    if (r.kind == kind) return &r;
  return nullptr;
}

template <class Below> void damageBytes(std::string& text, const Below& below) {
  const std::size_t at = below(text.size());
  switch (below(4)) {
  case 0:
    text[at] = static_cast<char>(below(256));
    break;
  case 1:
    text.erase(at, below(40));
    break;
  case 2:
    text.insert(at, text.substr(below(text.size()), below(60)));
    break;
  default: // an element without its end
    const auto open = text.find('<', at), close = text.find('>', open);
    if (close != std::string::npos) text.erase(open, close - open + 1);
  }
}
// Still XML: other numbers, elements gone, twice, elsewhere, by another name or with other words.
template <class Below> void damageElements(std::string& text, const Below& below) {
  const std::size_t at = below(text.size());
  if (below(3) == 0) {
    const auto digit = text.find_first_of("0123456789", at);
    if (digit != std::string::npos) text[digit] = static_cast<char>('0' + below(10));
    return;
  }
  // One that holds words alone.
  auto end = text.find("</", at);
  const auto open = end == std::string::npos ? end : text.rfind('<', end - 1);
  if (open == std::string::npos || text[open + 1] == '/') return;
  const auto close = text.find('>', end);
  if (close == std::string::npos) return;
  const std::string whole = text.substr(open, close - open + 1);
  const auto begin = text.find('>', open) + 1;
  switch (below(5)) {
  case 0:
    text.erase(open, whole.size());
    break;
  case 1:
    text.insert(open, whole);
    break;
  case 2: {
    const auto other = text.find('<', below(text.size()));
    if (other != std::string::npos && other > 60) text.insert(other, whole);
    break;
  }
  case 3:
    text.replace(begin, end - begin, below(2) ? "" : "12 -7e300 nan x");
    break;
  default:
    text.insert(end + 2, "Other");
    text.insert(open + 1, "Other");
  }
}

} // namespace

// Files that other programs might write: other units, prefixes, forms and words; what is not
// understood is told and comes back.
class QifForeignTest : public QObject {
  Q_OBJECT

  static void check(const ProgramRead& read) {
    const Specification& spec = read.plan.spec;
    QCOMPARE(spec.requirements.size(), std::size_t{2});
    const Requirement* size = of(spec, Characteristic::Size);
    const Requirement* position = of(spec, Characteristic::Position);
    QVERIFY(size && position);
    NEAR(size->nominal, 12.0, 1e-9);
    NEAR(size->lower, 11.98, 1e-9);
    NEAR(size->upper, 12.05, 1e-9);
    QCOMPARE(size->features.size(), std::size_t{1});
    QCOMPARE(spec.feature(size->features[0]).faces, bores()[0]->faces);
    NEAR(position->tolerance, 0.3, 1e-9);
    QCOMPARE(position->features.size(), std::size_t{2});
    QVERIFY(position->zone == Zone::Diametral && position->material == MaterialModifier::Maximum);
    QCOMPARE(position->datums.size(), std::size_t{1});
    QCOMPARE(position->datums[0].letters, std::vector<std::string>{"A"});
    QCOMPARE(spec.feature(spec.datum("A")->features[0]).faces, top().faces);
    // A routine was drafted for it.
    for (const Requirement& r : spec.requirements)
      QCOMPARE(whyNotCovered(read.plan, r), std::string());
  }

 private slots:
  void dialects_data() {
    QTest::addColumn<int>("which");
    for (int i = 0; i < 8; ++i)
      QTest::addRow("%d", i) << i;
  }
  void dialects() {
    QFETCH(int, which);
    Dialect d;
    if (which & 1) d.unit = 25.4, d.radians = true;
    if (which & 2) d.prefix = "qif";
    if (which & 4) d.items = false, d.deviations = true;
    const auto read = readQif(foreign(d), "foreign.qif", bare(), ReadOnto::Part);
    VERIFY_OK(read);
    check(*read);
    // The model asks for what the file does not.
    for (const std::string& remark : read->remarks)
      QVERIFY2(remark.find("as the model does") != std::string::npos, remark.c_str());
    const Requirement* size = of(read->plan.spec, Characteristic::Size);
    QCOMPARE(size->balloon, d.items ? 17 : 1);
    QCOMPARE(read->plan.spec.feature(size->features[0]).name,
             std::string(d.items ? "hole one" : "H1"));
    // Numbers and identities of the file stay.
    const test::QifDocument again(qifDocument({read->plan, {}, {}, {}, read->qif}, {}).text);
    for (const std::string& fault : again.faults()) // the group is theirs
      QVERIFY2(fault.find("GroupFeatureNominal") != std::string::npos, fault.c_str());
    if (!d.items) return;
    QCOMPARE(again.text("//q:DiameterCharacteristicItem/@id"), std::string("60"));
    QCOMPARE(again.text("//q:DiameterCharacteristicItem/q:QPId"),
             std::string("0e5cd0a6-0a44-4b8e-8f34-6d3c1e7a9a01"));
    QCOMPARE(again.text("//q:DatumDefinition/@id"), std::string("9"));
  }

  // Factors with few digits, or none, are those of the unit that they name; one that is far off
  // counts as it stands.
  void unitsAsNamed() {
    const auto limits = [](const std::string& find, const std::string& put) {
      Dialect d;
      d.unit = 25.4;
      std::string text = foreign(d);
      const auto at = text.find(find);
      if (at == std::string::npos) qFatal("%s", find.c_str());
      text.replace(at, find.size(), put);
      const auto read = readQif(text, "foreign.qif", bare(), ReadOnto::Part);
      if (!read) qFatal("%s", read.error().message.c_str());
      const Requirement* size = of(read->plan.spec, Characteristic::Size);
      return size ? size->upper : -1;
    };
    NEAR(limits("<Factor>0.0254</Factor>", "<Factor>0.02540001</Factor>"), 12.05, 1e-9);
    NEAR(limits("<UnitConversion><Factor>0.0254</Factor></UnitConversion>", ""), 12.05, 1e-9);
    // Twice as large: no bore of this part.
    NEAR(limits("<Factor>0.0254</Factor>", "<Factor>0.0508</Factor>"), -1.0, 1e-9);
  }

  // Unknown kinds, children, attributes and sections are told and written again, where they stood.
  void unknownComesBack() {
    Dialect d;
    d.extra = "<WeldBevelCharacteristicDefinition id='44'><Angle>30</Angle>"
              "</WeldBevelCharacteristicDefinition>";
    d.feature = "<Attributes n='1'><AttributeI1 name='lot' value='7'/></Attributes>"
                "<SurfaceFinish>polished</SurfaceFinish>";
    d.plan = "<x:Weather xmlns:x='urn:none'>fair <Of>21</Of></x:Weather>";
    const auto read = readQif(foreign(d), "foreign.qif", bare(), ReadOnto::Part);
    VERIFY_OK(read);
    check(*read);
    const std::string told = inLines(read->remarks);
    for (const char* word :
         {"WeldBevelCharacteristicDefinition", "SurfaceFinish", "AttributeI1", "x:Weather"})
      QVERIFY2(told.find(word) != std::string::npos, told.c_str());
    QVERIFY(std::any_of(read->plan.notes.begin(), read->plan.notes.end(), [](const Note& n) {
      return n.text.find("SurfaceFinish") != std::string::npos;
    }));
    const std::string text = qifDocument({read->plan, {}, {}, {}, read->qif}, {}).text;
    const test::QifDocument again(text);
    QCOMPARE(again.text("//q:CharacteristicDefinitions/q:WeldBevelCharacteristicDefinition[@id=44]"
                        "/q:Angle"),
             std::string("30"));
    QCOMPARE(again.text("//q:PlaneFeatureNominal[@id=21]/q:SurfaceFinish"),
             std::string("polished"));
    QCOMPARE(again.text("//q:PlaneFeatureNominal[@id=21]/q:Attributes/q:AttributeI1/@value"),
             std::string("7"));
    QCOMPARE(again.text("//q:PlaneFeatureNominal[@id=21]/*[2]"), std::string("11"));
    QCOMPARE(again.text("//*[local-name()='Weather']/q:Of"), std::string("21"));
    // And once more.
    const auto second = readQif(text, "again.qif", bare(), ReadOnto::Part);
    VERIFY_OK(second);
    const test::QifDocument third(qifDocument({second->plan, {}, {}, {}, second->qif}, {}).text);
    QCOMPARE(third.text("//q:PlaneFeatureNominal/q:SurfaceFinish"), std::string("polished"));
    QCOMPARE(third.texts("//q:WeldBevelCharacteristicDefinition").size(), std::size_t{1});
  }

  // What speaks of things that are gone is not written again, and told.
  void danglingIsTold() {
    Dialect d;
    d.plan = "<Inspections><Of><CharacteristicItemId>60</CharacteristicItemId></Of></Inspections>";
    const auto read = readQif(foreign(d), "foreign.qif", bare(), ReadOnto::Part);
    VERIFY_OK(read);
    Project project{read->plan, {}, {}, {}, read->qif};
    QVERIFY(qifDocument(project, {}).told.empty());
    const RequirementId id = of(project.plan.spec, Characteristic::Size)->id;
    project.plan.spec.requirements.erase(id);
    const QifWritten less = qifDocument(project, {});
    QCOMPARE(inLines(less.told),
             std::string("Inspections: speaks of what is not there any more and "
                         "was left out"));
    QVERIFY(less.text.find("Inspections") == std::string::npos);
  }

  // A plan that names some characteristics: what they need is measured, the rest is not.
  void planOfSome() {
    const Plan& heron = test::heronPlan();
    std::string text = qifDocument({heron, {}, {}}, {}).text;
    const test::QifDocument doc(text);
    std::set<FeatureId> needed;
    std::string items;
    for (const int balloon : {2, 9, 20}) {
      const Requirement& r = test::balloon(heron, balloon);
      for (const FeatureId f : featuresNeeded(heron.spec, r))
        needed.insert(f);
      items += "<CharacteristicItemId>" +
               doc.text(fmt::format("//q:CharacteristicItems/*[q:Name='{}']/@id", balloon)) +
               "</CharacteristicItemId>";
    }
    const auto from = text.find("<MeasurementPlan>"), to = text.find("</MeasurementPlan>");
    QVERIFY(from < to);
    text.replace(from, to - from, "<MeasurementPlan><Steps>" + items + "</Steps>");
    const auto read =
        readQif(text, "some.qif", beginPlan(test::heron(), heron.bench), ReadOnto::Part);
    VERIFY_OK(read);
    const auto order = measuringOrder(read->plan.steps);
    for (const FeatureId f : order)
      QVERIFY2(needed.contains(f) ||
                   std::count(read->plan.alignment.begin(), read->plan.alignment.end(), f) > 0,
               read->plan.nominal(f).name.c_str());
    QVERIFY(order.size() < measuringOrder(heron.steps).size());
    int covered = 0;
    for (const Requirement& r : read->plan.spec.requirements)
      covered += whyNotCovered(read->plan, r).empty();
    QVERIFY(covered >= 3 && covered < static_cast<int>(heron.spec.requirements.size()) / 2);
    for (const int balloon : {2, 9, 20})
      QCOMPARE(whyNotCovered(read->plan, test::balloon(read->plan, balloon)), std::string());
  }

  // What cannot be a requirement here is told with its reason, and kept.
  void reasons_data() {
    QTest::addColumn<QString>("find");
    QTest::addColumn<QString>("put");
    QTest::addColumn<QString>("says");
    QTest::newRow("no such bore") << "<Diameter>12</Diameter>"
                                  << "<Diameter>13</Diameter>"
                                  << "the part has no such feature there";
    QTest::newRow("limits turned") << "<MinValue>11.98</MinValue>"
                                   << "<MinValue>12.98</MinValue>"
                                   << "its lower limit is above its upper one";
    QTest::newRow("no tolerance") << "<ToleranceValue>0.3</ToleranceValue>"
                                  << ""
                                  << "it has no tolerance value";
    QTest::newRow("unknown zone") << "<DiametricalZone/>"
                                  << "<HexagonalZone/>"
                                  << "the zone HexagonalZone is not known";
    QTest::newRow("unknown material") << "MAXIMUM"
                                      << "MOST"
                                      << "material condition MOST";
    QTest::newRow("frame gone") << "<DatumReferenceFrameId>12"
                                << "<DatumReferenceFrameId>13"
                                << "its datum system is none of this routine";
    QTest::newRow("no features") << "<FeatureNominalIds n='1'><Id>24</Id></FeatureNominalIds>"
                                 << ""
                                 << "it does not say of which feature";
    QTest::newRow("numbers as words") << "<ToleranceValue>0.3"
                                      << "<ToleranceValue>much"
                                      << "it has no tolerance value";
  }
  void reasons() {
    QFETCH(QString, find);
    QFETCH(QString, put);
    QFETCH(QString, says);
    std::string text = foreign({});
    const auto at = text.find(find.toStdString());
    QVERIFY(at != std::string::npos);
    text.replace(at, find.toStdString().size(), put.toStdString());
    const auto read = readQif(text, "foreign.qif", bare(), ReadOnto::Part);
    VERIFY_OK(read);
    const std::string told = inLines(read->remarks);
    QVERIFY2(told.find(says.toStdString()) != std::string::npos, told.c_str());
    QVERIFY2(told.find("foreign.qif, line ") != std::string::npos, told.c_str());
    QVERIFY(read->kept > 0);
    QVERIFY(std::any_of(read->lines.begin(), read->lines.end(),
                        [](const ProgramLine& l) { return l.taken == Taken::Note; }));
    const test::QifDocument again(qifDocument({read->plan, {}, {}, {}, read->qif}, {}).text);
    QVERIFY(again.good());
    QCOMPARE(again.texts("//q:DiameterCharacteristicItem").size(), std::size_t{1});
    QCOMPARE(again.texts("//q:PositionCharacteristicItem").size(), std::size_t{1});
  }

  // One limit alone is one, whichever it is; no limit is told.
  void oneLimit() {
    const std::string both = "<MaxValue>12.05</MaxValue><MinValue>11.98</MinValue>";
    for (const auto& [left, is] : {std::pair{"<MaxValue>12.05</MaxValue>", "MAX"},
                                   {"<MinValue>11.98</MinValue>", "MIN"},
                                   {"", ""}}) {
      std::string text = foreign({});
      const auto at = text.find(both);
      QVERIFY(at != std::string::npos);
      text.replace(at, both.size(), left);
      const auto read = readQif(text, "foreign.qif", bare(), ReadOnto::Part);
      VERIFY_OK(read);
      const auto& all = read->plan.spec.requirements;
      const std::string ends = is;
      const auto single = std::count_if(all.begin(), all.end(), [&](const Requirement& r) {
        return hasSingleLimit(r) && !ends.empty() && describe(r).ends_with(ends);
      });
      QCOMPARE(single, *is ? 1 : 0);
      QCOMPARE(inLines(read->remarks).find("it has no limit") != std::string::npos, !*is);
    }
  }

  void bad_data() {
    QTest::addColumn<QString>("text");
    QTest::addColumn<QString>("says");
    QTest::newRow("empty") << ""
                           << "not valid XML";
    QTest::newRow("cut") << QString::fromStdString(foreign({}).substr(0, 1500)) << "not valid XML";
    QTest::newRow("other") << "<html/>"
                           << "holds no QIF document";
    QTest::newRow("version") << "<QIFDocument versionQIF='2.1.0'><Features/></QIFDocument>"
                             << "QIF 3 is read here";
    QTest::newRow("nothing") << "<QIFDocument/>"
                             << "holds no features";
    QTest::newRow("twice")
        << "<QIFDocument><Features><A id='3'/><B id='3'/></Features></QIFDocument>"
        << "the id 3 is given twice";
    QTest::newRow("more behind it")
        << QString::fromStdString(foreign({})) + QString(5, QChar(0)) << "bytes that no text has";
    QTest::newRow("and once more")
        << QString::fromStdString(foreign({}) + foreign({})) << "not valid XML";
    QString deep = "<QIFDocument><Features>";
    for (int i = 0; i < 5000; ++i)
      deep += "<a>";
    for (int i = 0; i < 5000; ++i)
      deep += "</a>";
    QTest::newRow("deep") << deep + "</Features></QIFDocument>"
                          << "deep in each other";
  }
  void bad() {
    QFETCH(QString, text);
    QFETCH(QString, says);
    const auto read = readQif(text.toStdString(), "bad.qif", bare(), ReadOnto::Part);
    QVERIFY(!read);
    const std::string& message = read.error().message;
    QVERIFY2(message.starts_with("bad.qif") &&
                 message.find(says.toStdString()) != std::string::npos &&
                 message.find('\n') == std::string::npos,
             message.c_str());
  }

  // A thousand damaged files: an error of one line, or a routine that can be written.
  void damaged() {
    const std::string good = foreign({});
    Random random(5);
    const auto below = [&](std::size_t n) {
      return std::min(n - 1, static_cast<std::size_t>(random.uniform() * static_cast<double>(n)));
    };
    Plan base = bare();
    base.spec = {}, base.features = {};
    int read_all = 0;
    for (int i = 0; i < 1000; ++i) {
      std::string text = good;
      for (std::size_t k = 0; k <= below(3); ++k)
        i % 3 == 0 ? damageBytes(text, below) : damageElements(text, below);
      // With a plan of our own, so that nothing is drafted each time.
      const auto end = text.find("</QIFDocument>");
      if (end != std::string::npos)
        text.insert(end, "<MeasurementPlan><Attributes n='1'><AttributeStr name='alderpoint.plan' "
                         "value='{}'/></Attributes></MeasurementPlan>");
      const auto read = readQif(text, "bad.qif", base, ReadOnto::Part);
      if (!read) {
        QVERIFY2(read.error().message.find('\n') == std::string::npos,
                 read.error().message.c_str());
        continue;
      }
      ++read_all;
      QVERIFY(validSteps(read->plan));
      QVERIFY(test::QifDocument(qifDocument({read->plan, {}, {}, {}, read->qif}, {}).text).good());
    }
    QVERIFY2(read_all > 200, qPrintable(QString::number(read_all)));
  }
};

ALDER_TEST(QifForeignTest)
#include "qif_foreign_test.moc"
