#include "cli/pantry_program.h"
#include "support/corpus.h"
#include "support/temporary_folder.h"

namespace pantry {
namespace {

using CliTest = test::PantryProgram;

TEST_F(CliTest, FormatsStandardInput) {
    const auto r = pantry("format --dialect sqlite", "select  a from t where b=1\n");
    EXPECT_EQ(r.output, "SELECT a\nFROM t\nWHERE b = 1\n");
    EXPECT_EQ(r.exitCode, 0);
}

TEST_F(CliTest, FormatCheckTellsThePlace) {
    EXPECT_EQ(pantry("format --dialect sqlite --check", "SELECT 1;\n").exitCode, 0);
    const auto r = pantry("format --dialect sqlite --check", "SELECT 1;\nselect 2;\n");
    EXPECT_EQ(r.exitCode, 1);
    EXPECT_THAT(r.output, testing::StartsWith("-:2:1: "));
}

TEST_F(CliTest, SplitsAsJson) {
    EXPECT_EQ(pantry("split --dialect sqlite --json", "select 1;\n-- x\ndelete from t;").output,
              "[{\"start\":0,\"length\":8,\"line\":1,\"kind\":\"select\"},\n "
              "{\"start\":15,\"length\":13,\"line\":3,\"kind\":\"delete\"}]\n");
}

TEST_F(CliTest, ChecksWithPlacesAndExitStatus) {
    const auto r = pantry("check --dialect sqlite", "select 1;\nselect a from t group a;");
    EXPECT_EQ(r.exitCode, 1);
    EXPECT_THAT(r.output, testing::StartsWith("-:2:23: Expected BY"));
    EXPECT_EQ(pantry("check --dialect sqlite --json", "select 1").output, "[]\n");
    // The connection tells the language; without either it is asked for.
    const auto unknown = pantry("check", "select 1");
    EXPECT_EQ(unknown.exitCode, 2);
    EXPECT_THAT(unknown.output, testing::HasSubstr("--connection"));
}

TEST_F(CliTest, FindingsHaveRuleSeverityAndMend) {
    const auto r = pantry("check --dialect postgres --json", "select a from t where b = null");
    EXPECT_EQ(r.exitCode, 0);
    EXPECT_THAT(r.output, testing::HasSubstr(R"("rule":"null-comparison","severity":"warning","start":22,"length":8)"));
    EXPECT_THAT(r.output, testing::HasSubstr(R"("fix":{"start":24,"length":6,"text":"is null"})"));
}

TEST_F(CliTest, FindingsKnowTheCatalogOfAConnectionOrAFile) {
    const auto r = pantry("check --dialect sqlite -c 'Orchard records'", "select nme from plot where plot_id = 1");
    EXPECT_EQ(r.exitCode, 1);
    EXPECT_THAT(r.output, testing::HasSubstr("Did you mean name? [error: unknown-column]"));

    const std::string catalog = path("catalog.json");
    pantry("catalog -c 'Orchard records' --json > " + catalog, "");
    const auto fromFile =
        pantry("check --dialect sqlite --catalog " + catalog, "select nme from plot where plot_id = 1");
    EXPECT_EQ(fromFile.output, r.output);
}

TEST_F(CliTest, TheServerSaysOnlyWhatTheRulesDoNotSay) {
    const auto r = pantry("check --dialect sqlite -c 'Orchard records' --on-server",
                          "SELECT nme FROM plot;\nSELECT FROM FROM;\nSELECT 1 FROM nowhere;\nSELECT ripen(1);");
    EXPECT_EQ(r.exitCode, 1);
    EXPECT_THAT(r.output, testing::HasSubstr("-:1:8: No table of this query has a column nme."));
    EXPECT_THAT(r.output, testing::HasSubstr("-:2:8: Expected what to select"));
    EXPECT_THAT(r.output, testing::HasSubstr("-:3:15: No table named nowhere. [error: unknown-table]"));
    EXPECT_THAT(r.output, testing::EndsWith("-:4:8: No such function: ripen. [error: server]\n"));
    EXPECT_EQ(r.output.find("error: server"), r.output.rfind("error: server")) << r.output;
}

TEST_F(CliTest, RulesCanBeListedAndLeftOut) {
    EXPECT_THAT(pantry("check --rules", "").output, testing::HasSubstr("update-without-where"));
    EXPECT_EQ(pantry("check --dialect sqlite --without delete-without-where", "delete from t").output, "");
    EXPECT_EQ(pantry("check --dialect sqlite --without no-such-rule", "delete from t").exitCode, 2);
}

TEST_F(CliTest, TextsAreReadAsTheSessionReadsThem) {
    EXPECT_EQ(pantry("format --dialect mysql --ansi-quotes", "select \"a\"  from \"t\"").output,
              "SELECT \"a\" FROM \"t\"");
    EXPECT_EQ(pantry("check --dialect postgres --backslash escapes --json", "select 'a\\' b'").output, "[]\n");
}

TEST_F(CliTest, TheStyleHasChoices) {
    EXPECT_EQ(pantry("format --dialect sqlite --width 20 --commas leading --keywords lower",
                     "SELECT alpha, beta, gamma FROM t")
                  .output,
              "select\n    alpha\n    , beta\n    , gamma\nfrom t");
    EXPECT_EQ(pantry("format --dialect sqlite --commas above", "select 1").exitCode, 2);
}

TEST_F(CliTest, CompletesFromAConnection) {
    const auto r = pantry("complete --dialect sqlite --at 17 --json -c Kitchen", "select * from bat");
    EXPECT_THAT(r.output, testing::StartsWith("[{\"text\":\"batch\",\"kind\":\"table\""));
    EXPECT_THAT(r.output, testing::HasSubstr("\"replaces\":[14,3]"));
}

TEST_F(CliTest, RunsAndShowsATable) {
    const auto r =
        pantry("run -c Kitchen -e 'SELECT jar_type_id, name FROM jar_type WHERE jar_type_id = :id' --set id=1");
    EXPECT_EQ(r.output, "jar_type_id  name\n───────────  ────────────\n          1  110 ml round\n1 row\n");
    EXPECT_EQ(r.exitCode, 0);
}

TEST_F(CliTest, WritesCsvToAFileWholeOrNotAtAll) {
    EXPECT_EQ(pantry("run -c Probes -e 'SELECT reading_id FROM reading' --as csv --to " + path("r.csv")).exitCode, 0);
    const std::string content = test::contentOf((*folder_) / "r.csv");
    EXPECT_EQ(std::count(content.begin(), content.end(), '\n'), 241'921);
    EXPECT_EQ(pantry("run -c Probes -e 'SELECT nothing FROM reading' --as csv --to " + path("none.csv")).exitCode, 1);
    EXPECT_FALSE(std::filesystem::exists((*folder_) / "none.csv"));
}

TEST_F(CliTest, TellsWindowsOnTheSameHomeWhatItHasDefined) {
    ASSERT_EQ(pantry("run -c Kitchen -e 'SELECT 1'").exitCode, 0);
    const auto file = (*folder_) / "home" / "defined.json";
    EXPECT_FALSE(std::filesystem::exists(file)) << "it defines nothing";
    ASSERT_EQ(pantry("run -c Kitchen -e 'CREATE TABLE told (n INTEGER)'").exitCode, 0);
    EXPECT_NE(test::contentOf(file).find("\"connection\""), std::string::npos);
    ASSERT_EQ(pantry("run -c Kitchen -e 'DROP TABLE told' --confirm Kitchen").exitCode, 0);
}

TEST_F(CliTest, TakesOnlyAsManyRowsAsAsked) {
    EXPECT_EQ(pantry("run -c Probes -e 'SELECT reading_id FROM reading' --as csv --rows 2").output,
              "reading_id\r\n1\r\n2\r\n");
    EXPECT_THAT(pantry("run -c Probes -e 'SELECT reading_id FROM reading' --rows 2").output,
                testing::HasSubstr("first 2 rows"));
    EXPECT_EQ(pantry("run -c Probes -e 'SELECT reading_id AS most FROM reading' --as csv --rows 4").exitCode, 0);
    EXPECT_THAT(pantry("history -c Probes --find most --json").output, testing::HasSubstr("\"rows\":4"));
}

TEST_F(CliTest, AFileHoldsWhatEveryStatementPrinted) {
    EXPECT_EQ(pantry("run -c Kitchen -e 'SELECT 1 AS pears; SELECT 2 AS plums' --to " + path("both.txt")).exitCode, 0);
    EXPECT_THAT(test::contentOf(path("both.txt")),
                testing::AllOf(testing::HasSubstr("pears"), testing::HasSubstr("plums")));
}

TEST_F(CliTest, SaysWhereAStatementFailed) {
    const auto r = pantry("run -c Kitchen", "SELECT 1;\nSELECT *\nFROM recpe;\nSELECT 3;");
    EXPECT_EQ(r.exitCode, 1);
    EXPECT_THAT(r.output, testing::HasSubstr("-:3:6: No such table: recpe. Did you mean recipe?"));
    EXPECT_THAT(r.output, testing::Not(testing::HasSubstr("\n3\n")));
    EXPECT_THAT(pantry("run -c Kitchen --on-error continue", "SELECT x;SELECT 3 AS y;").output,
                testing::HasSubstr("3\n"));
}

TEST_F(CliTest, APropertyThatNobodyKnowsIsNotSaved) {
    const auto r = pantry("connections add Mistaken 'postgresql://h/d?sslmod=require'");
    EXPECT_EQ(r.exitCode, 1);
    EXPECT_THAT(r.output, testing::HasSubstr("knows no property sslmod"));
    EXPECT_THAT(pantry("connections list").output, testing::Not(testing::HasSubstr("Mistaken")));
    const auto named = pantry("connections add Named 'postgresql://h/d?sslmode=prefer&application_name=x'");
    EXPECT_EQ(named.exitCode, 0);
    EXPECT_THAT(named.output, testing::HasSubstr("Not used here: application_name."));
    EXPECT_EQ(pantry("connections remove Named").exitCode, 0);
}

TEST_F(CliTest, KeepsWhatRan) {
    pantry("run -c Kitchen -e 'SELECT 4711 AS marker'");
    const auto r = pantry("history -c Kitchen --find 4711 --json");
    EXPECT_THAT(r.output, testing::AllOf(testing::HasSubstr("\"status\":\"ok\""), testing::HasSubstr("\"rows\":1")));
}

TEST_F(CliTest, AddsListsTestsAndRemovesConnections) {
    EXPECT_EQ(
        pantry("connections add Spare sqlite://" + path("kitchen.db") + " --environment trial --group Extra").exitCode,
        0);
    EXPECT_THAT(pantry("connections list").output, testing::HasSubstr("Spare"));
    EXPECT_EQ(pantry("connections test Spare").exitCode, 0);
    EXPECT_EQ(pantry("connections add spare sqlite:///x.db").exitCode, 1);
    EXPECT_EQ(pantry("connections remove Spare").exitCode, 0);
    EXPECT_THAT(pantry("connections list").output, testing::Not(testing::HasSubstr("Spare")));
}

TEST_F(CliTest, NeverKeepsOrShowsAPassword) {
    const auto added = pantry("connections add Far postgresql://a:hush@h/db");
    EXPECT_EQ(added.exitCode, 0);
    EXPECT_THAT(added.output, testing::Not(testing::HasSubstr("hush")));
    const auto ran = pantry("run -c postgresql://a:hush@h/db -e 'SELECT 1'");
    EXPECT_EQ(ran.exitCode, 1);
    EXPECT_THAT(ran.output, testing::Not(testing::HasSubstr("hush")));
    for (const auto& entry : std::filesystem::recursive_directory_iterator((*folder_) / "home")) {
        if (!entry.is_regular_file()) continue;
        EXPECT_EQ(test::contentOf(entry.path()).find("hush"), std::string::npos) << entry.path();
    }
    pantry("connections remove Far");
}

TEST_F(CliTest, ChangesOnALiveConnectionNeedItsName) {
    const std::string change = "update plot set hectares = hectares where plot_id = 1";
    const std::string live = "run -c \"Orchard records (live)\"";
    const auto held = pantry(live, "select 1;\n" + change);
    EXPECT_EQ(held.exitCode, 1);
    EXPECT_THAT(held.output, testing::StartsWith("-:2:1: Held back")) << "nothing runs, not even what stands before";
    EXPECT_THAT(held.output, testing::HasSubstr("--confirm"));
    EXPECT_EQ(pantry(live + " --confirm \"Orchard records\"", change).exitCode, 1) << "another name confirms nothing";
    const auto confirmed = pantry(live + " --confirm \"Orchard records (live)\"", change);
    EXPECT_EQ(confirmed.output, "1 row changed\n");
    EXPECT_EQ(pantry(live, "select count(*) from plot").exitCode, 0);
}

TEST_F(CliTest, GuardsLikeTheWindow) {
    const auto drop = pantry("run -c Kitchen", "drop table recipe");
    EXPECT_EQ(drop.exitCode, 1) << "what nothing limits waits on every connection";
    EXPECT_THAT(drop.output, testing::HasSubstr("--confirm \"Kitchen\""));
    EXPECT_EQ(pantry("run -c Kitchen", "select count(*) from recipe").exitCode, 0);
    const std::string live = "run -c \"Orchard records (live)\"";
    for (const char* sql :
         {"pragma user_version = 7", "select load_extension('x')", "vacuum", "select 1 from plot where"}) {
        const auto held = pantry(live, sql);
        EXPECT_EQ(held.exitCode, 1) << sql;
        EXPECT_THAT(held.output, testing::HasSubstr("Held back on Orchard records (live), which is live")) << sql;
    }
    const std::string file = path("orchard.db");
    EXPECT_EQ(pantry("run -c " + file, "update plot set name = name where plot_id = 1").exitCode, 0);
    const auto asLive = pantry("run --environment live -c " + file, "update plot set name = name where plot_id = 1");
    EXPECT_THAT(asLive.output, testing::HasSubstr("which is live"));
    EXPECT_EQ(pantry("run --environment trial -c Kitchen", "select 1").exitCode, 2);
    const auto away =
        pantry("run -c postgresql://nobody@db.larkspur.invalid/records", "update plot set a = 1 where b = 2");
    EXPECT_THAT(away.output, testing::HasSubstr("which is live")) << "an address elsewhere, before it is connected to";
    const auto like = pantry("run -c postgresql://nobody@127.0.0.1.larkspur.invalid/records", "vacuum");
    EXPECT_THAT(like.output, testing::HasSubstr("which is live")) << "it only begins like an address of this machine";
}

TEST_F(CliTest, WorksWithoutAHomeAndSaysThatNothingIsKept) {
    const std::string command = "cd " + folder_->path().string() + " && mkdir -p bare && cd bare && env -i " +
                                PANTRY_PROGRAM + " run -c " + path("orchard.db") + " -e 'select 40 + 2 as n' 2>&1";
    FILE* pipe = ::popen(command.c_str(), "r");
    ASSERT_NE(pipe, nullptr);
    std::array<char, 2048> buffer{};
    const std::string shown(buffer.data(), std::fread(buffer.data(), 1, buffer.size(), pipe));
    EXPECT_EQ(::pclose(pipe), 0) << shown;
    EXPECT_THAT(shown, testing::HasSubstr("42"));
    EXPECT_THAT(shown, testing::HasSubstr("HOME is not set"));
    EXPECT_TRUE(std::filesystem::is_empty(folder_->path() / "bare"));
}

TEST_F(CliTest, NothingThatADatabaseHoldsSteersATerminal) {
    const std::string command = std::string(PANTRY_PROGRAM) + " --home " + ((*folder_) / "home").string() + " run -c " +
                                path("orchard.db") + " -e \"select char(27) || '[31mred' as x\"";
    for (const char* as : {"table", "record", "aligned", "csv"}) {
        std::string shown;
        FILE* pipe = ::popen(
            ("script -qec '" + test::replaced(command, "'", "'\\''") + " --as " + as + "' /dev/null < /dev/null")
                .c_str(),
            "r");
        ASSERT_NE(pipe, nullptr);
        std::array<char, 512> buffer{};
        while (const std::size_t count = std::fread(buffer.data(), 1, buffer.size(), pipe))
            shown.append(buffer.data(), count);
        ::pclose(pipe);
        EXPECT_EQ(shown.find('\x1b'), std::string::npos) << as << ": " << shown;
        EXPECT_THAT(shown, testing::HasSubstr("[31mred")) << as;
    }
    const auto piped = pantry("run --as csv -c " + path("orchard.db"), "select char(27) || 'x' as x");
    EXPECT_THAT(piped.output, testing::HasSubstr("\x1b")) << "other programs get it as it is";
}

TEST_F(CliTest, ShowsTheCatalog) {
    EXPECT_THAT(pantry("catalog -c Kitchen --json").output, testing::HasSubstr("\"references\":[\"recipe_id\"]"));
    EXPECT_THAT(pantry("catalog -c " + path("orchard.db")).output, testing::HasSubstr("tree_id"));
}

TEST_F(CliTest, TellsWrongUseFromFailure) {
    EXPECT_EQ(pantry("format").exitCode, 2);
    EXPECT_EQ(pantry("frobnicate").exitCode, 2);
    EXPECT_EQ(pantry("run -c Kitchen -e 'SELECT :a' --set a").exitCode, 2);
    EXPECT_EQ(pantry("run -c Nowhere -e 'SELECT 1'").exitCode, 1);
    EXPECT_EQ(pantry("run --help").exitCode, 0);
}

TEST_F(CliTest, CtrlCStopsTheStatement) {
    const auto r = pantry(
        "run -c Kitchen -e 'WITH RECURSIVE s(n) AS (SELECT 1 UNION ALL SELECT n + 1 FROM s) SELECT count(*) FROM s' & "
        "pid=$!; sleep 1; kill -INT $pid; wait $pid; exit $?");
    EXPECT_EQ(r.exitCode, 1);
    EXPECT_THAT(pantry("history --limit 1").output, testing::HasSubstr("stopped"));
}

TEST_F(CliTest, ConnectionsGoToAnotherHomeWithoutSecrets) {
    const std::string other = "--home " + path("elsewhere");
    EXPECT_EQ(pantry("connections export Kitchen Probes --to " + path("carried.json")).exitCode, 0);
    const auto in = pantry("connections import " + path("carried.json") + " " + other);
    EXPECT_EQ(in.output, "Added Kitchen\nAdded Probes\n");
    EXPECT_EQ(pantry("connections import " + path("carried.json") + " --only Probes " + other).output,
              "Added Probes (2)\n");
    EXPECT_EQ(pantry("connections import " + path("carried.json") + " --clash skip " + other).output,
              "Left out Kitchen\nLeft out Probes\n");
    const auto wrong = pantry("connections import " + path("input.sql") + " " + other, "nonsense");
    EXPECT_EQ(wrong.exitCode, 1);
    EXPECT_THAT(wrong.output, testing::HasSubstr("no file of exported connections"));
}

TEST_F(CliTest, AConnectionMayLeanOnATemplate) {
    const std::string other = " --home " + path("templates");
    EXPECT_EQ(
        pantry("connections add Base postgresql://inspector@trial-db --template --environment trial" + other).exitCode,
        0);
    const auto added = pantry(
        "connections add Mine postgresql:///orchard --based-on Base --note 'ask Ida' "
        "--password-from environment:ORCHARD_PASSWORD" +
        other);
    EXPECT_EQ(added.output, "Saved Mine: postgresql://inspector@trial-db/orchard\n");
    const auto test = pantry("connections test Mine" + other);
    EXPECT_EQ(test.exitCode, 1);
    EXPECT_THAT(test.output, testing::HasSubstr("ORCHARD_PASSWORD"));
    EXPECT_EQ(pantry("connections add X postgresql://h --password-from nowhere" + other).exitCode, 1);
}

TEST_F(CliTest, DefinitionsComeOnDemand) {
    const auto one = pantry("catalog -c Kitchen --definition recipe");
    EXPECT_THAT(one.output, testing::StartsWith("CREATE TABLE recipe"));
    EXPECT_THAT(pantry("catalog -c Kitchen --json").output,
                testing::Not(testing::HasSubstr("\"definition\":\"CREATE TABLE")));
    EXPECT_THAT(pantry("catalog -c Kitchen --json --definitions").output,
                testing::HasSubstr("\"definition\":\"CREATE TABLE"));
    EXPECT_THAT(pantry("catalog -c Kitchen --definition nothing").output, testing::HasSubstr("no nothing"));
}

TEST_F(CliTest, TheHistoryIsSearchedExportedAndImportedOnce) {
    ASSERT_EQ(pantry("run -c Kitchen -e 'SELECT 2718 AS e FROM recipe'").exitCode, 0);
    EXPECT_EQ(pantry("run -c Kitchen -e 'SELECT 2718 FROM nothing_like_it'").exitCode, 1);
    const auto failed = pantry("history --all --find 'table:nothing_like_it 2718' --failed --json");
    EXPECT_THAT(failed.output, testing::HasSubstr("\"status\":\"failed\""));
    EXPECT_THAT(failed.output, testing::Not(testing::HasSubstr("AS e")));
    EXPECT_EQ(pantry("history --find '2718 -failed' --since today --json --limit 1").output.find("\"status\":\"ok\"") !=
                  std::string::npos,
              true);
    const auto wrong = pantry("history --find 'rows>many'");
    EXPECT_EQ(wrong.exitCode, 1);
    EXPECT_THAT(wrong.output, testing::HasSubstr("rows>1000"));
    EXPECT_THAT(pantry("history --since soon").output, testing::HasSubstr("no day"));
    for (const char* name : {"runs.jsonl", "runs.csv"}) {
        const auto out = pantry("history export --find 2718 " + path(name));
        EXPECT_THAT(out.output, testing::StartsWith("Wrote 2 runs to ")) << name;
        EXPECT_THAT(pantry("history import " + path(name)).output,
                    testing::StartsWith("Added 0 runs. 2 were there already."));
        const auto elsewhere = pantry("history import " + path(name) + " --home " + path(std::string("other-") + name));
        EXPECT_THAT(elsewhere.output, testing::StartsWith("Added 2 runs.")) << elsewhere.output;
    }
    test::writeFile((*folder_) / "bad.jsonl", "{\"statement\":\"SELECT 1\"}\n");
    const auto bad = pantry("history import " + path("bad.jsonl"));
    EXPECT_EQ(bad.exitCode, 1);
    EXPECT_THAT(bad.output, testing::HasSubstr("bad.jsonl, line 1: "));
    EXPECT_THAT(pantry("history --help").output, testing::HasSubstr("since:2026-11-01"));
}

TEST_F(CliTest, StatisticsOfTheHistory) {
    for (const char* statement : {"SELECT 1", "SELECT 2", "SELECT nme FROM batch"})
        pantry("run -c Kitchen -e '" + std::string(statement) + "'");
    const auto r = pantry("history statistics -c Kitchen --since today");
    EXPECT_EQ(r.exitCode, 0);
    EXPECT_THAT(r.output, testing::HasSubstr("Run most often"));
    EXPECT_THAT(r.output, testing::HasSubstr("Failed most often"));
    EXPECT_THAT(r.output, testing::HasSubstr("SELECT nme FROM batch"));
    EXPECT_EQ(pantry("history statistics --since nonsense").exitCode, 1);
}

TEST_F(CliTest, EveryQueryOnTheShelfOfTheDemoRuns) {
    std::size_t count = 0;
    const std::filesystem::path shelf = path("home/shelf");
    for (const auto& file : std::filesystem::recursive_directory_iterator(shelf)) {
        const std::string name = file.path().lexically_relative(shelf).string();
        if (file.path().extension() != ".sql" || name.starts_with("server-care/")) continue;  // those want a server
        const auto r = pantry("shelf run '" + name + "' --as csv --rows 3");
        EXPECT_EQ(r.exitCode, 0) << name << ": " << r.output;
        const bool mayBeEmpty = name == "probes/silent-hours.sql";  // no probe was silent for so long
        EXPECT_TRUE(mayBeEmpty || std::ranges::count(r.output, '\n') > 1) << name << " tells nothing";
        ++count;
    }
    EXPECT_GE(count, 12U);
}

}  // namespace
}  // namespace pantry
