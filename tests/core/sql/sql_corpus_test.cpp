// What must hold for any text, on texts that people wrote: our own, and the scripts that the servers' packages bring.
#include <algorithm>
#include <filesystem>
#include <fstream>
#include <random>
#include <sstream>

#include "support/sql_invariants.h"

namespace pantry::sql {
namespace {

struct CorpusFile {
    std::filesystem::path path;
    Dialect dialect;
};

std::vector<CorpusFile> corpus() {
    std::vector<CorpusFile> files;
    const auto take = [&](const std::filesystem::path& folder, Dialect dialect) {
        std::error_code ignored;
        for (const auto& entry : std::filesystem::directory_iterator(folder, ignored)) {
            if (entry.path().extension() == ".sql") files.push_back({entry.path(), dialect});
        }
    };
    const std::filesystem::path own = CORPUS_FOLDER;
    for (const Dialect d : {Dialect::Postgres, Dialect::MySql, Dialect::Sqlite, Dialect::Ansi}) {
        take(own / "layout" / "golden" / dialectName(d), d);
        files.push_back({own / "served" / "common.sql", d});
    }
    files.push_back({own / "served" / "postgres.sql", Dialect::Postgres});
    files.push_back({own / "served" / "mariadb.sql", Dialect::MySql});
    files.push_back({own / "served" / "sqlite.sql", Dialect::Sqlite});
    take("/usr/share/postgresql/15", Dialect::Postgres);
    take("/usr/share/postgresql/15/extension", Dialect::Postgres);
    take("/usr/share/mysql", Dialect::MySql);
    // Whatever order the folder tells, the same damage is done to the same texts.
    std::ranges::sort(files, {}, [](const CorpusFile& file) { return std::pair(file.path, file.dialect); });
    return files;
}

std::string contentOf(const std::filesystem::path& path) {
    std::ifstream in(path, std::ios::binary);
    std::stringstream text;
    text << in.rdbuf();
    return text.str();
}

TEST(SqlCorpusTest, ScriptsOfTheServersAreUnderstood) {
    std::size_t statements = 0;
    for (const CorpusFile& file : corpus()) {
        const std::string text = contentOf(file.path);
        // Templates with @places@ in them are no SQL yet; the time zones' script has its data in another form.
        const bool isTemplate = text.find('@') != std::string::npos && text.find("@extschema@") != std::string::npos;
        const bool isOther =
            file.path.filename() == "mysql_test_data_timezone.sql" || file.path.filename() == "mysql_test_db.sql";
        if (isTemplate || isOther) continue;
        statements += splitStatements(text, file.dialect).size();
        for (const Finding& f : checkScript(text, file.dialect)) {
            EXPECT_NE(f.severity == Severity::Error ? f.rule : "", "syntax")
                << file.path << " at " << f.start << ": " << f.message << "\n"
                << text.substr(f.start, 60);
        }
    }
    EXPECT_GT(statements, 500U);
}

TEST(SqlCorpusTest, InvariantsHoldOnScriptsAndOnWhatIsLeftOfThem) {
    std::mt19937 random(20261123);  // the same texts in every run
    const auto below = [&](std::size_t n) { return static_cast<std::size_t>(random() % std::max<std::size_t>(n, 1)); };
    for (const CorpusFile& file : corpus()) {
        std::string text = contentOf(file.path);
        if (text.size() > 40'000) text.resize(40'000);
        EXPECT_EQ(test::brokenInvariant(text, file.dialect, static_cast<std::uint32_t>(random())), "") << file.path;
        for (int round = 0; round < 40; ++round) {
            std::string damaged = text.substr(below(text.size()), 3000);
            for (int i = 0; i < 8 && !damaged.empty(); ++i) {
                const std::size_t at = below(damaged.size());
                constexpr std::string_view kPieces[] = {"'",  "\"", "(",  ")", ";",   "/*", "*/",
                                                        "--", "$$", "\n", ",", "end", "\\", "`"};
                damaged.replace(at, below(4), kPieces[below(std::size(kPieces))]);
            }
            const auto dialect = static_cast<Dialect>(below(4));
            EXPECT_EQ(test::brokenInvariant(damaged, dialect, static_cast<std::uint32_t>(random())), "") << damaged;
        }
    }
}

}  // namespace
}  // namespace pantry::sql
