#include "part/pmi/pmi_reader.h"

#include "part/pmi/dimensions.h"
#include "part/pmi/tolerances.h"
#include "part/pmi/unread.h"
#include "part/pmi/views.h"
#include <algorithm>

namespace alder {
namespace {

// What is told of a datum bears on all tolerances that refer to it.
void tellWithDatums(const Pmi& pmi, std::vector<Note>& notes) {
  for (const PmiTolerance& t : pmi.tolerances)
    for (const PmiDatumReference& reference : t.datums)
      for (const std::string& letter : reference.letters)
        for (const PmiDatum& datum : pmi.datums) {
          if (datum.letter != letter) continue;
          for (Note& note : notes)
            if (std::count(datum.made_of.begin(), datum.made_of.end(), note.entity) > 0 &&
                std::count(note.on.begin(), note.on.end(), t.entity) == 0)
              note.on.push_back(t.entity);
        }
}

} // namespace

Pmi readPmi(const StepText& text, const FacesOfEntity& facesOf, std::vector<Note>& notes) {
  const PmiSource source(text);
  const Teller tell(notes, 0);
  const Aspects aspects(source, facesOf);
  const Datums datums(source, aspects, tell);
  Pmi pmi;
  ReadDimensions dimensions = readDimensions(source, aspects, tell);
  pmi.tolerances = readTolerances(source, aspects, datums, tell);
  pmi.datums = datums.all();
  pmi.dimensions = std::move(dimensions.judged);

  std::vector<int> requirements;
  for (const PmiDimension& d : pmi.dimensions)
    requirements.push_back(static_cast<int>(d.entity));
  for (const PmiTolerance& t : pmi.tolerances)
    requirements.push_back(static_cast<int>(t.entity));
  tellUnread(source, requirements, tell);
  tellWithDatums(pmi, notes);
  if (dimensions.exact > 0)
    tell(0, fmt::format("{} theoretically exact {} taken from the model itself", dimensions.exact,
                        dimensions.exact == 1 ? "dimension is" : "dimensions are"));
  if (dimensions.auxiliary > 0)
    tell(0, fmt::format("{} auxiliary {} for information and not judged", dimensions.auxiliary,
                        dimensions.auxiliary == 1 ? "dimension is" : "dimensions are"));
  const std::vector<Drawn> drawn = drawnAnnotations(text);
  pmi.callouts = readCallouts(source, drawn, requirements, tell);
  pmi.views = readViews(source, drawn, requirements, tell);
  tellDrawnOnly(drawn, text, tell);
  for (int id : text.twice())
    tell(id, "stands twice in the file; the first counts");
  for (int id : text.broken())
    tell(id, "entity cannot be parsed and is left out");
  return pmi;
}

} // namespace alder
