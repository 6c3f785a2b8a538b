// DMIS text taken apart into statements (ISO 22093 clause 5): continuation, comments, labels,
// arguments. What cannot be taken apart is a statement with no word, and keeps its text.
#pragma once

#include <optional>
#include <string>
#include <vector>

namespace alder::dmis {

struct Statement {
  int line = 0;     // where it begins
  std::string text; // whole, continued lines joined; of a comment what stands behind $$
  bool comment = false;
  std::string kind, label;            // "F" and "BORE1" of F(BORE1)=...; empty without
  std::string variable;               // "X" of X=ASSIGN/2, upper case
  std::string word;                   // "FEAT", "GOTO"; upper case
  std::vector<std::string> arguments; // behind the slash, at commas outside quotes and brackets

  std::optional<double> number(std::size_t index) const;
  bool is(std::size_t index, std::string_view what) const;
};

std::string upperCase(std::string text);
// "F" and "BORE1" of "FA(BORE1)"; nothing when it is no such reference.
struct Reference {
  std::string kind, label;
};
std::optional<Reference> referenceIn(const std::string& argument);
// Without its quotes; nothing when it is not quoted.
std::optional<std::string> unquoted(const std::string& argument);

std::vector<Statement> statementsOf(const std::string& program);

} // namespace alder::dmis
