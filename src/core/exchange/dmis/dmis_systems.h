// Coordinate systems of a DMIS program (ISO 22093: DATSET, TRANS, ROTATE, LOCATE, SAVE, RECALL): in
// which one its numbers are meant, as places on the part.
#pragma once

#include "exchange/dmis/dmis_matching.h"

namespace alder::dmis {

class Systems {
 public:
  // `placement`: where the part lies, CAD frame in the machine frame, until the program says it.
  explicit Systems(const Frame& placement)
      : part_(placement)
      , now_(placement) {}

  // Numbers of now in the CAD frame; nothing where the program cannot be followed.
  std::optional<Frame> toPart() const {
    return now_ ? std::optional(Frame(part_.inverse() * *now_)) : std::nullopt;
  }
  // Nominals are defined from now on: the system in which that begins is the part's.
  void nominalsHere();
  // Takes a statement of one of these kinds over; false where it cannot be followed, `why` says it.
  bool take(const Statement& s, const Units& units, std::string& why);

 private:
  bool shift(const Statement& s, const Units& units);
  bool turn(const Statement& s, const Units& units);

  Frame part_;               // the part's in the machine
  std::optional<Frame> now_; // in the machine
  bool nominals_ = false;
  bool in_machine_ = false; // nominals were defined in the machine's own
  bool located_ = false;
  bool placing_ = false; // counted from the machine: what follows says where the part lies
  std::map<std::string, std::optional<Frame>> saved_;
};

} // namespace alder::dmis
