# The package that another project finds with find_package(Mnemon).
configure_package_config_file(cmake/MnemonConfig.cmake.in "${CMAKE_CURRENT_BINARY_DIR}/MnemonConfig.cmake"
  INSTALL_DESTINATION "${CMAKE_INSTALL_LIBDIR}/cmake/Mnemon")
write_basic_package_version_file("${CMAKE_CURRENT_BINARY_DIR}/MnemonConfigVersion.cmake"
  COMPATIBILITY SameMinorVersion)
install(EXPORT MnemonTargets NAMESPACE Mnemon::
  DESTINATION "${CMAKE_INSTALL_LIBDIR}/cmake/Mnemon")
install(FILES "${CMAKE_CURRENT_BINARY_DIR}/MnemonConfig.cmake"
              "${CMAKE_CURRENT_BINARY_DIR}/MnemonConfigVersion.cmake"
              "${CMAKE_CURRENT_SOURCE_DIR}/cmake/MnemonPlugin.cmake"
  DESTINATION "${CMAKE_INSTALL_LIBDIR}/cmake/Mnemon")
if(MNEMON_APPS)
  install(TARGETS mnemon RUNTIME DESTINATION "${CMAKE_INSTALL_BINDIR}")
endif()
