#include "demo/table_loader.h"

#include <fmt/format.h>
#include <sqlite3.h>

#include <map>
#include <optional>

#include "core/base/file.h"

namespace pantry::demo {

struct TableLoader::Impl {
    std::filesystem::path path;
    sqlite3* db = nullptr;
    std::map<std::string, sqlite3_stmt*, std::less<>> inserts;
    std::optional<Error> error;

    ~Impl() {
        for (auto& [table, statement] : inserts) sqlite3_finalize(statement);
        sqlite3_close_v2(db);
    }

    void check(int code, std::string_view doing) {
        if (code == SQLITE_OK || code == SQLITE_DONE || error) return;
        error = Error{.kind = ErrorKind::Io,
                      .message = fmt::format("Could not write {} ({}): {}.", path.string(), doing, sqlite3_errmsg(db))};
    }

    sqlite3_stmt* insertInto(std::string_view table, std::size_t columns) {
        if (const auto found = inserts.find(table); found != inserts.end()) return found->second;
        std::string places = "?";
        for (std::size_t i = 1; i < columns; ++i) places += ", ?";
        sqlite3_stmt* statement = nullptr;
        check(sqlite3_prepare_v2(db, fmt::format("INSERT INTO {} VALUES ({})", table, places).c_str(), -1, &statement,
                                 nullptr),
              table);
        return inserts.emplace(table, statement).first->second;
    }
};

namespace {

void bind(sqlite3_stmt* statement, int index, const Value& value) {
    if (const auto* integer = std::get_if<std::int64_t>(&value)) {
        sqlite3_bind_int64(statement, index, *integer);
    } else if (const auto* real = std::get_if<double>(&value)) {
        sqlite3_bind_double(statement, index, *real);
    } else if (const auto* text = std::get_if<std::string>(&value)) {
        sqlite3_bind_text64(statement, index, text->data(), text->size(), SQLITE_TRANSIENT, SQLITE_UTF8);
    } else if (const auto* blob = std::get_if<Blob>(&value)) {
        sqlite3_bind_blob64(statement, index, blob->bytes.data(), blob->bytes.size(), SQLITE_TRANSIENT);
    } else {
        sqlite3_bind_null(statement, index);
    }
}

}  // namespace

TableLoader::TableLoader(const std::filesystem::path& path) : impl_(std::make_unique<Impl>()) {
    impl_->path = path;
    std::error_code code;
    for (const char* suffix : {"", "-wal", "-shm", "-journal"}) std::filesystem::remove(path.string() + suffix, code);
    const int opened = sqlite3_open_v2(path.c_str(), &impl_->db, SQLITE_OPEN_READWRITE | SQLITE_OPEN_CREATE, nullptr);
    if (opened != SQLITE_OK) impl_->error = base::fileError(EACCES, "write", path);
    execute("PRAGMA journal_mode = OFF; PRAGMA synchronous = OFF; BEGIN");
}

TableLoader::~TableLoader() = default;

void TableLoader::execute(std::string_view script) {
    if (impl_->error) return;
    impl_->check(sqlite3_exec(impl_->db, std::string(script).c_str(), nullptr, nullptr, nullptr), script.substr(0, 60));
}

void TableLoader::insert(std::string_view table, std::initializer_list<Value> values) {
    if (impl_->error) return;
    sqlite3_stmt* statement = impl_->insertInto(table, values.size());
    if (statement == nullptr) return;
    int index = 1;
    for (const Value& value : values) bind(statement, index++, value);
    impl_->check(sqlite3_step(statement), table);
    sqlite3_reset(statement);
}

Status TableLoader::finish() {
    execute("COMMIT; ANALYZE; PRAGMA journal_mode = DELETE");
    if (impl_->error) return *impl_->error;
    return {};
}

}  // namespace pantry::demo
