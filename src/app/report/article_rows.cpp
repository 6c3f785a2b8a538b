#include "report/article_rows.h"

#include "card/fields.h"
#include "plan/article/article_scope.h"
#include <QCheckBox>
#include <QFileDialog>
#include <QGridLayout>
#include <QHeaderView>
#include <QLabel>
#include <QPushButton>
#include <QTableWidget>

namespace alder::app {

namespace {

constexpr int kTableHeight = 320, kNumberColumn = 38, kLeastField = 60;

class ArticleRows {
 public:
  ArticleRows(ReportEditor& editor, QVBoxLayout& layout)
      : editor_(editor)
      , layout_(layout) {}

  void parts() {
    scope();
    beginFields();
    // They belong to the part, and are asked here where they are wanted.
    for (const HeaderField field : {HeaderField::Number, HeaderField::Name, HeaderField::Revision})
      addLine("item.article.part_" + std::string(name(field)), words(field),
              editor_.plan().header[field],
              [e = &editor_, field](const std::string& text) { e->setHeaderField(field, text); });
    auto* assembly = new QCheckBox("of an assembly");
    assembly->setObjectName("item.article.assembly");
    assembly->setChecked(article().assembly);
    QObject::connect(assembly, &QCheckBox::toggled, assembly, [e = &editor_](bool on) {
      e->changeArticle("Assembly or detail", [&](FirstArticle& a) { a.assembly = on; });
    });
    put("Article", assembly);
    for (std::size_t i = 0; i < kArticleFields; ++i) {
      const auto field = static_cast<ArticleField>(i);
      QLineEdit* edit =
          line("item.article." + std::string(name(field)), words(field), article().texts[i],
               [i](FirstArticle& a, const std::string& text) { a.texts[i] = text; });
      edit->setPlaceholderText(QString::fromStdString(otherwise(field)));
    }
    entries("Part of the assembly", &FirstArticle::parts);
  }

  void products() {
    entries("Material or process", &FirstArticle::products);
    entries("Functional test", &FirstArticle::tests);
  }

  void characteristics() {
    const Plan& plan = editor_.plan();
    const auto accounted = articleEntries(plan);
    auto* table = new QTableWidget(static_cast<int>(accounted.size()), 4);
    table->setObjectName("item.article.characteristics");
    table->setAccessibleName("Characteristics");
    table->setHorizontalHeaderLabels({"No.", "Tooling", "Nonconf. no.", "Additional data"});
    table->verticalHeader()->hide();
    table->setFixedHeight(kTableHeight);
    table->setTabKeyNavigation(false);
    for (int r = 0; r < table->rowCount(); ++r) {
      const Requirement& requirement =
          plan.spec.requirement(accounted[static_cast<std::size_t>(r)].requirement);
      auto* number = new QTableWidgetItem(QString::number(requirement.balloon));
      number->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable);
      number->setToolTip(QString::fromStdString(describe(plan.spec, requirement)));
      table->setItem(r, 0, number);
      int column = 1;
      const ArticleCharacteristic* said = plan.article.find(requirement.id);
      const ArticleCharacteristic now = said ? *said : ArticleCharacteristic{};
      for (const std::string* text : {&now.tooling, &now.nonconformance, &now.comment})
        table->setItem(r, column++, new QTableWidgetItem(QString::fromStdString(*text)));
    }
    table->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    table->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Fixed);
    table->setColumnWidth(0, kNumberColumn);
    QObject::connect(
        table, &QTableWidget::cellChanged, table,
        [e = &editor_, table, accounted](int row, int column) {
          const RequirementId id = accounted[static_cast<std::size_t>(row)].requirement;
          const std::string text = table->item(row, column)->text().trimmed().toStdString();
          e->changeArticle("Say something of a characteristic", [&](FirstArticle& a) {
            const ArticleCharacteristic* known = a.find(id);
            ArticleCharacteristic c = known ? *known : ArticleCharacteristic{id, "", "", ""};
            (column == 1 ? c.tooling : column == 2 ? c.nonconformance : c.comment) = text;
            a.set(c);
          });
        });
    layout_.addWidget(table);
  }

 private:
  const FirstArticle& article() const { return editor_.plan().article; }

  // What is taken where the field is empty.
  std::string otherwise(ArticleField field) const {
    const PartHeader& header = editor_.plan().header;
    if (field == ArticleField::Organization) return header[HeaderField::Supplier];
    if (field == ArticleField::PurchaseOrder) return header[HeaderField::Order];
    return {};
  }

  // Two beside each other, each below its caption.
  void beginFields() {
    grid_ = new QGridLayout;
    grid_->setVerticalSpacing(2);
    grid_->setHorizontalSpacing(8);
    grid_->setColumnStretch(0, 1);
    grid_->setColumnStretch(1, 1);
    layout_.addLayout(grid_);
    fields_ = 0;
  }

