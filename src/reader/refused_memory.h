// The CAD library goes on without a face when memory for it is refused, and says nothing. A part that
// is not whole must not be read: the first refusal ends this program.
#pragma once

#include <string>

// From now on a refused allocation, in any thread, writes the text to descriptor 1 and ends the
// program with status 1.
void endWhenMemoryIsRefused(std::string text);

// False under a sanitizer, which has an allocator of its own: memory must not be limited then.
bool countsRefusedMemory();
