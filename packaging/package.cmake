# What is installed besides the programs, and the Debian package (scripts/package).
include(GNUInstallDirs)
set(packaging ${CMAKE_SOURCE_DIR}/packaging)
install(FILES ${packaging}/evenclay.desktop DESTINATION share/applications)
install(FILES ${packaging}/evenclay.svg DESTINATION share/icons/hicolor/scalable/apps)
install(FILES ${packaging}/evenclay-mime.xml DESTINATION share/mime/packages RENAME evenclay.xml)
install(FILES ${packaging}/evenclay.metainfo.xml DESTINATION share/metainfo
  RENAME example.evenclay.EvenClay.metainfo.xml)
install(FILES ${packaging}/evenclay.thumbnailer DESTINATION share/thumbnailers)
install(FILES ${packaging}/evenclay-run.bash DESTINATION share/bash-completion/completions
  RENAME evenclay-run)
install(FILES ${CMAKE_SOURCE_DIR}/docs/user-guide.md ${CMAKE_SOURCE_DIR}/docs/runner.md
  ${CMAKE_SOURCE_DIR}/docs/file-format.md ${packaging}/debian/copyright DESTINATION share/doc/evenclay)
# Lists of changes and pages of the manual are packed without times, so that equal sources give equal packages.
foreach(page evenclay.1 evenclay-run.1)
  add_custom_command(OUTPUT ${page}.gz DEPENDS ${packaging}/man/${page}
    COMMAND gzip -9nc ${packaging}/man/${page} > ${page}.gz)
  install(FILES ${CMAKE_CURRENT_BINARY_DIR}/${page}.gz DESTINATION share/man/man1)
  list(APPEND packed ${CMAKE_CURRENT_BINARY_DIR}/${page}.gz)
endforeach()
add_custom_command(OUTPUT changelog.gz DEPENDS ${packaging}/debian/changelog
  COMMAND gzip -9nc ${packaging}/debian/changelog > changelog.gz)
install(FILES ${CMAKE_CURRENT_BINARY_DIR}/changelog.gz DESTINATION share/doc/evenclay)
add_custom_command(OUTPUT skerry.evenclay DEPENDS evenclay-run
  COMMAND evenclay-run demo skerry.evenclay)
install(FILES ${CMAKE_CURRENT_BINARY_DIR}/skerry.evenclay DESTINATION share/evenclay)
add_custom_target(packed_files ALL DEPENDS ${packed} ${CMAKE_CURRENT_BINARY_DIR}/changelog.gz
  ${CMAKE_CURRENT_BINARY_DIR}/skerry.evenclay)

set(CPACK_GENERATOR DEB)
set(CPACK_PACKAGE_NAME evenclay)
set(CPACK_PACKAGE_VERSION ${PROJECT_VERSION})
set(CPACK_PACKAGE_CONTACT "The Even Clay makers <makers@evenclay.example>")
set(CPACK_PACKAGE_DESCRIPTION_SUMMARY "shape organic product forms with measured consequences")
set(CPACK_DEBIAN_PACKAGE_DESCRIPTION
"Surfaces rebuilt to a chosen grid of control points, shaped by points, cages
and subdivision, with patterns flowed onto the curved result, then cut,
checked and handed over. Every choice shows its measured consequence while it
is made, and every step stays editable.")
set(CPACK_PACKAGING_INSTALL_PREFIX /usr)
set(CPACK_DEBIAN_PACKAGE_SECTION graphics)
set(CPACK_DEBIAN_PACKAGE_HOMEPAGE "https://evenclay.example/")
set(CPACK_DEBIAN_PACKAGE_SHLIBDEPS ON)
set(CPACK_DEBIAN_PACKAGE_DEPENDS "qt6-qpa-plugins")
set(CPACK_DEBIAN_FILE_NAME DEB-DEFAULT)
set(CPACK_STRIP_FILES ON)
set(CPACK_INSTALL_DEFAULT_DIRECTORY_PERMISSIONS
  OWNER_READ OWNER_WRITE OWNER_EXECUTE GROUP_READ GROUP_EXECUTE WORLD_READ WORLD_EXECUTE)
include(CPack)
