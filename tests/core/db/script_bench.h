#pragma once

#include <gtest/gtest.h>

#include <future>
#include <string>
#include <vector>

#include "core/db/engine_bench.h"
#include "core/sql/define/scripts.h"
#include "core/sql/syntax/splitter.h"

/// What tests of scripts and definitions do on a line.
namespace pantry::test {

template <class Value>
Result<Value> waitedFor(const std::function<void(std::function<void(Result<Value>)>)>& ask) {
    std::promise<Result<Value>> promise;
    ask([&](Result<Value> value) { promise.set_value(std::move(value)); });
    return promise.get_future().get();
}

inline catalog::CatalogPtr catalogOf(Line& line, const catalog::Request& request = {}) {
    auto read = waitedFor<catalog::CatalogPtr>([&](auto done) { line->loadCatalog(request, done); });
    EXPECT_TRUE(read) << read.error().text();
    return read.value_or(std::make_shared<const catalog::Catalog>());
}

/// Runs a script statement by statement; the first statement that fails, with its message.
inline std::string runScript(Line& line, const std::string& script, sql::Dialect dialect) {
    for (const sql::StatementSpan& span : sql::splitStatements(script, dialect)) {
        const std::string statement = script.substr(span.start, span.length);
        if (const auto error = line.run(statement)->error()) return statement + "\n  → " + error->text();
    }
    return {};
}

/// All objects of a schema; empty: of all that are the user's.
inline std::vector<catalog::ObjectName> objectsIn(const catalog::Catalog& catalog, const std::string& schema = {}) {
    std::vector<catalog::ObjectName> names;
    for (const catalog::SchemaPtr& one : catalog.schemas()) {
        if (one->isOwn || (!schema.empty() && one->name != schema)) continue;
        for (const catalog::Relation& r : one->relations) names.push_back({r.kind, r.schema, r.name, {}});
        for (const catalog::Object& o : one->objects) {
            if (o.kind != catalog::ObjectKind::Extension) names.push_back({o.kind, o.schema, o.name, o.signature});
        }
    }
    return names;
}

inline std::vector<catalog::ObjectParts> partsOf(Line& line, const std::vector<catalog::ObjectName>& names) {
    auto read = waitedFor<std::vector<catalog::ObjectParts>>([&](auto done) { line->readParts(names, true, done); });
    EXPECT_TRUE(read) << read.error().text();
    return read.value_or(std::vector<catalog::ObjectParts>{});
}

}  // namespace pantry::test
