# late_library(TARGET LIBRARY LIST): a client library that is loaded when something of it is first called, not with the
# program. TARGET is the imported target of pkg-config whose library is called LIBRARY (pq for libpq.so); LIST is a file
# with the functions that we call, a line each. For each of them a few instructions with its name stand in a static
# library, which ask for the real one once (src/core/base/late_library.h) and jump there from then on. So a start pays
# only for the libraries that it needs. A function that is missing in the list is told by the linker.
# Elsewhere than on x86-64 the library is linked as ever.
function(late_library target library list)
    get_target_property(linked ${target} INTERFACE_LINK_LIBRARIES)
    set(real ${linked})
    list(FILTER real INCLUDE REGEX "/lib${library}\\.so$")
    execute_process(COMMAND ${CMAKE_OBJDUMP} -p ${real} OUTPUT_VARIABLE facts COMMAND_ERROR_IS_FATAL ANY)
    string(REGEX MATCH "SONAME +([^ \n]+)" ignored "${facts}")
    set(soname ${CMAKE_MATCH_1})

    string(MAKE_C_IDENTIFIER "late_${library}" name)
    string(TOUPPER ${name} constant)
    target_compile_definitions(${target} INTERFACE ${constant}="${soname}")
    add_library(whole_${library} INTERFACE)  # for programs that call more of it than we do
    target_link_libraries(whole_${library} INTERFACE ${real})
    if(NOT CMAKE_SYSTEM_PROCESSOR STREQUAL "x86_64")
        return()
    endif()
    file(STRINGS ${list} functions)
    set_property(DIRECTORY APPEND PROPERTY CMAKE_CONFIGURE_DEPENDS ${list})
    set(code "#include \"core/base/late_library.inc\"\nLATE_LIBRARY \"${soname}\"\n")
    foreach(function IN LISTS functions)
        string(APPEND code "LATE_FUNCTION ${function}\n")
    endforeach()
    file(CONFIGURE OUTPUT ${PROJECT_BINARY_DIR}/late/${name}.S CONTENT "${code}" @ONLY)
    add_library(${name} STATIC ${PROJECT_BINARY_DIR}/late/${name}.S)
    target_include_directories(${name} PRIVATE ${PROJECT_SOURCE_DIR}/src)
    target_link_libraries(${name} PRIVATE pantry_base)
    list(TRANSFORM linked REPLACE "^${real}$" ${name})
    set_target_properties(${target} PROPERTIES INTERFACE_LINK_LIBRARIES "${linked}")
endfunction()
