#include "core/data/view/comparison.h"

#include <algorithm>
#include <bit>
#include <numeric>
#include <unordered_set>

#include "core/base/text.h"

namespace pantry::data {
namespace {

constexpr std::uint32_t kNone = static_cast<std::uint32_t>(-1);
constexpr std::size_t kComparedBetweenChecks = 4096;
constexpr std::size_t kMaxRowsForKeys = 100'000;

/// Spreads bits; the finaliser of MurmurHash3 (Austin Appleby, public domain).
std::uint64_t mixed(std::uint64_t h) {
    h ^= h >> 33;
    h *= 0xFF51AFD7ED558CCDULL;
    h ^= h >> 33;
    h *= 0xC4CEB9FE1A85EC53ULL;
    return h ^ h >> 33;
}

/// The order by which both columns are compared; text when they mean different things.
ValueOrder commonOrder(const Column& before, const Column& after) {
    const ValueOrder order = valueOrderOf(before);
    return order == valueOrderOf(after) ? order : ValueOrder::Text;
}

bool isAsWritten(const Cell& a, const Cell& b) {
    if (a.kind != b.kind) return false;
    switch (a.kind) {
        case CellKind::Null: return true;
        case CellKind::Integer: return a.integer == b.integer;
        case CellKind::Real: return a.real == b.real;
        case CellKind::Text:
        case CellKind::Binary: return a.bytes == b.bytes;
    }
    return false;
}

bool isSameBy(ValueOrder order, const Cell& a, const Cell& b) {
    if (isAsWritten(a, b)) return true;
    if (a.isNull() || b.isNull()) return false;
    const bool isText = order == ValueOrder::Text || order == ValueOrder::Bytes;
    if (!isText) return compareCells(a, b, order) == 0;
    return a.kind != b.kind && toText(a) == toText(b);
}

/// Equal for cells that isSameBy() takes for the same.
std::uint64_t hashBy(ValueOrder order, const Cell& cell) {
    if (cell.isNull()) return 0x9E3779B97F4A7C15ULL;
    const auto hashOf = [](std::string_view bytes) { return std::hash<std::string_view>()(bytes); };
    if (order != ValueOrder::Text && order != ValueOrder::Bytes) {
        const OrderedValue value = orderedValue(cell, order);
        if (value.rank == ValueRank::Typed) return mixed(value.key.value);
    }
    const bool hasBytes = cell.kind == CellKind::Text || cell.kind == CellKind::Binary;
    return hasBytes ? hashOf(cell.bytes) : hashOf(toText(cell));
}

/// One of the two results with what is looked at of it.
class Side {
public:
    Side(const ResultView& view, std::vector<std::size_t> columns, std::vector<ValueOrder> orders,
         const std::vector<std::size_t>& keys)
        : view_(view),
          columns_(std::move(columns)),
          orders_(std::move(orders)),
          keys_(keys),
          rowCount_(view.rowCount()) {}

    [[nodiscard]] std::size_t rowCount() const { return rowCount_; }
    [[nodiscard]] Cell cell(std::size_t position, std::size_t pair) const {
        return view_.result()->cell(view_.rowAt(position), columns_[pair]);
    }
    [[nodiscard]] std::uint64_t keyHash(std::size_t position) const {
        std::uint64_t hash = 0;
        for (const std::size_t key : keys_) hash = mixed(hash * 31 + hashBy(orders_[key], cell(position, key)));
        return hash;
    }
    [[nodiscard]] bool hasKeyOf(std::size_t position, const Side& other, std::size_t otherPosition) const {
        return std::ranges::all_of(keys_, [&](std::size_t key) {
            return isSameBy(orders_[key], cell(position, key), other.cell(otherPosition, key));
        });
    }

private:
    const ResultView& view_;
    std::vector<std::size_t> columns_;
    std::vector<ValueOrder> orders_;
    const std::vector<std::size_t>& keys_;
    std::size_t rowCount_;
};

/// Rows by the hash of their key: an open hash table whose entries are queues, so that rows of one key come out in
/// their order, however many there are.
class RowQueues {
public:
    explicit RowQueues(std::size_t rows)
        : entries_(std::bit_ceil(std::max<std::size_t>(2 * rows, 16))), next_(rows, kNone) {}

    /// Adds a row; whether one with the same hash was there.
    bool add(std::uint64_t hash, std::uint32_t row) {
        Entry& entry = find(hash);
        if (entry.head == kNone && !entry.isUsed) {
            entry = {.hash = hash, .head = row, .tail = row, .isUsed = true};
            return false;
        }
        next_[entry.tail] = row;
        entry.tail = row;
        return true;
    }

