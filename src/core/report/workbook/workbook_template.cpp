#include "report/workbook/workbook_template.h"

#include "report/workbook/package.h"
#include "report/workbook/sheet_filler.h"
#include <algorithm>

namespace alder {
namespace {

constexpr int kMostRows = 1048576;

class FilledWorkbook {
 public:
  FilledWorkbook(Package package, std::string label, const ReportModel& model, const Plan& plan)
      : package_(std::move(package))
      , label_(std::move(label))
      , source_{model, plan, strings_} {}

  Result<ReportFile> fill() {
    if (auto done = readParts(); !done) return pass(done.error());
    for (Sheet& sheet : sheets_) {
      sheet.filler->findFields();
      if (!sheet.filler->shift().empty()) shifts_[sheet.name] = sheet.filler->shift();
      sheet.changes = sheet.filler->hasFields();
      for (const auto& [row, more] : sheet.filler->shift().more)
        if (sheet.filler->shift().last(row) > kMostRows)
          return fail("{}: {} would have more rows than a sheet can hold.", label_, sheet.name);
    }
    reach();
    std::vector<std::string> told;
    for (Sheet& sheet : sheets_) {
      std::vector<std::string> of_sheet;
      if (sheet.changes) {
        sheet.filler->fill(shifts_, of_sheet);
        package_.replace(sheet.part, sheet.filler->xml());
      } else {
        of_sheet = sheet.filler->toldBefore();
      }
      told.insert(told.end(), of_sheet.begin(), of_sheet.end());
      if (!sheet.filler->shift().empty())
        if (auto done = shiftRelated(sheet); !done) return pass(done.error());
    }
    if (std::none_of(sheets_.begin(), sheets_.end(),
                     [](const Sheet& s) { return s.filler->hasFields(); }))
      told.push_back(label_ + ": names no field; put some in braces, such as {part.number}.");
    if (auto done = shiftCharts(); !done) return pass(done.error());
    if (auto done = finishWorkbook(); !done) return pass(done.error());
    auto bytes = package_.packed();
    if (!bytes) return pass(bytes.error());
    return ReportFile{std::move(*bytes), std::move(told)};
  }

 private:
  struct Sheet {
    std::string name, part;
    std::unique_ptr<SheetFiller> filler;
    bool changes = false;
  };
  struct Relation {
    std::string id, type, target;
  };

  Done parse(const std::string& part, pugi::xml_document& document) const {
    const auto text = package_.read(part);
    if (!text) return pass(text.error());
    if (!parsed(document, *text)) return fail("{}: {} in it cannot be read.", label_, part);
    return {};
  }

  Result<std::vector<Relation>> relations(const std::string& part) const {
    std::vector<Relation> all;
    if (!package_.has(relationsOf(part))) return all;
    pugi::xml_document document;
    if (auto done = parse(relationsOf(part), document); !done) return pass(done.error());
    for (const pugi::xml_node& r : kids(document.document_element(), "Relationship")) {
      if (std::string_view(r.attribute("TargetMode").value()) == "External") continue;
      const std::string type = r.attribute("Type").value();
      all.push_back({r.attribute("Id").value(), type.substr(type.rfind('/') + 1),
                     targetOf(part, r.attribute("Target").value())});
    }
    return all;
  }

