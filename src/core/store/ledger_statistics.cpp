#include "core/store/ledger_statistics.h"

#include <fmt/format.h>

#include <algorithm>

#include "core/store/ledger_impl.h"

namespace pantry::store {
namespace {

constexpr int kEach = 8;  // entries of a list
constexpr int kMostDays = 30;

/// Asks one question after the other about the same runs.
class Counting {
public:
    Counting(const LedgerDatabase& file, const std::vector<std::string>& connections, base::Moment since)
        : file_(file), connections_(connections), since_(since) {}

    Result<LedgerStatistics> all() {
        LedgerStatistics out;
        Status done = forms("count(*) DESC", out.most);
        if (done) done = forms("total DESC", out.longest, " HAVING total > 0");
        if (done) done = forms("failed DESC", out.failing, " HAVING failed > 0");
        if (done) done = slower(out.slower);
        if (done) done = hours(out);
        if (done) done = days(out);
        if (!done) return done.error();
        return out;
    }

private:
    [[nodiscard]] std::string condition() const {
        std::string sql = "started_at >= ? AND status <> 'running'";
        if (connections_.empty()) return sql;
        sql += " AND connection_id IN (?";
        for (std::size_t i = 1; i < connections_.size(); ++i) sql += ", ?";
        return sql + ")";
    }
    Result<LedgerStatement> prepare(const std::string& sql) const {
        auto s = file_.prepare(sql);
        if (!s) return s;
        sqlite3_bind_int64(s->get(), 1, base::toMicroseconds(since_));
        int place = 2;
        for (const std::string& one : connections_) bindText(*s, place++, one);
        return s;
    }
    /// Calls something with each row.
    template <class Take>
    Status each(const std::string& sql, Take take) const {
        auto s = prepare(sql);
        if (!s) return s.error();
        int code = sqlite3_step(s->get());
        for (; code == SQLITE_ROW; code = sqlite3_step(s->get())) {
            if (Status taken = take(*s); !taken) return taken;
        }
        return code == SQLITE_DONE ? Status() : Status(file_.error(code));
    }
    /// The last run of a form on a connection.
    [[nodiscard]] Result<LedgerEntry> lastOf(const std::string& connection, std::int64_t form) const {
        static const std::string kSql = fmt::format(
            "SELECT {} FROM run INDEXED BY run_by_form CROSS JOIN statement USING (statement_id) WHERE run.form = ? "
            "AND "
            "run.connection_id = ? ORDER BY run.started_at DESC LIMIT 1",
            kRunColumns);
        auto s = file_.kept(kSql.c_str());
        if (!s) return s.error();
        sqlite3_bind_int64(s->get(), 1, form);
        bindText(*s, 2, connection);
        const int code = sqlite3_step(s->get());
        if (code != SQLITE_ROW) return file_.error(code);
        return entryFrom(*s);
    }

    Status forms(std::string_view order, std::vector<RunCount>& into, std::string_view having = "") const {
        const auto sql = fmt::format(
            "SELECT connection_id, form, count(*), sum(status IN ('failed', 'interrupted')) AS failed, sum(CASE WHEN "
            "status = 'ok' THEN duration ELSE 0 END) AS total FROM run INDEXED BY run_by_form WHERE {} GROUP BY form, "
            "connection_id{} ORDER "
            "BY {} "
            "LIMIT "
            "{}",
            condition(), having, order, kEach);
        return each(sql, [&](const LedgerStatement& s) -> Status {
            auto last = lastOf(columnText(s, 0), sqlite3_column_int64(s.get(), 1));
            if (!last) return last.error();
            into.push_back({.last = std::move(*last),
                            .runs = sqlite3_column_int64(s.get(), 2),
                            .failed = sqlite3_column_int64(s.get(), 3),
                            .total = std::chrono::microseconds(sqlite3_column_int64(s.get(), 4))});
            return {};
        });
    }

    /// The last five that went well against the twenty before them.
    Status slower(std::vector<RunCount>& into) const {
        const auto sql = fmt::format(
            "SELECT connection_id, form, avg(CASE WHEN n <= 5 THEN duration END) AS late, avg(CASE WHEN n > 5 THEN "
            "duration END) AS early, min(CASE WHEN n <= 5 THEN started_at END), count(*) FROM (SELECT connection_id, "
            "form, duration, started_at, row_number() OVER (PARTITION BY form, connection_id ORDER BY started_at DESC) "
            "AS "
            "n FROM run INDEXED BY run_by_form WHERE {} AND status = 'ok') WHERE n <= 25 GROUP BY form, connection_id "
            "HAVING count(*) >= 8 "
            "AND "
            "late > 2 * early AND late > early + 50000 ORDER BY late / early DESC LIMIT {}",
            condition(), kEach);
        return each(sql, [&](const LedgerStatement& s) -> Status {
            auto last = lastOf(columnText(s, 0), sqlite3_column_int64(s.get(), 1));
            if (!last) return last.error();
            into.push_back(
                {.last = std::move(*last),
                 .runs = sqlite3_column_int64(s.get(), 5),
                 .times = sqlite3_column_double(s.get(), 2) / std::max(1.0, sqlite3_column_double(s.get(), 3)),
                 .since = base::fromMicroseconds(sqlite3_column_int64(s.get(), 4))});
            return {};
        });
    }

    /// Runs by quarters of an hour, which no time zone cuts: local times of them are worked out once, not of each run.
    [[nodiscard]] std::string quarters() const {
        return fmt::format(
            "SELECT started_at / 900000000 AS quarter, count(*) AS runs, sum(status IN ('failed', 'interrupted')) AS "
            "failed FROM run INDEXED BY run_by_form WHERE {} GROUP BY 1",
            condition());
    }

    Status hours(LedgerStatistics& out) const {
        const auto sql = fmt::format(
            "SELECT CAST(strftime('%H', quarter * 900, 'unixepoch', 'localtime') AS INTEGER), sum(runs), sum(failed) "
            "FROM ({}) GROUP BY 1",
            quarters());
        return each(sql, [&](const LedgerStatement& s) -> Status {
            const auto hour = static_cast<std::size_t>(sqlite3_column_int(s.get(), 0));
            out.byHour.at(hour % 24) += sqlite3_column_int64(s.get(), 1);
            out.runs += sqlite3_column_int64(s.get(), 1);
            out.failed += sqlite3_column_int64(s.get(), 2);
            return {};
        });
    }

    Status days(LedgerStatistics& out) const {
        const auto sql = fmt::format(
            "SELECT date(quarter * 900, 'unixepoch', 'localtime'), sum(runs), sum(failed) FROM ({}) GROUP BY 1 ORDER "
            "BY 1 DESC LIMIT {}",
            quarters(), kMostDays);
        Status done = each(sql, [&](const LedgerStatement& s) -> Status {
            out.days.push_back({columnText(s, 0), sqlite3_column_int64(s.get(), 1), sqlite3_column_int64(s.get(), 2)});
            return {};
        });
        std::ranges::reverse(out.days);
        return done;
    }

    const LedgerDatabase& file_;
    const std::vector<std::string>& connections_;
    base::Moment since_;
};

}  // namespace

Result<LedgerStatistics> Ledger::statistics(const std::vector<std::string>& connections, base::Moment since) const {
    return Counting(impl_->file, connections, since).all();
}

}  // namespace pantry::store
