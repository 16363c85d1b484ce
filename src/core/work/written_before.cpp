#include "core/work/written_before.h"

#include <utility>

#include "core/base/executor.h"
#include "core/base/secret_text.h"
#include "core/sql/meaning/statement.h"
#include "core/work/background.h"

namespace pantry::work {

sql::Habits habitsOf(const std::vector<store::LedgerEntry>& entries, const sql::Language& language) {
    sql::Habits habits;
    for (const store::LedgerEntry& entry : entries) {
        const sql::Statement statement(entry.start.statement, language);
        // What failed or lost its secrets in the ledger is no statement to be written again.
        const bool isGood = entry.end.status == store::RunStatus::Succeeded;
        if (isGood && entry.start.statement.find(base::kHidden) == std::string::npos) {
            habits.note(statement.text(), statement.tree());
        } else if (isGood) {
            habits.noteNames(statement.text(), statement.tree());
        }
    }
    return habits;
}

std::shared_ptr<const sql::Habits> WrittenBefore::on(const std::string& connectionId, const sql::Language& language) {
    if (connectionId.empty()) return nullptr;
    Known& known = known_[connectionId];
    if (!known.isOfNow && !known.isBeingRead) read(connectionId, language);
    return known_[connectionId].habits;
}

void WrittenBefore::forget() {
    for (auto& [id, known] : known_) known.isOfNow = false;
}

void WrittenBefore::read(const std::string& connectionId, const sql::Language& language) {
    known_[connectionId].isBeingRead = true;
    known_[connectionId].isOfNow = true;  // unless something runs meanwhile
    ledger_.find({.connections = {connectionId}, .limit = kLatest},
                 whileThere_([this, connectionId, language](Result<std::vector<store::LedgerEntry>> entries) {
                     if (!entries) {
                         known_[connectionId].isBeingRead = false;
                         return;
                     }
                     inBackground(
                         base::Work::Long, owner_,
                         [entries = std::move(*entries), language] {
                             return std::make_shared<const sql::Habits>(habitsOf(entries, language));
                         },
                         whileThere_([this, connectionId](std::shared_ptr<const sql::Habits> habits) {
                             known_[connectionId].habits = std::move(habits);
                             known_[connectionId].isBeingRead = false;
                         }));
                 }));
}

}  // namespace pantry::work
