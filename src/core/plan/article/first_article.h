// What a first article inspection says beside the results (AS9102 revision C): asked once, kept in
// the routine. Fields that the part's data answer are taken from there where they are empty here.
#pragma once

#include "requirement/specification.h"
#include <array>

namespace alder {

enum class ArticleField {
  Identifier,
  DrawingNumber,
  DrawingRevision,
  Changes,
  ProcessReference,
  Organization,
  SupplierCode,
  PurchaseOrder,
  Reason,
  VerifiedBy,
  VerifiedOn,
  ReviewedBy,
  ReviewedOn,
  CustomerApproval,
  CustomerApprovedOn,
  Comments
};
inline constexpr std::size_t kArticleFields = 16;
std::string_view name(ArticleField field);  // in files: "identifier", "drawing_number", ...
std::string_view words(ArticleField field); // as the form calls it: "FAIR identifier"

// Full: all characteristics. Partial: those that are chosen. Delta: a partial one of what changed
// since an article before.
enum class ArticleScope { Full, Partial, Delta };
std::string_view name(ArticleScope scope); // "full", "partial", "delta"

// A part or assembly that goes into an assembly (form 1, fields 15 to 18).
struct ArticlePart {
  std::string number, name, type, identifier;
  static void fields(auto& self, auto& f) {
    f("number", "Part number", self.number);
    f("name", "Part name", self.name);
    f("type", "Part type", self.type);
    f("identifier", "FAIR identifier", self.identifier);
  }
  friend bool operator==(const ArticlePart&, const ArticlePart&) = default;
};

// A material or a special process (form 2, fields 5 to 10).
struct ArticleProduct {
  std::string product, specification, code, supplier;
  std::string approval; // yes, no, or why it does not apply
  std::string certificate;
  static void fields(auto& self, auto& f) {
    f("name", "Material or process", self.product);
    f("specification", "Specification number", self.specification);
    f("code", "Code", self.code);
    f("supplier", "Supplier", self.supplier);
    f("approval", "Customer approval verification", self.approval);
    f("certificate", "Certificate of conformance number", self.certificate);
  }
  friend bool operator==(const ArticleProduct&, const ArticleProduct&) = default;
};

// A functional test (form 2, fields 11 and 12).
struct ArticleTest {
  std::string procedure, report;
  static void fields(auto& self, auto& f) {
    f("procedure", "Functional test procedure number", self.procedure);
    f("report", "Acceptance report number", self.report);
  }
  friend bool operator==(const ArticleTest&, const ArticleTest&) = default;
};

// What form 3 says of a characteristic beside its result (fields 10 to 12).
struct ArticleCharacteristic {
  RequirementId requirement;
  std::string tooling, nonconformance, comment;
  static void fields(auto& self, auto& f) {
    f("tooling", "Designed tooling", self.tooling);
    f("nonconformance", "Nonconformance number", self.nonconformance);
    f("comment", "Additional data", self.comment);
  }
  bool empty() const { return tooling.empty() && nonconformance.empty() && comment.empty(); }
  friend bool operator==(const ArticleCharacteristic&, const ArticleCharacteristic&) = default;
};

// Where the material lies that a feature stands for, without where it ends: of a plane its normal
// and distance, of an axis its direction and the point nearest the origin, with the diameter; of a
// freeform face its area and box.
struct FeatureShape {
  FeatureId feature;
  SurfaceType type = SurfaceType::Freeform;
  std::vector<double> figures;
  friend bool operator==(const FeatureShape&, const FeatureShape&) = default;
};

struct BaselineCharacteristic {
  Requirement asked;                // as it was
  std::vector<FeatureShape> shapes; // of its features and of those of its datums
  bool outside = false;             // a documented nonconformance
  friend bool operator==(const BaselineCharacteristic&, const BaselineCharacteristic&) = default;
};

// The article that a delta article stands on.
struct ArticleBaseline {
  std::string identifier, part, revision, date;
  std::vector<BaselineCharacteristic> characteristics;
  friend bool operator==(const ArticleBaseline&, const ArticleBaseline&) = default;
};

struct FirstArticle {
  std::array<std::string, kArticleFields> texts;
  ArticleScope scope = ArticleScope::Full;
  bool assembly = false;
  std::string chosen; // of a partial one: balloons, "1-10, 14"
  std::vector<ArticlePart> parts;
  std::vector<ArticleProduct> products;
  std::vector<ArticleTest> tests;
  std::vector<ArticleCharacteristic> characteristics; // those of which something is said
  std::optional<ArticleBaseline> baseline;

  std::string& operator[](ArticleField f) { return texts[static_cast<std::size_t>(f)]; }
  const std::string& operator[](ArticleField f) const { return texts[static_cast<std::size_t>(f)]; }
  const ArticleCharacteristic* find(RequirementId id) const;
  // An entry that says nothing is taken away.
  void set(const ArticleCharacteristic& characteristic);
  friend bool operator==(const FirstArticle&, const FirstArticle&) = default;
};

// Each characteristic is said something of once, and the chosen ones can be read.
Done validate(const FirstArticle& article);

} // namespace alder
