#pragma once

#include <filesystem>
#include <functional>
#include <memory>
#include <optional>
#include <string>
#include <utility>
#include <vector>

#include "core/base/serial_worker.h"
#include "core/work/owner_thread.h"
#include "core/work/shelves.h"
#include "core/work/surroundings.h"

namespace pantry::work {

/// The shelves as a window uses them: read and written by a thread of their own, in the order in which it was asked;
/// what goes over a network by another one, so that nobody waits for it to save.
///
/// Threads: the owner's; what is told comes there, and none of it once the keeper is gone.
class ShelfKeeper {
public:
    /// `changed` hears when queries or shelves are other ones.
    ShelfKeeper(Surroundings& around, std::function<void()> changed)
        : around_(around), changed_(std::move(changed)), shelves_(std::make_shared<Shelves>(around.home())) {}

    /// Reads what is there; again after something may have changed on disk.
    void refresh();
    /// As it was read last.
    [[nodiscard]] const std::vector<ShelvedQuery>& queries() const { return queries_; }
    [[nodiscard]] const std::vector<ShelfInfo>& shelves() const { return infos_; }
    [[nodiscard]] bool isRead() const { return isRead_; }
    /// Which saved query a file is, or would be; nothing for one that is on no shelf.
    [[nodiscard]] std::optional<store::QueryPlace> placeOf(const std::filesystem::path& file) const;
    /// Where a query stands on disk.
    [[nodiscard]] std::filesystem::path fileOf(const store::QueryPlace& place) const;

    /// Asks the shelves something.
    template <class Answer>
    void ask(std::function<Result<Answer>(Shelves&)> question, std::function<void(Result<Answer>)> done) {
        post(*worker_, std::move(question), std::move(done), false);
    }
    /// The same with something that changes them: they are read again.
    template <class Answer>
    void change(std::function<Result<Answer>(Shelves&)> question, std::function<void(Result<Answer>)> done) {
        post(*worker_, std::move(question), std::move(done), true);
    }
    /// The same over a network; other questions do not wait for it.
    template <class Answer>
    void talk(std::function<Result<Answer>(Shelves&)> question, std::function<void(Result<Answer>)> done) {
        post(*network_, std::move(question), std::move(done), true);
    }

    /// Waits until everything is written.
    void flush() { worker_ = std::make_unique<base::SerialWorker>(); }

private:
    template <class Answer>
    void post(base::SerialWorker& worker, std::function<Result<Answer>(Shelves&)> question,
              std::function<void(Result<Answer>)> done, bool isChange) {
        // What goes over the network has shelves of its own: repositories are for one thread at a time.
        const bool isOwn = &worker != worker_.get();
        worker.post([this, shelves = shelves_, isOwn, isChange, question = std::move(question), done = std::move(done),
                     there = whileThere_.there()] {
            std::optional<Shelves> own;
            if (isOwn) own.emplace(around_.home());
            Result<Answer> answer = question(isOwn ? *own : *shelves);
            around_.owner().post(there([this, isChange, done, answer = std::move(answer)] {
                if (isChange) refresh();
                done(answer);
            }));
        });
    }

    /// What is there.
    struct Read {
        std::vector<ShelvedQuery> queries;
        std::vector<ShelfInfo> infos;
    };
    void take(Read read);

    Surroundings& around_;
    std::function<void()> changed_;
    std::shared_ptr<Shelves> shelves_;  // the worker's thread only
    std::vector<ShelvedQuery> queries_;
    std::vector<ShelfInfo> infos_;
    bool isRead_ = false;
    bool isReading_ = false;
    bool isStale_ = false;  // something changed while it was being read
    WhileThere whileThere_;
    std::unique_ptr<base::SerialWorker> worker_ = std::make_unique<base::SerialWorker>();
    std::unique_ptr<base::SerialWorker> network_ = std::make_unique<base::SerialWorker>();
};

}  // namespace pantry::work
