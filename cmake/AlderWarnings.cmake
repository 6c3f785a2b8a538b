if(NOT TARGET alder_warnings)
  add_library(alder_warnings INTERFACE)
  target_compile_options(alder_warnings INTERFACE -Wall -Wextra -Wpedantic -Wshadow
    -Wno-missing-field-initializers -Werror)
  # GCC 12 reports overruns inside std::string and std::vector that do not exist (PR 105329, 105651),
  # and strings that are not initialised where a std::function may throw; Clang looks for those too.
  if(CMAKE_CXX_COMPILER_ID STREQUAL GNU)
    target_compile_options(alder_warnings INTERFACE -Wno-array-bounds -Wno-restrict
      -Wno-stringop-overflow -Wno-stringop-overread -Wno-maybe-uninitialized)
  endif()
endif()
