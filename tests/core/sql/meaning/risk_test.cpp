#include "core/sql/meaning/risk.h"

#include <gtest/gtest.h>

namespace pantry::sql {
namespace {

StatementRisk pg(std::string_view sql) { return riskOf(sql, Dialect::Postgres); }
StatementRisk my(std::string_view sql) { return riskOf(sql, Dialect::MySql); }

TEST(StatementRiskTest, ReadingIsHarmless) {
    for (const char* sql : {"SELECT * FROM plot", "WITH a AS (SELECT 1) SELECT * FROM a", "VALUES (1)", "TABLE plot",
                            "EXPLAIN DELETE FROM plot", "SELECT 'delete from plot'", "COPY plot TO STDOUT",
                            "SHOW server_version", "SELECT count(*) FROM plot -- delete"}) {
        EXPECT_EQ(pg(sql).effect, StatementEffect::Reads) << sql;
        EXPECT_FALSE(pg(sql).isReckless) << sql;
    }
}

TEST(StatementRiskTest, ChangesAreSeenWhereverTheyHide) {
    for (const char* sql :
         {"INSERT INTO plot VALUES (1)", "WITH gone AS (DELETE FROM plot WHERE id = 1 RETURNING *) SELECT * FROM gone",
          "EXPLAIN ANALYZE UPDATE plot SET a = 1 WHERE id = 2",
          "EXPLAIN (ANALYZE, BUFFERS) DELETE FROM plot WHERE a = 1", "SELECT setval('plot_id_seq', 1)",
          "COPY plot FROM STDIN", "MERGE INTO a USING b ON a.x = b.x WHEN MATCHED THEN DELETE",
          "SELECT pg_terminate_backend(12)"}) {
        EXPECT_EQ(pg(sql).effect, StatementEffect::Writes) << sql;
        EXPECT_FALSE(pg(sql).isReckless) << sql;
        EXPECT_FALSE(pg(sql).reason.empty()) << sql;
    }
    EXPECT_EQ(pg("SELECT a INTO b FROM c").effect, StatementEffect::Defines);
    EXPECT_EQ(my("SET GLOBAL max_connections = 2").effect, StatementEffect::Defines);
    EXPECT_EQ(my("/*!40000 DROP TABLE plot */").effect, StatementEffect::Defines);
    EXPECT_EQ(my("SELECT 1 /*! INTO OUTFILE 'x'; DELETE FROM plot */").effect, StatementEffect::Unknown);
    EXPECT_EQ(pg("CALL tidy()").effect, StatementEffect::Unknown);
}

TEST(StatementRiskTest, WhatNothingLimitsIsReckless) {
    for (const char* sql :
         {"DELETE FROM plot", "UPDATE plot SET a = 1", "DROP TABLE plot", "TRUNCATE plot", "DROP DATABASE orchard",
          "ALTER TABLE plot DROP COLUMN name", "WITH gone AS (DELETE FROM plot RETURNING *) SELECT * FROM gone"}) {
        EXPECT_TRUE(pg(sql).isReckless) << sql;
    }
    EXPECT_FALSE(pg("ALTER TABLE plot ADD COLUMN name text").isReckless);
    EXPECT_FALSE(my("DELETE FROM plot ORDER BY id LIMIT 3").isReckless);
}

TEST(StatementRiskTest, CountsTheRowsWithTheSameConditions) {
    EXPECT_EQ(pg("update only plot as p set a=1, b=2 where p.id > 3").countQuery,
              "SELECT count(*) FROM only plot as p where p.id > 3");
    EXPECT_EQ(pg("delete from plot p using tree t where t.id = p.id").countQuery,
              "SELECT count(*) FROM plot p WHERE EXISTS (SELECT 1 FROM tree t where t.id = p.id)");
    EXPECT_EQ(pg("with x as (select 1 as n) delete from plot where id in (select n from x)").countQuery,
              "with x as (select 1 as n) SELECT count(*) FROM plot where id in (select n from x)");
    EXPECT_EQ(my("delete a, b from a join b on a.x = b.x where a.y = 1").countQuery,
              "SELECT count(*) FROM a join b on a.x = b.x where a.y = 1");
    EXPECT_EQ(my("update a set x = 1 where y = 2 order by z limit 3").countQuery,
              "SELECT count(*) FROM (SELECT 1 FROM a where y = 2 order by z limit 3) AS matched");
    EXPECT_EQ(pg("insert into plot values (1)").countQuery, "");
    EXPECT_EQ(pg("with gone as (delete from a returning *) delete from b where id in (select id from gone)")
                  .countQuery.find("gone"),
              std::string::npos);
}

}  // namespace
}  // namespace pantry::sql
