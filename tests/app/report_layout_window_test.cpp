#include "base/files.h"
#include "report/item_form.h"
#include "report/layout/layout_json.h"
#include "report/report_file.h"
#include "window_driver.h"
#include <QPrinter>
#include <QTableWidget>
#include <QTemporaryDir>

using namespace alder;
using namespace alder::app;

// A quality engineer lays out a report with mouse and keys, keeps it as a template, and uses it for
// another routine.
class ReportLayoutWindowTest : public WindowDriver {
  Q_OBJECT

  ReportEditor& editor() { return window_->reportEditor(); }
  PagesView& pages() { return window_->pagesView(); }
  bool composed() {
    return QTest::qWaitFor(
        [&] { return !editor().composing() && !editor().composed().pages.empty(); }, 60000);
  }
  const PlacedPiece* piece(std::size_t page, std::size_t item) {
    for (const PlacedPiece& p : editor().composed().placed)
      if (p.layout_page == page && p.item == item) return &p;
    return nullptr;
  }
  std::size_t itemOf(std::string_view kind) {
    const auto& items = editor().layout().pages[0].items;
    for (std::size_t i = 0; i < items.size(); ++i)
      if (kindOf(items[i].body) == kind) return i;
    return items.size();
  }
  QPoint middleOf(const PlacedPiece& p) {
    return pages().toView(p.page, p.area.middle()).toPoint();
  }
  void drag(const QPoint& from, const QPoint& to) {
    QWidget* on = pages().viewport();
    QTest::mousePress(on, Qt::LeftButton, {}, from);
    for (int i = 1; i <= 8; ++i) // as a hand does
      moveTo(on, from + (to - from) * i / 8);
    QTest::mouseRelease(on, Qt::LeftButton, {}, to);
    QVERIFY(composed());
  }
  static void moveTo(QWidget* on, const QPoint& at) {
    QMouseEvent move(QEvent::MouseMove, at, on->mapToGlobal(at), Qt::NoButton, Qt::LeftButton,
                     Qt::NoModifier);
    QApplication::sendEvent(on, &move);
  }
  void key(Qt::Key k, Qt::KeyboardModifiers with = {}) {
    QTest::keyClick(&pages(), k, with);
    QVERIFY(composed());
  }

 private slots:
  void initTestCase() {
    makeWindow();
    document().open(data("heron.alder"));
    QTest::qWait(100);
    QVERIFY(idle());
    document().run({}, 3);
    QVERIFY(QTest::qWaitFor([&] { return !document().runs().empty(); }, 60000));
    QVERIFY(idle());
  }
  void init() {
    window_->setComposing(false);
    undoAll();
    press("layoutReport");
    QVERIFY(editor().active());
    editor().choose("full");
    QVERIFY(composed());
    QTest::qWait(50);
  }

  // Its pages stand where the stage was, filled from the part on screen.
  void opensFilled() {
    QVERIFY(pages().isVisible() && !window_->stage().isVisible());
    QVERIFY(editor().composed().pages.size() >= 3);
    QCOMPARE(editor().name(), std::string("full"));
    QVERIFY(!editor().isOwn());
    const QImage picture = pages().grab().toImage();
    std::set<QRgb> colors;
    for (int x = 0; x < picture.width(); x += 2)
      for (int y = 0; y < picture.height(); y += 2)
        colors.insert(picture.pixel(x, y));
    QVERIFY(colors.size() > 60); // the part, shaded
    key(Qt::Key_Escape);
    QVERIFY(!editor().active() && window_->stage().isVisible());
  }

