# Meta-objects without AUTOMOC, which reads every header that a source includes: a class with
# Q_OBJECT is told by its own file.
#
# alder_moc(TARGET SOURCE): makes STEM.moc, which the source includes at its end.
# alder_moc_headers(TARGET HEADERS...): compiles the meta-objects of those that have any.
function(alder_moc target source)
  get_filename_component(stem ${source} NAME_WE)
  set(folder ${CMAKE_CURRENT_BINARY_DIR}/moc)
  file(MAKE_DIRECTORY ${folder})
  add_custom_command(OUTPUT ${folder}/${stem}.moc
    COMMAND Qt6::moc -o ${folder}/${stem}.moc ${source} DEPENDS ${source} VERBATIM)
  target_sources(${target} PRIVATE ${folder}/${stem}.moc)
  target_include_directories(${target} PRIVATE ${folder})
endfunction()

function(alder_moc_headers target)
  set(folder ${CMAKE_CURRENT_BINARY_DIR}/moc)
  file(MAKE_DIRECTORY ${folder})
  foreach(header ${ARGN})
    file(STRINGS ${header} found REGEX "^ *Q_OBJECT")
    if(NOT found)
      continue()
    endif()
    get_filename_component(stem ${header} NAME_WE)
    add_custom_command(OUTPUT ${folder}/moc_${stem}.cpp
      COMMAND Qt6::moc -o ${folder}/moc_${stem}.cpp ${header} DEPENDS ${header} VERBATIM)
    target_sources(${target} PRIVATE ${folder}/moc_${stem}.cpp)
  endforeach()
endfunction()
