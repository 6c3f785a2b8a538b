// A newer model or drawing beside the open routine while it is gone through: what differs, what was
// decided, the pictures; and the routine changed by it in the end. Reading goes on beside the
// window.
#pragma once

#include "document/document.h"
#include "revision/revision.h"
#include <QImage>
#include <map>

namespace alder::app {

class OpenRevision : public QObject {
  Q_OBJECT

 public:
  explicit OpenRevision(Document& document);

  // A model (STEP), drawings, or both. `replaces`: the routine's drawing in whose place a drawing
  // of another name comes.
  void begin(const QStringList& paths, const std::string& replaces);
  void giveUp();
  bool active() const { return !names_.isEmpty(); } // being read, or gone through
  QString names() const { return names_; }
  const Revision* revision() const { return revision_ ? &*revision_ : nullptr; } // null: not yet
  const Plan& older() const { return *older_; } // the routine that it was compared with

  Decision decision(std::size_t entry) const { return decisions_[entry]; }
  void decide(std::size_t entry, Decision decision);
  std::size_t open() const; // entries that are not decided on
  void finish();            // one undoable edit; a message says what stands against it

  // A page of the older or the newer drawing of an entry; null: none, or being drawn.
  struct PageSpot {
    QImage page;
    double dots_per_mm = 0;
    Vec2 at = Vec2::Zero(); // mm from the lower left
    double height = 0;      // of the page, mm
  };
  std::optional<PageSpot> spotOf(const Requirement& requirement, bool older);

 signals:
  void changed();  // what is there to be gone through, or what was decided
  void pictured(); // a page was drawn

 private:
  void compare(std::shared_ptr<const RevisionSources> sources);
  void follow();
  const DrawingFile* fileOf(const DrawingSpot& spot, bool older) const;

  Document& document_;
  JobRunner reader_, painter_, finisher_;
  QString names_;
  std::shared_ptr<const RevisionSources> sources_;
  std::shared_ptr<const Plan> older_;
  std::optional<Revision> revision_;
  std::vector<Decision> decisions_;
  bool finishing_ = false;
  struct Key {
    const std::string* bytes = nullptr;
    int page = 0;
    auto operator<=>(const Key&) const = default;
  };
  std::map<Key, QImage> pages_;
  std::optional<Key> painting_;
};

} // namespace alder::app
