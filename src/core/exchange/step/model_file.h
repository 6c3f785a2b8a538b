// The model with its requirements as a file, proved before it is handed on: read back by the CAD
// library, in a process of its own, and by the reader of PMI.
#pragma once

#include "exchange/step/step_export.h"
#include "plan/plan.h"

namespace alder {

bool isModelFile(const std::string& path); // *.step, *.stp, in any case

// What is read back otherwise than it was to be written is told beside what could not be written.
// Error where there is no file to write, or it cannot be read back at all: it is then worth
// nothing.
Result<StepExport> provedModel(const Plan& plan, const std::string& label,
                               const Progress& progress = {});

// "14 requirements as in the model, 2 written, 1 taken out"
std::string summary(const StepExport& written);

} // namespace alder
