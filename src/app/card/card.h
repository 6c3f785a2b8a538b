// The card: properties of what is selected, edited in place and undoable. Several features selected
// are edited together.
#pragma once

#include "document/document.h"
#include "shell/desk.h"
#include "theme/theme.h"
#include <QScrollArea>
#include <QVBoxLayout>

namespace alder::app {

class Card : public QWidget {
  Q_OBJECT

 public:
  Card(Document& document, const Theme& theme, QWidget* parent = nullptr);
  void setDesk(Desk desk);

 private:
  void rebuild();
  void refreshLater(); // edits come from fields of this card, which must not vanish under them

  void overview();
  void benchSection();
  void requirementSection(const Requirement& r);
  void remarkSection(const Requirement& r);
  void judgedBySection(const Requirement& r);
  void featureSection(const std::vector<FeatureId>& features);
  void accessSection(const std::vector<FeatureId>& features);
  void verdictSection(const Requirement& r);
  void clashSection();
  void timeShares(const Routed& routed);

  void title(const QString& text, const QString& below);
  void head(const QString& text);
  void paragraph(const QString& text, const char* role = "second");
  void figureRow(const QString& label, const QString& value);
  void row(const QString& label, QWidget* field);
  void editRecipe(const QString& text, const std::function<void(Recipe&)>& change);
  void editRequirement(const QString& text, const std::function<void(Requirement&)>& change);

  Document& document_;
  const Theme& theme_;
  Desk desk_ = Desk::Part;
  QScrollArea* area_;
  QWidget* page_ = nullptr;
  QVBoxLayout* layout_ = nullptr;
  bool pending_ = false;
};

} // namespace alder::app
