#include "core/work/last_runs.h"

#include <utility>

#include "core/base/text.h"

namespace pantry::work {
namespace {

constexpr std::size_t kLongestLooked = 32 << 10;  // bytes of a statement that is looked up
constexpr std::size_t kAtOnce = 300;

std::string textOfRun(const store::LedgerEntry& run) {
    std::string text = "last time ";
    if (run.end.rows) text += (run.end.isPartial ? "first " : "") + base::counted(*run.end.rows, "row", "rows") + " · ";
    if (run.end.affected) text += base::counted(*run.end.affected, "row", "rows") + " changed · ";
    return text + base::readable(run.end.duration);
}

}  // namespace

void LastRuns::setPlace(const std::string& connectionId, const sql::Language& language) {
    const bool isSame = connectionId == connectionId_ && language == language_;
    connectionId_ = connectionId;
    language_ = language;
    if (isSame) return;
    ++generation_;
    known_.clear();
    asked_.clear();
}

std::string LastRuns::textOf(std::size_t hash, std::string_view statement) {
    if (connectionId_.empty() || statement.size() > kLongestLooked) return {};
    const auto known = known_.find(hash);
    if (known != known_.end() && known->second.isOfNow) return known->second.text;
    if (asked_.size() < kAtOnce) asked_.emplace_back(hash, statement);
    return known == known_.end() ? std::string() : known->second.text;
}

void LastRuns::readAsked() {
    if (asked_.empty()) return;
    std::vector<std::size_t> hashes;
    std::vector<std::string> statements;
    for (auto& [hash, statement] : std::exchange(asked_, {})) {
        known_[hash].isOfNow = true;  // unless something runs meanwhile
        hashes.push_back(hash);
        statements.push_back(std::move(statement));
    }
    ledger_.findLast(connectionId_, std::move(statements), language_,
                     whileThere_([this, hashes = std::move(hashes),
                                  asked = generation_](const std::vector<std::optional<store::LedgerEntry>>& found) {
                         if (asked != generation_) return;
                         bool isOther = false;
                         for (std::size_t i = 0; i < std::min(hashes.size(), found.size()); ++i) {
                             std::string text = found[i] ? textOfRun(*found[i]) : std::string();
                             isOther = isOther || known_[hashes[i]].text != text;
                             known_[hashes[i]].text = std::move(text);
                         }
                         if (isOther) read_();
                     }));
}

void LastRuns::noteRun() {
    for (auto& [hash, known] : known_) known.isOfNow = false;
}

}  // namespace pantry::work