  // Dragged, sized, moved by keys, duplicated, removed; each is one step back.
  void movedAndUndone() {
    const std::size_t counts = itemOf("counts");
    const Area before = editor().layout().pages[0].items[counts].area;
    const PlacedPiece* p = piece(0, counts);
    QVERIFY(p);
    drag(middleOf(*p), middleOf(*p) + QPoint(0, 90));
    const Area after = editor().layout().pages[0].items[counts].area;
    QVERIFY(after.y > before.y + 15);
    NEAR(after.h, before.h, 1e-9);
    QVERIFY(editor().isOwn());
    QVERIFY(editor().selected() == (LayoutPlace{0, counts}));
    const double y = after.y;
    key(Qt::Key_Down);
    key(Qt::Key_Down, Qt::ShiftModifier);
    NEAR(editor().layout().pages[0].items[counts].area.y, y + 11, 1e-9);
    key(Qt::Key_Right, Qt::ControlModifier);
    QVERIFY(editor().layout().pages[0].items[counts].area.w != before.w ||
            before.right() > 195); // it is as wide as the page allows
    const std::size_t many = editor().layout().pages[0].items.size();
    key(Qt::Key_D);
    QCOMPARE(editor().layout().pages[0].items.size(), many + 1);
    key(Qt::Key_Delete);
    QCOMPARE(editor().layout().pages[0].items.size(), many);
    QVERIFY(!editor().selected());
    undoAll();
    QVERIFY(composed());
    QVERIFY(!editor().isOwn());
    QVERIFY(editor().layout().pages[0].items[counts].area == before);
  }

  // From the card onto the page, by a click and by dragging it.
  void addedFromTheCard() {
    const std::size_t many = editor().layout().pages[0].items.size();
    click("new.signature");
    QVERIFY(composed());
    QCOMPARE(editor().layout().pages[0].items.size(), many + 1);
    QCOMPARE(kindOf(editor().selectedItem()->body), std::string_view("signature"));
    type("item.caption", "Inspected by");
    QVERIFY(composed());
    QCOMPARE(std::get<SignatureItem>(editor().selectedItem()->body).caption,
             std::string("Inspected by"));
    editor().select({});
    auto* button = field<QPushButton>("new.text");
    QVERIFY(button);
    const QPoint target = pages().viewport()->mapToGlobal(pages().toView(0, {40, 60}).toPoint());
    QTest::mousePress(button, Qt::LeftButton, {}, QPoint(5, 5));
    for (const double t : {0.3, 0.7, 1.0}) {
      const QPoint start = button->mapToGlobal(QPoint(5, 5));
      moveTo(button, button->mapFromGlobal(start + (target - start) * t));
    }
    QTest::mouseRelease(button, Qt::LeftButton, {}, button->mapFromGlobal(target));
    QVERIFY(composed());
    const LayoutItem* item = editor().selectedItem();
    QVERIFY(item && kindOf(item->body) == "text");
    QVERIFY(std::abs(item->area.y - 60) < 4);
  }

  // What the fields of the card hold is what stands on the page.
  void fieldsChangeThePage() {
    const std::size_t table = itemOf("table");
    const PlacedPiece* p = piece(0, table);
    QVERIFY(p);
    editor().select(LayoutPlace{0, table});
    choose("item.order", "worst");
    QVERIFY(composed());
    QVERIFY(std::get<TableItem>(editor().selectedItem()->body).order == OrderBy::Worst);
    auto* uncertainty = field<QCheckBox>("item.columns.10");
    QVERIFY(uncertainty && !uncertainty->isChecked());
    QTest::mouseClick(uncertainty, Qt::LeftButton, {}, QPoint(8, uncertainty->height() / 2));
    QVERIFY(composed());
    const auto& columns = std::get<TableItem>(editor().selectedItem()->body).columns;
    QVERIFY(std::find(columns.begin(), columns.end(), Column::Uncertainty) != columns.end());
    type("item.numbers", "1-3");
    QVERIFY(composed());
    QVERIFY(piece(0, table)->area.h < 40);
    type("item.numbers", "one to three"); // refused, and told
    QVERIFY(told().contains("no balloon number"));
    QCOMPARE(std::get<TableItem>(editor().selectedItem()->body).filter.numbers, std::string("1-3"));
  }

  // Tab goes from item to item, Return to its fields, Escape back.
  void keysAlone() {
    pages().setFocus();
    QTest::keyClick(&pages(), Qt::Key_Tab);
    QVERIFY(editor().selected() == (LayoutPlace{0, 0}));
    QTest::keyClick(&pages(), Qt::Key_Tab);
    QVERIFY(editor().selected() == (LayoutPlace{0, 1}));
    QTest::keyClick(&pages(), Qt::Key_Backtab, Qt::ShiftModifier);
    QVERIFY(editor().selected() == (LayoutPlace{0, 0}));
    QTest::keyClick(&pages(), Qt::Key_Return);
    QTest::qWait(50);
    QWidget* focused = QApplication::focusWidget();
    QVERIFY(focused && focused->objectName().startsWith("item."));
    // What is typed and not taken is given up by Escape.
    const Layout before = editor().layout();
    QTest::keyClicks(focused, "not meant");
    QTest::keyClick(focused, Qt::Key_Escape);
    QTest::qWait(50);
    QVERIFY(editor().layout() == before);
    QVERIFY(pages().hasFocus());
    QVERIFY(editor().selected());
    QTest::keyClick(&pages(), Qt::Key_Escape);
    QVERIFY(!editor().selected() && editor().active());
  }

