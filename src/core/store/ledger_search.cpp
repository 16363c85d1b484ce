#include "core/store/ledger_search.h"

#include <fmt/format.h>

#include <algorithm>
#include <array>
#include <charconv>
#include <ctime>

#include "core/base/text.h"

namespace pantry::store {
namespace {

using Kind = LedgerTerm::Kind;
using Compared = LedgerTerm::Compared;

struct PlainWord {
    std::string_view word;
    Kind kind;
    std::string_view said;    ///< in words
    std::string_view denied;  ///< negated
};
constexpr std::array kPlain{
    PlainWord{"failed", Kind::Failed, "failed", "did not fail"},
    PlainWord{"stopped", Kind::Stopped, "was stopped", "was not stopped"},
    PlainWord{"held", Kind::HeldBack, "was held back", "was not held back"},
    PlainWord{"running", Kind::Running, "is running", "is not running"},
    PlainWord{"slow", Kind::Slow, "took a second or more", "took less than a second"},
    PlainWord{"starred", Kind::Starred, "is starred", "is not starred"},
    PlainWord{"noted", Kind::Noted, "has a note", "has no note"},
    PlainWord{"apart", Kind::Apart, "values apart", "equal but for values together"},
    PlainWord{"changes", Kind::Changes, "changes something", "changes nothing"},
};

struct NamedWord {
    std::string_view word;
    Kind kind;
    std::string_view said;
};
constexpr std::array kNamed{NamedWord{"table", Kind::Table, "names the table {}"},
                            NamedWord{"by", Kind::By, "run by {}"}, NamedWord{"on", Kind::On, "on {}"},
                            NamedWord{"sheet", Kind::Sheet, "from the sheet {}"},
                            NamedWord{"saved", Kind::Saved, "of the saved query {}"}};

constexpr std::array<LedgerSearchWord, 21> kWords{{{"failed", "runs that failed or were interrupted"},
                                                   {"stopped", "runs that somebody stopped"},
                                                   {"held", "runs that were held back"},
                                                   {"running", "runs that are not over"},
                                                   {"slow", "a second or more"},
                                                   {"starred", "runs with a star"},
                                                   {"noted", "runs with a note"},
                                                   {"changes", "statements that change rows or definitions"},
                                                   {"apart", "each value an entry of its own"},
                                                   {"today", "since midnight"},
                                                   {"yesterday", "the day before"},
                                                   {"since:2026-11-01", "on that day or later"},
                                                   {"before:2026-11-01", "earlier than that day"},
                                                   {"rows>1000", "rows returned or changed; also < and ="},
                                                   {"took>2s", "time at the server; also < and ms, min"},
                                                   {"table:plot", "statements that name the table"},
                                                   {"by:inspector", "the user at the server"},
                                                   {"on:Kitchen", "the connection"},
                                                   {"sheet:Jars", "the sheet it came from"},
                                                   {"saved:kitchen", "the saved query it came from"},
                                                   {"\"group by\"", "these words as they stand"}}};

/// The first moment of a day in the machine's time zone; `later` days after it.
std::optional<base::Moment> dayFrom(std::string_view text, int later = 0) {
    int year = 0;
    unsigned month = 0;
    unsigned day = 0;
    const auto read = [&](std::size_t at, std::size_t length, auto& into) {
        const char* end = text.data() + at + length;
        return std::from_chars(text.data() + at, end, into).ptr == end;
    };
    const bool isShape = text.size() == 10 && text[4] == '-' && text[7] == '-' && read(0, 4, year) &&
                         read(5, 2, month) && read(8, 2, day);
    const std::chrono::year_month_day date{std::chrono::year(year), std::chrono::month(month), std::chrono::day(day)};
    if (!isShape || !date.ok()) return std::nullopt;
    std::tm local{};
    local.tm_year = year - 1900;
    local.tm_mon = static_cast<int>(month) - 1;
    local.tm_mday = static_cast<int>(day) + later;
    local.tm_isdst = -1;
    return base::Moment(std::chrono::seconds(std::mktime(&local)));
}

base::Moment dayOf(base::Moment now, int later) { return *dayFrom(base::localDate(now), later); }

/// A number with or without a unit of time, in microseconds; `nullopt` for anything else.
std::optional<std::int64_t> durationFrom(std::string_view text) {
    double value = 0;
    const auto read = std::from_chars(text.data(), text.data() + text.size(), value);
    const std::string unit = base::toLower(text.substr(static_cast<std::size_t>(read.ptr - text.data())));
    const bool isNumber = read.ec == std::errc() && value >= 0 && value < 1e9;
    const double factor = unit == "ms"                   ? 1e3
                          : unit == "s" || unit.empty()  ? 1e6
                          : unit == "min" || unit == "m" ? 6e7
                          : unit == "h"                  ? 3.6e9
                                                         : 0;
    if (!isNumber || factor == 0) return std::nullopt;
    return static_cast<std::int64_t>(value * factor);
}

std::optional<std::int64_t> countFrom(std::string_view text) {
    std::int64_t value = 0;
    const auto read = std::from_chars(text.data(), text.data() + text.size(), value);
    const bool isAll = read.ec == std::errc() && read.ptr == text.data() + text.size() && !text.empty() && value >= 0;
    return isAll ? std::optional(value) : std::nullopt;
}

class SearchReader {
public:
    SearchReader(std::string_view text, base::Moment now) : text_(text), now_(now) {}