  void put(const QString& words, QWidget* editor) {
    auto* caption = new QLabel(words);
    caption->setProperty("role", "second");
    caption->setBuddy(editor);
    caption->setWordWrap(true);
    editor->setMinimumWidth(kLeastField);
    editor->setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Fixed);
    grid_->addWidget(caption, fields_ / 2 * 2, fields_ % 2, Qt::AlignBottom);
    grid_->addWidget(editor, fields_ / 2 * 2 + 1, fields_ % 2);
    ++fields_;
  }

  QLineEdit* addLine(const std::string& id, std::string_view caption, const std::string& value,
                     std::function<void(const std::string&)> entered) {
    auto* edit = new QLineEdit(QString::fromStdString(value));
    edit->setObjectName(QString::fromStdString(id));
    const QString words = QString::fromUtf8(caption.data(), static_cast<qsizetype>(caption.size()));
    edit->setAccessibleName(words);
    QObject::connect(edit, &QLineEdit::editingFinished, edit,
                     [edit, value, entered = std::move(entered)] {
                       const std::string now = edit->text().trimmed().toStdString();
                       if (now != value) entered(now);
                     });
    put(words, edit);
    return edit;
  }

  QLineEdit* line(const std::string& id, std::string_view caption, const std::string& value,
                  std::function<void(FirstArticle&, const std::string&)> set) {
    const QString words = QString::fromUtf8(caption.data(), static_cast<qsizetype>(caption.size()));
    return addLine(id, caption, value,
                   [e = &editor_, words, set = std::move(set)](const std::string& now) {
                     e->changeArticle("Change " + words, [&](FirstArticle& a) { set(a, now); });
                   });
  }

  QPushButton* button(const char* id, const QString& words, std::function<void()> does) {
    auto* b = new QPushButton(words);
    b->setObjectName(id);
    QObject::connect(b, &QPushButton::clicked, b, std::move(does));
    layout_.addWidget(b);
    return b;
  }

  void scope() {
    beginFields();
    auto* scope = new ChoiceBox;
    scope->setObjectName("item.article.scope");
    scope->setAccessibleName("Accounts for");
    scope->addItems({"all requirements", "chosen ones", "what has changed"});
    scope->setCurrentIndex(static_cast<int>(article().scope));
    QObject::connect(scope, &QComboBox::activated, scope, [e = &editor_](int index) {
      e->changeArticle("Full or partial article",
                       [&](FirstArticle& a) { a.scope = static_cast<ArticleScope>(index); });
    });
    put("Accounts for", scope);
    if (article().scope == ArticleScope::Partial)
      line("item.article.chosen", "Numbers", article().chosen,
           [](FirstArticle& a, const std::string& text) { a.chosen = text; })
          ->setPlaceholderText("1-10, 14");
    if (article().scope != ArticleScope::Delta && !article().baseline) return keeps();
    auto* says = new QLabel(baselineWords());
    says->setObjectName("articleBaseline");
    says->setWordWrap(true);
    says->setProperty("role", "second");
    layout_.addWidget(says);
    keeps();
    button("baselineFrom", "Baseline from another routine …", [e = &editor_, l = &layout_] {
      const QString path = QFileDialog::getOpenFileName(l->parentWidget(),
                                                        "Routine of the article "
                                                        "before",
                                                        {}, "Routines (*.alder)");
      if (!path.isEmpty()) e->baselineFrom(path);
    });
  }

  void keeps() {
    button("keepBaseline", "Keep as baseline for the next article",
           [e = &editor_] { e->keepBaseline(); });
  }

  QString baselineWords() const {
    if (!article().baseline) return "No article is kept that this one could stand on.";
    const ArticleBaseline& b = *article().baseline;
    QStringList parts;
    for (const std::string& text : {b.identifier, b.part, b.revision, b.date})
      if (!text.empty()) parts << QString::fromStdString(text);
    const auto changed =
        article().scope == ArticleScope::Delta
            ? QString("; %1 characteristics changed").arg(articleEntries(editor_.plan()).size())
            : QString();
    return QString("Baseline: %1%2").arg(parts.join(", "), changed);
  }

  // Entries of a list one below the other, with room for one more.
  template <class Entry> void entries(const char* what, std::vector<Entry> FirstArticle::*list) {
    const std::vector<Entry>& all = article().*list;
    for (std::size_t i = 0; i < all.size(); ++i) {
      auto* head =
          new QLabel(all.size() > 1 ? QString("%1 %2").arg(what).arg(i + 1) : QString(what));
      head->setProperty("role", "head");
      layout_.addWidget(head);
      beginFields();
      const auto field = [&](const char* key, const char* caption, const std::string& value) {
        line(std::string("item.article.") + what + std::to_string(i) + "." + key, caption, value,
             [=, k = std::string(key)](FirstArticle& a, const std::string& text) {
               const auto set = [&](const char* other, const char*, std::string& there) {
                 if (k == other) there = text;
               };
               Entry::fields((a.*list)[i], set);
             });
      };
      Entry::fields(all[i], field);
      button("removeEntry", QString("Remove the %1").arg(QString(what).toLower()),
             [e = &editor_, list, i, what] {
               e->changeArticle(QString("Remove a %1").arg(QString(what).toLower()),
                                [&](FirstArticle& a) {
                                  (a.*list).erase((a.*list).begin() + static_cast<long>(i));
                                });
             });
    }
    button(("add" + std::string(what)).c_str(), QString("Add a %1").arg(QString(what).toLower()),
           [e = &editor_, list, what] {
             e->changeArticle(QString("Add a %1").arg(QString(what).toLower()),
                              [&](FirstArticle& a) { (a.*list).push_back({}); });
           });
  }

  ReportEditor& editor_;
  QVBoxLayout& layout_;
  QGridLayout* grid_ = nullptr;
  int fields_ = 0;
};

} // namespace

void addArticleRows(ArticleForm form, ReportEditor& editor, QVBoxLayout& layout) {
  ArticleRows rows(editor, layout);
  if (form == ArticleForm::Parts)
    rows.parts();
  else if (form == ArticleForm::Products)
    rows.products();
  else
    rows.characteristics();
}

} // namespace alder::app
