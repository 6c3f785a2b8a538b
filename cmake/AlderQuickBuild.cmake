# For what is not hot: where tests are built, compiling is most of the time, and -O1 takes 40 % less of
# it than -O2 (77 s to 46 s for one of the tests' seven files). What is packaged is not built so.
function(alder_quick_build)
  if(ALDER_TESTS)
    foreach(target ${ARGN})
      target_compile_options(${target} PRIVATE -O1)
    endforeach()
  endif()
endfunction()

# Of functions that several files hold the linker keeps the first: those of the core, which are built to
# be fast, must stand before those of the tests.
function(alder_core_first program)
  if(NOT ALDER_TESTS)
    return()
  endif()
  set(files)
  foreach(module geometry fit sheet part requirement drawing bench plan route revision rehearse judge cloud run report exchange)
    list(APPEND files $<TARGET_FILE:alder_${module}>)
  endforeach()
  target_link_options(${program} PRIVATE LINKER:--whole-archive ${files} LINKER:--no-whole-archive)
endfunction()

# For the window and the tests themselves, which compute little: -O0 halves it again (38 s to 16 s), as
# most of it is literals that an optimiser turns over and over.
function(alder_quickest_build)
  if(ALDER_TESTS AND NOT ALDER_SANITIZE)
    foreach(target ${ARGN})
      target_compile_options(${target} PRIVATE -O0)
    endforeach()
  else()
    alder_quick_build(${ARGN})
  endif()
endfunction()