    LedgerSearch run() {
        while (skipBlanks()) readTerm();
        return std::move(out_);
    }

private:
    bool skipBlanks() {
        while (at_ < text_.size() && base::isAsciiBlank(text_[at_])) ++at_;
        return at_ < text_.size();
    }

    void readTerm() {
        term_ = {};
        term_.start = at_;
        term_.isNegated = text_[at_] == '-' && at_ + 1 < text_.size() && !base::isAsciiBlank(text_[at_ + 1]);
        if (term_.isNegated) ++at_;
        if (text_[at_] == '"') return add(Kind::Word, quoted());
        const std::size_t start = at_;
        while (at_ < text_.size() && !base::isAsciiBlank(text_[at_]) && text_[at_] != '"') ++at_;
        std::string_view word = text_.substr(start, at_ - start);
        const std::size_t colon = word.find(':');
        if (colon != std::string_view::npos && colon + 1 == word.size() && at_ < text_.size() && text_[at_] == '"') {
            const std::string value = quoted();
            if (!named(word.substr(0, colon), value)) add(Kind::Word, std::string(word) + value);
            return;
        }
        if (colon != std::string_view::npos && named(word.substr(0, colon), word.substr(colon + 1))) return;
        if (plain(word) || compared(word)) return;
        add(Kind::Word, std::string(word));
    }

    std::string quoted() {
        const std::size_t start = ++at_;
        const std::size_t end = std::min(text_.find('"', start), text_.size());
        at_ = std::min(end + 1, text_.size());
        return std::string(text_.substr(start, end - start));
    }

    void add(Kind kind, std::string text = {}) {
        const bool needsText = kind == Kind::Word;
        if (needsText && text.empty()) return;
        term_.kind = kind;
        term_.text = std::move(text);
        term_.length = at_ - term_.start;
        out_.terms.push_back(term_);
    }

    void complain(std::string message) {
        out_.problems.push_back({term_.start, at_ - term_.start, std::move(message)});
    }

    bool plain(std::string_view word) {
        if (base::equalsIgnoringCase(word, "today") || base::equalsIgnoringCase(word, "yesterday")) {
            const bool isToday = base::equalsIgnoringCase(word, "today");
            day(isToday ? 0 : -1);
            return true;
        }
        const auto known = std::ranges::find_if(
            kPlain, [&](const PlainWord& one) { return base::equalsIgnoringCase(one.word, word); });
        if (known == kPlain.end()) return false;
        add(known->kind);
        return true;
    }

    /// A day is two conditions, or, negated, what lies outside of it: that is told as what it is not.
    void day(int later) {
        if (term_.isNegated) {
            term_.isNegated = false;
            term_.moment = dayOf(now_, later);
            return add(Kind::Before);
        }
        term_.moment = dayOf(now_, later);
        add(Kind::Since);
        if (later == 0) return;
        term_.moment = dayOf(now_, later + 1);
        add(Kind::Before);
    }

