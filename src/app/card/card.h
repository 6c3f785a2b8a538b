// The card: properties of what is selected, edited in place and undoable. Several features selected
// are edited together.
#pragma once

#include "base/units.h"
#include "document/document.h"
#include "requirement/modifiers.h"
#include "shell/desk.h"
#include "theme/theme.h"
#include <QComboBox>
#include <QPushButton>
#include <QScrollArea>
#include <QVBoxLayout>
#include <functional>

namespace alder::app {

// Clashes of the same two bodies at one feature.
struct ClashGroup {
  Clash first;
  FeatureId feature; // not valid: on the way elsewhere
  std::size_t count = 0;
  double deepest = 0;
};
// Those that count, in the order in which they come.
std::vector<ClashGroup> groupsOf(const Routed& routed,
                                 const std::function<bool(const Clash&)>& counts);

// A step that can be put in before the selected one: by a link of the card, and by an action of the
// window where it has one.
struct StepOffer {
  int place = 0; // in the card, from 1
  QString link;  // empty: it is not put in by itself
  const char* link_id = "";
  QString action; // of a step that is the same in every routine; empty: none
  const char* action_id = "";
  QString key;
  std::optional<StepBody> body; // nothing where there is none that fits now
};

class Card : public QWidget {
  Q_OBJECT

 public:
  Card(Document& document, const Theme& theme, QWidget* parent = nullptr);
  void setDesk(Desk desk);
  static std::vector<StepOffer> offers(const Document& document);

 signals:
  void viewWanted(const QString& name);
  void wanted(const QString& action); // of the window, by its name

 private:
  void rebuild();
  void refreshBetween();
  bool halfDone() const;
  QString coverageWords() const; // what the card says of the selected requirement's cover
  void refreshLater(); // edits come from fields of this card, which must not vanish under them

