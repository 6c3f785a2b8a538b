// The CAD library keeps state: its readers run one at a time, and write nothing to the screen.
#pragma once

#include <mutex>

namespace alder {

std::mutex& libraryMutex();
void silenceLibrary();

} // namespace alder
