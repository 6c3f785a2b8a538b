// One sheet of a workbook template: which of its cells name fields, and the sheet with them filled
// in and its rows repeated.
#pragma once

#include "report/workbook/cell_shift.h"
#include "report/workbook/template_fields.h"
#include "report/workbook/xml_names.h"
#include <set>

namespace alder {

// What all sheets are filled from.
struct TemplateSource {
  const ReportModel& model;
  const Plan& plan;
  const std::vector<pugi::xml_node>& strings; // shared by the sheets
};

class SheetFiller {
 public:
  SheetFiller(std::string name, const std::string& xml, const TemplateSource& source);
  bool read() const { return read_; } // it is a sheet
  const std::string& name() const { return name_; }
  bool hasFields() const { return has_fields_; }
  const RowShift& shift() const { return shift_; }
  bool refersTo(const std::string& sheet) const; // by a formula
  bool uses(const std::string& name) const;      // the name of a range
  std::vector<std::string> toldBefore() const { return {told_.begin(), told_.end()}; }
  // Cells that are left as they are: heads of tables, by range.
  void leave(const std::string& range);
  // Finds the fields, and how many rows there will be.
  void findFields();

  // With all rows of all sheets in their new places. What is not understood is told.
  void fill(const SheetShifts& shifts, std::vector<std::string>& told);
  std::string xml() const { return printed(document_); }

 private:
  struct Copies {
    RowOf of = RowOf::Nothing;
    std::vector<RowSubject> subjects;
  };
  pugi::xml_node sheet() const { return document_.document_element(); }
  pugi::xml_node rows() const { return kid(sheet(), "sheetData"); }
  void numberCells();
  void expandShared();
  std::string textOf(const pugi::xml_node& cell) const;
  bool left(const SheetPlace& place) const;
  std::vector<pugi::xml_node> bands() const;
  void fillRow(pugi::xml_node row, int was, int now, const RowSubject& subject, int copy,
               const SheetShifts& shifts);
  void fillCell(pugi::xml_node cell, const RowSubject& subject);
  void setText(pugi::xml_node cell, const pugi::xml_node& rich, const RowSubject& subject);
  std::string filledText(const std::string& text, const RowSubject& subject) const;
  void mergeCopies();
  void shiftOthers(pugi::xml_node node, const SheetShifts& shifts);

  std::string name_;
  pugi::xml_document document_;
  const TemplateSource& source_;
  bool read_ = false, has_fields_ = false;
  RowShift shift_;
  std::map<int, Copies> copies_; // by row
  std::vector<std::string> left_;
  std::set<std::string> told_;
};

} // namespace alder
