// CAD files are read in a process of their own, alderpoint-cad: the CAD library may crash, hang or
// eat all memory over what it is given, the program may not.
#pragma once

#include "base/reader_process.h"
#include "part/model.h"

namespace alder {

// As importStep, but whatever is in the file: one line of error, and this process lives on. Can be
// cancelled at any time; progress as the reader tells it.
Result<PartPtr> importStepApart(std::string bytes, const std::string& label,
                                const Progress& progress = {}, const ReaderLimits& limits = {});
Result<PartPtr> importStepFileApart(const std::string& path, const Progress& progress = {},
                                    const ReaderLimits& limits = {});

} // namespace alder
