#include "exchange/dmis/dmis_flow.h"

#include "exchange/dmis/dmis_expression.h"
#include <algorithm>
#include <cctype>
#include <fmt/format.h>
#include <set>

namespace alder::dmis {
namespace {

using Fate = Flowing::Fate;

constexpr int kDeepest = 20;
constexpr std::size_t kMost = 300000; // statements that a program may come to beyond its own

// Words of declarations that are no variables.
bool isType(const std::string& word) {
  static const std::set<std::string> kTypes{"LOCAL", "GLOBAL", "COMMON", "PARAM", "DOUBLE", "REAL",
                                            "INTGR", "LONG",   "BOOL",   "CHAR",  "VECTOR"};
  return kTypes.count(word) > 0;
}

// "A" of "A", "'A'" and "A[10]", upper case.
std::string variableIn(const std::string& argument) {
  std::string name;
  for (const char c : argument) {
    if (c == '\'' || c == '(' || c == ')' || c == '@' || c == ' ') continue;
    if (c == '[') break;
    name += c;
  }
  return upperCase(name);
}

// "END" of a statement "(END)", which others jump to.
std::string targetIn(const Statement& s) {
  const bool bare = s.word.empty() && s.arguments.empty() && s.text.size() > 2 &&
                    s.text.front() == '(' && s.text.back() == ')';
  return bare ? variableIn(s.text) : "";
}

class Carrier {
 public:
  explicit Carrier(const std::vector<Statement>& program)
      : program_(program)
      , reached_(program.size(), false) {
    pairUp();
  }

  std::vector<Flowing> run() {
    carry(0, program_.size());
    if (!jump_.empty()) {
      // To no place that stands below: what was passed over is left out.
      add(jumped_from_, Fate::Undecided, "jumps to a place that does not follow");
    }
    for (std::size_t i = 0; i < program_.size(); ++i)
      if (!reached_[i] && !program_[i].comment)
        add(i, Fate::LeftOut,
            in_macro_[i] ? "in a macro that is not called" : "the program does not come to it");
    return std::move(out_);
  }

 private:
  // Where a block ends, and of IF where its other branch begins.
  void pairUp() {
    end_.assign(program_.size(), 0);
    other_.assign(program_.size(), 0);
    in_macro_.assign(program_.size(), false);
    std::vector<std::size_t> open;
    for (std::size_t i = 0; i < program_.size(); ++i) {
      const std::string& w = program_[i].word;
      in_macro_[i] = std::any_of(open.begin(), open.end(),
                                 [&](std::size_t o) { return program_[o].word == "MACRO"; });
      if (program_[i].comment) continue;
      const bool single_if =
          w == "IF" && program_[i].arguments.size() > 1; // IF/(condition),JUMPTO/(place)
      if (w == "MACRO" || w == "DO" || (w == "IF" && !single_if) || w == "SELECT")
        open.push_back(i);
      if (w == "ELSE" && !open.empty() && program_[open.back()].word == "IF")
        other_[open.back()] = i;
      const std::string begins = w == "ENDMAC"   ? "MACRO"
                                 : w == "ENDDO"  ? "DO"
                                 : w == "ENDIF"  ? "IF"
                                 : w == "ENDSEL" ? "SELECT"
                                                 : "";
      if (begins.empty() || open.empty() || program_[open.back()].word != begins) continue;
      end_[open.back()] = i;
      if (begins == "MACRO") macros_[upperCase(program_[open.back()].label)] = open.back();
      open.pop_back();
    }
  }

  void add(std::size_t i, Fate fate, const std::string& why = {}) {
    reached_[i] = true;
    out_.push_back({program_[i], fate, why});
  }
  void addAll(std::size_t from, std::size_t to, Fate fate, const std::string& why) {
    for (std::size_t i = from; i < to; ++i) {
      if (program_[i].comment) continue;
      add(i, fate, why);
      forget(program_[i]);
    }
  }

