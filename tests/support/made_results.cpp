#include "made_results.h"

#include "base/random.h"
#include "base/units.h"
#include <algorithm>
#include <array>
#include <charconv>
#include <cmath>
#include <functional>
#include <zip.h>

namespace alder::test {
namespace {

// How a layout writes figures and words.
struct Style {
  char decimal = '.';
  int places = 3;
  bool inch = false;
};

double rounded(double value, const Style& s, bool degrees) {
  const double unit = std::pow(10.0, -s.places) * (s.inch && !degrees ? kMmPerInch : 1);
  return std::round(value / unit) * unit;
}

std::string written(double value, const Style& s, bool degrees, bool sign = false) {
  std::string text =
      fmt::format("{:.{}f}", s.inch && !degrees ? value / kMmPerInch : value, s.places);
  if (text.find_first_not_of("-0.") == std::string::npos && text[0] == '-') text.erase(0, 1);
  if (sign && text[0] != '-') text = "+" + text;
  std::replace(text.begin(), text.end(), '.', s.decimal);
  return text;
}

std::string left(const std::string& text, std::size_t width) {
  std::size_t length = 0;
  for (const char c : text)
    length += (static_cast<unsigned char>(c) & 0xC0) != 0x80;
  return text + std::string(length < width ? width - length : 0, ' ');
}
std::string right(const std::string& text, std::size_t width) {
  return std::string(text.size() < width ? width - text.size() : 0, ' ') + text;
}

std::string windows1252(const std::string& utf8) {
  std::string out;
  for (std::size_t i = 0; i < utf8.size(); ++i) {
    const auto c = static_cast<unsigned char>(utf8[i]);
    if (c < 0x80) {
      out += utf8[i];
    } else {
      out += static_cast<char>((c & 0x1F) << 6 | (static_cast<unsigned char>(utf8[++i]) & 0x3F));
    }
  }
  return out;
}

std::string utf16(const std::string& utf8) {
  std::string out = "\xFF\xFE";
  for (std::size_t i = 0; i < utf8.size(); ++i) {
    unsigned c = static_cast<unsigned char>(utf8[i]);
    if (c >= 0xC0) c = (c & 0x1F) << 6 | (static_cast<unsigned char>(utf8[++i]) & 0x3F);
    out += static_cast<char>(c & 0xFF);
    out += static_cast<char>(c >> 8);
  }
  return out;
}

struct Word {
  Characteristic kind;
  const char *axis, *german, *english, *french;
};
constexpr std::array<Word, 17> kWords{{
    {Characteristic::Size, "D", "Durchmesser", "Diameter", "Diamètre"},
    {Characteristic::Distance, "L", "Abstand", "Distance", "Distance"},
    {Characteristic::Angle, "A", "Winkel", "Angle", "Angle"},
    {Characteristic::Position, "TP", "Position", "True position", "Localisation"},
    {Characteristic::Flatness, "FLAT", "Ebenheit", "Flatness", "Planéité"},
    {Characteristic::Straightness, "STRAIGHT", "Geradheit", "Straightness", "Rectitude"},
    {Characteristic::Roundness, "RD", "Rundheit", "Roundness", "Circularité"},
    {Characteristic::Cylindricity, "CYL", "Zylindrizität", "Cylindricity", "Cylindricité"},
    {Characteristic::LineProfile, "PROF", "Linienform", "Line profile", "Profil d'une ligne"},
    {Characteristic::SurfaceProfile, "PROF", "Flächenform", "Profile", "Profil d'une surface"},
    {Characteristic::Parallelism, "PAR", "Parallelität", "Parallelism", "Parallélisme"},
    {Characteristic::Perpendicularity, "PERP", "Rechtwinkligkeit", "Squareness",
     "Perpendicularité"},
    {Characteristic::Angularity, "ANG", "Neigung", "Angularity", "Inclinaison"},
    {Characteristic::Coaxiality, "CONC", "Koaxialität", "Coaxiality", "Coaxialité"},
    {Characteristic::Symmetry, "SYM", "Symmetrie", "Symmetry", "Symétrie"},
    {Characteristic::CircularRunout, "RO", "Rundlauf", "Runout", "Battement"},
    {Characteristic::TotalRunout, "TR", "Gesamtlauf", "Total runout", "Battement total"},
}};

const Word& wordOf(const std::string& axis) {
  for (const Word& w : kWords)
    if (axis == w.axis) return w;
  return kWords[0];
}

std::string title(const MadeValue& v, const char* Word::*language) {
  return v.feature + " " +
         (v.axis.size() == 1 && v.axis[0] >= 'X' ? v.axis.c_str() : wordOf(v.axis).*language);
}

// Each layout writes the values of parts that are rounded as it shows them.
struct Layout {
  const char* name;
  Style style;
  int parts;
  std::function<std::string(const std::vector<MadePart>&, const Style&)> write;
};

std::string limitText(const MadeValue& v, const Style& s, bool above) {
  if (v.geometric && !above) return "";
  return written(above ? v.above : v.below, s, v.degrees, true);
}
bool isWithin(const MadeValue& v) {
  return v.actual <= v.nominal + v.above && (v.geometric || v.actual >= v.nominal + v.below);
}

std::string germanSemicolons(const std::vector<MadePart>& parts, const Style& s) {
  const MadePart& p = parts.front();
  std::string out = "Messprotokoll Saltmarsh Instruments\r\nSeriennummer: " + p.serial +
                    ";;Prüfer: " + p.operated_by + "\r\nDatum: " + p.date +
                    "\r\n\r\nNr.;Merkmal;Nennmaß;Ob. Abmaß;Unt. Abmaß;Istmaß;Abweichung;Status\r\n";
  for (const MadeValue& v : p.values)
    out += fmt::format("{};{};{};{};{};{};{};{}\r\n", v.number, title(v, &Word::german),
                       v.geometric ? "" : written(v.nominal, s, v.degrees), limitText(v, s, true),
                       limitText(v, s, false), written(v.actual, s, v.degrees),
                       written(v.actual - v.nominal, s, v.degrees, true),
                       isWithin(v) ? "i.O." : "n.i.O.");
  return windows1252(out);
}

std::string americanCommas(const std::vector<MadePart>& parts, const Style& s) {
  const MadePart& p = parts.front();
  std::string out = "\"Inspection results\"\n\"Units: inch\"\n\"Serial No: " + p.serial +
                    "\"\nChar No,Characteristic,Nominal,+Tol,-Tol,Actual,Dev,Out of Tol\n";
  for (const MadeValue& v : p.values) {
    const double beyond = std::max(
        {0.0, v.actual - v.nominal - v.above, v.geometric ? 0.0 : v.nominal + v.below - v.actual});
    out += fmt::format("{},\"{}, {}\",{},{},{},{},{},{}\n", v.number, v.feature,
                       wordOf(v.axis).english, written(v.nominal, s, v.degrees),
                       written(v.above, s, v.degrees),
                       v.geometric ? written(0, s, v.degrees) : written(v.below, s, v.degrees),
                       written(v.actual, s, v.degrees), written(v.actual - v.nominal, s, v.degrees),
                       written(beyond, s, v.degrees));
  }
  return out;
}

std::string untitledTabs(const std::vector<MadePart>& parts, const Style& s) {
  std::string out;
  for (const MadeValue& v : parts.front().values)
    out += fmt::format("{}\t{}\t{}\t{}\t{}\t{}\n", title(v, &Word::english),
                       written(v.nominal, s, v.degrees), written(v.actual, s, v.degrees),
                       written(v.actual - v.nominal, s, v.degrees), written(v.above, s, v.degrees),
                       written(v.geometric ? 0 : v.below, s, v.degrees));
  return out;
}

std::string fixedReport(const std::vector<MadePart>& parts, const Style& s) {
  const MadePart& p = parts.front();
  std::string out;
  int row = 0, page = 0;
  for (const MadeValue& v : p.values) {
    if (row++ % 12 == 0)
      out += fmt::format("{}  SALTMARSH INSTRUMENTS   INSPECTION REPORT        Page {}\n"
                         "  Part id: {}      Operator: {}     Date: {}\n\n"
                         "  {}{}{}{}{}{}{}\n  {}\n",
                         page > 0 ? "\f" : "", page + 1, p.serial, p.operated_by, p.date,
                         left("Item", 6), left("Description", 34), right("Nominal", 10),
                         right("Upper Tol", 11), right("Lower Tol", 11), right("Measured", 11),
                         right("Dev", 10), std::string(93, '-')),
          ++page;
    out += fmt::format("  {}{}{}{}{}{}{}{}\n", left(std::to_string(v.number), 6),
                       left(title(v, &Word::english), 34),
                       right(v.geometric ? "" : written(v.nominal, s, v.degrees), 10),
                       right(written(v.above, s, v.degrees), 11),
                       right(v.geometric ? "" : written(v.below, s, v.degrees), 11),
                       right(written(v.actual, s, v.degrees), 11),
                       right(v.geometric ? "" : written(v.actual - v.nominal, s, v.degrees), 10),
                       isWithin(v) ? "" : "  ***");
  }
  return out;
}

// Names of any length push the columns aside.
std::string wandering(const std::vector<MadePart>& parts, const Style& s) {
  const MadePart& p = parts.front();
  std::string out = "Serial: " + p.serial + "\n";
  for (const MadeValue& v : p.values)
    out +=
        fmt::format("{} {} {} {} {} {} {} {} {}\n", v.number, v.feature, v.axis,
                    written(v.nominal, s, v.degrees), written(v.actual, s, v.degrees),
                    written(v.actual - v.nominal, s, v.degrees), written(v.above, s, v.degrees),
                    written(v.geometric ? 0 : v.below, s, v.degrees), isWithin(v) ? "OK" : "NOK");
  return out;
}

std::string twoLines(const std::vector<MadePart>& parts, const Style& s) {
  const MadePart& p = parts.front();
  std::string out = "Serial number = " + p.serial + "\nMeasured by = " + p.operated_by + "\n\n";
  for (const MadeValue& v : p.values)
    out += fmt::format("{}  {}   Nominal {}   Tol {} {}\n       Measured {}   Dev {}\n",
                       left(std::to_string(v.number), 4), left(title(v, &Word::english), 34),
                       written(v.nominal, s, v.degrees), written(v.above, s, v.degrees, true),
                       written(v.geometric ? 0 : v.below, s, v.degrees),
                       written(v.actual, s, v.degrees),
                       written(v.actual - v.nominal, s, v.degrees, true));
  return out;
}

std::string headed(const std::vector<MadePart>& parts, const Style& s) {
  const MadePart& p = parts.front();
  std::string out = "MEASURING PROTOCOL\nSN: " + p.serial + "\n\n", before;
  for (const MadeValue& v : p.values) {
    if (v.feature != before)
      out += (before.empty() ? "" : "\n") + v.feature + "\n" +
             "  AX     NOMINAL       +TOL       -TOL       MEAS        DEV\n";
    before = v.feature;
    out +=
        fmt::format("  {}{}{}{}{}{}\n", left(v.axis, 9), right(written(v.nominal, s, v.degrees), 9),
                    right(written(v.above, s, v.degrees), 11),
                    right(written(v.geometric ? 0 : v.below, s, v.degrees), 11),
                    right(written(v.actual, s, v.degrees), 11),
                    right(written(v.actual - v.nominal, s, v.degrees), 11));
  }
  return out;
}

std::string blocks(const std::vector<MadePart>& parts, const Style& s) {
  const MadePart& p = parts.front();
  std::string out = "Teile-ID: " + p.serial + "\nPrüfer: " + p.operated_by + "\n\n";
  for (const MadeValue& v : p.values) {
    out += "Merkmal.....: " + title(v, &Word::german) + "\n";
    out += "Soll........: " + written(v.nominal, s, v.degrees) + "\n";
    out += "OT..........: " + written(v.above, s, v.degrees, true) + "\n";
    out += "UT..........: " + written(v.geometric ? 0 : v.below, s, v.degrees, true) + "\n";
    out += "Ist.........: " + written(v.actual, s, v.degrees) + "\n\n";
  }
  return out;
}

std::string across(const std::vector<MadePart>& parts, const Style& s) {
  std::string names = "Teil", nominal = "Sollwert", above = "Obere Toleranz",
              below = "Untere Toleranz", out;
  for (const MadeValue& v : parts.front().values) {
    names += ";" + title(v, &Word::german);
    nominal += ";" + written(v.nominal, s, v.degrees);
    above += ";" + written(v.above, s, v.degrees);
    below += ";" + (v.geometric ? "" : written(v.below, s, v.degrees));
  }
  out = names + "\n" + nominal + "\n" + above + "\n" + below + "\n";
  for (const MadePart& p : parts) {
    out += p.serial;
    for (const MadeValue& v : p.values)
      out += ";" + written(v.actual, s, v.degrees);
    out += "\n";
  }
  return out;
}

std::string workbook(const std::vector<MadePart>& parts, const Style& s) {
  const MadePart& p = parts.front();
  std::vector<std::vector<std::string>> rows{
      {"Inspection results"},
      {"Serial number:", p.serial},
      {"Inspected by:", p.operated_by},
      {},
      {"Balloon", "Feature", "Type", "Measured", "Nominal", "Upper limit", "Lower limit"}};
  for (const MadeValue& v : p.values)
    rows.push_back({std::to_string(v.number), v.feature, wordOf(v.axis).english,
                    written(v.actual, s, v.degrees),
                    v.geometric ? "" : written(v.nominal, s, v.degrees),
                    written(v.nominal + v.above, s, v.degrees),
                    v.geometric ? "" : written(v.nominal + v.below, s, v.degrees)});
  return madeWorkbook(rows, p.serial.size() % 2 == 0);
}

std::string labelled(const std::vector<MadePart>& parts, const Style& s) {
  const MadePart& p = parts.front();
  std::string out = "Werkstück-Nr: " + p.serial + "   Datum: " + p.date + "\n";
  for (const MadeValue& v : p.values)
    out += fmt::format("{}  Soll {}  Ist {}  OT {}  UT {}\n", title(v, &Word::german),
                       written(v.nominal, s, v.degrees), written(v.actual, s, v.degrees),
                       written(v.above, s, v.degrees, true),
                       written(v.geometric ? 0 : v.below, s, v.degrees));
  return out;
}

std::string frenchParts(const std::vector<MadePart>& parts, const Style& s) {
  std::string out = "Numéro de série;Date;Caractéristique;Mesure;Cote nominale;Min;Max;Unité\r\n";
  for (const MadePart& p : parts)
    for (const MadeValue& v : p.values)
      out += fmt::format("{};{};{};{};{};{};{};{}\r\n", p.serial, p.date, title(v, &Word::french),
                         written(v.actual, s, v.degrees), written(v.nominal, s, v.degrees),
                         v.geometric ? "" : written(v.nominal + v.below, s, v.degrees),
                         written(v.nominal + v.above, s, v.degrees), v.degrees ? "°" : "mm");
  return utf16(out);
}

const std::array<Layout, kResultLayouts>& layouts() {
  static const std::array<Layout, kResultLayouts> all{{
      {"german_semicolons.csv", {',', 3}, 1, germanSemicolons},
      {"american_commas.csv", {'.', 4, true}, 1, americanCommas},
      {"untitled_tabs.txt", {'.', 4}, 1, untitledTabs},
      {"fixed_report.txt", {'.', 3}, 1, fixedReport},
      {"wandering.txt", {'.', 3}, 1, wandering},
      {"two_lines.txt", {'.', 3}, 1, twoLines},
      {"headed.txt", {'.', 4}, 1, headed},
      {"blocks.txt", {',', 3}, 1, blocks},
      {"across.csv", {',', 3}, 4, across},
      {"workbook.xlsx", {'.', 4}, 1, workbook},
      {"labelled.txt", {',', 3}, 1, labelled},
      {"french_parts.csv", {',', 3}, 3, frenchParts},
  }};
  return all;
}

// As somebody else calls and numbers the features, in an order of his own.
void rename(MadePart& part, std::uint64_t seed) {
  Random random(seed + 77);
  std::vector<std::string> features;
  for (const MadeValue& v : part.values)
    if (std::find(features.begin(), features.end(), v.feature) == features.end())
      features.push_back(v.feature);
  for (std::size_t i = features.size(); i > 1; --i)
    std::swap(features[i - 1], features[random.bits() % i]);
  for (MadeValue& v : part.values) {
    const auto at = std::find(features.begin(), features.end(), v.feature) - features.begin();
    v.number += 200;
    v.feature = fmt::format("{}_{}", "KEGF"[at % 4], at + 11);
  }
  std::stable_sort(part.values.begin(), part.values.end(),
                   [](const MadeValue& a, const MadeValue& b) { return a.feature < b.feature; });
}

std::string escaped(const std::string& text) {
  std::string out;
  for (const char c : text)
    out += c == '&' ? "&amp;" : c == '<' ? "&lt;" : std::string(1, c);
  return out;
}

} // namespace

MadePart madePart(const Specification& spec, std::uint64_t seed) {
  Random random(seed);
  MadePart part{fmt::format("TW40-{:04}", 1000 + seed % 9000),
                fmt::format("2026-{:02}-{:02}", 1 + seed % 12, 1 + seed % 28),
                std::array{"K. Brandt", "M. Odell", "J. Ferro"}[seed % 3],
                {}};
  for (const Requirement& r : spec.requirements) {
    if (r.features.empty() || r.kind == Characteristic::Value) continue;
    const auto word =
        std::find_if(kWords.begin(), kWords.end(), [&](const Word& w) { return w.kind == r.kind; });
    const bool angle = r.kind == Characteristic::Angle;
    const auto shown = [&](double v) { return angle ? degrees(v) : v; };
    MadeValue v;
    v.requirement = r.id, v.number = r.balloon, v.axis = word->axis, v.degrees = angle;
    v.geometric = !isDimension(r.kind);
    v.nominal = v.geometric ? 0 : shown(r.nominal);
    v.above = v.geometric ? r.tolerance : shown(r.upper) - v.nominal;
    v.below = v.geometric ? 0 : shown(r.lower) - v.nominal;
    // One value for all features of a pattern, or one for each.
    const std::size_t values = r.features.size() > 1 && r.kind != Characteristic::Distance &&
                                       r.kind != Characteristic::Angle && random.bits() % 2
                                   ? r.features.size()
                                   : 1;
    for (std::size_t k = 0; k < values; ++k) {
      v.feature = spec.feature(r.features[k]).name;
      const double width = v.geometric ? v.above : v.above - v.below;
      v.actual = v.nominal + (v.geometric ? 0 : v.below) + width * random.uniform(0.05, 1.03);
      // The coordinates of what has a place stand before its position.
      if (r.kind == Characteristic::Position)
        for (int axis = 0; axis < 2; ++axis) {
          MadeValue c = v;
          c.requirement = {}, c.axis = axis ? "Y" : "X", c.geometric = false;
          c.nominal = spec.feature(r.features[k]).ideal.point[axis];
          c.above = v.above / 2, c.below = -v.above / 2;
          c.actual = c.nominal + v.above * random.uniform(-0.4, 0.4);
          part.values.push_back(c);
        }
      part.values.push_back(v);
    }
  }
  return part;
}

MadeResultFile madeResultFile(int layout, const Specification& spec, std::uint64_t seed,
                              std::uint64_t figures, bool foreign) {
  const Layout& l = layouts()[static_cast<std::size_t>(layout)];
  MadeResultFile file;
  file.name = l.name, file.inch = l.style.inch;
  for (int k = 0; k < l.parts; ++k) {
    MadePart p = madePart(spec, seed + static_cast<std::uint64_t>(k) * 17);
    if (foreign) rename(p, seed);
    if (figures > 0) {
      const MadePart other = madePart(spec, figures + static_cast<std::uint64_t>(k));
      Random random(figures);
      p.serial = other.serial;
      for (MadeValue& v : p.values)
        v.actual = v.nominal + (v.geometric ? 0 : v.below) +
                   (v.geometric ? v.above : v.above - v.below) * random.uniform(0.05, 0.98);
    }
    // The same rows in every part of a table.
    if (k > 0) {
      Random random(seed * 31 + figures + static_cast<std::uint64_t>(k));
      p.values = file.parts.front().values;
      for (MadeValue& v : p.values)
        v.actual += (v.geometric ? -0.1 : 0.1) * v.above * random.uniform();
    }
    for (MadeValue& v : p.values)
      for (double* x : {&v.nominal, &v.above, &v.below, &v.actual})
        *x = rounded(*x, l.style, v.degrees);
    file.parts.push_back(std::move(p));
  }
  file.bytes = l.write(file.parts, l.style);
  return file;
}

std::string madeWorkbook(const std::vector<std::vector<std::string>>& rows, bool shared) {
  std::string sheet, words;
  std::size_t count = 0;
  for (std::size_t r = 0; r < rows.size(); ++r) {
    if (rows[r].empty()) continue;
    sheet += fmt::format("<row r=\"{}\">", r + 1);
    for (std::size_t c = 0; c < rows[r].size(); ++c) {
      const std::string& text = rows[r][c];
      if (text.empty()) continue;
      const std::string place = std::string(1, static_cast<char>('A' + c)) + std::to_string(r + 1);
      double v = 0;
      const auto [end, code] = std::from_chars(text.data(), text.data() + text.size(), v);
      if (code == std::errc{} && end == text.data() + text.size()) {
        sheet += fmt::format("<c r=\"{}\"><v>{:.17g}</v></c>", place, v);
      } else if (shared) {
        sheet += fmt::format("<c r=\"{}\" t=\"s\"><v>{}</v></c>", place, count++);
        words += "<si><t>" + escaped(text) + "</t></si>";
      } else {
        sheet +=
            fmt::format("<c r=\"{}\" t=\"inlineStr\"><is><t>{}</t></is></c>", place, escaped(text));
      }
    }
    sheet += "</row>";
  }
  const std::string xml = "<?xml version=\"1.0\" encoding=\"UTF-8\"?>\n";
  const std::string main = "http://schemas.openxmlformats.org/spreadsheetml/2006/main",
                    relation =
                        "http://schemas.openxmlformats.org/officeDocument/2006/relationships";
  std::vector<std::pair<std::string, std::string>> entries{
      {"[Content_Types].xml",
       xml + "<Types xmlns=\"http://schemas.openxmlformats.org/package/2006/content-types\"/>"},
      {"xl/workbook.xml", xml + "<workbook xmlns=\"" + main + "\" xmlns:r=\"" + relation +
                              "\"><sheets><sheet name=\"Results\" sheetId=\"1\" "
                              "r:id=\"rId1\"/></sheets></workbook>"},
      {"xl/_rels/workbook.xml.rels",
       xml +
           "<Relationships xmlns=\"http://schemas.openxmlformats.org/package/2006/"
           "relationships\"><Relationship Id=\"rId1\" Type=\"" +
           relation + "/worksheet\" Target=\"worksheets/sheet1.xml\"/></Relationships>"},
      {"xl/worksheets/sheet1.xml",
       xml + "<worksheet xmlns=\"" + main + "\"><sheetData>" + sheet + "</sheetData></worksheet>"}};
  if (shared)
    entries.emplace_back("xl/sharedStrings.xml",
                         xml + "<sst xmlns=\"" + main + "\">" + words + "</sst>");
  zip_error_t error;
  zip_error_init(&error);
  zip_source_t* target = zip_source_buffer_create(nullptr, 0, 0, &error);
  zip_t* zip = zip_open_from_source(target, ZIP_TRUNCATE, &error);
  zip_source_keep(target);
  for (const auto& [name, bytes] : entries)
    zip_file_add(zip, name.c_str(), zip_source_buffer(zip, bytes.data(), bytes.size(), 0),
                 ZIP_FL_OVERWRITE | ZIP_FL_ENC_UTF_8);
  zip_close(zip);
  zip_stat_t stat;
  zip_source_stat(target, &stat);
  std::string bytes(stat.size, '\0');
  zip_source_open(target);
  zip_source_read(target, bytes.data(), bytes.size());
  zip_source_close(target);
  zip_source_free(target);
  return bytes;
}

} // namespace alder::test