  // A first article: what is lacking is told, asked beside its form, kept, and undone.
  void firstArticle() {
    editor().choose("first-article");
    QVERIFY(composed());
    const auto lacks = [&] {
      std::string all;
      for (const std::string& line : editor().composed().told)
        all += line + "\n";
      return all;
    };
    QVERIFY2(lacks().find("4 FAIR identifier") != std::string::npos, lacks().c_str());
    editor().select(LayoutPlace{0, itemOf("as9102_form")});
    type("item.article.part_number", "TW-40");
    type("item.article.identifier", "FAI-{serial}");
    type("item.article.process_reference", "RT-4");
    QVERIFY(composed());
    QCOMPARE(document().plan().header[HeaderField::Number], std::string("TW-40"));
    QVERIFY2(lacks().find("FAIR identifier") == std::string::npos, lacks().c_str());
    QVERIFY(lacks().find("1 Part number") == std::string::npos);
    // A part of it, then what changed since an article that is kept.
    choose("item.article.scope", "chosen ones");
    type("item.article.chosen", "1-3");
    QVERIFY(composed());
    editor().select(LayoutPlace{2, 2});
    QTest::qWait(50);
    auto* table = field<QTableWidget>("item.article.characteristics");
    QVERIFY(table);
    QCOMPARE(table->rowCount(), 3);
    table->setFocus();
    table->setCurrentCell(1, 1);
    QTest::keyClick(table, Qt::Key_F2);
    QTest::keyClicks(QApplication::focusWidget(), "Plug gauge G-7");
    QTest::keyClick(QApplication::focusWidget(), Qt::Key_Return);
    QVERIFY(composed());
    QTest::qWait(50);
    const Requirement& second = document().plan().spec.requirements[1];
    const ArticleCharacteristic* said = document().plan().article.find(second.id);
    QVERIFY(said);
    QCOMPARE(said->tooling, std::string("Plug gauge G-7"));
    table = field<QTableWidget>("item.article.characteristics"); // made anew, where one was
    QCOMPARE(table->currentRow(), 1);
    editor().select(LayoutPlace{0, itemOf("as9102_form")});
    QTest::qWait(50);
    click("keepBaseline");
    QVERIFY(document().plan().article.baseline);
    choose("item.article.scope", "what has changed");
    QVERIFY(composed());
    Requirement tighter = second;
    tighter.upper -= 0.001;
    tighter.tolerance -= 0.001;
    QVERIFY(document().edit("tighter", {SetRequirement{tighter}}));
    QVERIFY(composed());
    QTest::qWait(50);
    QVERIFY(field<QLabel>("articleBaseline")->text().contains("; 1 characteristics changed"));
    // Of a list one more, and away again.
    editor().select(LayoutPlace{1, 2});
    QTest::qWait(50);
    click("addMaterial or process");
    type("item.article.Material or process0.certificate", "CoC-771");
    QCOMPARE(document().plan().article.products.at(0).certificate, std::string("CoC-771"));
    click("removeEntry");
    QVERIFY(document().plan().article.products.empty());
    QVERIFY(document().exportTo(dir_.filePath("fai.xlsx"), "first-article"));
    QVERIFY(document().exportTo(dir_.filePath("fai.pdf"), "first-article"));
    undoAll();
    QVERIFY(composed());
    QVERIFY(document().plan().article == FirstArticle{});
  }

