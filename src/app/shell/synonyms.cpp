#include "app/shell/synonyms.h"

#include <QCoreApplication>
#include <array>

namespace pantry::app {
namespace {

struct Synonyms {
    const char* begins;  ///< the action's words begin so
    const char* words;
};

constexpr std::array kSynonyms{
    Synonyms{QT_TRANSLATE_NOOP("Synonyms", "Lamplight theme"), "dark night black settings preferences colours"},
    Synonyms{QT_TRANSLATE_NOOP("Synonyms", "Daylight theme"), "light day white bright settings preferences colours"},
    Synonyms{QT_TRANSLATE_NOOP("Synonyms", "Larger"), "font size zoom in bigger text settings"},
    Synonyms{QT_TRANSLATE_NOOP("Synonyms", "Smaller"), "font size zoom out text settings"},
    Synonyms{QT_TRANSLATE_NOOP("Synonyms", "Usual size"), "font zoom reset text settings"},
    Synonyms{QT_TRANSLATE_NOOP("Synonyms", "Shade every other row"), "stripes zebra banding settings"},
    Synonyms{QT_TRANSLATE_NOOP("Synonyms", "First page"), "limit rows fetch size settings preferences"},
    Synonyms{QT_TRANSLATE_NOOP("Synonyms", "Left column"), "sidebar panel hide settings"},
    Synonyms{QT_TRANSLATE_NOOP("Synonyms", "Close-up"), "detail inspector value panel settings"},
    Synonyms{QT_TRANSLATE_NOOP("Synonyms", "Export…"),
             "csv excel xlsx json xml html insert download save result write"},
    Synonyms{QT_TRANSLATE_NOOP("Synonyms", "Compare with"), "diff difference changes"},
    Synonyms{QT_TRANSLATE_NOOP("Synonyms", "Ledger"), "history past log recent runs queries"},
    Synonyms{QT_TRANSLATE_NOOP("Synonyms", "Catalog"), "schema tables browse objects structure"},
    Synonyms{QT_TRANSLATE_NOOP("Synonyms", "Read the catalog again"), "refresh reload schema"},
    Synonyms{QT_TRANSLATE_NOOP("Synonyms", "Refresh the catalog"), "reload reread schema"},
    Synonyms{QT_TRANSLATE_NOOP("Synonyms", "Columns"), "hide show freeze pin unfreeze"},
    Synonyms{QT_TRANSLATE_NOOP("Synonyms", "Freeze columns"), "pin fix lock left"},
    Synonyms{QT_TRANSLATE_NOOP("Synonyms", "Sort"), "order arrange"},
    Synonyms{QT_TRANSLATE_NOOP("Synonyms", "Show or colour rows"), "filter where condition highlight format"},
    Synonyms{QT_TRANSLATE_NOOP("Synonyms", "All rows"), "fetch everything"},
    Synonyms{QT_TRANSLATE_NOOP("Synonyms", "Find in the rows"), "search grid"},
    Synonyms{QT_TRANSLATE_NOOP("Synonyms", "Find in the catalog"), "search table column"},
    Synonyms{QT_TRANSLATE_NOOP("Synonyms", "Format"), "beautify pretty indent tidy"},
    Synonyms{QT_TRANSLATE_NOOP("Synonyms", "Stop"), "cancel abort kill interrupt"},
    Synonyms{QT_TRANSLATE_NOOP("Synonyms", "Run"), "execute query"},
    Synonyms{QT_TRANSLATE_NOOP("Synonyms", "Keys"), "shortcuts keyboard hotkeys help"},
    Synonyms{QT_TRANSLATE_NOOP("Synonyms", "Close"), "tab page"},
    Synonyms{QT_TRANSLATE_NOOP("Synonyms", "New sheet"), "tab editor query connect"},
    Synonyms{QT_TRANSLATE_NOOP("Synonyms", "All connections"), "servers databases manage"},
    Synonyms{QT_TRANSLATE_NOOP("Synonyms", "New connection"), "add server database connect"},
    Synonyms{QT_TRANSLATE_NOOP("Synonyms", "Open a file"), "load script sql"},
    Synonyms{QT_TRANSLATE_NOOP("Synonyms", "Roll back"), "undo transaction rollback"},
    Synonyms{QT_TRANSLATE_NOOP("Synonyms", "Quit"), "exit close"},
};

}  // namespace

QString synonymsOf(const QString& text) {
    QString words;
    for (const Synonyms& entry : kSynonyms) {
        const QString begins = QCoreApplication::translate("Synonyms", entry.begins);
        if (text.startsWith(begins)) words += QLatin1Char(' ') + QLatin1String(entry.words);
    }
    return words;
}

}  // namespace pantry::app
