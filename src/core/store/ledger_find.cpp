// Finding runs: by an index where one leads to few of them, else one by one from the newest.
#include <fmt/format.h>
#include <sqlite3.h>

#include <algorithm>
#include <limits>
#include <set>
#include <unordered_map>
#include <variant>

#include "core/base/text.h"
#include "core/base/utf8.h"
#include "core/sql/text/fingerprint.h"
#include "core/store/ledger_impl.h"

namespace pantry::store {
namespace {

using Kind = LedgerTerm::Kind;
constexpr std::int64_t kFewStatements = 600;  // whose runs are put in order faster than others are looked at
constexpr std::int64_t kFewRuns = 6000;
constexpr std::size_t kShortestIndexedWord = 3;  // the trigram index finds nothing shorter
constexpr int kWindow = 2000;                    // runs that are looked at before somebody is answered

/// A word as a phrase of the full-text index: quotes doubled, in quotes.
std::string phrase(const std::string& word) {
    std::string out = "\"";
    for (const char c : word) out += c == '"' ? "\"\"" : std::string(1, c);
    return out + "\"";
}

std::string compareSign(const LedgerTerm& term) {
    switch (term.compared) {
        case LedgerTerm::Compared::Above: return ">";
        case LedgerTerm::Compared::Below: return "<";
        case LedgerTerm::Compared::Equal: break;
    }
    return "=";
}

/// SQL with what is bound to it, in order.
struct BoundSql {
    std::string sql;
    std::vector<std::variant<std::int64_t, std::string>> values;

    void add(std::string_view more) { sql += more; }
    void add(std::string_view more, std::variant<std::int64_t, std::string> value) {
        sql += more;
        values.push_back(std::move(value));
    }
};

/// What is looked at of a run before all of it is read.
struct Candidate {
    LedgerPlace place;
    std::int64_t form = 0;
    std::int64_t statementId = 0;
    bool hasWords = false;  ///< of its own: an error, or a note
    std::string connectionId;
};

/// One search: runs in the order of time, the newest first, a window of them at a time, so that no answer takes longer
/// the more runs there are. What a statement says is looked at once for each, however often it ran.
class LedgerReading {
public:
    LedgerReading(const LedgerDatabase& file, const LedgerQuery& query) : file_(file), query_(query) {}

    /// Whether everything that is asked for is in the table of folds.
    [[nodiscard]] bool isPlain() const { return query_.search.terms.empty(); }

    /// The first condition that leads to few runs gives them; the others are looked at for each.
    void chooseWay() {
        for (const LedgerTerm& term : query_.search.terms) {
            if (!hasIndex(term) || isCommon(term)) continue;
            const BoundSql statements = statementsWith(term);
            const auto count = countUpTo(statements, kFewStatements);
            if (!count || *count > kFewStatements) continue;
            BoundSql runs{"SELECT run_id FROM run WHERE statement_id IN (" + statements.sql + ")", statements.values};
            const auto many = countUpTo(runs, kFewRuns);
            if (!many || *many > kFewRuns) continue;
            if (term.kind == Kind::Word)
                runs.add(" UNION SELECT rowid FROM run_words WHERE run_words MATCH ?", phrase(term.text));
            hits_ = std::move(runs);
            way_ = &term;
            return;
        }
    }

    /// Where a window behind a place begins; nothing when it reaches to the first run of all.
    [[nodiscard]] Result<std::optional<base::Moment>> windowBehind(const std::optional<LedgerPlace>& behind) const {
        if (hits_) return std::optional<base::Moment>();
        BoundSql sql;
        sql.add(fmt::format("SELECT started_at FROM run{} WHERE {}", index(), indexCondition()));
        if (isOneConnection()) addConnections(sql, "connection_id");
        if (behind) sql.add(" AND started_at < ?", base::toMicroseconds(behind->startedAt));
        sql.add(fmt::format(" ORDER BY started_at DESC LIMIT 1 OFFSET {}", kWindow));
        auto s = prepare(sql);
        if (!s) return s.error();
        const int code = sqlite3_step(s->get());
        if (code == SQLITE_DONE) return std::optional<base::Moment>();
        if (code != SQLITE_ROW) return file_.error(code);
        return std::optional(base::fromMicroseconds(sqlite3_column_int64(s->get(), 0)));
    }