  // What is given a value where nobody knows whether it is carried out.
  void forget(const Statement& s) {
    if (!s.variable.empty()) variables_[s.variable].reset();
    if (s.word != "ASSIGN" || !s.variable.empty() || s.arguments.empty()) return;
    variables_[variableIn(s.arguments[0].substr(0, s.arguments[0].find('=')))].reset();
  }

  void carry(std::size_t from, std::size_t to) {
    for (std::size_t i = from; i < to && !ended_; ++i) {
      const Statement& s = program_[i];
      if (!jump_.empty()) {
        if (targetIn(s) == jump_) {
          jump_.clear();
          add(i, Fate::Steering);
        } else if (!s.comment) {
          add(i, Fate::LeftOut, "is jumped over");
        }
        continue;
      }
      if (out_.size() > program_.size() + kMost) {
        add(i, Fate::Undecided, "the program comes to more statements than are followed");
        ended_ = true;
        return;
      }
      if (s.comment) {
        add(i, Fate::Done);
        continue;
      }
      i = one(i);
    }
  }

  // Carries out one statement, or the block that begins with it; the last line of it.
  std::size_t one(std::size_t i) {
    const Statement& s = program_[i];
    const std::size_t end = end_[i];
    if (s.word == "MACRO") {
      reached_[i] = true;
      if (end == 0) return add(i, Fate::Undecided, "the macro has no end"), i;
      add(i, Fate::Steering);
      return end;
    }
    if (s.word == "IF") return condition(i);
    if ((s.word == "DO" || s.word == "SELECT") && end == 0)
      return add(i, Fate::Undecided, "the block has no end"), i;
    if (s.word == "DO") return loop(i), end;
    if (s.word == "SELECT") {
      addAll(i, end + 1, Fate::Undecided, "which case it is, is not worked out here");
      return end;
    }
    if (s.word == "CALL")
      call(i);
    else if (s.word == "JUMPTO")
      jumpTo(i, s.arguments);
    else if (s.word == "DECL")
      declare(i);
    else if (s.word == "ASSIGN")
      assign(i);
    else if (!targetIn(s).empty())
      add(i, Fate::Steering);
    else
      plain(i);
    return i;
  }

  void declare(std::size_t i) {
    for (const std::string& a : program_[i].arguments) {
      const std::string name = variableIn(a);
      if (name.empty() || isType(name) || std::isdigit(static_cast<unsigned char>(name[0])))
        continue;
      variables_.emplace(name, std::nullopt);
    }
    add(i, Fate::Done);
  }

  void assign(std::size_t i) {
    const Statement& s = program_[i];
    std::string name = s.variable, expression;
    for (const std::string& a : s.arguments)
      expression += (expression.empty() ? "" : ",") + a;
    if (name.empty()) {
      const auto equals = expression.find('=');
      if (equals == std::string::npos) return add(i, Fate::Undecided, "assigns nothing");
      name = variableIn(expression.substr(0, equals));
      expression = expression.substr(equals + 1);
    }
    const auto value = valueOf(expression, variables_);
    variables_[name] = value;
    if (value) return add(i, Fate::Steering);
    add(i, Fate::Undecided, "the value of " + name + " is not known here");
  }

  std::optional<bool> truth(const std::string& expression) const {
    const auto value = valueOf(expression, variables_);
    if (!value || !std::holds_alternative<double>(*value)) return {};
    return std::get<double>(*value) != 0;
  }

