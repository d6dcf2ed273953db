# mnemon_add_plugin(NAME SOURCES...): a shared library with trackers, NAME.so, for --plugin and a plan's `plugins`.
# It takes the library's headers alone: the code is that of the program which loads it.
function(mnemon_add_plugin name)
  add_library(${name} MODULE ${ARGN})
  set_target_properties(${name} PROPERTIES PREFIX "" CXX_VISIBILITY_PRESET hidden VISIBILITY_INLINES_HIDDEN ON)
  target_compile_features(${name} PRIVATE cxx_std_20)
  target_compile_options(${name} PRIVATE -ffp-contract=off)
  foreach(room base geometry image signal vision track)
    target_include_directories(${name} PRIVATE $<TARGET_PROPERTY:Mnemon::${room},INTERFACE_INCLUDE_DIRECTORIES>)
    target_compile_definitions(${name} PRIVATE $<TARGET_PROPERTY:Mnemon::${room},INTERFACE_COMPILE_DEFINITIONS>)
  endforeach()
endfunction()
