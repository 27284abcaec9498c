# The one list of compiler options; every target of ours links hr_options.
set(HONEST_RACK_SANITIZE "" CACHE STRING "sanitizers to build with, as for -fsanitize=")

add_library(hr_options INTERFACE)
target_compile_options(hr_options INTERFACE -Wall -Wextra -Wconversion -Werror -Wshadow -Wno-psabi
                       $<$<CXX_COMPILER_ID:Clang>:-Wno-missing-field-initializers>) # libseccomp's macros
target_compile_definitions(hr_options INTERFACE _REENTRANT QT_NO_CAST_FROM_ASCII QT_NO_CAST_TO_ASCII
                           HONEST_RACK_VERSION="${PROJECT_VERSION}"
                           HONEST_RACK_MULTIARCH="${CMAKE_LIBRARY_ARCHITECTURE}")
target_include_directories(hr_options INTERFACE ${PROJECT_SOURCE_DIR}/src/core)
if(HONEST_RACK_SANITIZE)
  target_compile_options(hr_options INTERFACE -fsanitize=${HONEST_RACK_SANITIZE} -fno-sanitize-recover=all
                         -fno-omit-frame-pointer)
  target_link_options(hr_options INTERFACE -fsanitize=${HONEST_RACK_SANITIZE})
  target_compile_definitions(hr_options INTERFACE HONEST_RACK_SANITIZED)
endif()

# What calls the core and Qt and computes nothing itself gains nothing from more, and builds in two thirds of the time.
set(HR_CALLER_OPTIONS $<$<CONFIG:Release>:-O1>)

# Tests wait more than they compute; unoptimised, they build in half the time.
set(HR_TEST_OPTIONS $<$<CONFIG:Release>:-O0>)

# hr_layer(NAME SOURCES ... DEPENDS ...): one static library a layer; DEPENDS names what lies below it.
function(hr_layer name)
  cmake_parse_arguments(LAYER "" "" "SOURCES;DEPENDS" ${ARGN})
  add_library(hr_${name} STATIC ${LAYER_SOURCES})
  target_link_libraries(hr_${name} PUBLIC hr_options ${LAYER_DEPENDS})
  hr_use_precompiled(hr_${name} core)
endfunction()