    /// Takes out the first row of that hash that fits; kNone when there is none.
    template <class Fits>
    std::uint32_t take(std::uint64_t hash, Fits fits) {
        Entry& entry = find(hash);
        if (!entry.isUsed) return kNone;
        std::uint32_t before = kNone;
        for (std::uint32_t row = entry.head; row != kNone; before = row, row = next_[row]) {
            if (!fits(row)) continue;  // another key of the same hash, which next to never happens
            (before == kNone ? entry.head : next_[before]) = next_[row];
            if (entry.tail == row) entry.tail = before;
            return row;
        }
        return kNone;
    }

private:
    struct Entry {
        std::uint64_t hash = 0;
        std::uint32_t head = kNone;
        std::uint32_t tail = kNone;
        bool isUsed = false;
    };
    Entry& find(std::uint64_t hash) {
        const std::size_t mask = entries_.size() - 1;
        for (std::size_t at = hash & mask;; at = (at + 1) & mask) {
            if (!entries_[at].isUsed || entries_[at].hash == hash) return entries_[at];
        }
    }

    std::vector<Entry> entries_;
    std::vector<std::uint32_t> next_;
};

class Comparer {
public:
    Comparer(const ResultView& before, const ResultView& after, const ComparisonRequest& request,
             const base::Cancellation& cancellation, const std::function<void(std::size_t)>& progress)
        : request_(request),
          orders_(ordersOf(before, after, request)),
          before_(before, columnsOf(request, &ColumnPair::before), orders_, request.keys),
          after_(after, columnsOf(request, &ColumnPair::after), orders_, request.keys),
          cancellation_(cancellation),
          progress_(progress) {
        out_.changesByColumn.resize(request.columns.size());
    }

    std::optional<Comparison> run() {
        const bool isDone = request_.keys.empty() ? pairByPosition() : pairByKey();
        if (!isDone) return std::nullopt;
        return std::move(out_);
    }

private:
    static std::vector<std::size_t> columnsOf(const ComparisonRequest& request, std::size_t ColumnPair::*side) {
        std::vector<std::size_t> columns;
        for (const ColumnPair& pair : request.columns) columns.push_back(pair.*side);
        return columns;
    }
    static std::vector<ValueOrder> ordersOf(const ResultView& before, const ResultView& after,
                                            const ComparisonRequest& request) {
        std::vector<ValueOrder> orders;
        for (const ColumnPair& pair : request.columns) {
            orders.push_back(
                commonOrder(before.result()->columns()[pair.before], after.result()->columns()[pair.after]));
        }
        return orders;
    }

    /// False when cancelled.
    bool goOn() {
        if (++done_ % kComparedBetweenChecks != 0) return true;
        if (progress_) progress_(done_);
        return !cancellation_.isRequested();
    }

    bool pairByPosition() {
        const std::size_t both = std::min(before_.rowCount(), after_.rowCount());
        for (std::size_t i = 0; i < both; ++i) {
            if (!goOn()) return false;
            pair(static_cast<std::uint32_t>(i), static_cast<std::uint32_t>(i));
        }
        for (std::size_t i = both; i < before_.rowCount(); ++i) remove(static_cast<std::uint32_t>(i));
        for (std::size_t i = both; i < after_.rowCount(); ++i) add(static_cast<std::uint32_t>(i));
        return true;
    }

    bool pairByKey() {
        RowQueues queues(after_.rowCount());
        for (std::size_t i = 0; i < after_.rowCount(); ++i) {
            if (!goOn()) return false;
            if (queues.add(after_.keyHash(i), static_cast<std::uint32_t>(i))) ++out_.repeatedKeys;
        }
        std::vector<std::uint32_t> partnerOfAfter(after_.rowCount(), kNone);
        for (std::size_t i = 0; i < before_.rowCount(); ++i) {
            if (!goOn()) return false;
            const std::uint32_t partner =
                queues.take(before_.keyHash(i), [&](std::uint32_t row) { return before_.hasKeyOf(i, after_, row); });
            if (partner == kNone) {
                remove(static_cast<std::uint32_t>(i));
            } else {
                partnerOfAfter[partner] = static_cast<std::uint32_t>(i);
                pair(static_cast<std::uint32_t>(i), partner);
            }
        }
        insertAdded(partnerOfAfter);
        return true;
    }

