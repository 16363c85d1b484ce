#pragma once

#include <memory>

#include "core/data/store/result_budget.h"
#include "core/work/background.h"
#include "core/work/surroundings.h"

namespace pantry::work {

/// The memory that all results of one program share: those that were not looked at for long move to disk when there is
/// too much.
///
/// Threads: the owner's; rows move on another.
class ResultMemory {
public:
    explicit ResultMemory(Surroundings& around) : around_(around) {}

    /// `bytes`: what results may take.
    void open(std::size_t bytes) { budget_ = std::make_shared<data::ResultBudget>(bytes, around_.home().state); }
    /// Counts a result among those that share it.
    void keep(const data::ResultSetPtr& result, bool isPinned) {
        budget_->add(result);
        if (isPinned) budget_->setPinned(result.get(), true);
    }
    void pin(const data::ResultSetPtr& result, bool isPinned) { budget_->setPinned(result.get(), isPinned); }
    /// Somebody looks at it.
    void noteUse(const data::ResultSetPtr& result) { budget_->noteUse(result.get()); }
    /// Looks whether there is too much, unless that is being looked at.
    void enforce() {
        if (std::exchange(isLooked_, true)) return;  // the one on its way sees what is there then
        inBackground(
            base::Work::Long, around_.owner(), [budget = budget_] { return budget->enforce(); },
            whileThere_([this](const Status& status) {
                isLooked_ = false;
                if (!status) around_.raise(status.error());
            }));
    }
    [[nodiscard]] data::ResultBudget::Usage usage() const { return budget_->usage(); }

private:
    Surroundings& around_;
    std::shared_ptr<data::ResultBudget> budget_;  // also of the thread that moves rows
    bool isLooked_ = false;
    WhileThere whileThere_;
};

}  // namespace pantry::work
