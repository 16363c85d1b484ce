#pragma once

#include <cstddef>
#include <cstdint>
#include <map>
#include <memory>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/cancellation.h"
#include "core/catalog/catalog.h"

namespace pantry::work {

/// What somebody can reach for.
enum class ReachKind : std::uint8_t {
    Sheet,
    Connection,
    Query,  ///< saved, or a notebook
    Relation,
    Card,
    Snippet,
    Run,  ///< of the ledger
    Action,
    Setting,
    Help  ///< topics of the guide
};

/// A letter and a colon that narrow to one kind.
struct ReachPrefix {
    ReachKind kind;
    char letter;
    std::string_view text;  ///< “tables and views”
};
[[nodiscard]] std::span<const ReachPrefix> reachPrefixes();

/// What somebody has typed: “t: plot” is plot among tables and views.
struct ReachWish {
    std::optional<ReachKind> kind;
    std::string pattern;
};
[[nodiscard]] ReachWish reachWish(std::string_view typed);

/// Of all but the names in catalogs: sheets, actions, settings.
struct ReachText {
    std::string title;
    std::string also = {};  ///< other words it is looked for by
    ReachKind kind = ReachKind::Action;
};

/// A catalog whose relations somebody can reach for.
struct ReachCatalog {
    std::string connection;  ///< id
    std::string name;        ///< of the connection
    catalog::CatalogPtr catalog;
};

/// All that somebody can reach for. Those with the same score stay in this order.
struct ReachScope {
    std::vector<ReachText> before = {};
    std::vector<ReachCatalog> catalogs = {};
    std::vector<ReachText> behind = {};
    std::vector<std::string> reached = {};  ///< titles that somebody reached for before, the last one first
};

/// One of them that fits.
struct ReachHit {
    enum class Part { Before, Relation, Behind };
    Part part = Part::Before;
    ReachKind kind = ReachKind::Action;
    std::size_t index = 0;  ///< among those of its part; of a relation: its catalog
    const catalog::Relation* relation = nullptr;
    int score = 0;
};

/// The best of what fits a pattern of words, best first; see base::wordScore(). What is named so comes before what is
/// only meant by it, what was reached for before in front of what is as good. Those of a kind stand together, in the
/// order of their best ones; with several kinds no more than some of each. An empty pattern fits everything. Nothing
/// when it was cancelled.
///
/// Lifetime: relations belong to the catalogs of the scope.
/// Cost: grows with the number of names; hundreds of thousands take tens of milliseconds: not for the window's thread.
[[nodiscard]] std::optional<std::vector<ReachHit>> reachFor(const ReachWish& wish, const ReachScope& scope,
                                                            std::size_t most, const base::Cancellation& cancellation);

}  // namespace pantry::work
