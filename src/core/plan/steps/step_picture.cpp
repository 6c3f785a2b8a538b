#include "plan/steps/step_picture.h"

namespace alder {
namespace {

constexpr std::size_t kMostBytes = 8u << 20; // a routine is copied about and must stay small

} // namespace

Done validate(const StepPicture& picture) {
  const std::string& name = picture.name;
  if (name.empty() || name.size() > 200 || name.front() == '.' ||
      name.find_first_of("/\\:\n\r") != std::string::npos)
    return fail("A picture needs a name that a file can have.");
  if (!picture.bytes ||
      (!picture.bytes->starts_with("\x89PNG\r\n") && !picture.bytes->starts_with("\xff\xd8\xff")))
    return fail("{}: is no PNG or JPEG picture.", name);
  if (picture.bytes->size() > kMostBytes)
    return fail("{}: is larger than {} MB; make the picture smaller.", name, kMostBytes >> 20);
  return {};
}

} // namespace alder
