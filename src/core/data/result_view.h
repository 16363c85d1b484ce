#pragma once

#include <cstdint>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/base/cancellation.h"
#include "core/data/result_set.h"

namespace pantry::data {

struct SortKey {
    std::size_t column = 0;
    bool isDescending = false;
    friend bool operator==(const SortKey&, const SortKey&) = default;
};

/// Which rows of a result to see, and in which order.
struct ViewRequest {
    std::vector<SortKey> order;  ///< the first key decides first; rows that are equal keep the server's order
    std::string filterText;      ///< rows with a cell that holds this text, ignoring the case of ASCII letters
    friend bool operator==(const ViewRequest&, const ViewRequest&) = default;
};

/// A permutation and choice of a result's rows. Values are never copied.
///
/// Threads: immutable; made on any thread.
class ResultView {
public:
    /// All rows in the server's order; follows the result as it grows.
    explicit ResultView(ResultSetPtr result);

    /// Works a request out over the rows published by now; nothing when cancelled.
    /// NULLs stand last in either direction; numbers stand before text where a column mixes them.
    static std::optional<ResultView> make(ResultSetPtr result, const ViewRequest& request,
                                          const base::Cancellation& cancellation);

    [[nodiscard]] const ResultSetPtr& result() const { return result_; }
    [[nodiscard]] std::size_t rowCount() const { return rows_ ? rows_->size() : result_->rowCount(); }

    /// The row of the result that stands at `position` here.
    [[nodiscard]] std::size_t rowAt(std::size_t position) const { return rows_ ? (*rows_)[position] : position; }

    /// How many of the result's rows were looked at; later ones are not in this view.
    [[nodiscard]] std::size_t sourceRowCount() const { return rows_ ? sourceRows_ : result_->rowCount(); }
    [[nodiscard]] bool isWhole() const { return rows_ == nullptr; }

private:
    ResultSetPtr result_;
    std::shared_ptr<const std::vector<std::uint32_t>> rows_;  // null: identity
    std::size_t sourceRows_ = 0;
};

/// Whether a cell's text holds `needle` (in small letters), ignoring the case of ASCII letters.
[[nodiscard]] bool cellContains(const Cell& cell, std::string_view lowerNeedle, std::string& scratch);

/// A position to go to.
struct CellPlace {
    std::size_t row = 0;  ///< position in the view
    std::size_t column = 0;
    friend bool operator==(const CellPlace&, const CellPlace&) = default;
};

/// The next cell of the view that holds `text`, after `from` in reading order, going round at the end; backwards
/// when `forward` is false. Nothing when no cell does, or when cancelled.
[[nodiscard]] std::optional<CellPlace> findCell(const ResultView& view, std::string_view text, CellPlace from,
                                                bool forward, const base::Cancellation& cancellation);

}  // namespace pantry::data
