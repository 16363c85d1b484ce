#pragma once

#include <functional>
#include <memory>
#include <vector>

#include "core/db/session.h"
#include "core/work/owner_thread.h"

namespace pantry::work {

/// Who hears of a run, on the owner's thread. What is empty is not told.
struct RunNews {
    std::function<void()> started;
    std::function<void(const data::ResultSetPtr& result)> columns;
    std::function<void(const std::vector<db::Notice>& notices)> notices;
    std::function<void(std::size_t rows)> rows;
    std::function<void(std::size_t rows)> paused;
    std::function<void(const db::RunSummary& summary)> finished;
    std::function<void(const Error& error, const db::RunSummary& summary)> failed;
};

/// Carries what a run tells from its session's thread to the owner's: events are gathered, and one posted job tells
/// them. The first rows come within a frame; while nothing but more rows arrive they are told ten times a second, since
/// each time words, marks and the grid are made anew, and nobody reads faster.
///
/// `there`: of whoever hears; nothing is told once they are gone.
[[nodiscard]] std::shared_ptr<db::RunObserver> runEvents(const OwnerThread& owner, const There& there, RunNews news);

}  // namespace pantry::work
