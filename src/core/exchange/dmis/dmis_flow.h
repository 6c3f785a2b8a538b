// Carries out what steers a DMIS program (ISO 22093: DECL, ASSIGN, MACRO, CALL, DO, IF, JUMPTO), so
// that what is left are the statements it comes to, one after the other, with numbers in the place
// of variables.
//
// Only what follows from the program alone is carried out. A condition that depends on what is
// measured or answered is not decided: neither of its branches is done, and each of their
// statements says so.
#pragma once

#include "exchange/dmis/dmis_statement.h"

namespace alder::dmis {

struct Flowing {
  Statement statement;
  enum class Fate {
    Done,     // the statement is to be taken
    Steering, // was carried out: it steers, or defines what is called
    LeftOut,  // of a branch that is not taken, or a macro that is not called
    Undecided // `why`; to be kept as a note
  };
  Fate fate = Fate::Done;
  std::string why;
};

// Every line comes at least once, in the order in which the program comes to it; what it never
// comes to stands where it is written.
std::vector<Flowing> carriedOut(const std::vector<Statement>& program);

} // namespace alder::dmis
