#include "core/sql/complete/name_match.h"

#include <cctype>

#include "core/base/fuzzy.h"
#include "core/base/text.h"

namespace pantry::sql {
namespace {

constexpr int kWhole = 1000;
constexpr int kBeginning = 900;
constexpr int kLaterWord = 720;
constexpr int kSeveralWords = 560;
constexpr int kPart = 300;
constexpr int kStrewn = 60;

bool isCapital(char c) { return base::asciiLower(c) != c; }

bool beginsWord(std::string_view name, std::size_t i) {
    if (i == 0) return true;
    const char before = name[i - 1];
    if (before == '_' || before == '.' || before == ' ' || before == '-') return true;
    return isCapital(name[i]) && !isCapital(before);
}

/// Most names fail here, so that it has to be quick.
bool areInOrder(std::string_view typed, std::string_view name) {
    std::size_t found = 0;
    for (std::size_t i = 0; i < name.size() && found < typed.size(); ++i) {
        if (base::asciiLower(name[i]) == base::asciiLower(typed[found])) ++found;
    }
    return found == typed.size();
}

/// In a loop of its own: it is asked of each column of a database.
bool startsIgnoringCase(std::string_view name, std::size_t at, std::string_view typed) {
    if (at + typed.size() > name.size()) return false;
    for (std::size_t i = 0; i < typed.size(); ++i) {
        if (base::asciiLower(name[at + i]) != base::asciiLower(typed[i])) return false;
    }
    return true;
}

/// Whether the typed letters are beginnings of words, one after the other: fn or funa for full_name.
bool isOfWordBeginnings(std::string_view typed, std::string_view name, std::size_t from) {
    if (typed.empty()) return true;
    for (std::size_t i = from; i < name.size(); ++i) {
        if (!beginsWord(name, i)) continue;
        for (std::size_t n = 1; n <= typed.size() && startsIgnoringCase(name, i, typed.substr(0, n)); ++n) {
            if (isOfWordBeginnings(typed.substr(n), name, i + n)) return true;
        }
    }
    return false;
}

}  // namespace

std::optional<int> nameMatch(std::string_view typed, std::string_view name) {
    if (typed.empty()) return 0;
    if (startsIgnoringCase(name, 0, typed)) return typed.size() == name.size() ? kWhole : kBeginning;
    if (!areInOrder(typed, name)) return std::nullopt;
    bool isPart = false;
    for (std::size_t i = 1; i + typed.size() <= name.size(); ++i) {
        if (base::asciiLower(name[i]) != base::asciiLower(typed[0]) || !startsIgnoringCase(name, i, typed)) continue;
        if (beginsWord(name, i)) return kLaterWord;
        isPart = true;
    }
    constexpr std::size_t kLongest = 12;  // nobody abbreviates with more, and trying all ways takes its time
    if (typed.size() <= kLongest && isOfWordBeginnings(typed, name, 0)) return kSeveralWords;
    if (isPart && typed.size() > 1) return kPart;
    return typed.size() > 1 && base::fuzzyScore(typed, name) ? std::optional(kStrewn) : std::nullopt;
}

std::string_view lastWordOf(std::string_view name) {
    for (std::size_t i = name.size(); i-- > 0;) {
        if (beginsWord(name, i) && std::isalnum(static_cast<unsigned char>(name[i])) != 0) return name.substr(i);
    }
    return name;
}

int aliasFit(std::string_view alias, std::string_view relation) {
    constexpr int kItself = 120;
    constexpr int kInitials = 110;
    constexpr int kStart = 100;
    constexpr int kStartOfSeveral = 80;
    constexpr int kStartOfLast = 70;
    constexpr int kLettersInOrder = 50;
    if (alias.empty() || relation.empty()) return 0;
    // Every way but the last word's begins with its letter: most relations are told apart here.
    const bool beginsAlike = base::asciiLower(alias[0]) == base::asciiLower(relation[0]);
    if (!beginsAlike) return startsIgnoringCase(lastWordOf(relation), 0, alias) ? kStartOfLast : 0;
    if (base::equalsIgnoringCase(alias, relation)) return kItself;
    std::size_t words = 0;
    bool areInitials = true;
    for (std::size_t i = 0; i < relation.size(); ++i) {
        if (!beginsWord(relation, i) || relation[i] == '_') continue;
        areInitials =
            areInitials && words < alias.size() && base::asciiLower(alias[words]) == base::asciiLower(relation[i]);
        ++words;
    }
    if (words > 1 && areInitials && words == alias.size()) return kInitials;
    if (startsIgnoringCase(relation, 0, alias)) return words == 1 || alias.size() > 1 ? kStart : kStartOfSeveral;
    if (words > 1 && startsIgnoringCase(lastWordOf(relation), 0, alias)) return kStartOfLast;
    return base::fuzzyScore(alias, relation) ? kLettersInOrder : 0;
}

}  // namespace pantry::sql