    /// `each` hears of one run after the other that fits what is known without its texts, until it returns false.
    template <class Each>
    Result<bool> read(const std::optional<LedgerPlace>& behind, std::optional<base::Moment> from,
                      const Each& each) const {
        auto s = prepare(candidates(behind, from));
        if (!s) return s.error();
        int code = sqlite3_step(s->get());
        for (; code == SQLITE_ROW; code = sqlite3_step(s->get())) {
            const Candidate one{
                .place = {base::fromMicroseconds(sqlite3_column_int64(s->get(), 1)), sqlite3_column_int64(s->get(), 0)},
                .form = sqlite3_column_int64(s->get(), 2),
                .statementId = sqlite3_column_int64(s->get(), 3),
                .hasWords = sqlite3_column_int(s->get(), 4) != 0,
                .connectionId = columnText(*s, 5)};
            if (!each(one)) return false;
        }
        if (code != SQLITE_DONE) return file_.error(code);
        return true;
    }

    /// Whether a run's texts fit too.
    Result<bool> fits(const Candidate& run) {
        std::size_t place = 0;
        for (const LedgerTerm& term : query_.search.terms) {
            const bool isOfText = (term.kind == Kind::Word || term.kind == Kind::Table) && &term != way_;
            if (!isOfText) continue;
            const auto isIn = isInStatement(term, place++, run.statementId);
            if (!isIn) return isIn.error();
            bool isThere = *isIn;
            if (!isThere && run.hasWords && term.kind == Kind::Word) {
                const auto isInRun = isInWords(term, run.place.id);
                if (!isInRun) return isInRun.error();
                isThere = *isInRun;
            }
            if (isThere == term.isNegated) return false;
        }
        return true;
    }

    Result<LedgerEntry> entry(std::int64_t id) const {
        static const std::string kSql =
            fmt::format("SELECT {} FROM run JOIN statement USING (statement_id) WHERE run_id = ?", kRunColumns);
        auto s = file_.kept(kSql.c_str());
        if (!s) return s.error();
        sqlite3_bind_int64(s->get(), 1, id);
        const int code = sqlite3_step(s->get());
        if (code != SQLITE_ROW) return file_.error(code == SQLITE_DONE ? SQLITE_CORRUPT : code);
        return entryFrom(*s);
    }

    Result<LedgerStatement> prepare(const BoundSql& sql) const {
        auto s = file_.prepare(sql.sql);
        if (!s) return s;
        int index = 0;
        for (const auto& value : sql.values) {
            ++index;
            if (const auto* number = std::get_if<std::int64_t>(&value)) {
                sqlite3_bind_int64(s->get(), index, *number);
            } else {
                bindText(*s, index, std::get<std::string>(value));
            }
        }
        return s;
    }

    void addConnections(BoundSql& sql, std::string_view column) const {
        if (query_.connections.empty()) return;
        sql.add(fmt::format(" AND {} IN (", column));
        for (std::size_t i = 0; i < query_.connections.size(); ++i)
            sql.add(i == 0 ? "?" : ", ?", query_.connections[i]);
        sql.add(")");
    }

private:
    [[nodiscard]] std::optional<std::int64_t> countUpTo(const BoundSql& source, std::int64_t most) const {
        BoundSql sql = source;
        sql.sql = fmt::format("SELECT count(*) FROM ({} LIMIT {})", source.sql, most + 1);
        auto s = prepare(sql);
        if (!s || sqlite3_step(s->get()) != SQLITE_ROW) return std::nullopt;
        return sqlite3_column_int64(s->get(), 0);
    }

