#pragma once

#include <cstdint>
#include <memory>
#include <optional>
#include <string>
#include <vector>

#include "core/base/cancellation.h"
#include "core/base/progress.h"
#include "core/data/store/result_set.h"
#include "core/data/view/filter.h"
#include "core/data/view/value_order.h"

namespace pantry::data {

struct SortKey {
    std::size_t column = 0;
    bool isDescending = false;
    friend bool operator==(const SortKey&, const SortKey&) = default;
};

/// Which rows of a result to see, and in which order.
struct ViewRequest {
    std::vector<SortKey> order;   ///< the first key decides first; rows that are equal keep the server's order
    std::string filterText = {};  ///< rows with a cell that holds this text, ignoring the case of ASCII letters
    Filter filter = {};           ///< and conditions on columns
    bool areNullsFirst = false;   ///< where NULLs stand, whatever the direction
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
    /// Values that their column's type cannot read stand behind the others, as text.
    /// Texts stand in the order of their bytes, or of the keys that `textKey` makes.
    static std::optional<ResultView> make(ResultSetPtr result, const ViewRequest& request,
                                          const base::Cancellation& cancellation, const TextKey& textKey = {},
                                          const base::Progress& progress = {});

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

/// A position to go to.
struct CellPlace {
    std::size_t row = 0;  ///< position in the view
    std::size_t column = 0;
    friend bool operator==(const CellPlace&, const CellPlace&) = default;
};

}  // namespace pantry::data
