#pragma once

#include <gtest/gtest.h>

#include <mutex>
#include <string>
#include <vector>

#include "core/work/surroundings.h"
#include "support/temporary_folder.h"
#include "support/work_thread.h"

namespace pantry::work {

/// What an application without a window has around it, on the test's own thread.
class ApplicationTest : public testing::Test {
protected:
    void SetUp() override { ASSERT_TRUE(home().prepare()); }

    [[nodiscard]] store::Home home() const { return store::findHome(folder_ / "home"); }
    [[nodiscard]] std::vector<std::string> raised() {
        const std::lock_guard lock(mutex_);
        return raised_;
    }

    test::TemporaryFolder folder_;
    test::WorkThread thread_;
    std::mutex mutex_;
    std::vector<std::string> raised_;
    Surroundings around_{home(), thread_.owner(), [this](const Error& error) {
                             const std::lock_guard lock(mutex_);
                             raised_.push_back(error.text());
                         }};
};

#define EVENTUALLY(condition) ASSERT_TRUE(thread_.until([&] { return (condition); })) << #condition

}  // namespace pantry::work
