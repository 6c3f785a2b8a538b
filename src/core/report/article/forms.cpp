#include "report/article/forms.h"

#include "plan/article/article_scope.h"
#include "report/layout/fields.h"
#include <algorithm>

namespace alder {
namespace {

// A characteristic of the article with its row of the report.
struct Accounted {
  const ReportRow* row;
  const ArticleCharacteristic* said; // null: nothing
  std::string why;
};

std::vector<Accounted> accounted(const Plan& plan, const ReportModel& model) {
  std::vector<Accounted> all;
  for (const ArticleEntry& entry : articleEntries(plan)) {
    const auto row = std::find_if(model.rows.begin(), model.rows.end(), [&](const ReportRow& r) {
      return r.requirement == entry.requirement;
    });
    if (row != model.rows.end())
      all.push_back({&*row, plan.article.find(entry.requirement), entry.why});
  }
  return all;
}

class FormFiller {
 public:
  FormFiller(const Plan& plan, const ReportModel& model)
      : plan_(plan)
      , article_(plan.article)
      , model_(model) {}

  FilledForm parts() {
    heading();
    form_.head.push_back({needed("5", "Part revision level", header(HeaderField::Revision)),
                          needed("6", ArticleField::DrawingNumber),
                          needed("7", ArticleField::DrawingRevision),
                          field("8", ArticleField::Changes)});
    form_.head.push_back(
        {field("9", ArticleField::ProcessReference),
         needed("10", words(ArticleField::Organization),
                either(article_[ArticleField::Organization], header(HeaderField::Supplier))),
         field("11", ArticleField::SupplierCode),
         {"12", std::string(words(ArticleField::PurchaseOrder)),
          either(article_[ArticleField::PurchaseOrder], header(HeaderField::Order))}});
    scope();
    indexOfParts();
    const bool bad = hasNonconformance(plan_, model_);
    form_.foot.push_back(
        {{"19", "Does the FAIR contain a documented nonconformance?", bad ? "Yes" : "No", 1}});
    signatures("20", ArticleField::VerifiedBy, "21", ArticleField::VerifiedOn);
    signatures("22", ArticleField::ReviewedBy, "23", ArticleField::ReviewedOn);
    if (model_.approval.holds() && article_[ArticleField::ReviewedBy].empty()) {
      form_.foot.back()[0].value = model_.approval.by;
      form_.foot.back()[1].value = model_.approval.on;
    }
    signatures("24", ArticleField::CustomerApproval, "25", ArticleField::CustomerApprovedOn);
    form_.foot.push_back({field("26", ArticleField::Comments)});
    return std::move(form_);
  }

  FilledForm products() {
    heading();
    FormTable table{"",
                    {{"5", "Material or process name"},
                     {"6", "Specification number"},
                     {"7", "Code"},
                     {"8", "Supplier"},
                     {"9", "Customer approval verification"},
                     {"10", "Certificate of conformance number"}},
                    {}};
    for (const ArticleProduct& p : productsKnown())
      table.rows.push_back(
          {{p.product}, {p.specification}, {p.code}, {p.supplier}, {p.approval}, {p.certificate}});
    if (table.rows.empty()) {
      form_.missing.push_back("5 Material or process name");
      table.rows.emplace_back(table.columns.size());
    }
    form_.tables.push_back(std::move(table));
    FormTable tests{
        "", {{"11", "Functional test procedure number"}, {"12", "Acceptance report number"}}, {}};
    for (const ArticleTest& t : article_.tests)
      tests.rows.push_back({{t.procedure}, {t.report}});
    if (tests.rows.empty()) tests.rows.push_back({{"None"}, {""}});
    form_.tables.push_back(std::move(tests));
    std::string attached;
    for (const std::string& d : model_.documents)
      attached += (attached.empty() ? "Attached: " : ", ") + d;
    form_.foot.push_back({{"13", "Comments", attached, 1}});
    return std::move(form_);
  }