  // Approved by name; a change afterwards shows; taken back.
  void approval() {
    QVERIFY(field<QLabel>("approvalSays")->text() == "Not approved");
    click("approve");
    QVERIFY2(told().contains("name"), qPrintable(told()));
    type("approvedBy", "Mira Fenn");
    click("approve");
    QVERIFY(composed());
    QTest::qWait(50);
    QVERIFY(field<QLabel>("approvalSays")->text().contains("unchanged since then"));
    document().setHeaderField(HeaderField::Revision, "D");
    QVERIFY(composed());
    QTest::qWait(50);
    QVERIFY(field<QLabel>("approvalSays")->text().endsWith("changed since then: report"));
    document().undo();
    QVERIFY(composed());
    QTest::qWait(50);
    click("withdrawApproval");
    QVERIFY(composed());
    QVERIFY(document().plan().approvals.empty());
    document().undo();
    QCOMPARE(document().plan().approvals.size(), std::size_t(1));
  }

  // A workbook of one's own is kept, chosen where a report is written, and removed.
  void workbookOfOnesOwn() {
    const QString own =
        QString::fromStdString((dataFolder() / "tests/data/workbooks/libreoffice.xlsx").string());
    editor().open(own);
    QTest::qWait(50);
    QVERIFY2(told().contains("no field {no.such.field}"), qPrintable(told()));
    QCOMPARE(editor().workbooks(), std::vector<std::string>{"libreoffice.xlsx"});
    const auto names = editor().names(); // of what can be laid out
    QVERIFY(std::find(names.begin(), names.end(), "libreoffice.xlsx") == names.end());
    QVERIFY(document().exportTo(dir_.filePath("own.xlsx"), "libreoffice.xlsx"));
    QVERIFY(!document().exportTo(dir_.filePath("own.pdf"), "libreoffice.xlsx"));
    QVERIFY2(told().contains("is a workbook"), qPrintable(told()));
    QVERIFY(document().save(dir_.filePath("with workbook.alder")));
    const auto again = openProject(dir_.filePath("with workbook.alder").toStdString());
    VERIFY_OK(again);
    QVERIFY(again->plan.layouts == document().plan().layouts);
    const auto before = document().plan().layouts;
    editor().open(data("heron.alder")); // no layout
    QVERIFY(document().plan().layouts == before);
    QFile wrong(dir_.filePath("wrong.xlsx"));
    QVERIFY(wrong.open(QFile::WriteOnly));
    wrong.write("PK but no workbook");
    wrong.close();
    editor().open(wrong.fileName());
    QVERIFY2(told().startsWith("wrong.xlsx: is no workbook"), qPrintable(told()));
    QVERIFY(document().plan().layouts == before);
    click("removeWorkbook");
    QVERIFY(editor().workbooks().empty());
  }

  // Pages are added, named, turned, and repeat for requirements.
  void pagesOfTheLayout() {
    click("addPage");
    QVERIFY(composed());
    QCOMPARE(editor().layout().pages.size(), std::size_t(3));
    choose("page.format", "A3");
    choose("page.landscape", "landscape");
    QVERIFY(composed());
    const PaperSize a3 = editor().layout().pages[1].size();
    QVERIFY(a3.width > 400);
    choose("page.repeats", "one for each requirement");
    click("new.requirement");
    QVERIFY(composed());
    QVERIFY(editor().composed().pages.size() >= 35);
    editor().select({});
    click("removePage");
    QVERIFY(composed());
    QCOMPARE(editor().layout().pages.size(), std::size_t(2));
  }

