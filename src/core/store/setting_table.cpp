#include "core/store/setting_table.h"

#include <algorithm>
#include <type_traits>
#include <utility>

#include "core/sql/layout/format_choice.h"

namespace pantry::store {
namespace {

template <auto Member>
SettingValue read(const Settings& s) {
    using Value = std::remove_cvref_t<decltype(s.*Member)>;
    if constexpr (std::is_integral_v<Value> && !std::is_same_v<Value, bool>) {
        return static_cast<std::int64_t>(s.*Member);
    } else {
        return s.*Member;
    }
}

template <auto Member>
void write(Settings& s, const SettingValue& value) {
    using Value = std::remove_cvref_t<decltype(s.*Member)>;
    if constexpr (std::is_integral_v<Value> && !std::is_same_v<Value, bool>) {
        s.*Member = static_cast<Value>(std::get<std::int64_t>(value));
    } else {
        s.*Member = std::get<Value>(value);
    }
}

template <auto Member>
SettingDescriptor setting(std::string_view id, std::string_view group, std::string_view label,
                          std::string_view sentence) {
    SettingDescriptor one{.id = id, .group = group, .label = label, .sentence = sentence};
    one.get = read<Member>;
    one.set = write<Member>;
    return one;
}

template <auto Member>
SettingDescriptor number(std::string_view id, std::string_view group, std::string_view label, std::string_view sentence,
                         std::string_view unit, std::int64_t low, std::int64_t high) {
    SettingDescriptor one = setting<Member>(id, group, label, sentence);
    one.unit = unit;
    one.low = low;
    one.high = high;
    return one;
}

template <auto Member>
SettingDescriptor formatNumber(std::string_view id, std::string_view label, std::string_view sentence, std::int64_t low,
                               std::int64_t high) {
    SettingDescriptor one{.id = id, .group = "Formatter", .label = label, .sentence = sentence, .unit = "columns"};
    one.low = low;
    one.high = high;
    one.get = [](const Settings& s) -> SettingValue { return static_cast<std::int64_t>(s.format.*Member); };
    one.set = [](Settings& s, const SettingValue& value) {
        s.format.*Member = static_cast<std::size_t>(std::get<std::int64_t>(value));
    };
    return one;
}

/// The formatter's choices are in a table of their own, which the command line reads too.
template <std::size_t Index>
SettingDescriptor formatChoice() {
    const sql::FormatChoice& choice = sql::formatChoices()[Index];
    SettingDescriptor one{.id = choice.setting, .group = "Formatter", .label = choice.help, .sentence = choice.help};
    one.words.assign(choice.words.begin(), choice.words.end());
    one.get = [](const Settings& s) -> SettingValue {
        const sql::FormatChoice& it = sql::formatChoices()[Index];
        return std::string(it.words[it.get(s.format)]);
    };
    one.set = [](Settings& s, const SettingValue& value) {
        sql::choose(s.format, sql::formatChoices()[Index], std::get<std::string>(value));
    };
    return one;
}

template <std::size_t... Index>
void addFormatChoices(std::vector<SettingDescriptor>& all, std::index_sequence<Index...>) {
    (all.push_back(formatChoice<Index>()), ...);
}

std::vector<SettingDescriptor> makeTable() {
    constexpr std::int64_t kMaxRows = std::int64_t{1} << 50;
    constexpr std::size_t kFormatChoices = 5;
    using S = Settings;
    std::vector<SettingDescriptor> all{
        setting<&S::theme>("theme", "Look", "Theme", "Colours of the whole window"),
        number<&S::textSize>("textSize", "Look", "Text size", "Of the editor; the window grows with it", "points", 6,
                             40),
        number<&S::gridTextSize>("gridTextSize", "Look", "Cell size", "Of the cells of a result", "points", 6, 40),
        setting<&S::isGridShaded>("gridShaded", "Look", "Shade every other row", "In the grid of a result"),
        setting<&S::isTextWrapped>("textWrapped", "Look", "Wrap long lines", "Long lines of a sheet go on below"),
        setting<&S::areBlanksShown>("blanksShown", "Look", "Show blanks", "Blanks of a sheet as dots, tabs as arrows"),
        setting<&S::areNumbersShown>("numbersShown", "Look", "Line numbers", "Beside the text of a sheet"),
        setting<&S::closesPairs>("closesPairs", "Completion", "Close brackets and quotes",
                                 "What is opened in a sheet is closed behind the caret; typing it goes past it"),
        number<&S::idleMinutes>("idleMinutes", "Connections", "Idle time",
                                "After which a sheet's connection that nothing holds open is closed", "minutes", 1,
                                100'000),
        number<&S::pageRows>("pageRows", "Results", "First page", "Rows that arrive before the reading pauses", "rows",
                             10, 1'000'000),
        number<&S::resultMegabytes>("resultMegabytes", "Results", "Memory for results",
                                    "For all results together; more goes to disk", "MB", 1, 1'000'000),
        setting<&S::keepsRows>("keepsRows", "Results", "Rows between starts",
                               "Small results are there again after the next start"),
        setting<&S::findingsOff>("findingsOff", "Findings", "Silent findings", "Names of findings that are not told"),
        number<&S::manyRows>("findingsManyRows", "Findings", "Large tables",
                             "A table with more is not read whole without a finding", "rows", 0, kMaxRows),
        setting<&S::offersLiveValues>("completionLiveValues", "Completion", "Values on live connections",
                                      "Completion may read the values of a column from a live database"),
        number<&S::ledgerDays>("ledgerDays", "Ledger", "Keep runs for",
                               "Older ones go, but for starred ones and those with a note; 0 keeps them for good",
                               "days", 0, 100'000),
        number<&S::ledgerRuns>("ledgerRuns", "Ledger", "Keep at most",
                               "The oldest beyond go, but for starred ones and those with a note; 0 keeps all", "runs",
                               0, kMaxRows),
        formatNumber<&sql::FormatOptions::width>("formatWidth", "Width", "Lines are broken to fit into it", 40, 400),
        formatNumber<&sql::FormatOptions::indentWidth>("formatIndent", "Indent", "Of what stands inside something", 1,
                                                       16)};
    addFormatChoices(all, std::make_index_sequence<kFormatChoices>());
    for (SettingDescriptor& one : all) {
        if (one.id == "gridTextSize") one.likeWhenMissing = "textSize";
    }
    return all;
}

}  // namespace

bool SettingDescriptor::isAllowed(const SettingValue& value) const {
    if (value.index() != get(Settings()).index()) return false;
    if (const auto* n = std::get_if<std::int64_t>(&value)) return *n >= low && *n <= high;
    const auto* word = std::get_if<std::string>(&value);
    return word == nullptr || words.empty() || std::ranges::find(words, *word) != words.end();
}

std::span<const SettingDescriptor> settingTable() {
    static const std::vector<SettingDescriptor> kTable = makeTable();
    return kTable;
}

const SettingDescriptor* settingNamed(std::string_view id) {
    const auto found = std::ranges::find(settingTable(), id, &SettingDescriptor::id);
    return found == settingTable().end() ? nullptr : &*found;
}

}  // namespace pantry::store
