#include "report/layout/layout_json.h"

#include "base/files.h"
#include "base/random.h"
#include "report/layout/fields.h"
#include "report/layout/pick.h"
#include "report/report_file.h"
#include "support.h"
#include <QTemporaryDir>
#include <algorithm>

using namespace alder;

// Layouts as files: what is written is read as the same, and what is wrong is told where it stands.
class LayoutFileTest : public QObject {
  Q_OBJECT

  static RequirementFilter filterByLot(Random& random) {
    RequirementFilter f;
    for (int v = 0; v < kVerdictCount; ++v)
      if (random.uniform(0, 1) < 0.3) f.verdicts.insert(static_cast<Verdict>(v));
    if (random.uniform(0, 1) < 0.5) f.numbers = "1-10, 14";
    if (random.uniform(0, 1) < 0.5) f.groups = "Sizes, Run-out";
    f.key_only = random.uniform(0, 1) < 0.5;
    return f;
  }

  // Every field of every kind of item gets a value by lot.
  struct Lots {
    Random& random;
    void operator()(const char* key, std::string& v) const {
      const std::string name = key;
      v = name == "groups" ? ""
                           : name + " {serial} \"ø\" 测量 " + std::to_string(random.uniform(0, 1));
    }
    void operator()(const char*, bool& v) const { v = random.uniform(0, 1) < 0.5; }
    void whereSaid(const char* key, std::string& v) const { (*this)(key, v); }
    void whereTrue(const char*, bool& v) const { v = random.uniform(0, 1) < 0.5; }
    void operator()(const char*, int& v) const { v = 1 + static_cast<int>(random.uniform(0, 5)); }
    void operator()(const char*, std::vector<std::string>& v) const {
      v.clear();
      for (const ReportField& f : reportFields())
        if (random.uniform(0, 1) < 0.3) v.emplace_back(f.name);
    }
    void operator()(const char*, RequirementFilter& v) const { v = filterByLot(random); }
    template <class E> void named(const char*, E& v, int count) const {
      v = static_cast<E>(static_cast<int>(random.uniform(0, count - 1e-9)));
    }
    template <class E> void list(const char*, std::vector<E>& v, int count) const {
      v = {static_cast<E>(0)};
      for (int i = 1; i < count; ++i)
        if (random.uniform(0, 1) < 0.5) v.push_back(static_cast<E>(i));
    }
    void bytes(const char*, std::shared_ptr<const std::string>& v) const {
      std::string bytes;
      for (int i = 0; i < 50; ++i)
        bytes += static_cast<char>(static_cast<int>(random.uniform(0, 255)));
      v = std::make_shared<const std::string>(bytes);
    }
  };

  template <std::size_t I = 0> static void addOneOfEach(LayoutPage& page, Random& random) {
    if constexpr (I < std::variant_size_v<ItemBody>) {
      std::variant_alternative_t<I, ItemBody> body;
      Lots lots{random};
      std::decay_t<decltype(body)>::fields(body, lots);
      LayoutItem item;
      item.area = {std::round(random.uniform(10, 40)), std::round(random.uniform(10, 90)), 55.25,
                   12.5};
      item.every_page = random.uniform(0, 1) < 0.5;
      item.body = std::move(body);
      page.items.push_back(std::move(item));
      addOneOfEach<I + 1>(page, random);
    }
  }

  static Layout byLot(int seed) {
    Random random(static_cast<std::uint64_t>(seed));
    Layout layout;
    layout.name = "Layout " + std::to_string(seed);
    for (int p = 0; p < 1 + seed % 3; ++p) {
      LayoutPage page;
      page.name = "Page";
      page.format = static_cast<PageFormat>((seed + p) % 3);
      page.landscape = (seed + p) % 2 == 0;
      page.margin = 5 + p;
      page.repeats = static_cast<Repeats>(p % 2);
      page.filter = filterByLot(random);
      page.empty_too = random.uniform(0, 1) < 0.5;
      addOneOfEach(page, random);
      layout.pages.push_back(std::move(page));
    }
    return layout;
  }

 private slots:
  void whatIsWrittenIsRead() {
    for (int seed = 0; seed < 60; ++seed) {
      const Layout layout = byLot(seed);
      const auto again = layoutFrom(layoutText(layout), "a.alder-report");
      VERIFY_OK(again);
      QVERIFY(*again == layout);
      QCOMPARE(layoutText(*again), layoutText(layout));
    }
  }

  void shippedOnesAreValid() {
    const auto names = shippedLayouts();
    for (const char* name : {"failed", "full", "short"})
      QVERIFY(std::find(names.begin(), names.end(), name) != names.end());
    for (const std::string& name : names) {
      const auto layout = shippedLayout(name);
      VERIFY_OK(layout);
      QVERIFY(!layout->name.empty());
    }
  }

  // Every value of a file set to what it should not be: one line that names the place, or a layout
  // that can be written again.
  void nonsenseInAnyField() {
    const Json whole = Json::parse(layoutText(byLot(4)));
    int refused = 0, tried = 0;
    const std::vector<Json> nonsense{
        nullptr, -7, 1e308, "no such thing", Json::array(), Json::object({{"unknown", 1}}),
        true,    ""};
    const Json flat = whole.flatten();
    for (const auto& [path, value] : flat.items())
      for (const Json& wrong : nonsense) {
        Json damaged = whole;
        damaged[Json::json_pointer(path)] = wrong;
        const auto read = layoutFrom(damaged.dump(), "d.alder-report");
        ++tried;
        if (read) {
          VERIFY_OK(layoutFrom(layoutText(*read), "again"));
          continue;
        }
        ++refused;
        const std::string& line = read.error().message;
        QVERIFY2(line.find("d.alder-report") == 0 && line.find('\n') == std::string::npos &&
                     line.size() > 25,
                 line.c_str());
      }
    QVERIFY2(refused > tried / 3, qPrintable(QString("%1 of %2").arg(refused).arg(tried)));
  }

