// The three forms of a first article inspection (AS9102 revision C), filled from the routine, the
// measured part and what was asked of the people: what the composer and the workbook set.
#pragma once

#include "report/layout/item.h"
#include "report/report_model.h"
#include <optional>

namespace alder {

struct FormField {
  std::string number, caption, value; // "4", "FAIR identifier"
  std::string head() const { return number + " " + caption; }
  double share = 1;         // of the row's width, beside the others in it
  bool signed_here = false; // room for a hand
};
using FormFields = std::vector<std::vector<FormField>>; // rows

// A result, of a feature of a pattern with its number before it.
struct FormResult {
  std::string text;
  Verdict verdict = Verdict::Unmeasured;
};
struct FormCell {
  std::string text;
  std::optional<ReportFigure> figure = {}; // the text as a number
  const ReportRow* callout = nullptr;      // drawn where there is room; the text says the same
  std::vector<FormResult> results = {};    // one below the other; the text says the same
};
struct FormColumn {
  std::string number, caption;
  std::string head() const { return number + " " + caption; }
  bool wraps = true;
};
struct FormTable {
  std::string title;
  std::vector<FormColumn> columns;
  std::vector<std::vector<FormCell>> rows;
};

struct FilledForm {
  FormFields head;
  std::vector<FormTable> tables;
  FormFields foot;
  std::vector<std::string> notes;   // below it
  std::vector<std::string> missing; // "9 Manufacturing process reference", that is asked for
};

FilledForm formOf(ArticleForm which, const Plan& plan, const ReportModel& model);

// Is a characteristic of the article outside, or said to be nonconforming? (Form 1, field 19.)
bool hasNonconformance(const Plan& plan, const ReportModel& model);

// "Form 1: not known yet: 4 FAIR identifier, 9 ..." for each form that lacks something.
std::vector<std::string> articleGaps(const Plan& plan, const ReportModel& model);

} // namespace alder
