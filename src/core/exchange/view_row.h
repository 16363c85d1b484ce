#pragma once

#include <vector>

#include "core/data/view/result_view.h"
#include "core/exchange/writers/row_writer.h"

namespace pantry::exchange {

/// A row of a view, with some of its columns in the order that is wanted.
///
/// Lifetime: views both.
class ViewRow final : public RowSource {
public:
    ViewRow(const data::ResultView& view, const std::vector<std::size_t>& columns, std::size_t position)
        : view_(view), columns_(columns), row_(view.rowAt(position)) {}
    [[nodiscard]] std::size_t columnCount() const override { return columns_.size(); }
    [[nodiscard]] data::Cell cell(std::size_t column) const override {
        return view_.result()->cell(row_, columns_[column]);
    }

private:
    const data::ResultView& view_;
    const std::vector<std::size_t>& columns_;
    std::size_t row_;
};

}  // namespace pantry::exchange