    void pair(std::uint32_t before, std::uint32_t after) {
        bool isChanged = false;
        for (std::size_t c = 0; c < request_.columns.size(); ++c) {
            if (isSameBy(orders_[c], before_.cell(before, c), after_.cell(after, c))) continue;
            isChanged = true;
            ++out_.changesByColumn[c];
        }
        ++(isChanged ? out_.changed : out_.same);
        out_.rows.push_back({before, after, isChanged ? RowChange::Changed : RowChange::Same});
    }
    void remove(std::uint32_t row) {
        ++out_.removed;
        out_.rows.push_back({row, 0, RowChange::Removed});
    }
    void add(std::uint32_t row) {
        ++out_.added;
        out_.rows.push_back({0, row, RowChange::Added});
    }

    /// Added rows go behind the partner of the row that they follow. So far the rows stand as `before` has them.
    void insertAdded(const std::vector<std::uint32_t>& partnerOfAfter) {
        struct Added {
            std::uint32_t follows;  // 0: at the start, else one more than a row of `before`
            std::uint32_t row;
        };
        std::vector<Added> added;
        std::uint32_t follows = 0;
        for (std::size_t i = 0; i < partnerOfAfter.size(); ++i) {
            if (partnerOfAfter[i] == kNone) {
                added.push_back({follows, static_cast<std::uint32_t>(i)});
            } else {
                follows = partnerOfAfter[i] + 1;
            }
        }
        std::ranges::stable_sort(added, {}, &Added::follows);
        out_.added = added.size();
        std::vector<RowPair> all;
        all.reserve(out_.rows.size() + added.size());
        auto next = added.begin();
        for (std::uint32_t position = 0; position <= out_.rows.size(); ++position) {
            for (; next != added.end() && next->follows == position; ++next) {
                all.push_back({0, next->row, RowChange::Added});
            }
            if (position < out_.rows.size()) all.push_back(out_.rows[position]);
        }
        out_.rows = std::move(all);
    }