  FilledForm characteristics() {
    heading();
    FormTable table{"",
                    {{"5", "Char. no.", false},
                     {"6", "Reference location"},
                     {"7", "Characteristic designator"},
                     {"8", "Requirement"},
                     {"9", "Results"},
                     {"10", "Designed or qualified tooling"},
                     {"11", "Nonconformance number"},
                     {"12", "Additional data"}},
                    {}};
    std::string unnumbered, unmeasured;
    for (const Accounted& a : accounted(plan_, model_)) {
      const ReportRow& row = *a.row;
      const ArticleCharacteristic none{};
      const ArticleCharacteristic& said = a.said ? *a.said : none;
      std::string more = a.why;
      const auto add = [&](const std::string& words) {
        if (!words.empty()) more += (more.empty() ? "" : "; ") + words;
      };
      if (row.verdict == Verdict::Outside) add("outside its limits");
      add(said.comment);
      table.rows.push_back({{row.number, ReportFigure{row.number, double(row.balloon), 0}},
                            {locationOf(row)},
                            {row.key},
                            {row.text, {}, &row},
                            resultOf(row),
                            {said.tooling},
                            {said.nonconformance},
                            {more}});
      if (row.verdict == Verdict::Outside && said.nonconformance.empty())
        unnumbered += (unnumbered.empty() ? "" : ", ") + row.number;
      if (row.verdict == Verdict::Unmeasured)
        unmeasured += (unmeasured.empty() ? "" : ", ") + row.number;
    }
    if (!unnumbered.empty()) form_.missing.push_back("11 Nonconformance number of " + unnumbered);
    if (!unmeasured.empty()) form_.missing.push_back("9 Results of " + unmeasured);
    if (table.rows.empty()) noneAccounted(table);
    form_.tables.push_back(std::move(table));
    if (article_.scope == ArticleScope::Delta && article_.baseline)
      if (const auto gone = goneSince(plan_, *article_.baseline); !gone.empty())
        form_.notes.push_back(
            fmt::format("No longer asked for since the baseline: {}.", fmt::join(gone, ", ")));
    return std::move(form_);
  }

 private:
  static std::string either(const std::string& first, const std::string& otherwise) {
    return first.empty() ? otherwise : first;
  }

  std::string header(HeaderField field) const {
    for (const auto& [what, which] : model_.header)
      if (what == words(field)) return which;
    return {};
  }

  FormField needed(const std::string& number, std::string_view caption, std::string value) {
    if (value.empty()) form_.missing.push_back(number + " " + std::string(caption));
    return {number, std::string(caption), std::move(value)};
  }
  FormField needed(const std::string& number, ArticleField which) {
    return needed(number, words(which), article_[which]);
  }
  FormField field(const std::string& number, ArticleField which) const {
    return {number, std::string(words(which)), article_[which]};
  }

  // Fields 1 to 4 stand on every form.
  void heading() {
    form_.head.push_back({needed("1", "Part number", header(HeaderField::Number)),
                          needed("2", "Part name", header(HeaderField::Name)),
                          needed("3", "Serial number", model_.part_serial),
                          needed("4", words(ArticleField::Identifier),
                                 filled(article_[ArticleField::Identifier], model_))});
  }

  void scope() {
    std::string full = "Full FAI", baseline;
    if (article_.scope == ArticleScope::Partial) {
      full = "Partial FAI";
      if (article_.chosen.empty())
        form_.missing.push_back("14 Which characteristics the partial FAI accounts for");
      else
        full += ", characteristics " + article_.chosen;
    }
    if (article_.scope == ArticleScope::Delta) {
      full = "Partial FAI of what changed since the baseline";
      if (article_.baseline) {
        const ArticleBaseline& b = *article_.baseline;
        for (const std::string& part :
             {b.identifier, b.part, b.revision.empty() ? "" : "revision " + b.revision, b.date})
          if (!part.empty()) baseline += (baseline.empty() ? "" : ", ") + part;
      } else {
        form_.missing.push_back("14 Baseline: keep the full article first, or name its routine");
      }
    }
    const FormField reason = article_.scope == ArticleScope::Full
                                 ? field("14", ArticleField::Reason)
                                 : needed("14", ArticleField::Reason);
    form_.head.push_back(
        {{"13", "Detail or assembly FAI", article_.assembly ? "Assembly FAI" : "Detail FAI"},
         {"14", "Full or partial FAI", full},
         {"14", "Baseline part number with revision level", baseline},
         reason});
  }

