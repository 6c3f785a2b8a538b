#include "requirement/formula.h"

#include "base/units.h"
#include <cmath>
#include <list>
#include <muParser.h>

namespace alder {
namespace {

struct Parsed {
  std::string text; // references replaced by v0, v1, ...
  std::vector<FormulaReference> references;
};

bool isWord(char c) {
  return std::isalnum(static_cast<unsigned char>(c)) != 0 || c == '_';
}

Result<Parsed> parsed(const std::string& formula) {
  Parsed p;
  for (std::size_t i = 0; i < formula.size();) {
    FormulaReference r;
    const std::size_t start = i;
    if (formula[i] == '#') {
      while (++i < formula.size() && std::isdigit(static_cast<unsigned char>(formula[i])) &&
             i - start < 9)
        r.balloon = 10 * r.balloon + (formula[i] - '0');
      if (r.balloon <= 0)
        return fail("\"{}\": # must be followed by the number of a requirement.", formula);
    } else if (formula[i] == '"') {
      const std::size_t end = formula.find('"', i + 1);
      if (end == std::string::npos)
        return fail("\"{}\": the quotes round the name are not closed.", formula);
      r.feature = formula.substr(i + 1, end - i - 1);
      i = end + 1;
      if (i < formula.size() && formula[i] == '.')
        while (++i < formula.size() && isWord(formula[i]))
          r.quantity += formula[i];
      if (r.quantity.empty())
        return fail("\"{}\": after \"{}\" a quantity is missing, such as .diameter.", formula,
                    r.feature);
    } else {
      p.text += formula[i++];
      continue;
    }
    r.text = formula.substr(start, i - start);
    p.text += " v" + std::to_string(p.references.size()) + " ";
    p.references.push_back(std::move(r));
  }
  return p;
}

double same(double v) {
  return v;
}
double fromInch(double v) {
  return v * kMmPerInch;
}

void defineFunctions(mu::Parser& parser) {
  parser.DefineFun("sin", [](double v) { return std::sin(radians(v)); });
  parser.DefineFun("cos", [](double v) { return std::cos(radians(v)); });
  parser.DefineFun("tan", [](double v) { return std::tan(radians(v)); });
  parser.DefineFun("asin", [](double v) { return degrees(std::asin(v)); });
  parser.DefineFun("acos", [](double v) { return degrees(std::acos(v)); });
  parser.DefineFun("atan", [](double v) { return degrees(std::atan(v)); });
  parser.DefinePostfixOprt("mm", same);
  parser.DefinePostfixOprt("deg", same);
  parser.DefinePostfixOprt("in", fromInch);
}

} // namespace

std::string renumberedFormula(const std::string& formula, const std::function<int(int)>& number) {
  const auto p = parsed(formula);
  if (!p) return formula;
  std::string text;
  std::size_t at = 0;
  for (const FormulaReference& r : p->references) {
    const std::size_t found = formula.find(r.text, at);
    text += formula.substr(at, found - at);
    text += r.balloon > 0 ? "#" + std::to_string(number(r.balloon)) : r.text;
    at = found + r.text.size();
  }
  return text + formula.substr(at);
}

Result<std::vector<FormulaReference>> referencesIn(const std::string& formula) {
  auto p = parsed(formula);
  if (!p) return pass(p.error());
  return std::move(p->references);
}

namespace {

// Not checked for being finite.
Result<double> computed(const std::string& formula, const ReferenceValue& value) {
  auto p = parsed(formula);
  if (!p) return pass(p.error());
  try {
    mu::Parser parser;
    defineFunctions(parser);
    std::list<double> values; // the parser keeps their addresses
    for (const FormulaReference& r : p->references) {
      auto v = value(r);
      if (!v) return pass(v.error());
      const auto variable = "v" + std::to_string(values.size());
      parser.DefineVar(variable, &values.emplace_back(*v));
    }
    parser.SetExpr(p->text);
    return parser.Eval();
  } catch (const mu::Parser::exception_type& e) {
    return fail("\"{}\": {}", formula, e.GetMsg());
  }
}

} // namespace

Done checkFormula(const std::string& formula) {
  auto result = computed(formula, [](const FormulaReference&) { return 1.0; });
  if (!result) return pass(result.error());
  return {};
}

Result<double> evaluateFormula(const std::string& formula, const ReferenceValue& value) {
  auto result = computed(formula, value);
  if (result && !std::isfinite(*result))
    return fail("\"{}\": the result is not a number.", formula);
  return result;
}

} // namespace alder