  Done readParts() {
    for (const std::string& name : package_.names())
      if (name.ends_with("vbaProject.bin"))
        return fail("{}: holds macros; save it as a workbook without them (*.xlsx).", label_);
    const auto root = relations("");
    if (!root) return pass(root.error());
    for (const Relation& r : *root)
      if (r.type == "officeDocument") workbook_ = r.target;
    if (workbook_.empty()) return fail("{}: is no workbook (*.xlsx).", label_);
    if (auto done = parse(workbook_, book_); !done) return done;
    const auto parts = relations(workbook_);
    if (!parts) return pass(parts.error());
    for (const Relation& r : *parts) {
      if (r.type == "sharedStrings") {
        if (auto done = parse(r.target, shared_); !done) return done;
        strings_ = kids(shared_.document_element(), "si");
      }
      if (r.type == "calcChain") calc_chain_ = r.target;
    }
    for (const pugi::xml_node& s : kids(kid(book_.document_element(), "sheets"), "sheet")) {
      std::string id;
      for (const pugi::xml_attribute& a : s.attributes())
        if (localName(a.name()) == "id") id = a.value();
      const auto found =
          std::find_if(parts->begin(), parts->end(), [&](const Relation& r) { return r.id == id; });
      if (found == parts->end() || found->type != "worksheet") continue; // a sheet of a chart
      if (auto done = readSheet(s.attribute("name").value(), found->target); !done) return done;
    }
    if (sheets_.empty()) return fail("{}: has no sheet of cells.", label_);
    return {};
  }

  Done readSheet(const std::string& name, const std::string& part) {
    const auto text = package_.read(part);
    if (!text) return pass(text.error());
    Sheet sheet{name, part, std::make_unique<SheetFiller>(name, *text, source_), false};
    if (!sheet.filler->read()) return fail("{}: {} in it cannot be read.", label_, part);
    const auto related = relations(part);
    if (!related) return pass(related.error());
    for (const Relation& r : *related) {
      if (r.type != "table") continue;
      pugi::xml_document table;
      if (auto done = parse(r.target, table); !done) return done;
      // The names of its columns stand in the table too.
      const std::string ref = table.document_element().attribute("ref").value();
      SheetPlace from, to;
      const auto colon = ref.find(':');
      if (colon != std::string::npos && cellFrom(ref.substr(0, colon), from) &&
          cellFrom(ref.substr(colon + 1), to) &&
          table.document_element().attribute("headerRowCount").as_int(1) > 0)
        sheet.filler->leave(columnName(from.column) + std::to_string(from.row) + ":" +
                            columnName(to.column) + std::to_string(from.row));
    }
    sheets_.push_back(std::move(sheet));
    return {};
  }

  // Sheets whose figures come from what is filled in, over others too.
  void reach() {
    for (bool more = true; more;) {
      more = false;
      for (Sheet& sheet : sheets_) {
        if (sheet.changes) continue;
        for (const Sheet& of : sheets_)
          if (of.changes && sheet.filler->refersTo(of.name)) sheet.changes = more = true;
        for (const std::string& name : namesOfChanged())
          if (sheet.filler->uses(name)) sheet.changes = more = true;
      }
    }
  }

  // Names of ranges in sheets that change.
  std::vector<std::string> namesOfChanged() const {
    std::vector<std::string> all;
    for (const pugi::xml_node& n :
         kids(kid(book_.document_element(), "definedNames"), "definedName"))
      for (const Sheet& of : sheets_)
        if (of.changes && mentions(n.text().get(), of.name))
          all.emplace_back(n.attribute("name").value());
    return all;
  }

  // Pictures and charts that stand on the sheet, its tables and its comments.
  Done shiftRelated(const Sheet& sheet) {
    const RowShift& shift = sheet.filler->shift();
    const auto related = relations(sheet.part);
    if (!related) return pass(related.error());
    for (const Relation& r : *related) {
      if (r.type != "drawing" && r.type != "table" && r.type != "comments" &&
          r.type != "vmlDrawing" && r.type != "threadedComment")
        continue;
      pugi::xml_document document;
      if (auto done = parse(r.target, document); !done) {
        if (r.type == "vmlDrawing") continue; // not always well formed
        return done;
      }
      moveAnchors(document.document_element(), shift, sheet.name);
      package_.replace(r.target, printed(document));
    }
    return {};
  }

