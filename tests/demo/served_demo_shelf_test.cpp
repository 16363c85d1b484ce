// The queries of the demo that look after servers, on real ones.
#include <fmt/format.h>
#include <gmock/gmock.h>

#include "core/db/engine_bench.h"
#include "core/shelf/shelf.h"
#include "demo/demo_shelf.h"
#include "support/temporary_folder.h"

namespace pantry::demo {
namespace {

using test::Line;

TEST(ServedDemoShelfTest, QueriesThatLookAfterServersRunOnThem) {
    ASSERT_EQ(test::sharedPostgres().startup(), "");
    ASSERT_EQ(test::sharedMariaDb().startup(), "");
    const test::TemporaryFolder folder;
    ASSERT_TRUE(writeShelf(folder / "shelf"));
    auto shelf = shelf::Shelf::openOwn(folder / "shelf");
    Line postgres(test::profileFor(test::sharedPostgres()));
    Line mariadb(test::profileFor(test::sharedMariaDb()));
    std::size_t count = 0;
    const auto items = shelf->find("server-care");
    ASSERT_TRUE(items);
    for (const shelf::ShelfItem& one : *items) {
        ++count;
        Line& line = one.head.connection.ends_with("MariaDB") ? mariadb : postgres;
        sql::ParameterValues values;
        for (const shelf::QueryParameter& p : one.head.parameters) values.insert_or_assign(p.name, p.value);
        const auto content = shelf->read(one.path);
        std::string text = shelf::readQuery(*content).text;
        text.erase(text.rfind(';'));
        const auto recorder = line.run(text, values);
        EXPECT_FALSE(recorder->error()) << one.path << ": " << recorder->error()->text();
    }
    EXPECT_GE(count, 6U);
}

}  // namespace
}  // namespace pantry::demo
