#pragma once

#include <optional>
#include <string>
#include <vector>

namespace pantry::app {

/// What the words behind the program's name ask for.
struct ProgramOptions {
    std::string home;  ///< empty: where the user's data is
    std::vector<std::string> files;
    std::string tourFolder;  ///< empty: no tour
    bool isDemo = false;
    bool isVerbose = false;
};

/// Whether words that nobody knows here may be Qt's, which takes them when the application is made.
enum class Unknown { MayBeQts, AreMistakes };

/// Reads them, and says what was asked for or is wrong. A value is the exit code of a program that need not go on.
/// Needs no application and no display.
///
/// \param words the program's name and what follows it
[[nodiscard]] std::optional<int> readOptions(ProgramOptions& options, const std::vector<std::string>& words,
                                             Unknown unknown);

}  // namespace pantry::app
