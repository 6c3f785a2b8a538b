// The parts of an Office document (ECMA-376 part 2): entries of a zip, of which only those that are
// changed are written anew.
#pragma once

#include "base/error.h"
#include <map>
#include <memory>
#include <string>
#include <vector>

namespace alder {

class Package {
 public:
  static Result<Package> open(const std::string& bytes, const std::string& label);

  std::vector<std::string> names() const;
  bool has(const std::string& name) const;
  Result<std::string> read(const std::string& name) const;
  void replace(const std::string& name, std::string text);
  void remove(const std::string& name);
  // The bytes with what was changed; the parts that were not are copied as they are packed.
  Result<std::string> packed() const;

 private:
  std::string label_, bytes_;
  std::vector<std::string> names_;
  std::map<std::string, std::string> changed_;
  std::vector<std::string> removed_;
};

// Of a part its file of relations, and a target in it as the name of a part.
std::string relationsOf(const std::string& part);
std::string targetOf(const std::string& part, const std::string& target);

} // namespace alder