  std::size_t condition(std::size_t i) {
    const Statement& s = program_[i];
    const auto is = s.arguments.empty() ? std::nullopt : truth(s.arguments[0]);
    if (s.arguments.size() > 1) { // with a jump behind it
      if (!is)
        add(i, Fate::Undecided,
            "whether it jumps depends on a result or an answer; what follows is read as if it did "
            "not");
      else if (!*is)
        add(i, Fate::Steering);
      else
        jumpTo(i,
               {s.arguments[1].substr(std::min(s.arguments[1].find('('), s.arguments[1].size()))});
      return i;
    }
    const std::size_t end = end_[i], other = other_[i] > 0 ? other_[i] : end;
    if (end == 0) return add(i, Fate::Undecided, "the branch has no end"), i;
    if (!is) {
      add(i, Fate::Undecided,
          "depends on a result or an answer, which is not known here: neither branch is measured");
      addAll(i + 1, end + 1, Fate::Undecided, "in a branch that is not decided");
      return end;
    }
    add(i, Fate::Steering);
    const auto leaveOut = [&](std::size_t from, std::size_t to) {
      for (std::size_t k = from; k < to; ++k)
        if (!program_[k].comment) add(k, Fate::LeftOut, "in a branch that is not taken");
    };
    if (*is) {
      carry(i + 1, other);
      if (other < end) add(other, Fate::Steering), leaveOut(other + 1, end);
    } else {
      leaveOut(i + 1, other);
      if (other < end) add(other, Fate::Steering), carry(other + 1, end);
    }
    add(end, Fate::Steering);
    return end;
  }

  void loop(std::size_t i) {
    const Statement& s = program_[i];
    const auto number = [&](std::size_t k) -> std::optional<double> {
      if (k >= s.arguments.size()) return {};
      const auto value = valueOf(s.arguments[k], variables_);
      if (!value || !std::holds_alternative<double>(*value)) return {};
      return std::get<double>(*value);
    };
    const auto from = number(1), to = number(2);
    const auto step = s.arguments.size() > 3 ? number(3) : std::optional(1.0);
    if (!from || !to || !step || *step == 0) {
      addAll(i, end_[i] + 1, Fate::Undecided, "how often it is done is not known here");
      return;
    }
    const std::string name = variableIn(s.arguments[0]);
    add(i, Fate::Steering);
    constexpr double kMostTimes = 1e5;
    const double times = std::floor((*to - *from) / *step + 1e-9) + 1;
    if (times > kMostTimes) {
      addAll(i, end_[i] + 1, Fate::Undecided, "it is done more often than is followed");
      return;
    }
    for (double k = 0; k < times && jump_.empty() && !ended_; ++k) {
      variables_[name] = Value(*from + k * *step);
      carry(i + 1, end_[i]);
    }
    add(end_[i], Fate::Steering);
  }

  void jumpTo(std::size_t i, const std::vector<std::string>& arguments) {
    const std::string target = arguments.empty() ? "" : variableIn(arguments[0]);
    if (target.empty()) return add(i, Fate::Undecided, "jumps to no place that is named");
    const bool follows =
        std::any_of(program_.begin() + static_cast<std::ptrdiff_t>(i), program_.end(),
                    [&](const Statement& s) { return targetIn(s) == target; });
    if (!follows)
      return add(i, Fate::Undecided,
                 "jumps back, which is not followed; what follows is read as if it did not");
    add(i, Fate::Steering);
    jump_ = target;
    jumped_from_ = i;
  }

  void call(std::size_t i) {
    const Statement& s = program_[i];
    const auto name = s.arguments.empty() ? std::nullopt : referenceIn(s.arguments[0]);
    const auto macro =
        name && name->kind == "M" ? macros_.find(upperCase(name->label)) : macros_.end();
    if (macro == macros_.end())
      return add(i, Fate::Undecided, "calls what does not stand in this program");
    if (depth_ >= kDeepest) return add(i, Fate::Undecided, "calls go deeper than is followed");
    const std::vector<std::string>& parameters = program_[macro->second].arguments;
    Variables given;
    std::vector<std::pair<std::string, std::optional<std::optional<Value>>>> outer;
    for (std::size_t p = 0; p < parameters.size(); ++p) {
      const std::string parameter = variableIn(parameters[p]);
      const auto known = variables_.find(parameter);
      outer.emplace_back(parameter,
                         known == variables_.end() ? std::nullopt : std::optional(known->second));
      std::optional<Value> value;
      if (p + 1 < s.arguments.size()) {
        value = valueOf(s.arguments[p + 1], variables_);
        // A label or a word, put where the parameter stands.
        if (!value && !namesVariable(s.arguments[p + 1], variables_))
          value = Value(s.arguments[p + 1]);
      }
      given[parameter] = value;
    }
    for (auto& [parameter, value] : given)
      variables_[parameter] = value;
    add(i, Fate::Steering);
    ++depth_;
    carry(macro->second + 1, end_[macro->second]);
    --depth_;
    add(end_[macro->second], Fate::Steering);
    for (const auto& [parameter, value] : outer) {
      if (value)
        variables_[parameter] = *value;
      else
        variables_.erase(parameter);
    }
  }