    bool named(std::string_view word, std::string_view value) {
        if (base::equalsIgnoringCase(word, "since") || base::equalsIgnoringCase(word, "before")) {
            const auto moment = momentFrom(value);
            if (!moment) {
                complain(fmt::format("“{}” is no day. Write {}:2026-11-01, {}:today or {}:yesterday.", value, word,
                                     word, word));
                return true;
            }
            term_.moment = *moment;
            add(base::equalsIgnoringCase(word, "since") ? Kind::Since : Kind::Before);
            return true;
        }
        const auto known = std::ranges::find_if(
            kNamed, [&](const NamedWord& one) { return base::equalsIgnoringCase(one.word, word); });
        if (known == kNamed.end()) return false;
        if (value.empty()) {
            complain(fmt::format("A name is missing behind {}:.", known->word));
            return true;
        }
        add(known->kind, std::string(value));
        return true;
    }

    [[nodiscard]] std::optional<base::Moment> momentFrom(std::string_view value) const {
        if (base::equalsIgnoringCase(value, "today")) return dayOf(now_, 0);
        if (base::equalsIgnoringCase(value, "yesterday")) return dayOf(now_, -1);
        return dayFrom(value);
    }

    bool compared(std::string_view word) {
        const std::size_t sign = word.find_first_of("<>=");
        if (sign == std::string_view::npos) return false;
        const bool isRows = base::equalsIgnoringCase(word.substr(0, sign), "rows");
        const bool isTook = base::equalsIgnoringCase(word.substr(0, sign), "took");
        if (!isRows && !isTook) return false;
        const std::string_view value = word.substr(sign + 1);
        const auto number = isRows ? countFrom(value) : durationFrom(value);
        if (!number) {
            complain(isRows ? fmt::format("“{}” is no number of rows. Write rows>1000, rows<10 or rows=0.", value)
                            : fmt::format("“{}” is no time. Write took>2s, took>500ms or took>5min.", value));
            return true;
        }
        term_.number = *number;
        term_.compared = word[sign] == '>' ? Compared::Above : word[sign] == '<' ? Compared::Below : Compared::Equal;
        add(isRows ? Kind::Rows : Kind::Took);
        return true;
    }

    std::string_view text_;
    base::Moment now_;
    std::size_t at_ = 0;
    LedgerTerm term_;
    LedgerSearch out_;
};

std::string_view comparedInWords(const LedgerTerm& term) {
    switch (term.compared) {
        case Compared::Above: return term.isNegated ? "at most" : "more than";
        case Compared::Below: return term.isNegated ? "at least" : "fewer than";
        case Compared::Equal: break;
    }
    return term.isNegated ? "other than" : "exactly";
}

std::string momentInWords(base::Moment moment) {
    const std::string time = base::localTime(moment).substr(0, 5);
    return base::localDate(moment) + (time == "00:00" ? "" : " " + time);
}

}  // namespace

bool LedgerSearch::has(LedgerTerm::Kind kind) const {
    return std::ranges::any_of(terms, [kind](const LedgerTerm& one) { return one.kind == kind; });
}

LedgerAlike LedgerSearch::alike() const {
    const auto isApart = [](const LedgerTerm& one) { return one.kind == Kind::Apart && !one.isNegated; };
    return std::ranges::any_of(terms, isApart) ? LedgerAlike::Text : LedgerAlike::Form;
}

LedgerSearch parseLedgerSearch(std::string_view text, base::Moment now) { return SearchReader(text, now).run(); }

std::string explained(const LedgerTerm& term) {
    const bool isNot = term.isNegated;
    switch (term.kind) {
        case Kind::Word: return fmt::format("{} “{}”", isNot ? "without" : "contains", term.text);
        case Kind::Since: return fmt::format("{} {}", isNot ? "before" : "since", momentInWords(term.moment));
        case Kind::Before: return fmt::format("{} {}", isNot ? "since" : "before", momentInWords(term.moment));
        case Kind::Rows: return fmt::format("{} {}", comparedInWords(term), base::counted(term.number, "row", "rows"));
        case Kind::Took:
            return fmt::format("took {} {}",
                               term.compared == Compared::Below && !isNot ? "less than" : comparedInWords(term),
                               base::readable(std::chrono::microseconds(term.number)));
        default: break;
    }
    for (const PlainWord& one : kPlain) {
        if (one.kind == term.kind) return std::string(isNot ? one.denied : one.said);
    }
    for (const NamedWord& one : kNamed) {
        if (one.kind == term.kind) return (isNot ? "not " : "") + fmt::format(fmt::runtime(one.said), term.text);
    }
    return {};
}

std::span<const LedgerSearchWord> ledgerSearchWords() { return kWords; }

}  // namespace pantry::store
