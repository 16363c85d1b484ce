#include "core/store/sheet_keeper.h"

#include <future>
#include <utility>

#include "core/base/mutex.h"

namespace pantry::store {

SheetKeeper::SheetKeeper(std::filesystem::path folder, std::function<void(const std::optional<Error>&)> told)
    : store_(std::move(folder)), told_(std::move(told)), worker_(std::make_unique<base::SerialWorker>()) {}

SheetKeeper::~SheetKeeper() { worker_.reset(); }

void SheetKeeper::keep(const SheetState& sheet) {
    const base::Lock lock(mutex_);
    waiting_[sheet.id] = sheet;
    if (std::exchange(isPosted_, true)) return;
    worker_->post([this] { writeWaiting(); });
}

void SheetKeeper::retry() {
    const base::Lock lock(mutex_);
    if (waiting_.empty() || std::exchange(isPosted_, true)) return;
    worker_->post([this] { writeWaiting(); });
}

void SheetKeeper::writeWaiting() {
    std::map<std::string, SheetState> now;
    {
        const base::Lock lock(mutex_);
        isPosted_ = false;
        now = std::exchange(waiting_, {});
    }
    std::optional<Error> failure;
    for (auto& [id, sheet] : now) {
        const Status status = store_.save(sheet);
        if (status) continue;
        failure = status.error();
        const base::Lock lock(mutex_);
        waiting_.try_emplace(id, std::move(sheet));  // unless something newer came meanwhile
    }
    bool wasFailing = false;
    {
        const base::Lock lock(mutex_);
        wasFailing = std::exchange(hasFailed_, failure.has_value());
    }
    if (failure && !wasFailing) told_(failure);
    if (!failure && wasFailing) told_(std::nullopt);
}

void SheetKeeper::close(const SheetState& sheet, std::function<void(const Status&)> done) {
    {
        const base::Lock lock(mutex_);
        waiting_.erase(sheet.id);
    }
    worker_->post([this, sheet, done = std::move(done)] { done(store_.close(sheet)); });
}

void SheetKeeper::reopenLast(std::function<void(Result<std::optional<SheetState>>)> done) {
    worker_->post([this, done = std::move(done)] { done(store_.reopenLast()); });
}

void SheetKeeper::flush() {
    std::promise<void> reached;
    worker_->post([&reached] { reached.set_value(); });
    reached.get_future().wait();
}

std::size_t SheetKeeper::waiting() const {
    const base::Lock lock(mutex_);
    return waiting_.size();
}

}  // namespace pantry::store
