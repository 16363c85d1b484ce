# What nearly every source of the core includes of others' headers, read once for all of them.
set(CORE_HEADERS <algorithm> <array> <atomic> <charconv> <chrono> <cstdint> <filesystem> <functional> <map> <memory>
    <optional> <set> <string> <string_view> <tl/expected.hpp> <unordered_map> <utility> <vector> <fmt/format.h>)

# The same of Qt for the window: what three of its sources or more include. All of QtWidgets takes each unit longer, since whatever
# its headers leave to be instantiated is instantiated in every unit.
set(WINDOW_HEADERS <QAbstractButton> <QAbstractListModel> <QAbstractTableModel> <QApplication> <QButtonGroup> <QCheckBox> <QClipboard>
    <QColor> <QComboBox> <QCoreApplication> <QDir> <QDragEnterEvent> <QEvent> <QFile> <QFileDialog> <QFileInfo> <QFont> <QFrame>
    <QGridLayout> <QHBoxLayout> <QHash> <QHeaderView> <QHelpEvent> <QIcon> <QKeyEvent> <QLabel> <QLineEdit> <QListView> <QListWidget>
    <QMenu> <QMimeData> <QMouseEvent> <QObject> <QPainter> <QPixmap> <QPlainTextEdit> <QPointer> <QPushButton> <QScreen> <QScrollArea>
    <QScrollBar> <QSpinBox> <QSplitter> <QStackedWidget> <QString> <QStringList> <QStyledItemDelegate> <QTableWidget> <QTimer>
    <QToolTip> <QVBoxLayout> <QWidget>)

# And of our own: what most of its rooms see of the core they see through the desk, a hundred headers each time.
set(DESK_HEADERS ${PROJECT_SOURCE_DIR}/src/app/desk/desk.h)

# add_room(NAME SOURCES … HEADERS … [INTERNAL …] [USES …] [HIDES …]): one static library for one folder. INTERNAL are
# headers for its own sources alone; USES are libraries whose headers ours include, HIDES those that only our .cpp files see.
function(add_room name)
    cmake_parse_arguments(ARG "" "" "SOURCES;HEADERS;INTERNAL;USES;HIDES" ${ARGN})
    add_library(${name} STATIC)
    target_sources(${name} PRIVATE ${ARG_SOURCES} ${ARG_INTERNAL}
        PUBLIC FILE_SET HEADERS BASE_DIRS ${PROJECT_SOURCE_DIR}/src FILES ${ARG_HEADERS})
    target_link_libraries(${name} PUBLIC ${ARG_USES} PRIVATE ${ARG_HIDES} project_warnings)
endfunction()

# Rooms whose work grows with texts and rows are optimised further: reading SQL is a third faster so. It takes the compiler
# longer, which is why the others are not.
set(HOT_ROOMS pantry_sql_text pantry_sql_syntax pantry_sql_meaning pantry_sql_check pantry_sql_layout pantry_data_store
    pantry_data_view)

# Rooms that wait for people, files and servers rather than for the processor are optimised less, like the window: that takes
# the compiler four fifths of what -O1 takes.
set(QUIET_ROOMS pantry_sql_write pantry_sql_define pantry_sql_forms pantry_sql_rewrite pantry_markdown pantry_snippet pantry_store
    pantry_shelf pantry_work pantry_demo pantry_servers)

