// What the formatter makes of a statement means the same to the server: scripts of statements run twice on real
// servers, once as they are and once laid out, and every answer has to be the same.
#include <libpq-fe.h>
#include <mysql.h>
#include <sqlite3.h>

#include <fstream>
#include <memory>
#include <sstream>

#include "core/sql/layout/format_choice.h"
#include "core/sql/syntax/parser.h"
#include "core/sql/syntax/script.h"
#include "demo/throwaway_server.h"

namespace pantry::sql {
namespace {

/// What a server answered: rows as text, or its message.
struct Answer {
    bool isError = false;
    std::string text;
    friend bool operator==(const Answer&, const Answer&) = default;
};

class Database {
public:
    virtual ~Database() = default;
    virtual Answer run(const std::string& statement) = 0;
};

class PostgresDatabase : public Database {
public:
    PostgresDatabase(const demo::PostgresServer& server, const std::string& name)
        : line_(PQconnectdb(server.address(name).c_str()), PQfinish) {
        PQsetNoticeProcessor(
            line_.get(), [](void*, const char*) {}, nullptr);
    }

    Answer run(const std::string& statement) override {
        const std::unique_ptr<PGresult, decltype(&PQclear)> result(PQexec(line_.get(), statement.c_str()), PQclear);
        const ExecStatusType status = PQresultStatus(result.get());
        if (status == PGRES_COPY_OUT) return copied();
        if (status != PGRES_TUPLES_OK && status != PGRES_COMMAND_OK) return {true, PQerrorMessage(line_.get())};
        std::string text;
        for (int row = 0; row < PQntuples(result.get()); ++row) {
            for (int column = 0; column < PQnfields(result.get()); ++column) {
                text += PQgetisnull(result.get(), row, column) == 1 ? "NULL" : PQgetvalue(result.get(), row, column);
                text += '\t';
            }
            text += '\n';
        }
        return {false, text + PQcmdStatus(result.get())};
    }

private:
    Answer copied() {
        std::string text;
        char* line = nullptr;
        for (int length = PQgetCopyData(line_.get(), &line, 0); length > 0;
             length = PQgetCopyData(line_.get(), &line, 0)) {
            text.append(line, static_cast<std::size_t>(length));
            PQfreemem(line);
        }
        PQclear(PQgetResult(line_.get()));
        return {false, text};
    }

    std::unique_ptr<PGconn, decltype(&PQfinish)> line_;
};

class MariaDbDatabase : public Database {
public:
    MariaDbDatabase(const demo::MariaDbServer& server, const std::string& name)
        : line_(mysql_init(nullptr), mysql_close) {
        mysql_real_connect(line_.get(), nullptr, "root", nullptr, name.c_str(), 0, server.socket().c_str(),
                           CLIENT_MULTI_RESULTS);
        mysql_set_character_set(line_.get(), "utf8mb4");
    }

    Answer run(const std::string& statement) override {
        if (mysql_real_query(line_.get(), statement.data(), statement.size()) != 0)
            return {true, mysql_error(line_.get())};
        std::string text;
        do {
            MYSQL_RES* result = mysql_store_result(line_.get());
            if (result == nullptr) {
                if (mysql_errno(line_.get()) != 0) return {true, mysql_error(line_.get())};
                text += std::to_string(mysql_affected_rows(line_.get())) + " rows\n";
                continue;
            }
            while (MYSQL_ROW row = mysql_fetch_row(result)) {
                const unsigned long* lengths = mysql_fetch_lengths(result);
                for (unsigned i = 0; i < mysql_num_fields(result); ++i) {
                    text += row[i] == nullptr ? "NULL" : std::string(row[i], lengths[i]);
                    text += '\t';
                }
                text += '\n';
            }
            mysql_free_result(result);
        } while (mysql_next_result(line_.get()) == 0);
        return {false, text};
    }

private:
    std::unique_ptr<MYSQL, decltype(&mysql_close)> line_;
};

class SqliteDatabase : public Database {
public:
    SqliteDatabase() { sqlite3_open(":memory:", &line_); }
    ~SqliteDatabase() override { sqlite3_close(line_); }
    SqliteDatabase(const SqliteDatabase&) = delete;
    SqliteDatabase& operator=(const SqliteDatabase&) = delete;

