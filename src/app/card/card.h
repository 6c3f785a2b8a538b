// The card: properties of what is selected, edited in place and undoable. Several features selected
// are edited together.
#pragma once

#include "base/units.h"
#include "document/document.h"
#include "shell/desk.h"
#include "theme/theme.h"
#include <QComboBox>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>
#include <functional>

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
  void clashSection();
  void qualifySection();
  void timeShares(const Routed& routed);
  // requirement_section.cpp: what is demanded
  void requirementSection(const Requirement& r);
  void indicatorSection(const Requirement& r);
  void remarkRows(QVBoxLayout* into, const Requirement& r);
  void valueFields(const Requirement& r);
  void editRequirement(const QString& text, const std::function<void(Requirement&)>& change);
  // judging_section.cpp: how it is judged
  void judgedBySection(const Requirement& r);
  void associationFields(const Requirement& r);
  void zoneFields(const Requirement& r);
  void specificationFields();
  void filterFields(const Filtering& filtering, const QString& prefix,
                    std::function<void(const Filtering&)> change);
  void editSpecification(const QString& text, const std::function<void(Specification&)>& change);
  // feature_section.cpp: how it is touched
  void featureSections(const std::vector<FeatureId>& features);
  void featureSection(const std::vector<FeatureId>& features);
  void waypointFields(const Feature& feature);
  void accessSection(const std::vector<FeatureId>& features);
  void editRecipe(const QString& text, const std::function<void(Recipe&)>& change);
  // derive_section.cpp: what follows from it
  void derivedSection(const NominalFeature& feature);
  void constructionFields(const NominalFeature& feature);
  void deriveSection(const std::vector<FeatureId>& features);
  void targetFields(const Datum& datum);
  void requireSection(const std::vector<FeatureId>& features);
  void derivedList();
  // verdict_section.cpp: what came out
  void verdictSection(const Requirement& r);
  void resultRows(const Requirement& r, const Evaluation& e);
  void plots(const Requirement& r, const Evaluation& e);

  void title(const QString& text, const QString& below);
  void head(const QString& text);
  void paragraph(const QString& text, const char* role = "second");
  void figureRow(const QString& label, const QString& value);
  void row(const QString& label, QWidget* field);
  QPushButton* link(const QString& words, const char* id, std::function<void()> pressed);
  QComboBox* choice(const QString& label, const char* id, const QStringList& items, int current,
                    std::function<void(int)> chosen);
  void quantity(const QString& label, const char* id, Quantity kind, int decimals, double value,
                std::function<void(double)> entered, const QString& zero = {});

  Document& document_;
  const Theme& theme_;
  Desk desk_ = Desk::Part;
  QScrollArea* area_;
  QWidget* page_ = nullptr;
  QVBoxLayout* layout_ = nullptr;
  bool pending_ = false;
  // The compartment being edited survives that the card is built anew.
  std::optional<RequirementId> indicator_of_;
  int indicator_cell_ = 1;
};

} // namespace alder::app