    /// A word that many of the newest statements have: looking at runs one by one finds it at once, while the index
    /// would put together thousands of them first.
    [[nodiscard]] bool isCommon(const LedgerTerm& term) const {
        constexpr std::int64_t kMany = 6;
        if (term.kind != Kind::Word) return false;
        BoundSql sql;
        sql.add(
            "SELECT sum(pantry_contains(text, ?)) FROM (SELECT text FROM statement ORDER BY statement_id DESC LIMIT "
            "200)",
            term.text);
        auto s = prepare(sql);
        return s && sqlite3_step(s->get()) == SQLITE_ROW && sqlite3_column_int64(s->get(), 0) >= kMany;
    }

    static BoundSql statementsWith(const LedgerTerm& term) {
        BoundSql sql;
        if (term.kind == Kind::Table) {
            sql.add("SELECT statement_id FROM statement_relation WHERE relation = ?", base::toLower(term.text));
        } else {
            sql.add("SELECT rowid FROM statement_text WHERE statement_text MATCH ?", phrase(term.text));
        }
        return sql;
    }

    static bool hasIndex(const LedgerTerm& term) {
        if (term.isNegated) return false;
        return term.kind == Kind::Table ||
               (term.kind == Kind::Word && base::codePointCount(term.text) >= kShortestIndexedWord);
    }

    [[nodiscard]] BoundSql candidates(const std::optional<LedgerPlace>& behind,
                                      std::optional<base::Moment> from) const {
        constexpr std::string_view kColumns =
            "run.run_id, run.started_at, run.form, run.statement_id, run.error <> '' OR run.note <> '', "
            "run.connection_id";
        BoundSql sql;
        if (hits_) {
            sql = *hits_;
            sql.sql = fmt::format(
                "WITH hit (run_id) AS MATERIALIZED ({}) SELECT {} FROM hit CROSS JOIN run USING "
                "(run_id) WHERE 1",
                hits_->sql, kColumns);
        } else {
            sql.add(fmt::format("SELECT {} FROM run{} WHERE {}", kColumns, index(), indexCondition()));
        }
        addConnections(sql, hits_ || isOneConnection() ? "run.connection_id" : "+run.connection_id");
        for (const LedgerTerm& term : query_.search.terms) addTerm(sql, term);
        if (behind) {
            sql.add(" AND (run.started_at, run.run_id) < (?", base::toMicroseconds(behind->startedAt));
            sql.add(", ?)", behind->id);
        }
        if (const auto first = earliest(from)) sql.add(" AND run.started_at >= ?", base::toMicroseconds(*first));
        sql.add(" ORDER BY run.started_at DESC, run.run_id DESC");
        return sql;
    }

    /// Where both a window and somebody say from when on, the later moment: SQLite would go by one of two bounds, and
    /// through all runs down to it.
    [[nodiscard]] std::optional<base::Moment> earliest(std::optional<base::Moment> from) const {
        for (const LedgerTerm& term : query_.search.terms) {
            if (term.kind == Kind::Since && !term.isNegated && (!from || *from < term.moment)) from = term.moment;
        }
        return from;
    }

    [[nodiscard]] bool isOneConnection() const { return query_.connections.size() == 1; }

    [[nodiscard]] bool asksFor(Kind kind) const {
        return std::ranges::any_of(query_.search.terms,
                                   [kind](const LedgerTerm& one) { return one.kind == kind && !one.isNegated; });
    }

    /// In the order of time, so that nothing has to be sorted: SQLite does not know how many runs fail.
    [[nodiscard]] std::string_view index() const {
        if (asksFor(Kind::Starred)) return " INDEXED BY run_starred";
        if (asksFor(Kind::Failed)) return " INDEXED BY run_failed";
        if (asksFor(Kind::Slow)) return " INDEXED BY run_slow";
        return isOneConnection() ? " INDEXED BY run_by_connection" : " INDEXED BY run_by_time";
    }
    [[nodiscard]] std::string_view indexCondition() const {
        if (asksFor(Kind::Starred)) return "is_starred = 1";
        if (asksFor(Kind::Failed)) return "status IN ('failed', 'interrupted')";
        return asksFor(Kind::Slow) ? "duration >= 1000000" : "1";
    }

