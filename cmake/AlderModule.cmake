# alder_module(NAME SOURCES... USES modules... LIBRARIES targets...)
#
# One static library per folder of src/core. Headers are found as "name/header.h", and only by
# targets that link the module: each module's include path is a folder of its own that holds one
# link to the sources. An upward include therefore does not compile, and an upward link is a cycle.
include(${CMAKE_CURRENT_LIST_DIR}/AlderWarnings.cmake)

function(alder_module name)
  cmake_parse_arguments(ARG "" "" "USES;LIBRARIES" ${ARGN})
  file(GLOB_RECURSE sources CONFIGURE_DEPENDS ${CMAKE_CURRENT_SOURCE_DIR}/${name}/*.cpp
                                      ${CMAKE_CURRENT_SOURCE_DIR}/${name}/*.h)
  set(include_root ${CMAKE_BINARY_DIR}/include/${name})
  file(MAKE_DIRECTORY ${include_root})
  file(CREATE_LINK ${CMAKE_CURRENT_SOURCE_DIR}/${name} ${include_root}/${name} SYMBOLIC)
  add_library(alder_${name} STATIC ${sources})
  target_include_directories(alder_${name} PUBLIC ${include_root})
  foreach(use ${ARG_USES})
    target_link_libraries(alder_${name} PUBLIC alder_${use})
  endforeach()
  target_link_libraries(alder_${name} PUBLIC ${ARG_LIBRARIES} PRIVATE alder_warnings)
endfunction()
