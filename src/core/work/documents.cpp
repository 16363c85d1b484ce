#include "core/work/documents.h"

#include <chrono>
#include <utility>

#include "core/store/sheet_store.h"

namespace pantry::work {

Documents::Documents(Surroundings& around, std::function<void()> keptAgain)
    : around_(around),
      keeper_(std::make_unique<store::SheetKeeper>(
          around.home().sheetsFolder(),
          [&around, there = whileThere_.there(), keptAgain = std::move(keptAgain)](const std::optional<Error>& error) {
              if (error) return around.raise(*error);
              around.owner().post(there([keptAgain] { keptAgain(); }));
          })) {}

void Documents::open() {
    if (auto sheets = store::SheetStore(around_.home().sheetsFolder()).takeOver()) {
        kept_ = std::move(*sheets);
    } else {
        around_.raise(sheets.error());
    }
    retrySoon();
}

/// Sheets that could not be written are tried again for as long as the program runs.
void Documents::retrySoon() {
    around_.owner().postAfter(std::chrono::seconds(2), whileThere_([this] {
                                  keeper_->retry();
                                  retrySoon();
                              }));
}

void Documents::close(const store::SheetState& sheet) {
    keeper_->close(sheet, [&around = around_](const Status& status) {
        if (!status) around.raise(status.error());
    });
}

void Documents::reopenLast(std::function<void(std::optional<store::SheetState>)> done) {
    keeper_->reopenLast([&around = around_, there = whileThere_.there(),
                         done = std::move(done)](const Result<std::optional<store::SheetState>>& sheet) {
        if (!sheet) around.raise(sheet.error());
        around.owner().post(there([done, sheet = sheet.value_or(std::optional<store::SheetState>())] { done(sheet); }));
    });
}

}  // namespace pantry::work