    /// What a run's own columns tell.
    static void addTerm(BoundSql& sql, const LedgerTerm& term) {
        const std::string not_ = term.isNegated ? "NOT " : "";
        const auto also = [&](const std::string& condition) { sql.add(" AND " + not_ + "(" + condition + ")"); };
        const auto alsoWith = [&](const std::string& condition, std::variant<std::int64_t, std::string> value) {
            sql.add(" AND " + not_ + "(" + condition + ")", std::move(value));
        };
        switch (term.kind) {
            case Kind::Word:
            case Kind::Table:
            case Kind::Apart: return;
            case Kind::Failed: return also("run.status IN ('failed', 'interrupted')");
            case Kind::Stopped: return also("run.status = 'stopped'");
            case Kind::HeldBack: return also("run.status = 'held'");
            case Kind::Running: return also("run.status = 'running'");
            case Kind::Slow: return also("run.duration >= 1000000");
            case Kind::Starred: return also("run.is_starred = 1");
            case Kind::Noted: return also("run.note <> ''");
            case Kind::Changes: return also("run.changes = 1");
            case Kind::Since: return alsoWith("+run.started_at >= ?", base::toMicroseconds(term.moment));
            case Kind::Before: return alsoWith("run.started_at < ?", base::toMicroseconds(term.moment));
            case Kind::Rows:
                return alsoWith("max(ifnull(run.row_count, 0), ifnull(run.affected, 0)) " + compareSign(term) + " ?",
                                term.number);
            case Kind::Took: return alsoWith("run.duration - run.fetching " + compareSign(term) + " ?", term.number);
            case Kind::By: return alsoWith("pantry_begins(run.user, ?)", term.text);
            case Kind::On: return alsoWith("pantry_begins(run.connection, ?)", term.text);
            case Kind::Sheet: return alsoWith("pantry_begins(run.sheet, ?)", term.text);
            case Kind::Saved: return alsoWith("run.saved <> '' AND pantry_begins(run.saved, ?)", term.text);
        }
    }

    /// `place`: among the conditions of texts, for what is remembered of a statement.
    Result<bool> isInStatement(const LedgerTerm& term, std::size_t place, std::int64_t statement) {
        constexpr std::size_t kRemembered = 32;
        const std::uint64_t known = 1ULL << (2 * std::min(place, kRemembered - 1));
        std::uint64_t& said = ofStatement_[statement];
        if (place < kRemembered && (said & known) != 0) return (said & known << 1U) != 0;
        const char* sql =
            term.kind == Kind::Table
                ? "SELECT EXISTS (SELECT 1 FROM statement_relation WHERE relation = ?2 AND statement_id = ?1)"
                : "SELECT pantry_contains(text, ?2) FROM statement WHERE statement_id = ?1";
        auto isIn = asks(sql, statement, term.kind == Kind::Table ? base::toLower(term.text) : term.text);
        if (isIn && place < kRemembered) said |= known | (*isIn ? known << 1U : 0);
        return isIn;
    }

    Result<bool> isInWords(const LedgerTerm& term, std::int64_t run) const {
        return asks("SELECT pantry_contains(error, ?2) OR pantry_contains(note, ?2) FROM run WHERE run_id = ?1", run,
                    term.text);
    }

    Result<bool> asks(const char* sql, std::int64_t number, const std::string& text) const {
        auto s = file_.kept(sql);
        if (!s) return s.error();
        sqlite3_bind_int64(s->get(), 1, number);
        bindText(*s, 2, text);
        const int code = sqlite3_step(s->get());
        if (code != SQLITE_ROW) return file_.error(code);
        return sqlite3_column_int(s->get(), 0) != 0;
    }

