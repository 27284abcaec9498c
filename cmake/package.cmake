# What is installed beside the programs, and the Debian package.
install(FILES packaging/honest-rack.desktop DESTINATION ${CMAKE_INSTALL_DATADIR}/applications)
install(FILES packaging/honest-rack.metainfo.xml DESTINATION ${CMAKE_INSTALL_DATADIR}/metainfo)
install(FILES packaging/honest-rack.svg DESTINATION ${CMAKE_INSTALL_DATADIR}/icons/hicolor/scalable/apps)
install(FILES packaging/honest-rack.1 packaging/hrack.1 DESTINATION ${CMAKE_INSTALL_MANDIR}/man1)
install(FILES docs/file-formats.md docs/chain.schema.json DESTINATION ${CMAKE_INSTALL_DOCDIR})

set(CPACK_GENERATOR DEB)
set(CPACK_PACKAGE_NAME honest-rack)
set(CPACK_PACKAGE_CONTACT "Honest Rack <honest-rack@users.noreply.example>")
set(CPACK_PACKAGE_DESCRIPTION_SUMMARY ${PROJECT_DESCRIPTION})
set(CPACK_PACKAGING_INSTALL_PREFIX /usr)
set(CPACK_DEBIAN_FILE_NAME DEB-DEFAULT)
set(CPACK_DEBIAN_PACKAGE_SECTION sound)
set(CPACK_DEBIAN_PACKAGE_SHLIBDEPS ON)
# Qt finds its database driver and its icons' format at run time.
set(CPACK_DEBIAN_PACKAGE_DEPENDS "libqt6sql6-sqlite, libqt6svg6")
set(CPACK_STRIP_FILES ON)
include(CPack)
