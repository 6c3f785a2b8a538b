// The report as it is laid out: the layout that is open, its pages filled from the part on screen,
// and edits of it. Edits go through the routine, which keeps the layout, and are undone with it.
#pragma once

#include "document/document.h"
#include "report/compose/composer.h"
#include "report/layout/arrange.h"

namespace alder::app {

struct LayoutPlace {
  std::size_t page = 0, item = 0; // of the layout
  friend bool operator==(const LayoutPlace&, const LayoutPlace&) = default;
};

class ReportEditor : public QObject {
  Q_OBJECT

 public:
  explicit ReportEditor(Document& document, QObject* parent = nullptr);

  // Between them pages are composed as anything changes.
  void begin();
  void end();
  bool active() const { return active_; }

  std::vector<std::string> names() const;
  const std::string& name() const { return name_; }
  bool isOwn() const;   // kept by the routine; else it is the shop's or comes with the program
  bool isShops() const; // lies in the shop's folder
  QString shopFolder() const;
  void setShopFolder(const QString& folder); // remembered; empty: none
  void choose(const std::string& name);
  const Layout& layout() const { return layout_; }
  const Composed& composed() const { return *composed_; }
  bool composing() const { return jobs_.busy(); }
  // To be printed: as composed, or made now where they are not laid out or being made anew.
  Result<std::vector<PaperPage>> pagesNow(const TextSetter& setter);

  std::optional<LayoutPlace> selected() const { return selected_; }
  const LayoutItem* selectedItem() const;
  void select(std::optional<LayoutPlace> place);
  void selectNext(int by); // item after item, page after page

  // One undoable edit; told and not done where the layout would not be valid.
  bool change(const QString& words, const std::function<void(Layout&)>& change);
  void changeItem(const QString& words, const std::function<void(LayoutItem&)>& change);
  // At that place of the page, mm; nothing: below what is there.
  void add(const ItemBody& body, std::size_t page, const std::optional<Vec2>& at = {});
  void removeSelected();
  void duplicateSelected();
  void setArea(const LayoutPlace& place, const Area& area);

  // What a first article says beside the results; undoable.
  const Plan& plan() const { return document_.plan(); }
  bool changeArticle(const QString& words, const std::function<void(FirstArticle&)>& how);
  void setHeaderField(HeaderField field, const std::string& text) {
    document_.setHeaderField(field, QString::fromStdString(text));
  }
  // Of the part on screen, as its report is now.
  bool hasPart() const { return !document_.currentRunName().empty(); }
  const ApprovalState& composedApproval() const { return approval_; }
  std::string approver() const; // who approved last in this routine
  void approve(const std::string& by);
  void withdrawApproval();
  void keepBaseline(); // the routine with its results as they are now
  void baselineFrom(const QString& path);

  bool saveAs(const QString& path);
  void open(const QString& path); // becomes the routine's, under the name in it
  // Workbooks of one's own that the routine keeps; they are filled in, not laid out.
  std::vector<std::string> workbooks() const;
  void remove(const std::string& name); // of the routine's
  void removeOwn();                     // the routine's; the shipped one of its name is there again

 signals:
  void changed(); // layout, selection
  void composedAnew();
  void message(const QString& text, bool bad);

 private:
  void reload();
  void compose();
  void openWorkbook(const QString& path);
  bool keep(const QString& words, const std::string& name, const std::string& text);

  Document& document_;
  JobRunner jobs_;
  bool active_ = false;
  std::string name_ = "full";
  Layout layout_;
  std::string text_; // of the layout as it was read
  std::optional<LayoutPlace> selected_;
  ApprovalState approval_; // of the part that was composed last
  std::shared_ptr<const Composed> composed_ = std::make_shared<const Composed>();
};

} // namespace alder::app