# pantry_library(NAME …): a room without Qt. All share the precompiled headers of the first one, and so how fmt is linked; the
# hot ones those of the first hot one and the quiet ones those of the first quiet one, since precompiled headers ask for the
# same flags. QUIET are sources of a room that is not quiet itself, which are compiled as those of quiet rooms.
function(pantry_library name)
    cmake_parse_arguments(ARG "" "" "SOURCES;HEADERS;INTERNAL;USES;HIDES;QUIET" ${ARGN})
    add_room(${name} SOURCES ${ARG_SOURCES} HEADERS ${ARG_HEADERS} INTERNAL ${ARG_INTERNAL} USES ${ARG_USES} HIDES ${ARG_HIDES})
    target_link_libraries(${name} PRIVATE fmt::fmt)
    if(ARG_QUIET)
        add_library(${name}_quiet OBJECT ${ARG_QUIET})
        target_include_directories(${name}_quiet PRIVATE ${PROJECT_SOURCE_DIR}/src)
        target_link_libraries(${name}_quiet PRIVATE ${ARG_USES} ${ARG_HIDES} project_warnings fmt::fmt)
        target_compile_options(${name}_quiet PRIVATE $<$<CONFIG:Release>:-Og>)
        target_precompile_headers(${name}_quiet REUSE_FROM pantry_sql_write)
        target_sources(${name} PRIVATE $<TARGET_OBJECTS:${name}_quiet>)
    endif()
    if(name IN_LIST HOT_ROOMS)
        target_compile_options(${name} PRIVATE $<$<CONFIG:Release>:-O3> "$<$<CXX_COMPILER_ID:GNU>:SHELL:--param=inline-unit-growth=200>")
    elseif(name IN_LIST QUIET_ROOMS)
        target_compile_options(${name} PRIVATE $<$<CONFIG:Release>:-Og>)
    endif()
    if(name STREQUAL "pantry_base" OR name STREQUAL "pantry_sql_text" OR name STREQUAL "pantry_sql_write")
        target_precompile_headers(${name} PRIVATE ${CORE_HEADERS})
    elseif(name IN_LIST HOT_ROOMS)
        target_precompile_headers(${name} REUSE_FROM pantry_sql_text)
    elseif(name IN_LIST QUIET_ROOMS)
        target_precompile_headers(${name} REUSE_FROM pantry_sql_write)
    else()
        target_precompile_headers(${name} REUSE_FROM pantry_base)
    endif()
endfunction()

# add_moc(NAME HEADERS …): what moc makes of each header, to be included at the end of its .cpp file, where everything it needs
# is read already. moc finds classes and signals without reading what a header includes, so it is not told where that is: CMake's
# own way tells it, reads Qt's headers hundreds of times, and waits for all libraries below.
function(add_moc name)
    set(folder ${CMAKE_CURRENT_BINARY_DIR}/moc)
    file(MAKE_DIRECTORY ${folder})
    foreach(header IN LISTS ARGN)
        cmake_path(GET header STEM stem)
        file(RELATIVE_PATH included ${PROJECT_SOURCE_DIR}/src ${CMAKE_CURRENT_SOURCE_DIR}/${header})
        add_custom_command(OUTPUT ${folder}/moc_${stem}.cpp
            COMMAND Qt6::moc --no-notes -f${included} -o ${folder}/moc_${stem}.cpp ${CMAKE_CURRENT_SOURCE_DIR}/${header}
            DEPENDS ${header} VERBATIM)
        list(APPEND made ${folder}/moc_${stem}.cpp)
    endforeach()
    set_source_files_properties(${made} PROPERTIES HEADER_FILE_ONLY ON)
    target_sources(${name} PRIVATE ${made})
    target_include_directories(${name} PRIVATE ${folder})
    if(NOT TARGET moc_sources)
        add_custom_target(moc_sources)  # for those who read sources without compiling them
    endif()
    add_custom_target(${name}_moc DEPENDS ${made})
    add_dependencies(moc_sources ${name}_moc)
endfunction()

# pantry_window_library(NAME [KEYWORDS] SOURCES … HEADERS … [INTERNAL …] [USES …] [HIDES …]): the same for a folder of the window.
# Resources come with the library that reads them. KEYWORDS: with Qt's keyword macros, which others do without.
function(pantry_window_library name)
    cmake_parse_arguments(ARG "KEYWORDS" "" "SOURCES;HEADERS;INTERNAL;USES;HIDES" ${ARGN})
    add_room(${name} SOURCES ${ARG_SOURCES} HEADERS ${ARG_HEADERS} INTERNAL ${ARG_INTERNAL} USES ${ARG_USES} HIDES ${ARG_HIDES})
    add_moc(${name} ${ARG_HEADERS} ${ARG_INTERNAL})
    target_compile_options(${name} PRIVATE $<$<CONFIG:Release>:-Og>)
    if(ARG_KEYWORDS)
        target_include_directories(${name} SYSTEM PRIVATE ${Qt6Widgets_INCLUDE_DIRS})
        return()
    endif()
    target_compile_definitions(${name} PRIVATE QT_NO_KEYWORDS)
    target_link_libraries(${name} PRIVATE fmt::fmt)
    if(name STREQUAL "pantry_app_base")  # the first one makes what the others use again
        target_precompile_headers(${name} PRIVATE ${WINDOW_HEADERS} ${CORE_HEADERS} ${DESK_HEADERS})
    else()
        target_precompile_headers(${name} REUSE_FROM pantry_app_base)
    endif()
endfunction()
