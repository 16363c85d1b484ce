#pragma once

#include <string>
#include <string_view>

namespace pantry::test {

/// SQL with its caret: “select * from <|>plot”.
struct MarkedSql {
    std::string text;
    std::size_t caret = 0;
};

inline MarkedSql marked(std::string_view sql) {
    const std::size_t caret = sql.find("<|>");
    std::string text(sql.substr(0, caret));
    text += sql.substr(caret + 3);
    return {std::move(text), caret};
}

}  // namespace pantry::test
