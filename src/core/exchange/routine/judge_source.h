// The source of the judge and of all that it stands on, as one number: figures of another source
// may differ. Made when the program is built.
#pragma once

#include <string_view>

namespace alder {

extern const std::string_view kJudgeSource;

} // namespace alder
