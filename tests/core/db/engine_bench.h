#pragma once

#include <memory>
#include <string>
#include <vector>

#include "core/db/session.h"
#include "demo/throwaway_server.h"
#include "support/run_recorder.h"

namespace pantry::test {

/// Cells of a result as text, rows by |, NULL as ∅.
inline std::vector<std::string> rowsOf(const data::ResultSetPtr& result) {
    std::vector<std::string> rows;
    for (std::size_t r = 0; result && r < result->rowCount(); ++r) {
        std::string row;
        for (std::size_t c = 0; c < result->columns().size(); ++c) {
            const data::Cell cell = result->cell(r, c);
            if (c > 0) row.append("|");
            row.append(cell.isNull() ? "∅" : data::toText(cell));
        }
        rows.push_back(std::move(row));
    }
    return rows;
}

/// A session on a throwaway server, with short words for what tests do with it.
class Line {
public:
    explicit Line(db::ConnectionProfile profile, std::optional<std::string> password = {})
        : session_(std::move(profile), std::move(password)) {}

    /// Runs to the end and waits for it.
    std::shared_ptr<RunRecorder> run(const std::string& sql, sql::ParameterValues values = {}) {
        auto recorder = std::make_shared<RunRecorder>();
        session_.execute({.statement = sql::Statement(sql).with(std::move(values)), .pageRows = std::nullopt},
                         recorder);
        recorder->waitForEnd();
        return recorder;
    }
    /// The rows of a statement; a failure shows as one row with the message.
    std::vector<std::string> rows(const std::string& sql) {
        const auto recorder = run(sql);
        if (const auto error = recorder->error()) return {"failed: " + error->text()};
        return rowsOf(recorder->result());
    }
    db::Session& session() { return session_; }
    db::Session* operator->() { return &session_; }

private:
    db::Session session_;
};

/// The servers of a test program: started once, on first use, for all its tests.
inline demo::PostgresServer& sharedPostgres() {
    static demo::PostgresServer server;
    return server;
}
inline demo::MariaDbServer& sharedMariaDb() {
    static demo::MariaDbServer server;
    return server;
}

inline db::ConnectionProfile profileFor(const demo::PostgresServer& server, const std::string& database = "postgres") {
    db::ConnectionProfile profile{.id = "pg", .name = "records", .engine = db::Engine::Postgres};
    profile.host = server.folder();
    profile.port = server.port();
    profile.user = server.user();
    profile.database = database;
    return profile;
}

inline db::ConnectionProfile profileFor(const demo::MariaDbServer& server, const std::string& database = {}) {
    db::ConnectionProfile profile{.id = "my", .name = "kitchen", .engine = db::Engine::MariaDb};
    profile.host = server.socket();
    profile.user = "root";
    profile.database = database;
    return profile;
}

}  // namespace pantry::test
