#include "revision/revision.h"

#include "revision/revision_maker.h"

namespace alder {

std::string_view name(RevisionSubject subject) {
  switch (subject) {
  case RevisionSubject::Model:
    return "model";
  case RevisionSubject::Touches:
    return "touches";
  case RevisionSubject::Header:
    return "header";
  case RevisionSubject::Datum:
    return "datum";
  case RevisionSubject::Requirement:
    return "requirement";
  }
  return "";
}

std::string_view name(RevisionFate fate) {
  switch (fate) {
  case RevisionFate::Changed:
    return "changed";
  case RevisionFate::New:
    return "new";
  case RevisionFate::Gone:
    return "gone";
  }
  return "";
}

Result<Revision> revisionOf(const Plan& plan, const RevisionSources& sources) {
  return RevisionMaker(plan, sources).make();
}

} // namespace alder
