#pragma once

#include <cstdint>
#include <filesystem>
#include <initializer_list>
#include <memory>
#include <string>
#include <string_view>
#include <variant>

#include "core/base/result.h"

namespace pantry::demo {

/// Bytes that are not text.
struct Blob {
    std::string bytes;
};

/// A value to insert; monostate is NULL.
using Value = std::variant<std::monostate, std::int64_t, double, std::string, Blob>;

/// A new SQLite file that is being filled.
///
/// Errors: the first one is kept, later calls do nothing, finish() returns it.
class TableLoader {
public:
    explicit TableLoader(const std::filesystem::path& path);
    ~TableLoader();
    TableLoader(const TableLoader&) = delete;
    TableLoader& operator=(const TableLoader&) = delete;

    void execute(std::string_view script);
    void insert(std::string_view table, std::initializer_list<Value> values);
    /// Gathers statistics, commits and closes.
    Status finish();

private:
    struct Impl;
    std::unique_ptr<Impl> impl_;
};

}  // namespace pantry::demo
