#include "exchange/results/result_words.h"

#include <algorithm>
#include <array>
#include <map>

namespace alder {
namespace {

struct RoleWords {
  ResultRole role;
  std::string_view words; // between bars, as plainWord leaves them
};

constexpr std::array<RoleWords, 20> kRoleWords{{
    {ResultRole::Name,
     "characteristic|char|char name|characteristic "
     "name|merkmal|merkmalname|merkmalsname|name|label|"
     "description|descr|bezeichnung|benennung|prufmerkmal|dimension|dim|caracteristique|"
     "designation|caratteristica|caracteristica|denominazione|text|check|requirement|inspection|"
     "test|what|mass"},
    {ResultRole::Feature,
     "feature|feature name|element|elem|geometrieelement|geometry|geometrie|entity|elemento|"
     "formelement"},
    {ResultRole::Axis,
     "axis|achse|ax|type|typ|property|eigenschaft|dir|direction|richtung|component|komponente|"
     "coord|kind|art|axe|asse|eje|param|parameter|symbol"},
    {ResultRole::Id,
     "no|nr|num|number|nummer|#|id|pos|item|balloon|bubble|ballon|char no|char id|"
     "characteristic no|characteristic id|characteristic number|merkmal nr|merkmalnr|merkmals nr|"
     "merkmalsnummer|lfd|lfd nr|prufplan nr|pm nr|numero|n|seq|item no|mnr"},
    {ResultRole::Nominal,
     "nominal|nom|nominal value|nominals|soll|sollmass|sollwert|nennmass|nennwert|nenn|target|"
     "theoretical|theo|nominale|valeur nominale|cote nominale|cote|basic|drawing|valore nominale|"
     "teorico|spec|requirement value|zeichnungsmass|design"},
    {ResultRole::Actual,
     "actual|act|actual value|actuals|measured|meas|measured value|measurement|ist|istmass|istwert|"
     "messwert|value|result|ergebnis|messergebnis|wert|mesure|mesuree|valeur mesuree|valeur|"
     "misurato|effettivo|valore|medido|valor|reading|gemessen|found|reel|resultat"},
    {ResultRole::Deviation,
     "deviation|dev|abweichung|abw|istabweichung|differenz|diff|difference|delta|error|ecart|"
     "scostamento|desviacion|deviation from nominal|dev from nom|offset"},
    {ResultRole::Upper,
     "upper limit|usl|otg|osg|oeg|obere toleranzgrenze|obere "
     "spezifikationsgrenze|upper|max|maximum|obere grenze|oberer "
     "grenzwert|og|ogw|hochstmass|hi|high|"
     "hi limit|high limit|limite superieure|max limit|upper spec limit|grosstmass|ls|"
     "limite superiore|upper lim"},
    {ResultRole::Lower,
     "lower limit|lsl|utg|usg|ueg|untere toleranzgrenze|untere "
     "spezifikationsgrenze|lower|min|minimum|untere grenze|unterer "
     "grenzwert|ug|ugw|mindestmass|lo|low|"
     "lo limit|low limit|limite inferieure|min limit|lower spec limit|kleinstmass|li|"
     "limite inferiore|lower lim"},
    {ResultRole::UpperDeviation,
     "upper tol|upper tolerance|uppertol|tol+|+tol|+ tol|tol +|utol|plus|plus tol|ob tol|ot|o t|"
     "ob abmass|oberes abmass|o abmass|oabm|obere toleranz|toleranz+|toleranz +|es|upper deviation|"
     "tolerance superieure|tol sup|toll sup|tol superior|upr tol|o tol|upper dev|+|hi tol"},
    {ResultRole::LowerDeviation,
     "lower tol|lower tolerance|lowertol|tol-|-tol|- tol|tol -|ltol|minus|minus tol|unt tol|ut|u t|"
     "unt abmass|unteres abmass|u abmass|uabm|untere toleranz|toleranz-|toleranz -|ei|"
     "lower deviation|tolerance inferieure|tol inf|toll inf|tol inferior|lwr tol|u tol|lower dev|"
     "-|lo tol"},
    {ResultRole::Tolerance, "tolerance|tol|toleranz|zone|tol +/-|toleranz +/-|tolerance "
                            "zone|toleranzzone|+/-|+/- tol|tolerance +/-|±|"
                            "tolleranza|tolerancia|tz|tolerance value|toleranz ±|tol ±"},
    {ResultRole::Excess,
     "out of tol|out of tolerance|outtol|out tol|oot|exceed|uberschreitung|uberschr|ausser tol|"
     "error out|over|hors tolerance|excess|beyond|out|fuori tolleranza|ausserhalb"},
    {ResultRole::Status,
     "status|pass|ok|pass/fail|ok/nok|bewertung|urteil|judgement|judgment|verdict|evaluation|"
     "io/nio|i o|etat|esito|estado|conformity|conforme|within|accept"},
    {ResultRole::Unit, "unit|units|einheit|unite|unita|unidad|uom"},
    {ResultRole::Datums,
     "datums|datum reference|datum ref|drf|bezug|bezuge|bezugssystem|reference"},
    {ResultRole::Serial,
     "serial|serial no|serial number|serial nr|sn|s/n|serien nr|seriennr|seriennummer|serie|"
     "teile id|part id|part serial|ident|ident nr|identnr|werkstuck nr|werkstuck|piece|"
     "numero de serie|matricola|teil|workpiece|sample|part|piece no|stuck|teile nr"},
    {ResultRole::Date,
     "date|datum|time|uhrzeit|messdatum|prufdatum|zeit|date/time|datum/zeit|data|fecha|"
     "measured on|heure|timestamp|inspected on"},
    {ResultRole::Operator,
     "operator|prufer|bediener|inspector|measured by|user|operateur|checked by|operatore|operador|"
     "inspected by|messtechniker|controleur|gemessen von|by"},
    {ResultRole::Machine,
     "machine|maschine|cmm|kmg|equipment|gerat|messgerat|messmaschine|instrument|macchina|"
     "maquina"},
}};

struct KindWords {
  Characteristic kind;
  std::string_view words;
};

constexpr std::array<KindWords, 17> kKindWords{{
    {Characteristic::Size,
     "d|dm|dia|diam|diameter|durchmesser|\u00f8|\u2300|o/|diametre|diametro|size|width|breite|w|"
     "grosse|nutbreite|bore diameter"},
    {Characteristic::Distance,
     "l|len|length|lange|dist|distance|abstand|longueur|distanza|distancia|height|hohe|depth|tiefe|"
     "thickness|dicke|h|2d distance|3d distance"},
    {Characteristic::Angle, "a|ang|angle|winkel|angolo|angulo"},
    {Characteristic::Position,
     "position|pos|tp|true position|lage|ortlage|localisation|localizzazione|posicion|posn"},
    {Characteristic::Flatness, "flatness|flat|ebenheit|planeite|planarita|planitud|fl"},
    {Characteristic::Straightness,
     "straightness|geradheit|rectitude|rettilineita|rectitud|straight"},
    {Characteristic::Roundness,
     "roundness|circularity|rundheit|kreisform|circularite|circolarita|redondez|round|rd"},
    {Characteristic::Cylindricity,
     "cylindricity|zylindrizitat|zylinderform|cylindricite|cilindricita|cilindricidad|cyl"},
    {Characteristic::LineProfile,
     "line profile|profile of a line|linienform|linienprofil|profil d'une ligne|"
     "profile any line"},
    {Characteristic::SurfaceProfile,
     "surface profile|profile|profile of a surface|flachenform|flachenprofil|profil|"
     "profil d'une surface|prof|profile any point"},
    {Characteristic::Parallelism,
     "parallelism|parallelitat|parallelisme|parallelismo|paralelismo|par|parallel"},
    {Characteristic::Perpendicularity,
     "perpendicularity|rechtwinkligkeit|perpendicularite|perpendicolarita|perpendicularidad|perp|"
     "squareness|per"},
    {Characteristic::Angularity,
     "angularity|neigung|winkligkeit|inclinaison|inclinazione|inclinacion"},
    {Characteristic::Coaxiality,
     "coaxiality|koaxialitat|coaxialite|coassialita|coaxialidad|concentricity|konzentrizitat|conc|"
     "coax"},
    {Characteristic::Symmetry, "symmetry|symmetrie|simmetria|simetria|sym"},
    {Characteristic::CircularRunout,
     "runout|run out|circular runout|rundlauf|battement|oscillazione|ro|run|einfacher lauf|"
     "circular run out|rundlauf einfach"},
    {Characteristic::TotalRunout,
     "total runout|total run out|gesamtlauf|gesamtrundlauf|battement total|gesamtplanlauf"},
}};

// Calls `each` with every word of a list between bars.
template <class Each> void forWords(std::string_view list, const Each& each) {
  for (std::size_t at = 0; at <= list.size();) {
    const auto end = std::min(list.find('|', at), list.size());
    each(list.substr(at, end - at));
    at = end + 1;
  }
}

const std::map<std::string, ResultRole, std::less<>>& roleTable() {
  static const auto table = [] {
    std::map<std::string, ResultRole, std::less<>> all;
    for (const RoleWords& r : kRoleWords)
      forWords(r.words, [&](std::string_view w) { all.emplace(w, r.role); });
    return all;
  }();
  return table;
}

const std::map<std::string, Characteristic, std::less<>>& kindTable() {
  static const auto table = [] {
    std::map<std::string, Characteristic, std::less<>> all;
    for (const KindWords& k : kKindWords)
      forWords(k.words, [&](std::string_view w) { all.emplace(w, k.kind); });
    return all;
  }();
  return table;
}

// Letters with accents as those without; ß as ss. Latin-1 is what the words need.
std::string withoutAccents(std::string_view text) {
  constexpr std::string_view kLatin = "aaaaaaaceeeeiiiidnooooo*\xF8uuuuyts"
                                      "aaaaaaaceeeeiiiidnooooo/\xF8uuuuyty";
  std::string out;
  for (std::size_t i = 0; i < text.size(); ++i) {
    const auto c = static_cast<unsigned char>(text[i]);
    if (c == 0xC3 && i + 1 < text.size()) {
      const auto next = static_cast<unsigned char>(text[++i]);
      if (next == 0x9F)
        out += "ss";
      else if (next == 0x98 || next == 0xB8)
        out += "\u00f8";
      else if (next >= 0x80 && next <= 0xBF)
        out += kLatin[next - 0x80u];
    } else {
      out += static_cast<char>(c < 0x80 ? std::tolower(c) : c);
    }
  }
  return out;
}

std::string withoutBrackets(std::string_view text) {
  std::string out;
  int depth = 0;
  for (const char c : text) {
    if (c == '[' || c == '(') ++depth;
    if (depth == 0) out += c;
    if ((c == ']' || c == ')') && depth > 0) --depth;
  }
  // What is nothing but brackets is looked at as it is.
  return out.find_first_not_of(" .:") == std::string::npos ? std::string(text) : out;
}

} // namespace

std::string_view name(ResultRole role) {
  constexpr std::array<std::string_view, kResultRoleCount> kNames{"none",
                                                                  "name",
                                                                  "feature",
                                                                  "axis",
                                                                  "id",
                                                                  "nominal",
                                                                  "actual",
                                                                  "deviation",
                                                                  "upper",
                                                                  "lower",
                                                                  "upper_deviation",
                                                                  "lower_deviation",
                                                                  "tolerance",
                                                                  "excess",
                                                                  "status",
                                                                  "unit",
                                                                  "datums",
                                                                  "serial",
                                                                  "date",
                                                                  "operator",
                                                                  "machine"};
  return kNames[static_cast<std::size_t>(role)];
}

std::string_view words(ResultRole role) {
  constexpr std::array<std::string_view, kResultRoleCount> kWords{
      "nothing that counts",
      "name of the characteristic",
      "feature",
      "what of it (X, diameter, position)",
      "number of the characteristic",
      "nominal",
      "actual",
      "deviation",
      "upper limit",
      "lower limit",
      "upper limit, from nominal",
      "lower limit, from nominal",
      "tolerance",
      "beyond the limit by",
      "verdict of the file",
      "unit",
      "datums",
      "serial number",
      "date",
      "operator",
      "machine"};
  return kWords[static_cast<std::size_t>(role)];
}

bool isFigure(ResultRole role) {
  return role >= ResultRole::Nominal && role <= ResultRole::Excess;
}

bool isOfPart(ResultRole role) {
  return role >= ResultRole::Serial;
}

std::string plainWord(std::string_view text) {
  std::string plain;
  const std::string all = withoutAccents(withoutBrackets(text));
  const auto is_letter = [&](std::size_t i) {
    return i < all.size() && std::isalpha(static_cast<unsigned char>(all[i]));
  };
  for (std::size_t i = 0; i < all.size(); ++i) {
    const char c = all[i];
    const bool hyphen = c == '-' && i > 0 && is_letter(i - 1) && is_letter(i + 1);
    if (hyphen || c == '.' || c == ':' || c == '=' || c == '_' || c == '\t' || c == ' ') {
      if (!plain.empty() && plain.back() != ' ') plain += ' ';
    } else {
      plain += c;
    }
  }
  while (!plain.empty() && plain.back() == ' ')
    plain.pop_back();
  return plain;
}

ResultRole roleOfWord(std::string_view text) {
  const auto found = roleTable().find(plainWord(text));
  return found == roleTable().end() ? ResultRole::None : found->second;
}

std::optional<CharacteristicWord> characteristicOfWord(std::string_view text) {
  const std::string word = plainWord(text);
  if (word == "x" || word == "dx") return CharacteristicWord{Component::X, {}, false};
  if (word == "y" || word == "dy") return CharacteristicWord{Component::Y, {}, false};
  if (word == "z" || word == "dz") return CharacteristicWord{Component::Z, {}, false};
  if (word == "pr" || word == "polar radius" || word == "pa" || word == "polar angle")
    return CharacteristicWord{Component::Radial, {}, false};
  if (word == "r" || word == "rad" || word == "radius" || word == "rayon" || word == "raggio")
    return CharacteristicWord{Component::Requirement, Characteristic::Size, true};
  const auto found = kindTable().find(word);
  if (found == kindTable().end()) return {};
  return CharacteristicWord{Component::Requirement, found->second, false};
}

bool standFor(Characteristic a, Characteristic b) {
  using C = Characteristic;
  constexpr std::array<std::pair<C, C>, 6> kPairs{{{C::Size, C::Distance},
                                                   {C::LineProfile, C::SurfaceProfile},
                                                   {C::CircularRunout, C::TotalRunout},
                                                   {C::Coaxiality, C::Position},
                                                   {C::Symmetry, C::Position},
                                                   {C::Angle, C::Angularity}}};
  return std::any_of(kPairs.begin(), kPairs.end(), [&](const auto& p) {
    return (p.first == a && p.second == b) || (p.first == b && p.second == a);
  });
}

std::optional<bool> passedBy(std::string_view status) {
  const std::string word = plainWord(status);
  constexpr std::string_view kGood =
      "|ok|pass|passed|io|i o|in|good|yes|ja|within|gut|true|conform|conforme|";
  constexpr std::string_view kBad =
      "|nok|fail|failed|nio|n i o|out|bad|no|nein|outside|schlecht|false|***|";
  const std::string held = "|" + word + "|";
  if (word.empty() || word.find('|') != std::string::npos) return {};
  if (kGood.find(held) != std::string_view::npos) return true;
  if (kBad.find(held) != std::string_view::npos) return false;
  return {};
}

} // namespace alder
