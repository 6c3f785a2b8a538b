// A DMIS program as it is read: statement by statement into a plan, with what became of each. Its
// functions stand in three files: dmis_reader.cpp takes statements to their place and keeps what
// they define, dmis_reading_steps.cpp makes steps of words and comments, dmis_reading_blocks.cpp
// makes touches and ways of what is measured.
#pragma once

#include "bench/json_fields.h"
#include "exchange/dmis/dmis_flow.h"
#include "exchange/dmis/dmis_own_features.h"
#include "exchange/dmis/dmis_reader.h"
#include "exchange/dmis/dmis_requirements.h"
#include "exchange/dmis/dmis_systems.h"
#include <map>
#include <set>

namespace alder::dmis {

// The block of MEAS that is open.
struct Measuring {
  std::string label, word; // "BORE", "CYLNDR"
  int line = 0;
  std::vector<Touch> touches;            // without a normal where the program gives none
  std::vector<double> approach, retract; // as set for each of them, 0: not set
  Points after;                          // places since the last touch
  std::vector<Statement> raw;
  bool by_hand = false;
  std::vector<double> ball; // radius by which a place without compensation lies off the surface
  bool lost = false;        // a touch that could not be read
};

class Reading {
 public:
  Reading(const std::string& program, const std::string& label, Plan base);
  Result<ProgramRead> run();

 private:
  // Labels are the same in capitals and without.
  static std::string keyOf(const std::string& label) { return upperCase(label); }
  Plan& plan();
  void remark(const Statement& s, const std::string& text);
  void remark(int line, const std::string& text);
  StepId addStep(StepBody body);
  void keep(const Statement& s);
  // A step that stands as a comment; nothing where it is a comment, or does not fit here.
  std::optional<StepBody> ownStep(const std::string& text);
  // A frame of ours, for the LOCATE that follows; a place that the fixture of this routine has too.
  bool ownFrameOrPlace(const std::string& text);
  // The frame that was said before, where it is found from these features.
  std::optional<std::pair<PartFrame, StepBody>> ownFrameOf(const std::vector<FeatureId>& features);
  // Names before definitions; in the body words of the programmer.
  void comment(const Statement& s);
  void statement(const Statement& s);
  void units(const Statement& s);
  void system(const Statement& s);
  // Numbers as they are meant now; false, and a note, where that is not known.
  bool meant(const Statement& s);
  void sensor(const Statement& s);
  void select(const Statement& s);
  void feature(const Statement& s, const std::string& name);
  std::optional<FeatureId> labelled(const std::string& argument) const;
  void tolerance(const Statement& s);
  void defineLate(const std::string& label);
  std::string letterOf(const Statement& s, FeatureId id);
  void datum(const Statement& s);
  void output(const Statement& s);
  void mode(const Statement& s);
  void setting(const Statement& s);
  void measure(const Statement& s);
  std::optional<Vec3> placeIn(const Statement& s, std::size_t from, double scale) const;
  void touch(const Statement& s);
  void goTo(const Statement& s);
  void giveNormals(Measuring& m, FeatureId feature) const;
  Result<FeatureId> measured(Measuring& m);
  bool takeRecipe(Measuring& m, FeatureId id);
  void settleFeature(Feature& f, const Measuring& m, const Points& led);
  void construct(const Statement& s, const std::string& name);
  void leaveOut(const Measuring& m, const std::string& why);
  void endMeasure();
  // What is set for each touch is what the recipe comes to there, or nothing is set.
  bool asPlanned(const Feature& f, const Measuring& m);
  void locate(const Statement& s, const std::string& name);
  void text(const Statement& s);
  // "Wait: take it off (open clamp 1)" names what happens to the fixture.
  StepBody waitFrom(const std::string& words);
  void finish();

  std::vector<Statement> statements_;
  std::string label_;
  ProgramRead read_;
  MeshTree part_; // CAD frame
  Units units_;
  int depth_ = 0;  // groups that are open
  Json own_frame_; // said by a comment
  Systems systems_;
  bool compensated_ = true, moved_told_ = false;
  bool own_place_ = false; // the same; TRANS and ROTATE behind it say it once more
  bool body_ = false, by_hand_ = false, planned_way_ = false;
  std::map<int, ProgramLine> lines_;
  std::set<std::pair<int, std::string>> told_;
  std::set<int> noted_; // lines that stand as notes
  std::string last_comment_;
  std::map<std::string, FeatureId> features_;
  std::map<std::string, Access> sensors_;
  std::map<FeatureId, Access> access_of_;
  std::map<FeatureId, std::vector<Touch>> planned_; // by recipe, before the program was read
  std::map<std::string, OwnFeature> own_;           // circles, lines and points
  std::map<std::string, std::string> names_;        // of features, said before their definitions
  std::optional<Vec3> at_;                          // place of the ball, where the program says it
  ProgramRequirements requirements_;
  std::map<std::string, std::pair<Statement, Units>> late_; // tolerances whose datums are features
  std::optional<Statement> target_;                         // of GOTARG, until ENDGO
  Access access_;
  double approach_ = 0, retract_ = 0, search_ = 0;
  std::optional<Measuring> measuring_;
  Steps within_;
  Points led_;
};

} // namespace alder::dmis
