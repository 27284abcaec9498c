# Headers of others that nearly every unit reads, read once: a third of the time of a build. What a file forgets to
# include is found all the same, by the build in pieces and by the headers that compile alone (headers.cmake).
option(HONEST_RACK_PRECOMPILE "precompile the headers of other libraries" OFF)

# hr_precompiled(NAME LIBRARIES ... HEADERS ... OPTIONS ...)
function(hr_precompiled name)
  cmake_parse_arguments(PRE "" "" "LIBRARIES;HEADERS;OPTIONS" ${ARGN})
  set(nothing ${PROJECT_BINARY_DIR}/precompiled/${name}.cpp)
  file(CONFIGURE OUTPUT ${nothing} CONTENT "" @ONLY)
  add_library(precompiled_${name} OBJECT EXCLUDE_FROM_ALL ${nothing})
  set_target_properties(precompiled_${name} PROPERTIES UNITY_BUILD OFF AUTOMOC OFF)
  target_compile_options(precompiled_${name} PRIVATE ${PRE_OPTIONS})
  target_link_libraries(precompiled_${name} PRIVATE hr_options ${PRE_LIBRARIES})
  target_precompile_headers(precompiled_${name} PRIVATE ${PRE_HEADERS})
endfunction()

# hr_use_precompiled(TARGET NAME)
function(hr_use_precompiled target name)
  if(HONEST_RACK_PRECOMPILE)
    target_precompile_headers(${target} REUSE_FROM precompiled_${name})
  endif()
endfunction()

set(HR_STANDARD <algorithm> <array> <atomic> <chrono> <cmath> <complex> <filesystem> <fstream> <functional> <map>
    <memory> <mutex> <optional> <ranges> <set> <span> <sstream> <stop_token> <string> <thread> <variant> <vector>
    <nlohmann/json.hpp> <tl/expected.hpp>)
set(HR_QT <QAbstractListModel> <QApplication> <QComboBox> <QDateTime> <QDialog> <QElapsedTimer> <QFileInfo> <QHash>
    <QLabel> <QLineEdit> <QListView> <QMenu> <QPainter> <QPushButton> <QScrollArea> <QSettings> <QStandardPaths>
    <QStyledItemDelegate> <QTimer> <QVBoxLayout>)
if(HONEST_RACK_PRECOMPILE)
  hr_precompiled(core LIBRARIES nlohmann_json::nlohmann_json tl::expected HEADERS ${HR_STANDARD})
  hr_precompiled(qt LIBRARIES nlohmann_json::nlohmann_json tl::expected Qt6::Widgets Qt6::Sql
                 HEADERS ${HR_STANDARD} ${HR_QT})
endif()
