// General tolerances of the routine: what holds for requirements without figures of their own.
#include "requirement/general_tolerances.h"

#include "card/card.h"
#include "card/fields.h"
#include "card/words.h"
#include <algorithm>

namespace alder::app {
namespace {

constexpr std::string_view kLinear = "fmcv", kGeometrical = " HKL";

// One place in the list of rules for each class of ISO 2768-1, then the others.
constexpr int kClasses = static_cast<int>(kLinear.size());

int placeOf(const GeneralTolerances& g) {
  switch (g.rule) {
  case GeneralRule::None:
    return 0;
  case GeneralRule::Iso2768:
    return 1 + static_cast<int>(kLinear.find(g.linear));
  case GeneralRule::Iso22081:
    return kClasses + 1;
  case GeneralRule::ByDecimals:
    return kClasses + 2;
  case GeneralRule::BySize:
    return kClasses + 3;
  }
  return 0;
}

void choose(GeneralTolerances& g, int place) {
  g.rule = place == 0              ? GeneralRule::None
           : place <= kClasses     ? GeneralRule::Iso2768
           : place == kClasses + 1 ? GeneralRule::Iso22081
           : place == kClasses + 2 ? GeneralRule::ByDecimals
                                   : GeneralRule::BySize;
  if (g.rule == GeneralRule::Iso2768) g.linear = kLinear[static_cast<std::size_t>(place) - 1];
}

} // namespace

void Card::generalFields() {
  const GeneralTolerances& g = document_.plan().spec.general;
  const auto change = [this](const std::function<void(GeneralTolerances&)>& how) {
    GeneralTolerances next = document_.plan().spec.general;
    how(next);
    document_.setGeneral(next);
  };
  const auto figure = [&](const QString& label, const QByteArray& id, Quantity kind, int decimals,
                          double value, const std::function<double&(GeneralTolerances&)>& of) {
    quantity(
        label, id, kind, decimals, value,
        [change, of](double v) {
          change([of, v](GeneralTolerances& x) { of(x) = std::max(0.0, v); });
        },
        "none");
  };
  head("General tolerances");
  choice("rule", "general",
         {"none", "ISO 2768-f", "ISO 2768-m", "ISO 2768-c", "ISO 2768-v", "ISO 22081",
          "by number of decimals", "by size, own table"},
         placeOf(g),
         [change](int place) { change([place](GeneralTolerances& x) { choose(x, place); }); });
  if (g.rule == GeneralRule::None) return;
  if (g.rule == GeneralRule::Iso2768) {
    choice("geometry", "generalGeometry", {"none", "ISO 2768-2 H", "ISO 2768-2 K", "ISO 2768-2 L"},
           static_cast<int>(kGeometrical.find(g.geometrical)), [change](int place) {
             change([place](GeneralTolerances& x) {
               x.geometrical = kGeometrical[static_cast<std::size_t>(place)];
             });
           });
    return;
  }
  if (g.rule == GeneralRule::Iso22081) {
    figure("lengths ±", "generalLength", Quantity::Length, 3, g.length,
           [](GeneralTolerances& x) -> double& { return x.length; });
    figure("surface profile", "generalProfile", Quantity::Length, 3, g.profile,
           [](GeneralTolerances& x) -> double& { return x.profile; });
  }
  if (g.rule == GeneralRule::ByDecimals)
    for (std::size_t i = 0; i < g.by_decimals.size(); ++i)
      figure(i == 0 ? QString("whole figures ±")
                    : QString("%1 decimal%2 ±").arg(i).arg(i == 1 ? "" : "s"),
             QString("generalDecimals%1").arg(i).toUtf8(), Quantity::Length, 4, g.by_decimals[i],
             [i](GeneralTolerances& x) -> double& { return x.by_decimals[i]; });
  if (g.rule == GeneralRule::BySize) sizeTable(g);
  figure("angles ±", "generalAngle", Quantity::Angle, 3, g.angle,
         [](GeneralTolerances& x) -> double& { return x.angle; });
}

// Typed or pasted, a line for each row.
void Card::sizeTable(const GeneralTolerances& g) {
  paragraph("Lengths: a line for each range, the size up to which it holds and its ±. A table "
            "copied from a sheet can be pasted.");
  auto* table = new TextEdit(text(textOf(g.by_size)));
  table->setObjectName("generalTable");
  table->setAccessibleName("Table of general tolerances by size");
  table->setPlaceholderText("up to 6: ±0.1\nup to 30: ±0.2");
  table->setFont(theme_.figures(9));
  if (!refused_table_.isEmpty()) table->setPlainText(refused_table_); // the card was built anew
  connect(table, &TextEdit::givenUp, this, [this] { refused_table_.clear(); });
  connect(table, &TextEdit::entered, this, [this, table](const QString& typed) {
    const auto rows = generalRows(typed.toStdString());
    refused_table_ = rows ? QString() : typed;
    if (!rows) {
      table->complain(text(rows.error().message));
      emit document_.message(text(rows.error().message), true);
      return;
    }
    GeneralTolerances next = document_.plan().spec.general;
    next.by_size = *rows;
    document_.setGeneral(next);
  });
  row("", table);
}

} // namespace alder::app
