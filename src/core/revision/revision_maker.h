// revisionOf step by step.
#pragma once

#include "revision/revision.h"
#include <map>
#include <optional>
#include <set>

namespace alder {

// The ids by the map; what it has not is left out.
void mapInto(std::vector<FeatureId>& ids, const std::map<FeatureId, FeatureId>& to);

class RevisionMaker {
 public:
  RevisionMaker(const Plan& plan, const RevisionSources& sources);
  Result<Revision> make();

 private:
  Done compareModel();
  void carryFeatures();
  void carryRequirements();
  void fromModel();
  void fromDrawing(const RevisedDrawing& drawing);
  void fromTitle(const RevisedDrawing& drawing);
  void contradicted(); // by the newer model, of those that stay
  void order();

  // Ids in `carried` for the features of a specification whose faces are those of the newer model,
  // or are brought there by `faces_now`; what is not in the routine is added.
  using FacesNow = std::function<std::vector<FaceId>(const std::vector<FaceId>&)>;
  std::map<FeatureId, FeatureId> mapped(const Specification& from, const FacesNow& faces_now,
                                        bool add);
  // Requirements of a source beside those of the routine that came from it. `base`: what the source
  // said before, where that is known; what it says still as it did stays as the routine has it.
  // `taken_out`: what the source said and a person removed here; where it still says so that stays.
  void compare(const std::vector<RequirementId>& was, const std::vector<Requirement>& is,
               const std::function<const Requirement*(const Requirement&)>& base,
               const std::vector<Requirement>& taken_out);
  void alsoFromElsewhere(std::vector<Requirement>& was,
                         std::vector<std::optional<std::size_t>>& pairs,
                         const std::vector<Requirement>& is, std::vector<bool>& used,
                         std::map<RequirementId, RequirementId>& numbers) const;
  void compareDatums(const std::vector<Datum>& was, const std::vector<Datum>& is);
  void changed(const Requirement& was, Requirement is);
  std::string title(const Requirement& r) const;

  const Plan& plan_;
  Revision result_;
  std::set<RequirementId> told_; // requirements of the routine that an entry speaks of
  std::set<FeatureId> gone_;
};

} // namespace alder