  void moveAnchors(pugi::xml_node node, const RowShift& shift, const std::string& sheet) const {
    for (pugi::xml_node child : node.children()) {
      if (child.type() != pugi::node_element) continue;
      const std::string_view name = localName(child.name());
      // Rows count from 0 there.
      if ((name == "row" && (isNamed(node, "from") || isNamed(node, "to"))) || name == "Row")
        child.text().set(shift.first(child.text().as_int() + 1) - 1);
      if (name == "calculatedColumnFormula" || name == "totalsRowFormula")
        child.text().set(shiftedFormula(child.text().get(), sheet, shifts_).c_str());
      moveAnchors(child, shift, sheet);
    }
    if (pugi::xml_attribute ref = node.attribute("ref"))
      ref.set_value(shiftedRanges(ref.value(), shift).c_str());
  }

  Done shiftCharts() {
    if (shifts_.empty()) return {};
    for (const std::string& name : package_.names()) {
      const bool chart = name.starts_with("xl/charts/") && name.ends_with(".xml");
      const bool pivot = name.starts_with("xl/pivotCache/pivotCacheDefinition");
      if (!chart && !pivot) continue;
      pugi::xml_document document;
      if (auto done = parse(name, document); !done) return done;
      bool changed = false;
      shiftFormulas(document.document_element(), changed);
      if (changed) package_.replace(name, printed(document));
    }
    return {};
  }

  void shiftFormulas(pugi::xml_node node, bool& changed) const {
    for (pugi::xml_node child : node.children()) {
      if (child.type() != pugi::node_element) continue;
      if (isNamed(child, "f")) {
        const std::string was = child.text().get(), now = shiftedSource(was, shifts_);
        changed |= was != now;
        child.text().set(now.c_str());
      }
      if (isNamed(child, "worksheetSource"))
        if (const auto shift = shifts_.find(child.attribute("sheet").value());
            shift != shifts_.end() && child.attribute("ref")) {
          changed = true;
          child.attribute("ref").set_value(
              shiftedRanges(child.attribute("ref").value(), shift->second).c_str());
        }
      shiftFormulas(child, changed);
    }
  }

  // Names of ranges follow; figures are computed when it is opened; the order in which they were
  // computed is forgotten.
  Done finishWorkbook() {
    pugi::xml_node book = book_.document_element();
    for (pugi::xml_node n : kids(kid(book, "definedNames"), "definedName"))
      n.text().set(shiftedSource(n.text().get(), shifts_).c_str());
    pugi::xml_node calc = kid(book, "calcPr");
    if (!calc) {
      pugi::xml_node before;
      for (const char* name : {"sheets", "functionGroups", "externalReferences", "definedNames"})
        if (const pugi::xml_node there = kid(book, name)) before = there;
      calc = book.insert_child_after(named(book, "calcPr").c_str(), before);
    }
    if (!calc.attribute("fullCalcOnLoad")) calc.append_attribute("fullCalcOnLoad");
    calc.attribute("fullCalcOnLoad").set_value("1");
    package_.replace(workbook_, printed(book_));
    if (calc_chain_.empty()) return {};
    package_.remove(calc_chain_);
    for (const std::string& part : {relationsOf(workbook_), std::string("[Content_Types].xml")}) {
      pugi::xml_document document;
      if (auto done = parse(part, document); !done) return done;
      pugi::xml_node all = document.document_element();
      for (pugi::xml_node one : all.children()) {
        const bool relation =
            std::string_view(one.attribute("Type").value()).ends_with("/calcChain");
        if (relation || one.attribute("PartName").value() == "/" + calc_chain_) {
          all.remove_child(one);
          break;
        }
      }
      package_.replace(part, printed(document));
    }
    return {};
  }

  Package package_;
  std::string label_, workbook_, calc_chain_;
  pugi::xml_document book_, shared_;
  std::vector<pugi::xml_node> strings_;
  TemplateSource source_;
  std::vector<Sheet> sheets_;
  SheetShifts shifts_;
};

} // namespace

Result<ReportFile> filledWorkbook(const std::string& bytes, const std::string& label,
                                  const ReportModel& model, const Plan& plan) {
  auto package = Package::open(bytes, label);
  if (!package) return pass(package.error());
  return FilledWorkbook(std::move(*package), label, model, plan).fill();
}

} // namespace alder