    const ComparisonRequest& request_;
    std::vector<ValueOrder> orders_;
    Side before_;
    Side after_;
    const base::Cancellation& cancellation_;
    const std::function<void(std::size_t)>& progress_;
    std::size_t done_ = 0;
    Comparison out_;
};

void addCell(ChunkBuilder& builder, const Cell& cell) {
    switch (cell.kind) {
        case CellKind::Null: return builder.addNull();
        case CellKind::Integer: return builder.addInteger(cell.integer);
        case CellKind::Real: return builder.addReal(cell.real);
        case CellKind::Text: return builder.addText(cell.bytes);
        case CellKind::Binary: return builder.addBinary(cell.bytes);
    }
}

bool areAllDifferent(const ResultView& view, std::size_t column) {
    const std::size_t rows = std::min(view.rowCount(), kMaxRowsForKeys);
    const ValueOrder order = valueOrderOf(view.result()->columns()[column]);
    std::unordered_set<std::uint64_t> seen;
    seen.reserve(rows);
    for (std::size_t i = 0; i < rows; ++i) {
        const Cell cell = view.result()->cell(view.rowAt(i), column);
        if (cell.isNull() || !seen.insert(hashBy(order, cell)).second) return false;
    }
    return rows > 0;
}

}  // namespace

ColumnMatch matchColumns(const std::vector<Column>& before, const std::vector<Column>& after) {
    ColumnMatch out;
    std::vector<char> isTaken(after.size(), 0);
    for (std::size_t i = 0; i < before.size(); ++i) {
        std::size_t found = after.size();
        for (std::size_t j = 0; j < after.size() && found == after.size(); ++j) {
            if (isTaken[j] == 0 && before[i].name == after[j].name) found = j;
        }
        for (std::size_t j = 0; j < after.size() && found == after.size(); ++j) {
            if (isTaken[j] == 0 && base::toLower(before[i].name) == base::toLower(after[j].name)) found = j;
        }
        if (found == after.size()) {
            out.onlyBefore.push_back(i);
        } else {
            isTaken[found] = 1;
            out.pairs.push_back({i, found});
        }
    }
    for (std::size_t j = 0; j < after.size(); ++j) {
        if (isTaken[j] == 0) out.onlyAfter.push_back(j);
    }
    return out;
}

std::optional<Comparison> compareResults(const ResultView& before, const ResultView& after,
                                         const ComparisonRequest& request, const base::Cancellation& cancellation,
                                         const std::function<void(std::size_t)>& progress) {
    return Comparer(before, after, request, cancellation, progress).run();
}

bool areSame(const Cell& before, const Column& beforeColumn, const Cell& after, const Column& afterColumn) {
    return isSameBy(commonOrder(beforeColumn, afterColumn), before, after);
}

std::optional<std::vector<std::size_t>> proposedKeys(const ResultView& before, const ResultView& after,
                                                     const std::vector<ColumnPair>& columns,
                                                     const base::Cancellation& cancellation) {
    for (std::size_t i = 0; i < columns.size(); ++i) {
        if (cancellation.isRequested()) return std::nullopt;
        if (areAllDifferent(before, columns[i].before) && areAllDifferent(after, columns[i].after)) {
            return std::vector<std::size_t>{i};
        }
    }
    return std::vector<std::size_t>();
}

namespace {

/// Keys first, then the columns with changes: what one looks for is at hand.
std::vector<ColumnPair> pairsToShow(const Comparison& comparison, const ComparisonRequest& request) {
    std::vector<std::size_t> order(request.columns.size());
    std::iota(order.begin(), order.end(), std::size_t{0});
    const auto rank = [&](std::size_t pair) {
        if (std::ranges::find(request.keys, pair) != request.keys.end()) return 0;
        return comparison.changesByColumn[pair] > 0 ? 1 : 2;
    };
    std::ranges::stable_sort(order, {}, rank);
    std::vector<ColumnPair> pairs;
    for (const std::size_t pair : order) pairs.push_back(request.columns[pair]);
    return pairs;
}

}  // namespace

ResultSetPtr differencesOf(const Comparison& comparison, const ResultView& before, const ResultView& after,
                           const ComparisonRequest& request, bool hasSameRows, const base::Cancellation& cancellation) {
    const auto& beforeColumns = before.result()->columns();
    const auto& afterColumns = after.result()->columns();
    const ColumnMatch match = matchColumns(beforeColumns, afterColumns);
    const std::vector<ColumnPair> pairs = pairsToShow(comparison, request);
    std::vector<Column> columns{{.name = "change", .typeName = "", .type = ColumnType::Text}};
    for (const ColumnPair& pair : pairs) {
        Column column = beforeColumns[pair.before];
        const bool isOfOneMeaning = valueOrderOf(column) == valueOrderOf(afterColumns[pair.after]);
        if (!isOfOneMeaning) column = {.name = column.name, .typeName = "", .type = ColumnType::Text};
        columns.push_back(std::move(column));
    }
    for (const std::size_t c : match.onlyBefore) columns.push_back(beforeColumns[c]);
    for (const std::size_t c : match.onlyAfter) columns.push_back(afterColumns[c]);
    auto out = std::make_shared<ResultSet>(columns);
    ChunkBuilder builder(columns.size());
    const auto write = [&](std::string_view word, const ResultView& view, std::size_t position, bool isBefore) {
        const std::size_t row = view.rowAt(position);
        builder.addText(word);
        for (const ColumnPair& pair : pairs) {
            addCell(builder, view.result()->cell(row, isBefore ? pair.before : pair.after));
        }
        for (const std::size_t c : match.onlyBefore) {
            isBefore ? addCell(builder, view.result()->cell(row, c)) : builder.addNull();
        }
        for (const std::size_t c : match.onlyAfter) {
            isBefore ? builder.addNull() : addCell(builder, view.result()->cell(row, c));
        }
        builder.endRow();
        if (builder.isFull()) out->append(builder.take());
    };
    std::size_t done = 0;
    for (const RowPair& row : comparison.rows) {
        if (++done % kComparedBetweenChecks == 0 && cancellation.isRequested()) return nullptr;
        switch (row.change) {
            case RowChange::Same:
                if (hasSameRows) write(kSameWord, after, row.after, false);
                break;
            case RowChange::Removed: write(kRemovedWord, before, row.before, true); break;
            case RowChange::Added: write(kAddedWord, after, row.after, false); break;
            case RowChange::Changed:
                write(kBeforeWord, before, row.before, true);
                write(kAfterWord, after, row.after, false);
                break;
        }
    }
    if (builder.rowCount() > 0) out->append(builder.take());
    return out;
}

bool isChangedCell(const ResultSet& differences, std::size_t row, std::size_t column) {
    if (column == kChangeColumn) return false;
    const std::string_view word = differences.cell(row, kChangeColumn).bytes;
    if (word != kBeforeWord && word != kAfterWord) return false;
    const std::size_t other = word == kBeforeWord ? row + 1 : row - 1;
    const Column& type = differences.columns()[column];
    return !areSame(differences.cell(row, column), type, differences.cell(other, column), type);
}

}  // namespace pantry::data