  // Any other statement, with values in the place of variables.
  void plain(std::size_t i) {
    Flowing flowing{program_[i], Fate::Done, {}};
    reached_[i] = true;
    Statement& s = flowing.statement;
    if (!s.variable.empty()) { // of what is measured, or of a file
      variables_[s.variable].reset();
      flowing.fate = Fate::Undecided;
      flowing.why = "the value of " + s.variable + " is only known at the machine";
    } else if (s.word == "TEXT") {
      if (s.arguments.size() > 1 && s.is(0, "QUERY"))
        variables_[variableIn(s.arguments[1])].reset();
      else if (!s.arguments.empty()) // words put together of several
        if (const auto words = valueOf(s.arguments.back(), variables_))
          s.arguments.back() = "'" + written(*words) + "'";
    } else {
      std::string unknown;
      s.label = replaced(s.label, unknown);
      for (std::string& a : s.arguments)
        a = replacedArgument(a, unknown);
      if (!unknown.empty()) {
        flowing.fate = Fate::Undecided;
        flowing.why = "depends on " + unknown + ", which is not known here";
      }
    }
    out_.push_back(std::move(flowing));
  }

  // A label that is a text in a variable, "@NAME" or its parameter.
  std::string replaced(const std::string& label, std::string& unknown) const {
    const bool marked = !label.empty() && label[0] == '@';
    const auto found = variables_.find(variableIn(label));
    if (found == variables_.end() || (!marked && depth_ == 0)) return label;
    if (found->second) return written(*found->second);
    if (marked) unknown = variableIn(label);
    return label;
  }

  std::string replacedArgument(const std::string& argument, std::string& unknown) const {
    if (argument.empty() || argument.front() == '\'') return argument;
    if (const auto ref = referenceIn(argument)) {
      if (namesVariable(argument.substr(0, argument.find('(')), variables_)) return argument;
      const std::string label = replaced(ref->label, unknown);
      // A parameter may hold the whole reference.
      const auto whole = referenceIn(label);
      if (whole) return ref->kind + "(" + whole->label + ")";
      if (label != ref->label) return ref->kind + "(" + label + ")";
    }
    const bool names = namesVariable(argument, variables_);
    const bool sum = argument.find_first_of("+*/(") != std::string::npos ||
                     argument.find('-', 1) != std::string::npos;
    if (!names && !sum) return argument;
    if (const auto value = valueOf(argument, variables_)) return written(*value);
    if (names) unknown = argument;
    return argument;
  }

  const std::vector<Statement>& program_;
  std::vector<std::size_t> end_, other_;
  std::vector<bool> in_macro_, reached_;
  std::map<std::string, std::size_t> macros_;
  Variables variables_;
  std::vector<Flowing> out_;
  std::string jump_; // place that is jumped to; empty: none
  std::size_t jumped_from_ = 0;
  int depth_ = 0;
  bool ended_ = false;
};

} // namespace

std::vector<Flowing> carriedOut(const std::vector<Statement>& program) {
  return Carrier(program).run();
}

} // namespace alder::dmis
