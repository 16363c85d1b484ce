# pantry_library(NAME SOURCES … HEADERS … [USES …] [HIDES …]): one static library for one folder.
# USES are libraries whose headers ours include, HIDES those that only our .cpp files see.
function(pantry_library name)
    cmake_parse_arguments(ARG "" "" "SOURCES;HEADERS;USES;HIDES" ${ARGN})
    add_library(${name} STATIC)
    target_sources(${name} PRIVATE ${ARG_SOURCES}
        PUBLIC FILE_SET HEADERS BASE_DIRS ${PROJECT_SOURCE_DIR}/src FILES ${ARG_HEADERS})
    target_link_libraries(${name} PUBLIC ${ARG_USES} PRIVATE ${ARG_HIDES} project_warnings)
endfunction()
