// A QIF document as it is read into a plan: one function for each part of it. What is not
// understood is told, and kept so that the next file holds it again.
#pragma once

#include "exchange/machine/program_file.h"
#include "exchange/qif/qif_ids.h"
#include "exchange/qif/qif_own.h"
#include "exchange/qif/qif_xml.h"
#include "exchange/routine/feature_search.h"
#include <functional>
#include <set>

namespace alder::qif {

// Of the tips of a bench, in files that name it.
inline int tipNumber(const Access& access) {
  return 100 * access.stylus + access.tip;
}

// Units of the file, and those that single values name instead.
class Units {
 public:
  explicit Units(const Source& source);
  double length(Node value) const; // mm to one of its units
  double angle(Node value) const;  // radians
  bool own() const { return length_ == 1 && degrees_; }
  std::string name() const { return name_; } // of the length

 private:
  double length_ = 1, angle_ = 0;
  bool degrees_ = true;
  std::string name_ = "mm";
  std::map<std::string, double> lengths_, angles_; // by the names that values may have
};

// How large and where a feature is; nothing where its kind is not known. `definition` and `nominal`
// may be empty.
std::optional<SoughtFeature> soughtFeature(const Units& units, FeatureKind kind, Node definition,
                                           Node nominal);

struct Limits {
  std::optional<double> lower, upper;
};
// Limits themselves, however the file states them; `value` reads a figure of it.
Limits limitsIn(Node tolerance, std::optional<double> target,
                const std::function<std::optional<double>(Node)>& value);

class Reading {
 public:
  Reading(const Source& source, Plan& plan, KeptQif& kept, ReadOnto onto);

  // In this order.
  void features();
  void datums();
  void characteristics();
  Done plan(const Progress& progress = {});
  void sections(); // what stands in the file beside these

  // Of a bare part: what its model asks for and the file does not goes; it is returned in words.
  std::vector<std::string> dropOthers();
  int over() const { return over_; } // elements taken over
  int notes() const { return notes_ + static_cast<int>(kept_order_.size()); }
  std::vector<ProgramLine> lines();
  std::vector<std::string> remarks(); // also what was kept, alike ones together

 private:
  // An element that is about a thing of the routine.
  void isThing(Node node, Thing thing, int number);
  void tell(Node node, Taken taken, const std::string& remark);
  void remark(Node node, const std::string& text);
  // Told, and kept as it stands in its place.
  void keep(Node node, const std::string& within);
  // The same of what is understood, but has no place in the routine.
  void keepQuietly(Node node, const std::string& within);
  std::string keptWords() const;
  void keepAll(const std::vector<Node>& nodes, const std::vector<const char*>& lists);
  // The children of a thing that are not among these.
  void keepRest(Node node, Thing thing, int number, std::initializer_list<const char*> known);

  struct FeatureNodes {
    Node definition, nominal, item;
  };
  std::vector<FeatureNodes> featureNodes() const;
  void feature(const FeatureNodes& f, const std::string& stem);
  void keepFeature(const FeatureNodes& f);
  std::optional<FeatureId> findFeature(Node nominal, Node definition, Node item, FeatureKind kind,
                                       std::string& why);
  std::optional<FeatureId> addFeatureLike(const SoughtFeature& sought, Node nominal,
                                          const std::string& name);
  bool construct(Node item, Node nominal);
  void nameFeature(FeatureId id, const std::string& name);
  void expandGroup(Node nominal, Node item);

  std::vector<FeatureId> featuresIn(Node list, bool& all) const;
  std::optional<DatumReference> datumReference(Node datum) const;
  void targets(Node node, Datum& datum);

  void characteristic(Node definition, Node nominal, Node item);
  bool dimension(Node definition, Node nominal, Requirement& r, std::string& why) const;
  bool geometrical(Node definition, Requirement& r, std::string& why);
  bool own(Node definition, Requirement& r, std::string& why);
  RequirementId settle(Requirement r, Node item);
  void nameFrames();
  int freeBalloon(Node item, RequirementId own);

  void actions(Node plan);
  void measuring(Node action);
  bool touches(Node action, const JsonFields& own, Feature& f);
  Access tipOf(Node action) const;
  std::vector<FeatureId> orderIn(Node plan) const;
  Done draftFor(const std::set<FeatureId>& wanted, const Progress& progress);
  void resources();
  bool ownSteps(const Json& own);
  std::set<RequirementId> evaluated(Node plan) const;

  const Source& source_;
  Plan& plan_;
  KeptQif& kept_;
  ReadOnto onto_ = ReadOnto::Routine;
  Units units_;
  std::vector<std::pair<int, ProgramLine>> lines_;
  std::vector<std::string> remarks_;
  int over_ = 0, notes_ = 0;
  struct Kept {
    int line = 0, count = 0;
  };
  std::map<std::string, Kept> kept_told_; // by what it is
  std::vector<std::string> kept_order_;
  std::size_t kept_bytes_ = 0;
  std::map<int, std::vector<FeatureId>> features_; // by the ids of nominals and items
  std::map<int, RequirementId> requirements_;      // the same
  std::map<int, std::string> letters_;             // by the ids of datums
  std::set<std::string> wrong_letters_;            // datums that are other features here
  std::map<int, std::vector<DatumReference>> frames_;
  std::vector<RequirementId> settled_;    // in the order of the file
  std::map<RequirementId, int> upper_;    // ids of upper segments
  std::map<RequirementId, int> frame_of_; // id of its datum reference frame
  std::set<int> used_definitions_;
  std::set<FeatureId> taken_; // features that an element of the file is about
  std::set<int> touched_;
  MeshTree part_;
};

} // namespace alder::qif