  // A template of one routine is used for another; a wrong file is told and changes nothing.
  void templateForAnotherRoutine() {
    editor().select(LayoutPlace{0, itemOf("text")});
    editor().changeItem("t", [](LayoutItem& i) {
      std::get<TextItem>(i.body).text = "Saltmarsh incoming goods {serial}";
    });
    const QString file = dir_.filePath("Incoming.alder-report");
    QVERIFY(editor().saveAs(file));
    document().save(dir_.filePath("with layout.alder"));
    const auto again = openProject(dir_.filePath("with layout.alder").toStdString());
    QVERIFY(again && again->plan.layouts.size() == 1);

    document().open(data("heron-clamp.alder"));
    QTest::qWait(100);
    QVERIFY(idle());
    QVERIFY(!editor().active());
    press("layoutReport");
    QVERIFY(composed());
    QCOMPARE(editor().name(), std::string("full"));
    editor().open(file);
    QVERIFY(composed());
    QCOMPARE(editor().name(), std::string("Incoming"));
    QVERIFY(editor().isOwn());
    QVERIFY(document().exportTo(dir_.filePath("incoming.pdf"), "Incoming"));
    QVERIFY(QFile(dir_.filePath("incoming.pdf")).size() > 20000);
    const auto before = document().plan().layouts;
    QFile wrong(dir_.filePath("wrong.alder-report"));
    QVERIFY(wrong.open(QFile::WriteOnly));
    wrong.write("{\"alderpoint\": \"report layout\", \"version\": 1, \"pages\": [{\"items\": 3}]}");
    wrong.close();
    editor().open(wrong.fileName());
    QVERIFY2(told().contains("wrong.alder-report"), qPrintable(told()));
    QVERIFY(document().plan().layouts == before);
    document().undo();
    QVERIFY(composed());
    QCOMPARE(editor().name(), std::string("full"));
    document().open(data("heron.alder"));
    QTest::qWait(100);
    QVERIFY(idle());
  }

  // Each page in its own format, whether they are laid out at the moment or not.
  void printed() {
    QTemporaryDir folder;
    const auto printedTo = [&](const char* name) {
      QPrinter printer(QPrinter::HighResolution);
      printer.setOutputFormat(QPrinter::PdfFormat);
      printer.setResolution(72);
      printer.setOutputFileName(folder.filePath(name));
      window_->printOn(printer);
      QFile file(folder.filePath(name));
      return file.open(QIODevice::ReadOnly) ? file.readAll() : QByteArray();
    };
    window_->setComposing(false);
    const QByteArray whole = printedTo("a.pdf");
    QVERIFY2(told().startsWith("Printed: "), qPrintable(told()));
    const auto pages = whole.count("/Type /Page\n");
    QVERIFY(pages >= 2);
    window_->setComposing(true);
    QVERIFY(composed());
    QCOMPARE(printedTo("b.pdf").count("/Type /Page\n"), pages);
    QCOMPARE(static_cast<std::size_t>(pages), editor().composed().pages.size());
    // Of a range, what was printed is told; one behind the last page is refused.
    const auto rangeTold = [&](int from, int to) {
      QPrinter printer(QPrinter::HighResolution);
      printer.setOutputFormat(QPrinter::PdfFormat);
      printer.setResolution(72);
      printer.setOutputFileName(folder.filePath("c.pdf"));
      printer.setFromTo(from, to);
      window_->printOn(printer);
      return told();
    };
    QCOMPARE(rangeTold(2, 2), QString("Printed: 1 page"));
    QVERIFY2(rangeTold(80, 90).contains("ends with page"), qPrintable(told()));
    // A printer that cannot be written to is told.
    QPrinter nowhere(QPrinter::HighResolution);
    nowhere.setOutputFormat(QPrinter::PdfFormat);
    nowhere.setOutputFileName("/nowhere/at/all.pdf");
    window_->printOn(nowhere);
    QVERIFY2(told().contains("takes no pages"), qPrintable(told()));
    window_->setComposing(false);
  }

  // Layouts of a folder that the shop shares stand beside the program's, and go with it.
  void ofTheShop() {
    QTemporaryDir folder;
    auto layout = layoutNamed(document().plan(), "short");
    QVERIFY(layout);
    QVERIFY(
        writeFile(folder.filePath("Saltmarsh.alder-report").toStdString(), layoutText(*layout)));
    window_->setComposing(true);
    QVERIFY(composed());
    editor().setShopFolder(folder.path());
    QVERIFY2(told().startsWith("1 layout in"), qPrintable(told()));
    const auto names = editor().names();
    QVERIFY(std::find(names.begin(), names.end(), "Saltmarsh") != names.end());
    editor().choose("Saltmarsh");
    QVERIFY(composed());
    QVERIFY(editor().isShops() && !editor().isOwn());
    QTRY_VERIFY(window_->findChild<QPushButton*>("noShopFolder"));
    click("noShopFolder");
    QVERIFY(composed());
    QVERIFY(editor().shopFolder().isEmpty());
    QCOMPARE(editor().name(), std::string("full"));
    window_->setComposing(false);
  }
};

ALDER_TEST(ReportLayoutWindowTest)
#include "report_layout_window_test.moc"
