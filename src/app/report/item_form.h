// The fields of a layout's item as a form: every kind of item gives its fields by name, each gets
// the editor that fits its kind.
#pragma once

#include "card/fields.h"
#include "report/layout/layout.h"
#include <QCheckBox>
#include <QFormLayout>
#include <QSpinBox>
#include <functional>

namespace alder::app {

QString captionOfField(const char* key);

class ItemForm {
 public:
  // Rows are added to `form`; `change` is handed the item as it becomes.
  // `views`: that the routine keeps.
  ItemForm(const LayoutItem& item, QFormLayout& form, QStringList views,
           std::function<void(const ItemBody& body)> change);

  // Called by the item for each of its fields.
  void operator()(const char* key, std::string& value);
  void operator()(const char* key, bool& value);
  void whereTrue(const char* key, bool& value) { (*this)(key, value); }
  void whereSaid(const char* key, std::string& value) { (*this)(key, value); }
  void operator()(const char* key, int& value);
  void operator()(const char* key, std::vector<std::string>& value); // names of fields
  void operator()(const char* key, RequirementFilter& value);
  template <class E> void named(const char* key, E& value, int count) {
    QStringList names;
    for (int i = 0; i < count; ++i)
      names << wordsOf(name(static_cast<E>(i)));
    choice(key, names, static_cast<int>(value),
           [&value](int index) { value = static_cast<E>(index); });
  }
  template <class E> void list(const char* key, std::vector<E>& value, int count) {
    std::vector<QString> titles;
    std::vector<bool> in(static_cast<std::size_t>(count), false);
    for (int i = 0; i < count; ++i)
      titles.push_back(QString::fromUtf8(words(static_cast<E>(i)).data()));
    for (const E one : value)
      in[static_cast<std::size_t>(one)] = true;
    ticks(key, titles, in, [&value](int index, bool on) {
      const E one = static_cast<E>(index);
      std::erase(value, one);
      if (!on) return;
      // In the order in which all of them stand.
      const auto after = std::find_if(value.begin(), value.end(), [&](E e) { return e > one; });
      value.insert(after, one);
    });
  }
  void bytes(const char* key, std::shared_ptr<const std::string>& value);

 private:
  static QString wordsOf(std::string_view name);
  void choice(const char* key, const QStringList& names, int now,
              const std::function<void(int)>& set);
  void ticks(const char* key, const std::vector<QString>& titles, const std::vector<bool>& in,
             const std::function<void(int, bool)>& set);
  void row(const char* key, QWidget* editor);
  void changed() const;

  // The editors hold on to it as long as they are there.
  std::shared_ptr<ItemBody> body_;
  QFormLayout& form_;
  QStringList views_;
  std::function<void(const ItemBody&)> change_;
};

// Rows for a filter, which pages have too.
void addFilterRows(QFormLayout& form, const RequirementFilter& filter,
                   const std::function<void(const RequirementFilter&)>& change);

} // namespace alder::app
