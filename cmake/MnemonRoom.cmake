# mnemon_compile_options(TARGET [LEVEL]): the flags that all of our own code is built with; LEVEL is what a release
# is optimised with, -O3 where left out.
function(mnemon_compile_options target)
  set(level ${ARGN})
  if(NOT level)
    set(level -O3)
  endif()
  target_compile_features(${target} PUBLIC cxx_std_20)
  target_compile_options(${target} PRIVATE
    $<BUILD_INTERFACE:-Wall -Wextra -Wpedantic -Wshadow -Wconversion -Wno-sign-conversion>
    # GCC 12 gives false alarms of overlapping copies in its own string code.
    $<BUILD_INTERFACE:-Wno-restrict>
    # Of sources that are compiled together it warns of parts of a class that only its own source sees.
    $<BUILD_INTERFACE:$<$<BOOL:${MNEMON_UNITY}>:-Wno-subobject-linkage>>
    # It notes where vectors are passed, which only our own functions do.
    $<BUILD_INTERFACE:-Wno-psabi>
    # Fused multiply-adds would make the clones of one kernel round differently.
    $<BUILD_INTERFACE:-ffp-contract=off>
    $<BUILD_INTERFACE:$<$<CONFIG:Release,RelWithDebInfo>:${level}>>
    $<BUILD_INTERFACE:$<$<BOOL:${MNEMON_WARNINGS_AS_ERRORS}>:-Werror>>)
  target_compile_definitions(${target} PRIVATE
    $<BUILD_INTERFACE:$<$<BOOL:${MNEMON_NO_CLONES}>:MNEMON_NO_CLONES>>
    $<BUILD_INTERFACE:$<$<CONFIG:Debug>:MNEMON_ASSERTIONS>>)
  if(MNEMON_SANITIZE)
    target_compile_definitions(${target} PRIVATE MNEMON_ASSERTIONS)
    target_compile_options(${target} PRIVATE -fsanitize=${MNEMON_SANITIZE} -fno-sanitize-recover=all
      -fno-omit-frame-pointer)
    target_link_options(${target} PUBLIC $<BUILD_INTERFACE:-fsanitize=${MNEMON_SANITIZE}>)
  endif()
endfunction()

# mnemon_share_headers(TARGET FROM): uses the headers that were compiled for another target, of the same flags.
function(mnemon_share_headers target from)
  if(MNEMON_PRECOMPILE)
    target_precompile_headers(${target} REUSE_FROM ${from})
  endif()
endfunction()

# mnemon_precompile(TARGET LEVEL): headers that nearly every source includes are compiled once for all targets of a
# level, as that takes longer than most sources themselves. Those of level -O1 write texts.
set(MNEMON_COMMON_HEADERS <algorithm> <array> <cmath> <filesystem> <functional> <map> <memory> <optional> <span> <string>
  <string_view> <vector>)
file(CONFIGURE OUTPUT "${PROJECT_BINARY_DIR}/nothing.cpp" CONTENT "")
function(mnemon_precompile target level)
  if(NOT MNEMON_PRECOMPILE)
    return()
  endif()
  set(headers mnemon_headers${level})
  if(NOT TARGET ${headers})
    add_library(${headers} OBJECT "${PROJECT_BINARY_DIR}/nothing.cpp")
    set_target_properties(${headers} PROPERTIES POSITION_INDEPENDENT_CODE ON CXX_EXTENSIONS OFF)
    mnemon_compile_options(${headers} ${level})
    target_precompile_headers(${headers} PRIVATE ${MNEMON_COMMON_HEADERS})
    if(level STREQUAL "-O1")
      target_link_libraries(${headers} PRIVATE nlohmann_json::nlohmann_json fmt::fmt)
      target_precompile_headers(${headers} PRIVATE <nlohmann/json.hpp> <fmt/format.h>)
    endif()
  endif()
  mnemon_share_headers(${target} ${headers})
  set_target_properties(${target} PROPERTIES CXX_EXTENSIONS OFF)
  get_target_property(type ${target} TYPE)
  if(type STREQUAL EXECUTABLE)
    target_compile_options(${target} PRIVATE -fPIC)  # as the headers are compiled
  endif()
endfunction()

# mnemon_room(NAME [LEVEL -O1] NEEDS rooms... HEADERS files... SOURCES files... USES imported targets...)
#   One static library of the house: mnemon_NAME, alias Mnemon::NAME. NEEDS are rooms of floors below and
#   part of its interface; USES are packages that only its sources see. LEVEL is for rooms that compute little.
function(mnemon_room name)
  cmake_parse_arguments(room "" "LEVEL" "NEEDS;HEADERS;SOURCES;USES" ${ARGN})
  add_library(mnemon_${name} STATIC)
  add_library(Mnemon::${name} ALIAS mnemon_${name})
  set(dir "${PROJECT_SOURCE_DIR}/mnemon/${name}")
  list(TRANSFORM room_HEADERS PREPEND "${dir}/")
  foreach(source IN LISTS room_SOURCES)
    if(NOT IS_ABSOLUTE "${source}")
      set(source "${dir}/${source}")
    endif()
    target_sources(mnemon_${name} PRIVATE "${source}")
  endforeach()
  target_sources(mnemon_${name} PUBLIC FILE_SET HEADERS BASE_DIRS "${PROJECT_SOURCE_DIR}"
    FILES ${room_HEADERS})
  set_target_properties(mnemon_${name} PROPERTIES EXPORT_NAME ${name} POSITION_INDEPENDENT_CODE ON CXX_EXTENSIONS OFF
    VERIFY_INTERFACE_HEADER_SETS ON)
  list(TRANSFORM room_NEEDS PREPEND mnemon_)
  target_link_libraries(mnemon_${name} PUBLIC ${room_NEEDS} PRIVATE ${room_USES})
  mnemon_compile_options(mnemon_${name} ${room_LEVEL})
  if(room_LEVEL)
    mnemon_precompile(mnemon_${name} ${room_LEVEL})
  else()
    mnemon_precompile(mnemon_${name} -O3)
  endif()
  install(TARGETS mnemon_${name} EXPORT MnemonTargets FILE_SET HEADERS
    ARCHIVE DESTINATION "${CMAKE_INSTALL_LIBDIR}")
endfunction()

# mnemon_embed(NAME FILE OUTPUT_VARIABLE): a source that defines `extern const std::string_view
# mnemon::NAME` with the contents of FILE, made anew when the file changes.
function(mnemon_embed name file output)
  set(made "${CMAKE_CURRENT_BINARY_DIR}/embedded_${name}.cpp")
  add_custom_command(OUTPUT "${made}"
    COMMAND ${CMAKE_COMMAND} -DNAME=${name} -DFILE=${file} -DMADE=${made}
            -P "${PROJECT_SOURCE_DIR}/cmake/embed.cmake"
    DEPENDS "${file}" "${PROJECT_SOURCE_DIR}/cmake/embed.cmake" VERBATIM)
  set(${output} "${made}" PARENT_SCOPE)
endfunction()
