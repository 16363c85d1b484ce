#include "app/program_options.h"

#include <QCommandLineParser>
#include <QCoreApplication>
#include <QFile>
#include <cstdio>

#include "app/base/text.h"

namespace pantry::app {
namespace {

constexpr int kWrongWords = 2;

void addOptions(QCommandLineParser& parser) {
    parser.setApplicationDescription("Agile Pantry: connect to databases, look around, write, run and keep SQL.");
    parser.setSingleDashWordOptionMode(QCommandLineParser::ParseAsLongOptions);  // as Qt's own are written
    parser.addOptions({
        {{"h", "help"}, "Show this help and end."},
        {"version", "Show which version this is and end."},
        {"home", "Folder with connections, history and settings.", "DIR"},
        {"demo", "Work on the demo data of Larkspur Vale, in a home folder of its own."},
        {"open", "The same as FILE; may be given several times.", "FILE"},
        {"tour", "Drive the window through the main work and write pictures to DIR.", "DIR"},
        {"verbose", "Write details to the log file."},
    });
    parser.addPositionalArgument(
        "FILE", "Open SQL in a sheet, a database file as a new connection, or a link to a saved query.", "[FILE…]");
}

/// Help and the beginning of messages name the program as Qt knows it, for which there has to be an application.
QString helpOf(const QCommandLineParser& parser, const std::string& program) {
    int count = 1;
    std::string name = program;
    char* words[] = {name.data(), nullptr};
    const QCoreApplication application(count, words);
    return parser.helpText();
}

std::string pathOf(const QString& value) { return QFile::encodeName(value).toStdString(); }

void take(ProgramOptions& options, const QCommandLineParser& parser) {
    options.home = pathOf(parser.value("home"));
    options.tourFolder = pathOf(parser.value("tour"));
    options.isDemo = parser.isSet("demo");
    options.isVerbose = parser.isSet("verbose");
    for (const QString& file : parser.values("open") + parser.positionalArguments())
        options.files.push_back(fromQt(file));
}

}  // namespace

std::optional<int> readOptions(ProgramOptions& options, const std::vector<std::string>& words, Unknown unknown) {
    QCommandLineParser parser;
    addOptions(parser);
    QStringList given;
    for (const std::string& word : words) given.append(QFile::decodeName(word.c_str()));
    const bool isUnderstood = parser.parse(given);
    if (parser.isSet("help")) {
        std::fputs(qPrintable(helpOf(parser, words.front())), stdout);
        return 0;
    }
    if (parser.isSet("version")) {
        std::puts("Agile Pantry " PANTRY_VERSION);
        return 0;
    }
    const bool isForQt = unknown == Unknown::MayBeQts && !parser.unknownOptionNames().isEmpty();
    if (!isUnderstood && !isForQt) {
        std::fprintf(stderr, "agile-pantry: %s --help says what there is.\n", qPrintable(parser.errorText()));
        return kWrongWords;
    }
    take(options, parser);
    return std::nullopt;
}

}  // namespace pantry::app