    const LedgerDatabase& file_;
    const LedgerQuery& query_;
    std::optional<BoundSql> hits_;
    const LedgerTerm* way_ = nullptr;
    std::unordered_map<std::int64_t, std::uint64_t> ofStatement_;  // for each condition: known, and so
};

std::string_view textOf(sqlite3_value* value) {
    const auto* text = reinterpret_cast<const char*>(sqlite3_value_text(value));
    return text == nullptr ? std::string_view()
                           : std::string_view(text, static_cast<std::size_t>(sqlite3_value_bytes(value)));
}

/// Whether a text has the other in it, in whatever case of letters.
void containsFunction(sqlite3_context* context, int /*count*/, sqlite3_value** values) {
    sqlite3_result_int(context, base::findIgnoringCase(textOf(values[0]), textOf(values[1])) != std::string_view::npos);
}

bool isWordLetter(char c) {
    const char small = base::asciiLower(c);
    return (small >= 'a' && small <= 'z') || (c >= '0' && c <= '9') || (static_cast<unsigned char>(c) & 0x80U) != 0;
}

/// Whether a name, or a word of it, begins so.
void beginsFunction(sqlite3_context* context, int /*count*/, sqlite3_value** values) {
    const std::string_view name = textOf(values[0]);
    const std::string_view start = textOf(values[1]);
    bool begins = false;
    for (std::size_t i = 0; i < name.size() && !begins; ++i) {
        const bool isWord = i == 0 || !isWordLetter(name[i - 1]);
        begins = isWord && base::startsWithIgnoringCase(name.substr(i), start);
    }
    sqlite3_result_int(context, begins);
}

/// The last runs of a fold, the oldest first.
Status readPoints(const LedgerStatement& s, std::int64_t key, LedgerFold& fold) {
    sqlite3_reset(s.get());
    sqlite3_bind_int64(s.get(), 1, key);
    bindText(s, 2, fold.last.start.connectionId);
    while (sqlite3_step(s.get()) == SQLITE_ROW) {
        fold.points.push_back({.id = sqlite3_column_int64(s.get(), 0),
                               .startedAt = base::fromMicroseconds(sqlite3_column_int64(s.get(), 1)),
                               .status = statusFrom(columnText(s, 2)),
                               .duration = std::chrono::microseconds(sqlite3_column_int64(s.get(), 3)),
                               .rows = columnOptional(s, 4)});
    }
    std::ranges::reverse(fold.points);
    return {};
}

/// What runs are alike by: a column of theirs, with the index that leads to it.
struct Likeness {
    std::string_view column;
    std::string_view index;
    std::int64_t LedgerEntry::*key;
};
constexpr Likeness kByForm{"form", "run_by_form", &LedgerEntry::form};
constexpr Likeness kByText{"statement_id", "run_by_statement", &LedgerEntry::statementId};

const Likeness& likenessOf(LedgerAlike alike) { return alike == LedgerAlike::Text ? kByText : kByForm; }

Status addCounts(const LedgerDatabase& file, const Likeness& like, LedgerPage& page) {
    // By form they are counted already.
    auto runs = file.prepare(like.key == kByForm.key
                                 ? "SELECT runs FROM fold WHERE connection_id = ? AND form = ?"
                                 : "SELECT count(*) FROM run INDEXED BY run_by_statement WHERE connection_id = ? AND "
                                   "statement_id = ?");
    if (!runs) return runs.error();
    auto points = file.prepare(
        fmt::format("SELECT run_id, started_at, status, duration, row_count FROM run INDEXED BY {} WHERE {} = "
                    "? AND connection_id = ? ORDER BY started_at DESC LIMIT {}",
                    like.index, like.column, LedgerFold::kMostPoints));
    if (!points) return points.error();
    for (LedgerFold& fold : page.folds) {
        sqlite3_reset(runs->get());
        bindText(*runs, 1, fold.last.start.connectionId);
        sqlite3_bind_int64(runs->get(), 2, fold.last.*like.key);
        if (sqlite3_step(runs->get()) == SQLITE_ROW) fold.runs = sqlite3_column_int64(runs->get(), 0);
        if (Status status = readPoints(*points, fold.last.*like.key, fold); !status) return status;
    }
    return {};
}

LedgerPlace placeOf(const LedgerEntry& entry) { return {entry.startedAt, entry.id}; }

/// Nothing is looked for: what ran last is written in the table of folds.
Result<LedgerPage> readFolds(const LedgerDatabase& file, const LedgerQuery& query, const LedgerReading& reading) {
    BoundSql sql;
    const bool isOne = query.connections.size() == 1;
    sql.add(
        fmt::format("SELECT {} FROM fold INDEXED BY {} CROSS JOIN run ON run.run_id = fold.last_run CROSS JOIN "
                    "statement USING (statement_id) WHERE 1",
                    kRunColumns, isOne ? "fold_by_connection" : "fold_by_time"));
    reading.addConnections(sql, isOne ? "fold.connection_id" : "+fold.connection_id");
    if (query.behind) sql.add(" AND fold.last_at < ?", base::toMicroseconds(query.behind->startedAt));
    sql.add(fmt::format(" ORDER BY fold.last_at DESC LIMIT {}", query.limit));
    auto s = reading.prepare(sql);
    if (!s) return s.error();
    LedgerPage page;
    int code = sqlite3_step(s->get());
    for (; code == SQLITE_ROW; code = sqlite3_step(s->get()))
        page.folds.push_back({.last = entryFrom(*s), .points = {}});
    if (code != SQLITE_DONE) return file.error(code);
    if (page.folds.size() == query.limit) page.next = placeOf(page.folds.back().last);
    if (Status status = addCounts(file, kByForm, page); !status) return status.error();
    return page;
}

}  // namespace

Status LedgerDatabase::addFunctions() const {
    constexpr int kFlags = SQLITE_UTF8 | SQLITE_DETERMINISTIC;
    for (const auto& [name, function] :
         {std::pair{"pantry_contains", &containsFunction}, std::pair{"pantry_begins", &beginsFunction}}) {
        const int code = sqlite3_create_function(db, name, 2, kFlags, nullptr, function, nullptr, nullptr);
        if (code != SQLITE_OK) return error(code);
    }
    return {};
}

namespace {

/// Looks at runs window by window until `take` has enough, the first run of all was looked at, or as many windows as
/// nobody wants to wait for. Returns: where it goes on.
template <class Take>
Result<std::optional<LedgerPlace>> readWindows(LedgerReading& reading, std::optional<LedgerPlace> behind, int most,
                                               const Take& take) {
    reading.chooseWay();
    for (int window = 0; window < most; ++window) {
        const auto from = reading.windowBehind(behind);
        if (!from) return from.error();
        std::optional<Error> problem;
        std::optional<LedgerPlace> last;
        const auto isWhole = reading.read(behind, *from, [&](const Candidate& one) {
            const Result<bool> goesOn = take(one);
            if (!goesOn) problem = goesOn.error();
            last = one.place;
            return goesOn && *goesOn;
        });
        if (!isWhole) return isWhole.error();
        if (problem) return *problem;
        if (!*isWhole) return last;
        if (!*from) return std::optional<LedgerPlace>();
        behind = LedgerPlace{**from, 0};  // every run of that moment was looked at
    }
    return behind;
}

}  // namespace

Result<std::vector<LedgerEntry>> Ledger::find(const LedgerQuery& query) const {
    std::vector<LedgerEntry> entries;
    LedgerReading reading(impl_->file, query);
    const auto end =
        readWindows(reading, query.behind, std::numeric_limits<int>::max(), [&](const Candidate& one) -> Result<bool> {
            const auto isIt = reading.fits(one);
            if (!isIt) return isIt.error();
            if (!*isIt) return true;
            auto entry = reading.entry(one.place.id);
            if (!entry) return entry.error();
            entries.push_back(std::move(*entry));
            return entries.size() < query.limit;
        });
    if (!end) return end.error();
    return entries;
}

Result<LedgerPage> Ledger::findFolded(const LedgerQuery& query) const {
    LedgerReading reading(impl_->file, query);
    if (reading.isPlain()) return readFolds(impl_->file, query, reading);
    LedgerPage page;
    const LedgerAlike alike = query.search.alike();
    std::set<std::pair<std::int64_t, std::string>> seen;
    const auto end = readWindows(reading, query.behind, 1, [&](const Candidate& one) -> Result<bool> {
        const std::pair key(alike == LedgerAlike::Text ? one.statementId : one.form, one.connectionId);
        if (seen.contains(key)) return true;
        const auto isIt = reading.fits(one);
        if (!isIt) return isIt.error();
        if (!*isIt) return true;
        seen.insert(key);
        auto entry = reading.entry(one.place.id);
        if (!entry) return entry.error();
        page.folds.push_back({.last = std::move(*entry), .points = {}});
        return page.folds.size() < query.limit;
    });
    if (!end) return end.error();
    page.next = *end;
    if (Status status = addCounts(impl_->file, likenessOf(alike), page); !status) return status.error();
    return page;
}

Result<std::optional<LedgerEntry>> Ledger::lastGoodRun(const std::string& connectionId, const std::string& statement,
                                                       const sql::Language& language) const {
    static const std::string kSql = fmt::format(
        "SELECT {} FROM statement CROSS JOIN run INDEXED BY run_by_statement USING (statement_id) WHERE "
        "statement.exact = "
        "? AND run.connection_id = ? AND run.status = 'ok' ORDER BY run.started_at DESC LIMIT 1",
        kRunColumns);
    auto s = impl_->file.kept(kSql.c_str());
    if (!s) return s.error();
    sqlite3_bind_int64(s->get(), 1, sql::fingerprintOf(statement, language).exact);
    bindText(*s, 2, connectionId);
    const int code = sqlite3_step(s->get());
    if (code == SQLITE_DONE) return std::optional<LedgerEntry>();
    if (code != SQLITE_ROW) return impl_->file.error(code);
    return std::optional(entryFrom(*s));
}

Result<std::optional<LedgerEntry>> Ledger::lastOfSaved(const std::string& saved) const {
    if (saved.empty()) return std::optional<LedgerEntry>();
    auto s = impl_->file.prepare(fmt::format(
        "SELECT {} FROM run INDEXED BY run_by_saved CROSS JOIN statement USING (statement_id) WHERE run.saved = ? AND "
        "run.saved <> '' ORDER BY run.started_at DESC LIMIT 1",
        kRunColumns));
    if (!s) return s.error();
    bindText(*s, 1, saved);
    const int code = sqlite3_step(s->get());
    if (code == SQLITE_DONE) return std::optional<LedgerEntry>();
    if (code != SQLITE_ROW) return impl_->file.error(code);
    return std::optional(entryFrom(*s));
}

Result<std::vector<LedgerEntry>> Ledger::runsLike(const LedgerEntry& entry, std::size_t limit,
                                                  LedgerAlike alike) const {
    const Likeness& like = likenessOf(alike);
    auto s = impl_->file.prepare(
        fmt::format("SELECT {} FROM run INDEXED BY {} CROSS JOIN statement USING (statement_id) WHERE run.{} = "
                    "? AND run.connection_id = ? ORDER BY run.started_at DESC LIMIT {}",
                    kRunColumns, like.index, like.column, limit));
    if (!s) return s.error();
    sqlite3_bind_int64(s->get(), 1, entry.*like.key);
    bindText(*s, 2, entry.start.connectionId);
    std::vector<LedgerEntry> entries;
    int code = sqlite3_step(s->get());
    for (; code == SQLITE_ROW; code = sqlite3_step(s->get())) entries.push_back(entryFrom(*s));
    if (code != SQLITE_DONE) return impl_->file.error(code);
    return entries;
}

Result<std::vector<LedgerEntry>> Ledger::runsAt(base::Moment moment) const {
    auto s = impl_->file.prepare(fmt::format(
        "SELECT {} FROM run INDEXED BY run_by_time CROSS JOIN statement USING (statement_id) WHERE run.started_at = ?",
        kRunColumns));
    if (!s) return s.error();
    sqlite3_bind_int64(s->get(), 1, base::toMicroseconds(moment));
    std::vector<LedgerEntry> entries;
    int code = sqlite3_step(s->get());
    for (; code == SQLITE_ROW; code = sqlite3_step(s->get())) entries.push_back(entryFrom(*s));
    if (code != SQLITE_DONE) return impl_->file.error(code);
    return entries;
}

}  // namespace pantry::store
