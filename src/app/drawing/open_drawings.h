// The drawings of the open routine as they are read: sheets, what they ask for, with which
// features; and what is done with it. Reading and drawing go on beside the window.
#pragma once

#include "document/document.h"
#include "drawing/accept.h"
#include "sheet/sheet_file.h"
#include <QImage>
#include <map>

namespace alder::app {

enum class ProposalState { Open, Taken, Refused };

class OpenDrawings : public QObject {
  Q_OBJECT

 public:
  explicit OpenDrawings(Document& document);

  // Of one file: first its first page, later all. `sheets` may be fewer than `sizes` so far.
  struct Read {
    std::shared_ptr<const std::string> bytes; // of the file, and the part: another is read anew
    PartPtr part;
    std::vector<SheetSize> sizes;
    std::vector<DrawingSheet> sheets;
    DrawingReading reading;
    DrawingTies ties;
    QString error;
    std::size_t understood = 0; // sheets that the reading is of
    bool whole() const { return !sizes.empty() && sheets.size() == sizes.size(); }
    bool allUnderstood() const { return whole() && understood == sheets.size(); }
  };

  void add(const QString& path);    // to the routine; a message where it cannot be read
  void remove();                    // the drawing that is shown
  const DrawingFile* shown() const; // nothing: the routine has none
  void show(std::size_t drawing);   // its place in the routine
  const Read* read() const;         // of the one that is shown, as far as it is there
  QImage picture(int page, double dots_per_inch); // null: being drawn, `pictured` says when

  // A proposal of the drawing that is shown.
  ProposalState state(std::size_t proposal) const;
  const Requirement* requirementOf(std::size_t proposal) const;
  std::optional<std::size_t> proposalOf(const Requirement& requirement) const;
  // What can be taken: requirements and datums.
  bool isOffered(std::size_t proposal) const;
  bool isSure(std::size_t proposal) const; // its features, and its text
  std::size_t count(ProposalState state) const;

  // With the features that are sure; where none are, with what is selected in the stage; with none
  // they wait for features. One undoable edit.
  void take(const std::vector<std::size_t>& proposals);
  void takeAllSure();
  void takeTitle();                                       // what its title block says of the part
  void refuse(const std::vector<std::size_t>& proposals); // or offers them again
  void pinBalloon(RequirementId requirement, const Vec2& at); // mm of its sheet
  void writeBallooned(const QString& path);
  void setUnit(const QString& unit); // "mm", "in"; empty: as it says
  // Picks the features that are proposed for it in the stage.
  void point(std::size_t proposal);

 signals:
  void changed(); // another drawing, more of it read, states
  void pictured(int page);

 private:
  void follow(); // the routine's drawings
  void start();
  void readOn(const DrawingFile& file, int first);
  void understand(const DrawingFile& file);
  std::vector<FaceId> selectedFaces() const;
  void setFile(const QString& words, const std::function<void(DrawingFile&)>& change);

  Document& document_;
  JobRunner reader_, thinker_, painter_;
  std::string name_; // of the one that is shown
  std::map<std::string, Read> read_;
  struct Key {
    std::string name;
    int page = 0, dots = 0;
    auto operator<=>(const Key&) const = default;
  };
  std::map<Key, QImage> pictures_;
  std::optional<Key> painting_;
};

} // namespace alder::app
