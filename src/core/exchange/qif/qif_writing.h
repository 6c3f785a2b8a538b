// A QIF document as it is written: one function for each part of it, in the order in which the
// parts stand in the file. Lengths mm, angles degrees, in the CAD frame of the part.
#pragma once

#include "exchange/qif/qif_ids.h"
#include "exchange/qif/qif_own.h"
#include "exchange/qif/qif_xml.h"
#include "judge/verdict.h"
#include <set>

namespace alder::qif {

// One measured part.
struct WrittenPart {
  std::string name; // its serial number
  std::string csv;  // of its run
  std::string operated_by;
  std::vector<Evaluation> evaluations;
};

struct Writing {
  Writing(const Plan& p, const KeptQif& k)
      : plan(p)
      , kept(k)
      , ids(p, k) {}
  const Plan& plan;
  const KeptQif& kept;
  Ids ids;
  std::map<std::string, int> frames;  // datum reference frames, by systemKey
  std::map<std::string, Node> by_key; // elements that may hold what was not understood
  std::vector<std::string> told;

  // The element of a thing of the routine, with its id.
  Node element(Node parent, const std::string& name, Thing thing, int number);
};

// In mm, or in degrees.
double shownFigure(const Requirement& requirement, double value);

// qif_header.cpp
void writeHead(Writing& w, Node root, const std::vector<WrittenPart>& parts);
void writeResources(Writing& w, Node root);
void writeProduct(Writing& w, Node root);
// qif_datums.cpp
void writeDatums(Writing& w, Node root);
// qif_features.cpp
void writeFeatures(Writing& w, Node root);
// Of a feature nominal or of a measured feature: axis, location, normal.
void writeGeometry(Node node, const Ideal& ideal);
// qif_characteristics.cpp
void writeCharacteristics(Writing& w, Node root);
// qif_plan.cpp
void writePlan(Writing& w, Node root);
// qif_results.cpp
void writeResults(Writing& w, Node root, const std::vector<WrittenPart>& parts);
// qif_statistics.cpp
void writeStatistics(Writing& w, Node root, const std::vector<WrittenPart>& parts);

} // namespace alder::qif
