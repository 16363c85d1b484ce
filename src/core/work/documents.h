#pragma once

#include <functional>
#include <memory>
#include <optional>
#include <vector>

#include "core/store/sheet_keeper.h"
#include "core/work/owner_thread.h"
#include "core/work/surroundings.h"

namespace pantry::work {

/// The sheets that are open, and those that were closed: what is typed is on disk within a second.
///
/// Threads: the owner's; what is told comes there, and none of it once the documents are gone.
class Documents {
public:
    /// `keptAgain` hears when everything is kept again that for a while could not be.
    Documents(Surroundings& around, std::function<void()> keptAgain);

    /// Takes over the sheets that are kept; small files, for the start of the program.
    void open();
    /// Those that were open when the program ended; once.
    [[nodiscard]] std::vector<store::SheetState> takeKept() { return std::move(kept_); }

    void keep(const store::SheetState& sheet) { keeper_->keep(sheet); }
    /// Puts a sheet away, so that reopenLast() finds it.
    void close(const store::SheetState& sheet);
    /// The sheet closed last, if there is one.
    void reopenLast(std::function<void(std::optional<store::SheetState>)> done);
    /// Waits until everything that can be written is.
    void flush() { keeper_->flush(); }

private:
    void retrySoon();

    Surroundings& around_;
    std::vector<store::SheetState> kept_;
    WhileThere whileThere_;
    std::unique_ptr<store::SheetKeeper> keeper_;
};

}  // namespace pantry::work
