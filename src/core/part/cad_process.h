// CAD files are read in a process of their own, alderpoint-cad: the CAD library may crash, hang or
// eat all memory over what it is given, the program may not.
#pragma once

#include "part/model.h"

namespace alder {

struct CadLimits {
  double seconds = 0;          // 0: 40 s and 4 s for each megabyte of the file
  std::size_t megabytes = 0;   // 0: three quarters of the machine's memory
};

// As importStep, but whatever is in the file: one line of error, and this process lives on. Can be
// cancelled at any time; progress as the reader tells it.
Result<PartPtr> importStepApart(std::string bytes, const std::string& label,
                                const Progress& progress = {}, const CadLimits& limits = {});
Result<PartPtr> importStepFileApart(const std::string& path, const Progress& progress = {},
                                    const CadLimits& limits = {});

} // namespace alder
