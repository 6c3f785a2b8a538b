#include "report/workbook/sheet_filler.h"

#include <algorithm>
#include <charconv>
#include <functional>

namespace alder {
namespace {

// All runs of a text, shared or in the cell.
std::vector<pugi::xml_node> runsOf(const pugi::xml_node& rich) {
  std::vector<pugi::xml_node> all;
  for (const pugi::xml_node& t : kids(rich, "t"))
    all.push_back(t);
  for (const pugi::xml_node& r : kids(rich, "r"))
    for (const pugi::xml_node& t : kids(r, "t"))
      all.push_back(t);
  return all;
}

std::string plainText(const pugi::xml_node& rich) {
  std::string text;
  for (const pugi::xml_node& t : runsOf(rich))
    text += t.text().get();
  return text;
}

int fieldCount(const std::string& text) {
  int count = 0;
  eachField(
      text, [](const std::string&) {},
      [&](const std::string& name) { count += isTemplateField(name); });
  return count;
}

void removeValue(pugi::xml_node cell) {
  if (pugi::xml_node v = kid(cell, "v")) cell.remove_child(v);
}

void setAttribute(pugi::xml_node node, const char* name, const std::string& value) {
  pugi::xml_attribute a = node.attribute(name);
  if (!a) a = node.append_attribute(name);
  a.set_value(value.c_str());
}

std::string shortest(double value) {
  char text[32];
  const auto [end, error] = std::to_chars(text, text + sizeof text, value);
  return error == std::errc() ? std::string(text, end) : "0";
}

} // namespace

SheetFiller::SheetFiller(std::string name, const std::string& xml, const TemplateSource& source)
    : name_(std::move(name))
    , source_(source) {
  read_ = parsed(document_, xml) && isNamed(sheet(), "worksheet") && rows();
  if (read_) numberCells();
}

// Places may be left out where they follow on.
void SheetFiller::numberCells() {
  int row = 0;
  for (pugi::xml_node r : kids(rows(), "row")) {
    row = r.attribute("r").as_int(row + 1);
    if (!r.attribute("r")) setAttribute(r, "r", std::to_string(row));
    int column = 0;
    for (pugi::xml_node c : kids(r, "c")) {
      SheetPlace place;
      column = cellFrom(c.attribute("r").value(), place) ? place.column : column + 1;
      if (!c.attribute("r")) setAttribute(c, "r", columnName(column) + std::to_string(row));
    }
  }
}

std::string SheetFiller::textOf(const pugi::xml_node& cell) const {
  const std::string type = cell.attribute("t").value();
  if (type == "inlineStr") return plainText(kid(cell, "is"));
  if (type != "s" || kid(cell, "f")) return {};
  const auto index = kid(cell, "v").text().as_uint();
  return index < source_.strings.size() ? plainText(source_.strings[index]) : std::string();
}

void SheetFiller::leave(const std::string& range) {
  left_.push_back(range);
}

bool SheetFiller::left(const SheetPlace& place) const {
  return std::any_of(left_.begin(), left_.end(), [&](const std::string& range) {
    SheetPlace from, to;
    const auto colon = range.find(':');
    if (!cellFrom(range.substr(0, colon), from)) return false;
    if (colon == std::string::npos || !cellFrom(range.substr(colon + 1), to)) to = from;
    return from.column <= place.column && place.column <= to.column && from.row <= place.row &&
           place.row <= to.row;
  });
}

// What heads and feet of the printed pages say.
std::vector<pugi::xml_node> SheetFiller::bands() const {
  std::vector<pugi::xml_node> all;
  for (const pugi::xml_node& one : kid(sheet(), "headerFooter").children())
    if (one.type() == pugi::node_element) all.push_back(one);
  return all;
}

void SheetFiller::findFields() {
  for (const pugi::xml_node& band : bands())
    has_fields_ |= fieldCount(band.text().get()) > 0;
  for (const pugi::xml_node& row : kids(rows(), "row")) {
    const int at = row.attribute("r").as_int();
    std::set<RowOf> kinds;
    for (const pugi::xml_node& cell : kids(row, "c")) {
      const std::string where = cell.attribute("r").value();
      eachField(
          textOf(cell), [](const std::string&) {},
          [&](const std::string& field) {
            SheetPlace place;
            const bool in_head = cellFrom(where, place) && left(place);
            if (!isTemplateField(field)) {
              told_.insert(fmt::format("{}, {}: there is no field {{{}}}; it is left as it stands.",
                                       name_, where, field));
              return;
            }
            if (in_head) {
              told_.insert(fmt::format(
                  "{}, {}: the head of a table is not filled in; it is left as it stands.", name_,
                  where));
              return;
            }
            has_fields_ = true;
            if (rowOf(field) != RowOf::Nothing) kinds.insert(rowOf(field));
          });
    }
    if (kinds.empty()) continue;
    if (kinds.size() > 1)
      told_.insert(fmt::format("{}, row {}: fields of requirements, members and measured parts do "
                               "not go together in one row; the first kind is filled in.",
                               name_, at));
    Copies copies{*kinds.begin(), subjectsOf(*kinds.begin(), source_.model)};
    if (copies.subjects.size() > 1) shift_.more[at] = static_cast<int>(copies.subjects.size()) - 1;
    if (copies.subjects.empty()) copies.subjects.emplace_back(); // its fields are empty
    copies_[at] = std::move(copies);
  }
}

bool SheetFiller::refersTo(const std::string& sheet) const {
  for (const pugi::xml_node& row : kids(rows(), "row"))
    for (const pugi::xml_node& cell : kids(row, "c"))
      if (const pugi::xml_node f = kid(cell, "f"); f && mentions(f.text().get(), sheet))
        return true;
  return false;
}

bool SheetFiller::uses(const std::string& name) const {
  for (const pugi::xml_node& row : kids(rows(), "row"))
    for (const pugi::xml_node& cell : kids(row, "c"))
      if (const pugi::xml_node f = kid(cell, "f");
          f && std::string_view(f.text().get()).find(name) != std::string_view::npos)
        return true;
  return false;
}

// A formula that several cells share is written into each of them.
void SheetFiller::expandShared() {
  struct Master {
    std::string formula;
    SheetPlace place;
  };
  std::map<int, Master> masters;
  for (const pugi::xml_node& row : kids(rows(), "row"))
    for (const pugi::xml_node& cell : kids(row, "c")) {
      pugi::xml_node f = kid(cell, "f");
      if (!f || std::string_view(f.attribute("t").value()) != "shared") continue;
      const int group = f.attribute("si").as_int();
      SheetPlace place;
      cellFrom(cell.attribute("r").value(), place);
      const std::string own = f.text().get();
      if (!own.empty())
        masters[group] = {own, place};
      else if (const auto master = masters.find(group); master != masters.end())
        f.text().set(movedFormula(master->second.formula, place.row - master->second.place.row,
                                  place.column - master->second.place.column)
                         .c_str());
      for (const char* attribute : {"t", "si", "ref"})
        f.remove_attribute(attribute);
    }
}

std::string SheetFiller::filledText(const std::string& text, const RowSubject& subject) const {
  std::string out;
  eachField(
      text, [&](const std::string& plain) { out += plain; },
      [&](const std::string& field) {
        out += isTemplateField(field) ? fieldValue(field, subject, source_.model, source_.plan).text
                                      : "{" + field + "}";
      });
  return cellText(out);
}

// The runs keep their looks where no field is parted by them.
void SheetFiller::setText(pugi::xml_node cell, const pugi::xml_node& rich,
                          const RowSubject& subject) {
  const std::string whole = plainText(rich);
  int in_runs = 0;
  for (const pugi::xml_node& t : runsOf(rich))
    in_runs += fieldCount(t.text().get());
  pugi::xml_document copy;
  pugi::xml_node is = copy.append_child(named(cell, "is").c_str());
  if (in_runs == fieldCount(whole)) {
    for (const pugi::xml_node& child : rich.children())
      if (!isNamed(child, "rPh") && !isNamed(child, "phoneticPr")) is.append_copy(child);
  } else {
    addKid(is, "t").text().set(whole.c_str());
  }
  for (pugi::xml_node t : runsOf(is)) {
    t.text().set(filledText(t.text().get(), subject).c_str());
    setAttribute(t, "xml:space", "preserve");
  }
  for (const char* old : {"v", "is"})
    if (pugi::xml_node node = kid(cell, old)) cell.remove_child(node);
  setAttribute(cell, "t", "inlineStr");
  cell.append_copy(is);
}

void SheetFiller::fillCell(pugi::xml_node cell, const RowSubject& subject) {
  const std::string text = textOf(cell);
  if (fieldCount(text) == 0) return;
  // A field alone is a number where it can be.
  std::string field;
  int pieces = 0;
  eachField(
      text, [&](const std::string&) { ++pieces; },
      [&](const std::string& name) { field = name, ++pieces; });
  const bool inline_text = std::string_view(cell.attribute("t").value()) == "inlineStr";
  const pugi::xml_node rich =
      inline_text ? kid(cell, "is") : source_.strings[kid(cell, "v").text().as_uint()];
  if (pieces > 1) return setText(cell, rich, subject);
  const FieldValue value = fieldValue(field, subject, source_.model, source_.plan);
  if (!value.number && !value.text.empty()) return setText(cell, rich, subject);
  for (const char* old : {"v", "is"})
    if (pugi::xml_node node = kid(cell, old)) cell.remove_child(node);
  cell.remove_attribute("t");
  if (value.number) addKid(cell, "v").text().set(shortest(*value.number).c_str());
}

void SheetFiller::fillRow(pugi::xml_node row, int was, int now, const RowSubject& subject, int copy,
                          const SheetShifts& shifts) {
  setAttribute(row, "r", std::to_string(now));
  const CopiedRow copied{was, copy};
  const bool repeated = copies_.contains(was);
  for (pugi::xml_node cell : kids(row, "c")) {
    SheetPlace place;
    if (!cellFrom(cell.attribute("r").value(), place)) continue;
    if (!left(place)) fillCell(cell, subject);
    setAttribute(cell, "r", columnName(place.column) + std::to_string(now));
    if (pugi::xml_node f = kid(cell, "f")) {
      f.text().set(
          shiftedFormula(f.text().get(), name_, shifts, repeated ? &copied : nullptr).c_str());
      if (f.attribute("ref"))
        setAttribute(f, "ref", shiftedRanges(f.attribute("ref").value(), shift_));
      removeValue(cell); // it is computed anew, whatever kind it was
      cell.remove_attribute("t");
    }
  }
}

// Cells that are joined within a repeated row are joined in each of its copies.
void SheetFiller::mergeCopies() {
  pugi::xml_node merges = kid(sheet(), "mergeCells");
  for (pugi::xml_node merge : kids(merges, "mergeCell")) {
    const std::string ref = merge.attribute("ref").value();
    SheetPlace from, to;
    const auto colon = ref.find(':');
    if (colon == std::string::npos || !cellFrom(ref.substr(0, colon), from) ||
        !cellFrom(ref.substr(colon + 1), to))
      continue;
    const auto more = shift_.more.find(from.row);
    if (from.row != to.row || more == shift_.more.end()) {
      setAttribute(merge, "ref", shiftedRanges(ref, shift_));
      continue;
    }
    for (int k = 0; k <= more->second; ++k) {
      const std::string row = std::to_string(shift_.first(from.row) + k);
      pugi::xml_node one = k == 0 ? merge : merges.append_copy(merge);
      setAttribute(one, "ref", columnName(from.column) + row + ":" + columnName(to.column) + row);
    }
  }
  if (merges && merges.attribute("count"))
    setAttribute(merges, "count", std::to_string(kids(merges, "mergeCell").size()));
}

// What beside the cells says where it is: conditional formats, checks of what is typed, links,
// filters, what is selected, breaks of pages.
void SheetFiller::shiftOthers(pugi::xml_node node, const SheetShifts& shifts) {
  for (pugi::xml_node child : node.children()) {
    if (child.type() != pugi::node_element || isNamed(child, "sheetData") ||
        isNamed(child, "mergeCells"))
      continue;
    const std::string_view name = localName(child.name());
    for (const char* key : {"ref", "sqref", "activeCell", "topLeftCell"})
      if (child.attribute(key)) {
        std::string now = shiftedRanges(child.attribute(key).value(), shift_);
        const bool one_cell =
            std::string_view(key) == "activeCell" || std::string_view(key) == "topLeftCell";
        if (one_cell) now = now.substr(0, now.find(':'));
        setAttribute(child, key, now);
      }
    if (name == "brk" && isNamed(node, "rowBreaks"))
      setAttribute(child, "id", std::to_string(shift_.last(child.attribute("id").as_int())));
    if (name == "f" || name == "formula" || name == "formula1" || name == "formula2")
      if (!kid(child, "f")) // some hold it in one more element
        child.text().set(shiftedFormula(child.text().get(), name_, shifts).c_str());
    if (name == "sqref") child.text().set(shiftedRanges(child.text().get(), shift_).c_str());
    if (child.attribute("location")) // of a link within the workbook
      setAttribute(child, "location",
                   shiftedFormula(child.attribute("location").value(), name_, shifts));
    shiftOthers(child, shifts);
  }
}

void SheetFiller::fill(const SheetShifts& shifts, std::vector<std::string>& told) {
  expandShared();
  for (const pugi::xml_node& row : kids(rows(), "row")) {
    const int was = row.attribute("r").as_int();
    const auto copies = copies_.find(was);
    const int now = shift_.first(was);
    if (copies == copies_.end()) {
      fillRow(row, was, now, {}, 0, shifts);
      continue;
    }
    const auto& subjects = copies->second.subjects;
    pugi::xml_node after = row;
    // From the row as it is in the template, before it is filled in itself.
    std::vector<pugi::xml_node> all{row};
    for (std::size_t k = 1; k < subjects.size(); ++k) {
      after = pugi::xml_node(rows()).insert_copy_after(row, after);
      all.push_back(after);
    }
    for (std::size_t k = 0; k < subjects.size(); ++k)
      fillRow(all[k], was, now + static_cast<int>(k), subjects[k], static_cast<int>(k), shifts);
  }
  for (pugi::xml_node band : bands())
    band.text().set(filledText(band.text().get(), {}).c_str());
  mergeCopies();
  shiftOthers(sheet(), shifts);
  told.insert(told.end(), told_.begin(), told_.end());
}

} // namespace alder