  void overview();
  // bench_section.cpp, fixture_section.cpp, stylus_section.cpp: what it is touched on and with
  void benchSection();
  void setupsSection();
  void setupFields(const Setup& setup);
  void placementSection();
  void standingRows();
  void mateRows();
  void shellSection();
  void editShell(const QString& what, const std::function<void(Shell&)>& change);
  void pairSection();
  void fixtureSection();
  void addPiece(const std::string& piece);
  void bodyFields(const FixtureBody& body);
  void stylusSection();
  void stylusFields(const Stylus& stylus, std::size_t index);
  void tipFields(const Stylus& stylus, std::size_t index, std::size_t tip);
  void elementFields(const Tip& tip, std::size_t number, std::size_t element,
                     const std::function<bool(const std::function<void(Json&)>&)>& set);
  void clashSection();
  // wrong_section.cpp: what is wrong with the selection, first of all
  void wrongSection();
  void fittingStylusRow(const std::string& why);
  void wrongHead(const QString& words);
  void clashRow(const Routed& routed, const ClashGroup& group);
  void clashRows(const Routed& routed, const std::vector<ClashGroup>& groups);
  void exceptions();
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
  void modifierFields(const std::vector<ModifierField>& fields);
  void noteRows(const Requirement& r);
  void proposedFeatures(const Requirement& r);
  void keyField(const Requirement& r);
  void headerSection();
  void bodiesSection(); // bodies_section.cpp: which bodies of the file are the part
  void viewsSection();
  void rulerSection();
  void sectionRows();
  void fileWordsRow(const Requirement& r);
  void specificationFields();
  void generalFields(); // general_section.cpp
  void sizeTable(const GeneralTolerances& general);
  void filterFields(const Filtering& filtering, const QString& prefix,
                    std::function<void(const Filtering&)> change);
  void editSpecification(const QString& text, const std::function<void(Specification&)>& change);
  // feature_section.cpp: how it is touched
  void featureSections(const std::vector<FeatureId>& features);
  void featureSection(const std::vector<FeatureId>& features);
  void waypointFields(const Feature& feature);
  // recipe_section.cpp: by which rule
  void editBook(const QString& text, const std::function<void(RecipeBook&)>& change);
  void followedRecipe(const Feature& feature);
  void keepRecipe(const Feature& feature);
  void strokeFields(const Feature& feature, SurfaceType type);
  void contourFields(const Feature& feature);
  void strokeSpeeds(const Feature& feature);
  void wayFields(const std::vector<FeatureId>& features);
  void bookSection();
  void bookEntryFields(const BookEntry& entry, std::size_t index);
  void accessSection(const std::vector<FeatureId>& features);
  void editRecipe(const QString& text, const std::function<void(Recipe&)>& change);
  // construct_section.cpp: what follows from it
  // steps/step_section.cpp: steps that touch nothing
  bool showsStep() const;
  void stepSection();
  // card/steps: the fields of a step by its kind, and how one is put in
  void stepFields(StepId id, const MeasureStep& step);
  static StepOffer offerOf(const Document& document, const MeasureStep*);
  void stepFields(StepId id, const MoveStep& step);
  static StepOffer offerOf(const Document& document, const MoveStep*);
  void stepFields(StepId id, const TurnStep& step);
  static StepOffer offerOf(const Document& document, const TurnStep*);
  void stepFields(StepId id, const SwapStep& step);
  static StepOffer offerOf(const Document& document, const SwapStep*);
  void stepFields(StepId id, const WaitStep& step);
  static StepOffer offerOf(const Document& document, const WaitStep*);
  void stepFields(StepId id, const AskStep& step);
  static StepOffer offerOf(const Document& document, const AskStep*);
  void stepFields(StepId id, const NoteStep& step);
  static StepOffer offerOf(const Document& document, const NoteStep*);
  void stepFields(StepId id, const GroupStep& step);
  static StepOffer offerOf(const Document& document, const GroupStep*);
  void stepFields(StepId id, const UseFrameStep& step);
  static StepOffer offerOf(const Document& document, const UseFrameStep*);
  void stepFields(StepId id, const RepeatStep& step);
  static StepOffer offerOf(const Document& document, const RepeatStep*);
  void stepFields(StepId id, const ConstructStep& step);
  static StepOffer offerOf(const Document& document, const ConstructStep*);
  void stepFields(StepId id, const QualifyStep& step);
  static StepOffer offerOf(const Document& document, const QualifyStep*);
  void stepFields(StepId id, const EvaluateStep& step);
  static StepOffer offerOf(const Document& document, const EvaluateStep*);
  void stepFields(StepId id, const BranchStep& step);
  static StepOffer offerOf(const Document& document, const BranchStep*);
  void stepFields(StepId id, const OutputStep& step);
  static StepOffer offerOf(const Document& document, const OutputStep*);
  void pictureFields(StepId id, const WaitStep& step);
  void frameStages(const PartFrame& frame);
  void frameRounds(StepId id, const UseFrameStep& step);
  void frameChoice(StepId id, const UseFrameStep& step);
  void keptFrame(const KeptFrame& kept);
  void bandFields(const PartFrame& frame, std::size_t stage);
  void patternFields(StepId id, const Pattern& pattern);
  void aboutFeature(StepId id, const Pattern& pattern);
  void listedRows(StepId id, const Pattern& pattern);
  void copyRows(StepId id, const RepeatStep& step);
  void copyOfRows(FeatureId feature);
  void stepLine(const QString& label, const char* id, const std::string& value,
                std::function<void(const std::string&)> entered);
  void stepLinks();
  void insertLinks();
  void bareFaces(const std::vector<FaceId>& faces);
  void addToFaces(const std::vector<FaceId>& faces);
  void constructedSection(const NominalFeature& feature);
  void constructionFields(const NominalFeature& feature);
  void constructSection(const std::vector<FeatureId>& features);
  void targetFields(const Datum& datum);
  bool addsFirst() const;
  void requireSection(const std::vector<FeatureId>& features);
  void addRequirements(const std::vector<FeatureId>& features);
  void constructedList();
  // verdict_section.cpp: what came out
  void historyRows(const Requirement& requirement);
  void runsSection();
  void mapSection(); // map_section.cpp
  void thenRows(const Requirement& requirement);
  void limitsRow(double lower, double upper, const std::function<QString(double)>& shown);
  // compare_section.cpp: where the part lay
  void compareSection();
  void placeChoice(const QString& label, const char* id, const std::vector<KnownPlace>& all,
                   const std::string& current, std::string PlaceComparison::*which);
  void keptPlaces();
  void verdictSection(const Requirement& r);
  void resultRows(const Requirement& r, const Evaluation& e);
  void plots(const Requirement& r, const Evaluation& e);

  void title(const QString& text, const QString& below);
  void head(const QString& text);
  void paragraph(const QString& text, const char* role = "second");
  void figureRow(const QString& label, const QString& value);
  void row(const QString& label, QWidget* field);
  void wideRow(const QString& label, QWidget* field);
  QPushButton* link(const QString& words, const char* id, std::function<void()> pressed);
  QComboBox* choice(const QString& label, const char* id, const QStringList& items, int current,
                    std::function<void(int)> chosen);
  void quantity(const QString& label, const char* id, Quantity kind, int decimals, double value,
                std::function<void(double)> entered, const QString& word = {}, double worded = 0);

  Document& document_;
  const Theme& theme_;
  QString refused_table_; // of general tolerances, as it was typed
  Desk desk_ = Desk::Part;
  QScrollArea* area_;
  bool whole_header_ = false; // its empty fields are shown too
  QWidget* page_ = nullptr;
  QVBoxLayout* layout_ = nullptr;
  bool pending_ = false;
  QString coverage_shown_;
  bool asking_again_ = false; // while something is typed
  // The compartment being edited survives that the card is built anew.
  std::optional<RequirementId> indicator_of_;
  int indicator_cell_ = 1;
  int book_entry_ = -1; // that is unfolded
  // An exception of the clash checks while it is being made.
  struct PairDraft {
    int moving = 0, still = 0;
    QString reason;
  };
  PairDraft pair_draft_;
};

} // namespace alder::app
