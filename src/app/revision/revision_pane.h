// What a newer model or drawing changes, gone through one by one: before and now in two pictures,
// below them the list. Enter takes an entry over, Delete leaves it as it was.
#pragma once

#include "revision/open_revision.h"
#include "revision/part_picture.h"
#include "theme/theme.h"
#include <QLabel>
#include <QListWidget>
#include <QPushButton>
#include <tuple>

namespace alder::app {

// Before or now, of the entry that is looked at.
class EntryPicture : public QWidget {
  Q_OBJECT

 public:
  EntryPicture(const Theme& theme, const QString& title);
  void show(const QImage& image, const QString& words, const QString& instead);
  const QImage& image() const { return image_; }
  QString words() const { return words_; }
  QSize pictureSize() const;

 signals:
  void resized();

 protected:
  void paintEvent(QPaintEvent* event) override;
  void resizeEvent(QResizeEvent* event) override;

 private:
  const Theme& theme_;
  QString title_, words_, instead_;
  QImage image_;
};

class RevisionPane : public QWidget {
  Q_OBJECT

 public:
  RevisionPane(Document& document, OpenRevision& revision, const Theme& theme);
  QListWidget& list() { return *list_; }
  const EntryPicture& before() const { return *before_; }
  const EntryPicture& now() const { return *now_; }
  void decideCurrent(Decision decision); // and on to the next that is open

 protected:
  bool eventFilter(QObject* watched, QEvent* event) override;

 private:
  void refresh();
  void refreshPictures();
  void select();
  QIcon mark(std::size_t entry) const;
  struct Side {
    QImage image;
    QString words, instead;
    bool waits = false; // for a page that is being drawn
    PartPtr part;       // where it is a picture of the part, with these faces lit
    std::set<FaceId> lit;
  };
  Side side(const RevisionEntry& entry, bool older, const QSize& size);
  void drawParts(const Side& before, const Side& now, const QSize& size);
  std::optional<std::size_t> current() const;

  Document& document_;
  OpenRevision& revision_;
  const Theme& theme_;
  QLabel *heading_, *says_;
  EntryPicture *before_, *now_;
  QListWidget* list_;
  QPushButton *take_, *leave_, *finish_, *give_up_;
  const Revision* listed_ = nullptr; // whose entries the list has
  std::string listed_words_;
  std::tuple<const Revision*, std::size_t, int, int> viewed_; // entry and size of the pictures
  bool pictures_open_ = false;
  JobRunner painter_;
};

} // namespace alder::app
