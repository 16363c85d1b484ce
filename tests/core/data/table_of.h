#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/data/view/result_view.h"

namespace pantry::test {

using Texts = std::vector<std::optional<std::string>>;

/// A result of text cells, nullopt for NULL, in chunks of three rows so that borders are crossed.
inline data::ResultSetPtr tableOf(std::vector<data::Column> columns, const std::vector<Texts>& rows) {
    auto result = std::make_shared<data::ResultSet>(std::move(columns));
    data::ChunkBuilder builder(result->columns().size());
    for (const Texts& row : rows) {
        for (const auto& text : row) text ? builder.addText(*text) : builder.addNull();
        builder.endRow();
        if (builder.rowCount() == 3) result->append(builder.take());
    }
    result->append(builder.take());
    return result;
}

/// One column of a view as texts, NULL as ∅.
inline std::vector<std::string> columnOf(const data::ResultView& view, std::size_t column = 0) {
    std::vector<std::string> texts;
    for (std::size_t i = 0; i < view.rowCount(); ++i) {
        const data::Cell cell = view.result()->cell(view.rowAt(i), column);
        texts.push_back(cell.isNull() ? "∅" : data::toText(cell));
    }
    return texts;
}

}  // namespace pantry::test
