// What fills a region that is empty: a sentence, and actions of the window that do it.
#pragma once

#include "theme/theme.h"
#include <QBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <functional>
#include <utility>
#include <vector>

namespace alder::app {

class EmptyHint : public QWidget {
 public:
  using Wanted = std::function<void(const QString& action)>;
  EmptyHint(const Theme& theme, const std::vector<std::pair<const char*, QString>>& actions,
            Wanted wanted, QWidget* parent)
      : QWidget(parent)
      , words_(new QLabel) {
    setObjectName("emptyHint");
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    words_->setFont(theme.text(9));
    words_->setProperty("role", "second");
    words_->setAlignment(Qt::AlignCenter);
    layout->addWidget(words_);
    auto* row = new QHBoxLayout;
    row->addStretch();
    for (const auto& [id, text] : actions) {
      auto* button = new QPushButton(text);
      button->setObjectName(QString("empty_") + id);
      QObject::connect(button, &QPushButton::clicked, this,
                       [wanted, action = QString(id)] { wanted(action); });
      row->addWidget(button);
    }
    row->addStretch();
    layout->addLayout(row);
    hide();
  }

  // The sentence, and the actions that serve; none: the region is not empty.
  void say(const QString& words, const QStringList& actions) {
    words_->setText(words);
    for (QPushButton* button : findChildren<QPushButton*>())
      button->setVisible(actions.contains(button->objectName().mid(6)));
    setVisible(!words.isEmpty());
    place();
  }
  // In the middle of the region, below its head.
  void place() {
    constexpr int kHeight = 70;
    setGeometry(16, parentWidget()->height() / 2 - kHeight / 2 + 6, parentWidget()->width() - 32,
                kHeight);
  }

 private:
  QLabel* words_;
};

} // namespace alder::app
