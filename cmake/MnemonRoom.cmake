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
