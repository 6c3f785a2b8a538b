#include "report/item_form.h"

#include "base/files.h"
#include "report/layout/fields.h"
#include <QFileDialog>
#include <QLabel>
#include <QPushButton>
#include <QSignalBlocker>
#include <map>

namespace alder::app {
namespace {

// Several lines, as high as a few of them.
TextEdit* textBox(const std::string& text) {
  auto* edit = new TextEdit(QString::fromStdString(text));
  edit->setFixedHeight(74);
  edit->setTabChangesFocus(true);
  return edit;
}

} // namespace

QString captionOfField(const char* key) {
  static const std::map<std::string, const char*> kCaptions{
      {"text", "Text"},
      {"look", "Look"},
      {"align", "Aligned"},
      {"fields", "Fields"},
      {"columns", "Columns"},
      {"empty_too", "Empty ones too"},
      {"group", "Grouped by"},
      {"order", "Order"},
      {"members", "Features of patterns"},
      {"number", "Number"},
      {"how", "How it came about"},
      {"of_page", "Of the page's requirement"},
      {"kept_view", "Kept view"},
      {"deviations", "Deviations drawn"},
      {"deviations_as", "Drawn as"},
      {"without_edges", "Without edges"},
      {"indicator", "Callout in full"},
      {"actual", "Actual"},
      {"deviation", "Deviation"},
      {"share", "Tolerance used"},
      {"verdict", "Verdict in words"},
      {"what", "What"},
      {"form", "Form"},
      {"heading", "With its heading"},
      {"name", "Name"},
      {"picture", "Picture"},
      {"caption", "Below the line"},
      {"numbers", "Numbers"},
      {"groups", "Kinds"},
      {"key_only", "Key characteristics only"},
      {"verdicts", "Verdicts"},
  };
  const auto found = kCaptions.find(key);
  return found == kCaptions.end() ? QString(key) : QString(found->second);
}

ItemForm::ItemForm(const LayoutItem& item, QFormLayout& form, QStringList views,
                   std::function<void(const ItemBody&)> change)
    : body_(std::make_shared<ItemBody>(item.body))
    , form_(form)
    , views_(std::move(views))
    , change_(std::move(change)) {
  std::visit([this](auto& body) { std::decay_t<decltype(body)>::fields(body, *this); }, *body_);
}

QString ItemForm::wordsOf(std::string_view name) {
  if (name.empty()) return "nothing";
  QString words = QString::fromUtf8(name.data(), static_cast<qsizetype>(name.size()));
  return words.replace('_', ' ');
}

void ItemForm::row(const char* key, QWidget* editor) {
  editor->setObjectName(QString("item.%1").arg(key));
  editor->setAccessibleName(captionOfField(key));
  form_.addRow(captionOfField(key), editor);
}

void ItemForm::operator()(const char* key, std::string& value) {
  const auto change = [body = body_, notify = change_, &value](const QString& text) {
    value = text.toStdString();
    notify(*body);
  };
  if (std::string_view(key) == "kept_view") {
    QStringList names = views_;
    const QString now = QString::fromStdString(value);
    if (!now.isEmpty() && !names.contains(now)) names << now; // it is gone
    names.prepend("none");
    return choice(key, names, now.isEmpty() ? 0 : static_cast<int>(names.indexOf(now)),
                  [names, &value](int index) {
                    value = index == 0 ? std::string() : names[index].toStdString();
                  });
  }
  if (std::string_view(key) == "text") {
    auto* edit = textBox(value);
    edit->setToolTip("In braces: {part.number}, {serial}, {date}, {page} of {pages} …");
    QObject::connect(edit, &TextEdit::entered, edit, change);
    return row(key, edit);
  }
  auto* edit = new QLineEdit(QString::fromStdString(value));
  QObject::connect(edit, &QLineEdit::editingFinished, edit, [edit, change, &value] {
    if (edit->text().toStdString() != value) change(edit->text());
  });
  row(key, edit);
}

void ItemForm::operator()(const char* key, bool& value) {
  auto* box = new QCheckBox;
  box->setChecked(value);
  QObject::connect(box, &QCheckBox::toggled, box,
                   [body = body_, notify = change_, &value](bool on) {
                     value = on;
                     notify(*body);
                   });
  row(key, box);
}

void ItemForm::operator()(const char* key, int& value) {
  auto* box = new QSpinBox;
  const bool columns = std::string_view(key) == "columns";
  box->setRange(columns ? 1 : 0, columns ? 6 : 9999);
  if (!columns) box->setSpecialValueText("the page's");
  box->setValue(value);
  box->setKeyboardTracking(false);
  QObject::connect(box, &QSpinBox::valueChanged, box,
                   [body = body_, notify = change_, &value](int now) {
                     value = now;
                     notify(*body);
                   });
  row(key, box);
}

void ItemForm::operator()(const char* key, std::vector<std::string>& value) {
  std::vector<QString> titles;
  std::vector<bool> in;
  for (const ReportField& f : reportFields()) {
    titles.push_back(QString::fromUtf8(f.caption.data()));
    in.push_back(std::find(value.begin(), value.end(), f.name) != value.end());
  }
  ticks(key, titles, in, [&value](int index, bool on) {
    const auto& all = reportFields();
    const std::string name(all[static_cast<std::size_t>(index)].name);
    std::erase(value, name);
    if (on) value.push_back(name);
  });
}

void ItemForm::choice(const char* key, const QStringList& names, int now,
                      const std::function<void(int)>& set) {
  auto* box = new ChoiceBox;
  box->addItems(names);
  box->setCurrentIndex(now);
  QObject::connect(box, &QComboBox::activated, box,
                   [body = body_, notify = change_, set](int index) {
                     set(index);
                     notify(*body);
                   });
  row(key, box);
}

void ItemForm::ticks(const char* key, const std::vector<QString>& titles,
                     const std::vector<bool>& in, const std::function<void(int, bool)>& set) {
  auto* all = new QWidget;
  auto* grid = new QGridLayout(all);
  grid->setContentsMargins(0, 0, 0, 0);
  grid->setVerticalSpacing(1);
  for (std::size_t i = 0; i < titles.size(); ++i) {
    auto* box = new QCheckBox(titles[i]);
    box->setChecked(in[i]);
    box->setObjectName(QString("item.%1.%2").arg(key).arg(i));
    QObject::connect(box, &QCheckBox::toggled, box,
                     [body = body_, notify = change_, set, i](bool on) {
                       set(static_cast<int>(i), on);
                       notify(*body);
                     });
    grid->addWidget(box, static_cast<int>(i / 2), static_cast<int>(i % 2));
  }
  auto* caption = new QLabel(captionOfField(key));
  form_.addRow(caption);
  form_.addRow(all);
}

void ItemForm::operator()(const char*, RequirementFilter& value) {
  addFilterRows(form_, value, [body = body_, notify = change_, &value](const RequirementFilter& f) {
    value = f;
    notify(*body);
  });
}

void ItemForm::bytes(const char* key, std::shared_ptr<const std::string>& value) {
  auto* button = new QPushButton(value ? "Another file …" : "Choose a file …");
  QObject::connect(
      button, &QPushButton::clicked, button, [button, body = body_, notify = change_, &value] {
        const QString path = QFileDialog::getOpenFileName(
            button->window(), "Picture", {}, "Pictures (*.png *.jpg *.jpeg *.PNG *.JPG)");
        if (path.isEmpty()) return;
        auto bytes = readFile(path.toStdString());
        if (!bytes) return button->setText(QString::fromStdString(bytes.error().message));
        value = std::make_shared<const std::string>(std::move(*bytes));
        notify(*body);
      });
  row(key, button);
}

void addFilterRows(QFormLayout& form, const RequirementFilter& filter,
                   const std::function<void(const RequirementFilter&)>& change) {
  auto now = std::make_shared<RequirementFilter>(filter);
  auto* head = new QLabel("Of which requirements");
  head->setProperty("role", "head");
  form.addRow(head);
  auto* verdicts = new QWidget;
  auto* grid = new QGridLayout(verdicts);
  grid->setContentsMargins(0, 0, 0, 0);
  grid->setVerticalSpacing(1);
  for (int i = 0; i < kVerdictCount; ++i) {
    const auto verdict = static_cast<Verdict>(i);
    auto* box = new QCheckBox(QString::fromUtf8(words(verdict).data()));
    box->setObjectName(QString("item.verdicts.%1").arg(i));
    box->setChecked(filter.verdicts.contains(verdict));
    box->setToolTip("None ticked: all of them");
    QObject::connect(box, &QCheckBox::toggled, box, [now, change, verdict](bool on) {
      if (on)
        now->verdicts.insert(verdict);
      else
        now->verdicts.erase(verdict);
      change(*now);
    });
    grid->addWidget(box, i / 2, i % 2);
  }
  form.addRow(verdicts);
  const auto line = [&](const char* key, std::string& value, const char* tip) {
    auto* edit = new QLineEdit(QString::fromStdString(value));
    edit->setObjectName(QString("item.%1").arg(key));
    edit->setPlaceholderText("all");
    edit->setToolTip(tip);
    QObject::connect(edit, &QLineEdit::editingFinished, edit, [edit, now, change, &value] {
      if (edit->text().toStdString() == value) return;
      value = edit->text().toStdString();
      change(*now);
    });
    form.addRow(captionOfField(key), edit);
  };
  line("numbers", now->numbers, "Balloons, such as 1-10, 14");
  line("groups", now->groups,
       "Sizes, Distances and angles, Values, Form, Profile, Orientation, Run-out, Location");
  auto* key = new QCheckBox;
  key->setObjectName("item.key_only");
  key->setChecked(filter.key_only);
  QObject::connect(key, &QCheckBox::toggled, key, [now, change](bool on) {
    now->key_only = on;
    change(*now);
  });
  form.addRow(captionOfField("key_only"), key);
}

} // namespace alder::app