  void indexOfParts() {
    if (!article_.assembly && article_.parts.empty()) return;
    FormTable table{"Parts and assemblies that make this assembly",
                    {{"15", "Part number"},
                     {"16", "Part name"},
                     {"17", "Part type"},
                     {"18", "FAIR identifier"}},
                    {}};
    for (const ArticlePart& p : article_.parts)
      table.rows.push_back({{p.number}, {p.name}, {p.type}, {p.identifier}});
    if (table.rows.empty()) {
      form_.missing.push_back("15 Part numbers of the assembly");
      table.rows.emplace_back(table.columns.size());
    }
    form_.tables.push_back(std::move(table));
  }

  void signatures(const std::string& who_number, ArticleField who, const std::string& when_number,
                  ArticleField when) {
    FormField by = field(who_number, who), on = field(when_number, when);
    by.share = 3;
    by.signed_here = on.signed_here = true;
    form_.foot.push_back({by, on});
  }

  // Where nothing is listed, the part's own data.
  std::vector<ArticleProduct> productsKnown() const {
    if (!article_.products.empty()) return article_.products;
    std::vector<ArticleProduct> all;
    for (const HeaderField f : {HeaderField::Material, HeaderField::Processes})
      if (!header(f).empty()) all.push_back({header(f), "", "", "", "", ""});
    return all;
  }

  std::string locationOf(const ReportRow& row) const {
    const Requirement& r = plan_.spec.requirement(row.requirement);
    std::string where;
    if (r.spot && plan_.drawings.size() > 1) where = r.spot->drawing;
    if (r.spot) where += (where.empty() ? "" : ", ") + fmt::format("sheet {}", r.spot->page);
    if (!row.zone.empty()) where += (where.empty() ? "" : ", ") + row.zone;
    if (!where.empty()) where.front() = static_cast<char>(std::toupper(where.front()));
    return where;
  }

  // Each feature of a pattern that counts by itself has its result.
  static FormCell resultOf(const ReportRow& row) {
    const auto shown = [](const ReportRow& r) {
      if (r.actual.empty()) return std::string("not measured");
      return r.actual.text + (r.unit.empty() || r.unit == "mm" ? "" : " " + r.unit);
    };
    FormCell cell{shown(row), {}, nullptr, {{shown(row), row.verdict}}};
    if (!row.actual.empty()) cell.figure = row.actual;
    if (row.members.empty()) return cell;
    cell = {};
    for (const ReportRow& member : row.members) {
      cell.results.push_back({member.number + ": " + shown(member), member.verdict});
      cell.text += (cell.text.empty() ? "" : "\n") + cell.results.back().text;
    }
    return cell;
  }

  void noneAccounted(FormTable& table) {
    std::vector<FormCell> row(table.columns.size());
    row[3].text = article_.scope == ArticleScope::Delta && article_.baseline
                      ? "Nothing changed since the baseline."
                      : "No characteristic is accounted for.";
    table.rows.push_back(std::move(row));
    if (article_.scope != ArticleScope::Delta || !article_.baseline)
      form_.missing.push_back("5 Characteristics");
  }

  const Plan& plan_;
  const FirstArticle& article_;
  const ReportModel& model_;
  FilledForm form_;
};

} // namespace

FilledForm formOf(ArticleForm which, const Plan& plan, const ReportModel& model) {
  FormFiller filler(plan, model);
  return which == ArticleForm::Parts      ? filler.parts()
         : which == ArticleForm::Products ? filler.products()
                                          : filler.characteristics();
}

bool hasNonconformance(const Plan& plan, const ReportModel& model) {
  const auto all = accounted(plan, model);
  return std::any_of(all.begin(), all.end(), [](const Accounted& a) {
    return a.row->verdict == Verdict::Outside || (a.said && !a.said->nonconformance.empty());
  });
}

std::vector<std::string> articleGaps(const Plan& plan, const ReportModel& model) {
  std::vector<std::string> all;
  for (int k = 0; k < kArticleForms; ++k) {
    const FilledForm form = formOf(static_cast<ArticleForm>(k), plan, model);
    if (!form.missing.empty())
      all.push_back(
          fmt::format("Form {}: not known yet: {}.", k + 1, fmt::join(form.missing, ", ")));
  }
  return all;
}

} // namespace alder