  void whatIsWrongIsTold_data() {
    QTest::addColumn<QString>("from");
    QTest::addColumn<QString>("to");
    QTest::addColumn<QString>("told");
    const auto row = [](const char* name, const char* from, const char* to, const char* told) {
      QTest::newRow(name) << from << to << told;
    };
    row("kind", "\"counts\"", "\"sums\"", "must be one of: text, fields");
    row("column", "\"actual\"", "\"real\"", "must hold some of: number, requirement");
    row("field", "{outcome}", "{result}", "there is no field \"result\"");
    row("header field", "\"serial\"", "\"cereal\"", "there is no field \"cereal\"");
    row("off the page", "[14.0,12.0,182.0", "[140.0,12.0,182.0", "does not stand within the page");
    row("number of places", "[14.0,12.0,", "[14.0,", "must be four numbers");
    row("unknown", "\"margin\"", "\"magrin\"", "is not known here");
    row("another file", "report layout", "routine", "is no report layout");
    row("newer", "\"version\": 1", "\"version\": 9", "newer Alderpoint");
    row("cut", "\"pages\"", "", "not valid JSON");
  }
  void whatIsWrongIsTold() {
    QFETCH(QString, from);
    QFETCH(QString, to);
    QFETCH(QString, told);
    const auto shipped = shippedLayout("short");
    VERIFY_OK(shipped);
    QString text = QString::fromStdString(layoutText(*shipped));
    QVERIFY2(text.contains(from), qPrintable(text));
    text.replace(text.indexOf(from), from.size(), to);
    const auto read = layoutFrom(text.toStdString(), "mine.alder-report");
    QVERIFY(!read);
    QVERIFY2(QString::fromStdString(read.error().message).contains(told),
             read.error().message.c_str());
  }

  void numbers() {
    const auto read = numbersFrom(" 1-10 ,14,, 20 - 22");
    VERIFY_OK(read);
    QCOMPARE(read->size(), std::size_t(3));
    QCOMPARE(read->at(2).second, 22);
    for (const char* wrong : {"x", "3-1", "-4", "1-2-3", "1.5", "99999999999"})
      QVERIFY2(!numbersFrom(wrong), wrong);
  }

  void fieldsInTexts() {
    ReportModel model;
    model.part_serial = "HB-7", model.title = "Heron";
    QCOMPARE(filled("{serial}: {routine}", model), std::string("HB-7: Heron"));
    QCOMPARE(filled("  {part.order} {serial} {part.name}", model), std::string("HB-7"));
    QCOMPARE(filled("{{serial} {", model), std::string("{serial} {"));
    QVERIFY(!fieldsKnown("{nothing}"));
    for (const ReportField& f : reportFields())
      VERIFY_OK(fieldsKnown("{" + std::string(f.name) + "}"));
  }

  // A shop's folder goes before the program's layouts, and the routine's own before both.
  void ofTheShop() {
    QTemporaryDir folder;
    auto layout = shippedLayout("short");
    VERIFY_OK(layout);
    layout->name = "Ours";
    VERIFY_OK(writeFile(folder.filePath("short.alder-report").toStdString(), layoutText(*layout)));
    VERIFY_OK(writeFile(folder.filePath("shop.alder-report").toStdString(), layoutText(*layout)));
    VERIFY_OK(writeFile(folder.filePath("spoilt.alder-report").toStdString(), "{"));
    VERIFY_OK(writeFile(folder.filePath("other.txt").toStdString(), "no layout"));
    Plan plan = test::heronPlan();
    QVERIFY(shopLayouts().empty());
    qputenv("ALDERPOINT_LAYOUTS", folder.path().toLocal8Bit());
    QVERIFY(shopLayouts() == (std::vector<std::string>{"shop", "short", "spoilt"}));
    const auto names = layoutsFor(plan);
    QVERIFY(std::count(names.begin(), names.end(), "short") == 1);
    QVERIFY(std::find(names.begin(), names.end(), "full") != names.end());
    const auto shops = layoutNamed(plan, "short");
    const auto spoilt = layoutNamed(plan, "spoilt");
    plan.layouts = {{"short", layoutText(byLot(3))}};
    const auto own = layoutNamed(plan, "short");
    qputenv("ALDERPOINT_LAYOUTS", "/nowhere/at/all");
    QVERIFY(shopLayouts().empty());
    VERIFY_OK(layoutNamed(plan, "full"));
    qunsetenv("ALDERPOINT_LAYOUTS");
    VERIFY_OK(shops);
    QCOMPARE(shops->name, std::string("Ours"));
    QVERIFY(!spoilt);
    QVERIFY(spoilt.error().message.find("spoilt.alder-report") != std::string::npos);
    VERIFY_OK(own);
    QCOMPARE(own->name, byLot(3).name);
  }
};

ALDER_TEST(LayoutFileTest)
#include "layout_file_test.moc"
