#include "card/card.h"
#include "card/requirement/callout_label.h"
#include "card/requirement/indicator_edit.h"
#include "card/words.h"
#include "part/pmi/file_words.h"
#include "part/recognise.h"
#include "requirement/from_pmi.h"
#include "requirement/limits.h"
#include "requirement/proofread.h"
#include <QLabel>
#include <QLineEdit>
#include <QPlainTextEdit>
#include <QTimer>
#include <algorithm>

namespace alder::app {

// All selected requirements change together; the text of the edit says how many.
void Card::editRequirement(const QString& what, const std::function<void(Requirement&)>& change) {
  std::vector<Edit> edits;
  for (RequirementId id : document_.selection().requirements) {
    Requirement r = document_.plan().spec.requirement(id);
    const Requirement before = r;
    change(r);
    // What follows general tolerances goes on doing so where only what they go by is another.
    const bool other =
        r.nominal != before.nominal || r.kind != before.kind || r.datums != before.datums;
    if (const Plan& plan = document_.plan(); !r.general.empty() && other)
      if (!giveGeneral(plan.spec, r, r.written_decimals, decidingLengths(*plan.part, plan.spec)))
        ownLimits(r);
    edits.push_back(SetRequirement{std::move(r)});
  }
  const QString text =
      edits.size() > 1 ? QString("%1 of %2 requirements").arg(what).arg(edits.size()) : what;
  if (!document_.edit(text, std::move(edits))) refreshLater(); // what is refused is shown as it was
}

void Card::requirementSection(const Requirement& r) {
  const auto& selected = document_.selection().requirements;
  if (selected.size() > 1) {
    title(QString("%1 requirements").arg(selected.size()),
          "What is changed here is changed for all of them; shown is " +
              QString::number(r.balloon) + ".");
    if (std::all_of(selected.begin(), selected.end(), [&](RequirementId id) {
          return !isDimension(document_.plan().spec.requirement(id).kind);
        }))
      valueFields(r);
    judgedBySection(r);
    link("Remove them", "removeRequirement", [this] { document_.removeRequirements(); });
    return;
  }
  title(QString("Requirement %1").arg(r.balloon), QString());
  if (isDimension(r.kind)) {
    layout_->addWidget(new CalloutLabel(theme_, document_.plan().spec.withStandard(r), {}));
    remarkRows(layout_, r);
  } else {
    indicatorSection(r);
  }
  noteRows(r);
  proposedFeatures(r);
  valueFields(r);
  keyField(r);
  judgedBySection(r);
  if (const double share = document_.noiseShare(r.id); share > 0) {
    // Where the places of the touches are the cause, that stands first in the card.
    const bool by_machine = share > kMostNoise && document_.whyNotCovered(r).empty();
    paragraph(QString("Probing noise alone moves the result by %1\u00a0% of the tolerance%2")
                  .arg(100 * share, 0, 'f', share < 0.1 ? 1 : 0)
                  .arg(by_machine ? ": much for a machine of this noise." : "."),
              by_machine ? "error" : "second");
  }
  fileWordsRow(r);
  link("Remove the requirement", "removeRequirement", [this] { document_.removeRequirements(); });
}

// Of one that waits for its features, what may be meant.
void Card::proposedFeatures(const Requirement& r) {
  if (!r.features.empty() || r.kind == Characteristic::Value) return;
  head("Waits for its features");
  const auto proposed = document_.suggestions(r.id);
  paragraph(proposed.empty()
                ? "Nothing on the part has its figure. Pick its faces in the stage, then Alt+T."
                : "Alt+T takes the first that is proposed, or what is picked in the stage.");
  for (std::size_t i = 0; i < proposed.size(); ++i) {
    const Plan& plan = document_.plan();
    const auto surfaces = surfacesOf(*plan.part, proposed[i].faces, Grouping::SlotIfParallel);
    if (surfaces.empty()) continue;
    QString name;
    for (const NominalFeature& f : plan.spec.features)
      if (f.faces == surfaces.front().faces) name = text(f.name);
    if (name.isEmpty()) name = text(featureName(surfaces.front().ideal));
    if (surfaces.size() > 1) name = QString("%1 and %2 more").arg(name).arg(surfaces.size() - 1);
    link(name, qPrintable(QString("proposed%1").arg(i)),
         [this, id = r.id, faces = proposed[i].faces] { document_.tieRequirement(id, faces); });
    paragraph(text(proposed[i].why));
  }
}

// What the customer calls it where it is a key characteristic.
void Card::keyField(const Requirement& r) {
  auto* key = new QLineEdit(text(r.key));
  key->setObjectName("keyClass");
  key->setToolTip("The customer's class of a key characteristic; its balloon has a second ring");
  connect(key, &QLineEdit::editingFinished, this, [this, key, was = r.key] {
    const auto typed = key->text().trimmed().toStdString();
    if (typed != was) editRequirement("Change the class", [=](Requirement& x) { x.key = typed; });
  });
  row("key class", key);
  if (!r.sheet_zone.empty()) figureRow("field of the drawing", text(r.sheet_zone));
}

// Where it comes from; folded out, the records of the file themselves.
void Card::fileWordsRow(const Requirement& r) {
  if (r.entity == 0) return paragraph("Added here");
  paragraph(QString("From the CAD file, entity #%1").arg(r.entity));
  auto* words = new QPlainTextEdit;
  words->setObjectName("fileWords");
  words->setAccessibleName("The file's own words");
  words->setReadOnly(true);
  words->setTabChangesFocus(true);
  words->setFont(theme_.figures(7.5));
  words->setFixedHeight(150);
  words->hide();
  const auto toggled = [this, words, entity = r.entity] {
    if (words->toPlainText().isEmpty()) {
      QStringList lines;
      for (const std::string& line : fileWords(document_.plan().part->bytes, entity))
        lines += text(line);
      words->setPlainText(lines.isEmpty() ? "The file that it was read from does not hold it."
                                          : lines.join("\n"));
    }
    words->setVisible(!words->isVisible());
    if (words->isVisible())
      QTimer::singleShot(0, words, [this, words] { area_->ensureWidgetVisible(words); });
  };
  link("In the file's own words", "showFileWords", toggled);
  layout_->addWidget(words);
}

// What the model says of it and was not taken over: it counts when a person has seen that.
void Card::noteRows(const Requirement& r) {
  const auto notes = notesOn(document_.plan(), r);
  if (notes.empty()) return;
  const bool seen = std::all_of(notes.begin(), notes.end(), [](const Note* n) { return n->seen; });
  head(seen ? "Not taken over, seen" : "Not taken over");
  for (const Note* n : notes)
    paragraph(QString("#%1 ").arg(n->entity) + text(n->text), seen ? "second" : "error");
  link(seen ? "Not to count after all" : "Seen: let it count all the same", "notesSeen",
       [this, id = r.id, seen] {
         document_.edit(
             seen ? "Take back what was seen" : "Let it count as seen",
             {SetNotes{notesSeen(document_.plan(), document_.plan().spec.requirement(id), !seen)}});
       });
}

// The indicator, edited where it is drawn, with the proofreader's remarks on what is typed so far.
void Card::indicatorSection(const Requirement& r) {
  auto* indicator = new IndicatorEdit(theme_, r);
  indicator->showBy(document_.plan().spec.standardOf(r));
  if (indicator_of_ == r.id) indicator->setCompartment(indicator_cell_);
  layout_->addWidget(indicator);
  auto* remarks = new QWidget;
  auto* rows = new QVBoxLayout(remarks);
  rows->setContentsMargins(0, 0, 0, 0);
  rows->setSpacing(4);
  layout_->addWidget(remarks);
  remarkRows(rows, r);
  connect(indicator, &IndicatorEdit::drafted, this, [this, rows](const Requirement& draft) {
    while (QLayoutItem* item = rows->takeAt(0)) {
      if (QWidget* old = item->widget()) {
        old->hide(); // its key must not stand beside that of the one that comes
        old->deleteLater();
      }
      delete item;
    }
    remarkRows(rows, draft);
  });
  connect(indicator, &IndicatorEdit::entered, this, [this, indicator](const Requirement& draft) {
    indicator_of_ = draft.id;
    indicator_cell_ = indicator->compartment();
    Requirement wanted = draft;
    // A figure of its own, or another thing that the general tolerances know none for.
    const Plan& plan = document_.plan();
    const Requirement& before = plan.spec.requirement(draft.id);
    const bool own = draft.tolerance != before.tolerance;
    if (!wanted.general.empty() && (own || !giveGeneral(plan.spec, wanted, wanted.written_decimals,
                                                        decidingLengths(*plan.part, plan.spec))))
      ownLimits(wanted);
    // What is refused is shown as it was.
    if (!document_.edit("Change requirement", {SetRequirement{wanted}})) refreshLater();
  });
}

// What the proofreader says, each correction one press away; the first has a key.
void Card::remarkRows(QVBoxLayout* into, const Requirement& r) {
  bool first = true;
  for (const Remark& remark : proofread(document_.plan().spec, r)) {
    auto* says = new QLabel(text(remark.says));
    says->setFont(theme_.text(8.5));
    says->setWordWrap(true);
    says->setProperty("role", "error");
    says->setObjectName("remark");
    into->addWidget(says);
    if (!remark.corrected) continue;
    auto* button = new QPushButton(text(remark.fix) + (first ? "    Ctrl+." : QString()));
    button->setObjectName(first ? "applyCorrection" : "applyOther");
    button->setProperty("role", "link");
    if (first) button->setShortcut(QKeySequence("Ctrl+."));
    first = false;
    connect(button, &QPushButton::clicked, this,
            [this, corrected = *remark.corrected, fix = text(remark.fix)] {
              document_.edit(fix, {SetRequirement{corrected}});
            });
    into->addWidget(button);
  }
}

void Card::valueFields(const Requirement& r) {
  head("Values");
  const Quantity kind = r.kind == Characteristic::Angle   ? Quantity::Angle
                        : r.kind == Characteristic::Value ? Quantity::Plain
                                                          : Quantity::Length;
  const auto field = [&](const QString& label, const char* id, double value, auto setter) {
    quantity(label, id, kind, 4, value, [=, this](double v) {
      editRequirement("Change requirement", [=](Requirement& x) { setter(x, v); });
    });
  };
  if (r.kind == Characteristic::Value) {
    auto* formula = new QLineEdit(text(r.formula));
    formula->setObjectName("formula");
    formula->setToolTip("#9 is the figure of requirement 9; \"Bore ø32\".diameter a quantity of a "
                        "feature");
    connect(formula, &QLineEdit::editingFinished, this, [this, formula] {
      const auto typed = formula->text().trimmed().toStdString();
      editRequirement("Change the formula", [=](Requirement& x) { x.formula = typed; });
    });
    row("formula", formula);
    if (const Evaluation* e = document_.evaluation(r.id); e && !e->actual)
      paragraph(text(e->how), "error");
  }
  if (!isDimension(r.kind)) {
    field("tolerance", "tolerance", r.tolerance,
          [](Requirement& x, double v) { x.tolerance = x.upper = v, ownLimits(x); });
    if (!r.general.empty())
      paragraph("The tolerance comes from the general tolerances, " + text(r.general) +
                "; one that is written here becomes its own.");
    modifierFields(valueModifiers(r));
    return;
  }
  field("nominal", "nominal", r.nominal, [](Requirement& x, double v) {
    x.lower += v - x.nominal, x.upper += v - x.nominal, x.nominal = v;
  });
  const auto limit = [&](const QString& label, const char* id, double Requirement::*which,
                         double open) {
    const auto entered = [=, this](double v) {
      editRequirement("Change requirement", [=](Requirement& x) {
        x.*which = v, x.tolerance = x.upper - x.lower, x.fit.clear();
        ownLimits(x);
      });
    };
    quantity(label, id, kind, 4, r.*which, entered, "none", open);
  };
  limit("lower limit", "lower", &Requirement::lower, kNoLower);
  limit("upper limit", "upper", &Requirement::upper, kNoUpper);
  if (!r.general.empty())
    paragraph("The limits come from the general tolerances, " + text(r.general) +
              "; those that are written here become its own.");
}

} // namespace alder::app
