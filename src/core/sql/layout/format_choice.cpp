#include "core/sql/layout/format_choice.h"

#include <algorithm>
#include <array>

namespace pantry::sql {
namespace {

constexpr std::string_view kKeywordWords[] = {"upper", "lower", "keep"};
constexpr std::string_view kCommaWords[] = {"trailing", "leading"};
constexpr std::string_view kLogicWords[] = {"start", "end"};
constexpr std::string_view kItemWords[] = {"lines", "filled"};
constexpr std::string_view kAlignWords[] = {"definitions", "all", "none"};

template <auto Member>
std::size_t valueOf(const FormatOptions& o) {
    return static_cast<std::size_t>(o.*Member);
}

template <auto Member, class Value>
void assign(FormatOptions& o, std::size_t word) {
    o.*Member = static_cast<Value>(word);
}

constexpr auto kChoices = std::to_array<FormatChoice>({
    {"keywords", "formatKeywords", "Case of keywords", kKeywordWords, valueOf<&FormatOptions::keywords>,
     assign<&FormatOptions::keywords, KeywordCase>},
    {"commas", "formatCommas", "Commas at the end of a line or at the beginning of the next", kCommaWords,
     valueOf<&FormatOptions::commas>, assign<&FormatOptions::commas, CommaPlace>},
    {"and-or", "formatAndOr", "AND and OR at the start of a line or at its end", kLogicWords,
     valueOf<&FormatOptions::logic>, assign<&FormatOptions::logic, LogicPlace>},
    {"items", "formatItems", "Select items on lines of their own, or filling the lines", kItemWords,
     valueOf<&FormatOptions::selectItems>, assign<&FormatOptions::selectItems, SelectItems>},
    {"align", "formatAlign", "What is aligned in columns: table definitions, names in select lists too, or nothing",
     kAlignWords, valueOf<&FormatOptions::alignment>, assign<&FormatOptions::alignment, Alignment>},
});

}  // namespace

std::span<const FormatChoice> formatChoices() { return kChoices; }

bool choose(FormatOptions& options, const FormatChoice& choice, std::string_view word) {
    const auto found = std::ranges::find(choice.words, word);
    if (found == choice.words.end()) return false;
    choice.set(options, static_cast<std::size_t>(found - choice.words.begin()));
    return true;
}

}  // namespace pantry::sql