    Answer run(const std::string& statement) override {
        std::string text;
        const auto take = [](void* out, int count, char** values, char**) {
            for (int i = 0; i < count; ++i)
                static_cast<std::string*>(out)->append(values[i] == nullptr ? "NULL" : values[i]).append("\t");
            static_cast<std::string*>(out)->append("\n");
            return 0;
        };
        if (sqlite3_exec(line_, statement.c_str(), take, &text, nullptr) != SQLITE_OK)
            return {true, sqlite3_errmsg(line_)};
        return {false, text + std::to_string(sqlite3_total_changes(line_))};
    }

private:
    sqlite3* line_ = nullptr;
};

std::string scriptNamed(const std::string& name) {
    std::ifstream in(std::string(SERVED_FOLDER) + "/" + name + ".sql");
    std::stringstream text;
    text << in.rdbuf();
    return text.str();
}

/// Every statement of the script, in order, as it is and as `style` lays it out.
struct Served {
    std::string original;
    std::string formatted;
    std::size_t line;
};

std::vector<Served> servedIn(const std::string& text, Dialect dialect, const FormatOptions& style) {
    Script script(dialect);
    script.setText(text);
    std::vector<Served> out;
    for (const ScriptStatement& s : script.statements()) {
        const std::string own = text.substr(s.span.start, s.span.length);
        EXPECT_TRUE(s.tree->errors.empty()) << "line " << s.span.line << ": " << s.tree->errors.front().message << "\n"
                                            << own;
        out.push_back({own, formatStatement(own, *s.tree, style), s.span.line});
    }
    return out;
}

/// Some answers name the database.
std::string withoutDatabase(std::string text) {
    for (const std::string_view name : {"laid_out.", "plain."}) {
        for (std::size_t at = text.find(name); at != std::string::npos; at = text.find(name))
            text.erase(at, name.size());
    }
    return text;
}

/// Runs the originals in one database and what the formatter made of them in another.
void expectTheSame(Database& plain, Database& laidOut, const std::string& script, Dialect dialect,
                   const FormatOptions& style) {
    const std::vector<Served> all = servedIn(script, dialect, style);
    std::vector<Answer> answers;
    for (const Served& s : all) {
        answers.push_back(plain.run(s.original));
        EXPECT_FALSE(answers.back().isError) << "line " << s.line << ": " << answers.back().text << "\n" << s.original;
    }
    for (std::size_t i = 0; i < all.size(); ++i) {
        const Answer answer = laidOut.run(all[i].formatted);
        EXPECT_EQ(withoutDatabase(answer.text), withoutDatabase(answers[i].text)) << "line " << all[i].line << "\n"
                                                                                  << all[i].formatted;
    }
    testing::Test::RecordProperty("statements", static_cast<int>(all.size()));
}

/// The other ends of every choice, in a narrow column.
FormatOptions oppositeStyle() {
    FormatOptions style{.width = 40, .indentWidth = 2};
    for (const FormatChoice& choice : formatChoices()) choice.set(style, 1);
    return style;
}

TEST(ServedStatementsTest, PostgresAnswersTheSame) {
    const demo::PostgresServer server;
    ASSERT_EQ(server.startup(), "");
    PostgresDatabase first(server, "postgres");
    const std::string script = scriptNamed("common") + scriptNamed("postgres");
    for (const FormatOptions& style : {FormatOptions{}, oppositeStyle()}) {
        for (const char* name : {"plain", "laid_out"}) first.run(std::string("CREATE DATABASE ") + name);
        {
            PostgresDatabase plain(server, "plain");
            PostgresDatabase laidOut(server, "laid_out");
            expectTheSame(plain, laidOut, script, Dialect::Postgres, style);
        }
        for (const char* name : {"plain", "laid_out"})
            first.run(std::string("DROP DATABASE ") + name + " WITH (FORCE)");
    }
}

TEST(ServedStatementsTest, MariaDbAnswersTheSame) {
    const demo::MariaDbServer server;
    ASSERT_EQ(server.startup(), "");
    MariaDbDatabase first(server, "mysql");
    const std::string script = scriptNamed("common") + scriptNamed("mariadb");
    for (const FormatOptions& style : {FormatOptions{}, oppositeStyle()}) {
        for (const char* name : {"plain", "laid_out"}) first.run(std::string("CREATE DATABASE ") + name);
        MariaDbDatabase plain(server, "plain");
        MariaDbDatabase laidOut(server, "laid_out");
        expectTheSame(plain, laidOut, script, Dialect::MySql, style);
        for (const char* name : {"plain", "laid_out"}) first.run(std::string("DROP DATABASE ") + name);
    }
}

TEST(ServedStatementsTest, SqliteAnswersTheSame) {
    const std::string script = scriptNamed("common") + scriptNamed("sqlite");
    for (const FormatOptions& style : {FormatOptions{}, oppositeStyle()}) {
        SqliteDatabase plain;
        SqliteDatabase laidOut;
        expectTheSame(plain, laidOut, script, Dialect::Sqlite, style);
    }
}

}  // namespace
}  // namespace pantry::sql
