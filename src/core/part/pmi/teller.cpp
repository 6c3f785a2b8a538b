#include "part/pmi/teller.h"

#include <algorithm>
#include <cctype>

namespace alder {

void Teller::operator()(EntityNumber entity, const std::string& text) const {
  const auto same = std::find_if(notes_.begin(), notes_.end(), [&](const Note& n) {
    return n.entity == entity && n.text == text;
  });
  Note& note = same == notes_.end() ? notes_.emplace_back(Note{entity, text}) : *same;
  if (requirement_ != 0 && std::find(note.on.begin(), note.on.end(), requirement_) == note.on.end())
    note.on.push_back(requirement_);
}

std::string inWords(std::string_view name) {
  std::string text(name);
  for (char& c : text)
    c = c == '_' ? ' ' : static_cast<char>(std::tolower(static_cast<unsigned char>(c)));
  return text;
}

} // namespace alder
