// Stands before the allocator of glibc, which offers itself as __libc_malloc for this; operator new
// and the CAD library come here too.
#include "refused_memory.h"

#include <atomic>
#include <cerrno>
#include <cstdlib>
#include <malloc.h>
#include <unistd.h>
#include <utility>

namespace {
std::string last_words;
std::atomic<bool> ends{false};
} // namespace

void endWhenMemoryIsRefused(std::string text) {
  last_words = std::move(text);
  ends = true;
}

#if defined(ALDER_SANITIZED)
bool countsRefusedMemory() {
  return false;
}
#else
bool countsRefusedMemory() {
  return true;
}

namespace {
void* given(void* memory, std::size_t size) {
  if (memory || size == 0 || !ends) return memory;
  (void)!::write(1, last_words.data(), last_words.size());
  std::_Exit(1);
}
} // namespace

extern "C" {
void* __libc_malloc(std::size_t size);
void* __libc_calloc(std::size_t count, std::size_t size);
void* __libc_realloc(void* memory, std::size_t size);
void* __libc_memalign(std::size_t alignment, std::size_t size);

void* malloc(std::size_t size) {
  return given(__libc_malloc(size), size);
}
void* calloc(std::size_t count, std::size_t size) {
  return given(__libc_calloc(count, size), count * size);
}
void* realloc(void* memory, std::size_t size) {
  return given(__libc_realloc(memory, size), size);
}
void* memalign(std::size_t alignment, std::size_t size) {
  return given(__libc_memalign(alignment, size), size);
}
void* aligned_alloc(std::size_t alignment, std::size_t size) {
  return memalign(alignment, size);
}
int posix_memalign(void** memory, std::size_t alignment, std::size_t size) {
  void* const taken = memalign(alignment, size);
  if (!taken) return ENOMEM;
  *memory = taken;
  return 0;
}
}
#endif
