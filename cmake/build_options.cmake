# What every target shares: the language, warnings, ccache, a fast linker, sanitizers.
set(CMAKE_CXX_STANDARD 20)
set(CMAKE_CXX_STANDARD_REQUIRED ON)
set(CMAKE_CXX_EXTENSIONS OFF)
set(CMAKE_CXX_FLAGS_RELEASE "-O2 -DNDEBUG")
set(CMAKE_RUNTIME_OUTPUT_DIRECTORY ${PROJECT_BINARY_DIR}/bin)

add_compile_options(-pthread)  # for all alike, since precompiled headers ask for the same flags

# GCC looks for memory to free again and again, also in the precompiled headers, where there is none: below a gigabyte a unit it
# need not, which saves it a fifteenth of its time.
add_compile_options($<$<CXX_COMPILER_ID:GNU>:--param=ggc-min-heapsize=1000000>)

find_program(CCACHE ccache)
if(CCACHE)
    set(CMAKE_CXX_COMPILER_LAUNCHER ${CMAKE_COMMAND} -E env
        "CCACHE_SLOPPINESS=pch_defines,time_macros,include_file_mtime,include_file_ctime" ${CCACHE})
    add_compile_options($<$<CXX_COMPILER_ID:GNU>:-fpch-preprocess>)
endif()
find_program(MOLD mold)
if(MOLD)
    add_link_options(-fuse-ld=mold)
endif()

add_library(project_warnings INTERFACE)
target_compile_options(project_warnings INTERFACE -Wall -Wextra -Wpedantic -Wshadow -Wnon-virtual-dtor
    -Woverloaded-virtual -Wimplicit-fallthrough $<$<BOOL:${PANTRY_WERROR}>:-Werror>
    # GCC 12 warns wrongly inside the standard library's own strings and variants.
    $<$<CXX_COMPILER_ID:GNU>:-Wno-array-bounds -Wno-stringop-overflow -Wno-stringop-overread -Wno-restrict -Wno-maybe-uninitialized -Wno-missing-field-initializers>
    $<$<CXX_COMPILER_ID:Clang>:-Wno-missing-field-initializers -Wthread-safety>)

if(PANTRY_STRICT)
    target_compile_options(project_warnings INTERFACE -Wconversion -Wsign-conversion)
endif()

if(PANTRY_SANITIZE)
    add_compile_options(-fsanitize=${PANTRY_SANITIZE} -fno-omit-frame-pointer -fno-sanitize-recover=all)
    add_link_options(-fsanitize=${PANTRY_SANITIZE})
endif()

if(PANTRY_FUZZ)  # the fuzzer must see where it gets to in our own code
    add_compile_options(-fsanitize=fuzzer-no-link)
endif()
