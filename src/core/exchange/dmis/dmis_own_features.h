// Circles, arcs, lines and points of a program. The model has faces only, so each becomes a feature
// of its own on the faces that it is touched on, beside the bore or the plane that they belong to:
// what is touched for one does not change the figures of the other.
#pragma once

#include "plan/plan.h"

namespace alder::dmis {

enum class OwnKind { Circle, Line, Point };
// Of the word in FEAT/ and MEAS/; nothing: it is what the model has.
std::optional<OwnKind> ownKind(const std::string& word);

struct OwnFeature {
  OwnKind kind = OwnKind::Circle;
  FeatureId touched;
  FeatureId result; // what results are about: of a circle the section, else what is touched
};
// `carrier`: the feature whose faces are touched; the touches are settled on them. Error says why
// it cannot be one, in words for a remark.
Result<OwnFeature> addOwnFeature(Plan& plan, OwnKind kind, const std::string& name,
                                 FeatureId carrier, std::vector<Touch> touches);
// The name as the program has it, unless the plan has one like it.
std::string nameFrom(const Specification& spec, const std::string& wanted);
// Whether a result of this kind can be worked out from what is touched for it.
bool answers(OwnKind kind, Characteristic asked);

} // namespace alder::dmis
