// Command lines of I++ DME, taken at the word of its grammar; nothing is forgiven. Written for the
// strict machine alone, so that it does not share a mistake with the reader in dme_text.h.
//
//   line    = tag " " call
//   tag     = 5 digits, 00001 to 09999 | "E" 4 digits, E0001 to E9999
//   call    = name "(" [ argument { "," [ " " ] argument } ] ")"
//   argument= number | text | call | word
//   name    = letter { letter | digit | "." }
//   number  = [ "-" ] digits [ "." digits ]
//   text    = '"' printable ASCII without '"' '"'
#pragma once

#include "base/error.h"
#include <vector>

namespace alder::strict {

struct Item {
  enum class Kind { Call, Number, Text, Word };
  Kind kind = Kind::Call;
  std::string text; // name of a call, the text, the word
  double value = 0;
  std::vector<Item> items; // of a call
  const Item* find(const std::string& name) const;
  bool isNumberCall() const; // X(1.5)
  bool isEmptyCall() const;  // X()
};

struct Command {
  std::string tag;
  Item call;
};

Result<Command> readCommand(const std::string& line);

} // namespace alder::strict
