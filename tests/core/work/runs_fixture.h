#pragma once

#include <gmock/gmock.h>

#include "core/work/document_fixture.h"
#include "core/work/document_runs.h"

namespace pantry::work {

/// A document whose runs the test hears of.
class RunsTest : public DocumentTest, public RunsClient {
protected:
    void SetUp() override {
        DocumentTest::SetUp();
        ledger_.open();
        memory_.open(std::size_t{64} << 20);
        runs_.emplace(DocumentRuns::Needs{around_.owner(), *session_, ledger_, &memory_}, *this);
    }
    void TearDown() override { runs_.reset(); }

    [[nodiscard]] std::string documentTitle() const override { return "Plots"; }
    [[nodiscard]] sql::Language language() const override { return sql::Dialect::Sqlite; }
    [[nodiscard]] catalog::View catalogFor(const Error&) const override { return session_->catalogView(); }
    void noteAdded(const RunPtr& run) override { heard_.push_back(run->title() + " added"); }
    void noteChanged(const RunPtr& run, RunChange change) override { changes_.emplace_back(run->number(), change); }
    void noteRemoved(const RunPtr& run) override { heard_.push_back(run->title() + " removed"); }
    void noteRunning() override { ++running_; }
    void noteHeld() override { ++held_; }
    void noteNowhere() override { heard_.emplace_back("nowhere"); }
    void remark(const std::string& text) override { remarks_.push_back(text); }
    Status conclude(const RunPtr& run) override {
        concluded_.push_back(run->number());
        return refusal_ ? Status(*refusal_) : Status();
    }

    static std::vector<sql::Statement> statements(std::initializer_list<const char*> texts) {
        std::vector<sql::Statement> found;
        for (const char* text : texts) found.emplace_back(text, sql::Dialect::Sqlite);
        return found;
    }
    void runAll(std::initializer_list<const char*> texts) {
        runs_->add(statements(texts));
        ASSERT_TRUE(thread_.until([&] { return !runs_->isRunning(); }));
    }
    [[nodiscard]] const work::Run& run(std::size_t index) const { return *runs_->runs().at(index); }
    /// Oldest first.
    [[nodiscard]] std::vector<store::LedgerEntry> kept() {
        std::optional<std::vector<store::LedgerEntry>> found;
        ledger_.find({}, [&](auto entries) { found = entries.value_or(std::vector<store::LedgerEntry>{}); });
        EXPECT_TRUE(thread_.until([&] { return found.has_value(); }));
        std::ranges::reverse(*found);
        return *found;
    }

    LedgerKeeper ledger_{around_, [] {}};
    ResultMemory memory_{around_};
    std::optional<DocumentRuns> runs_;
    std::vector<std::string> heard_;
    std::vector<std::pair<int, RunChange>> changes_;
    std::vector<int> concluded_;
    std::optional<Error> refusal_;  // of what the client does with the rows
    int running_ = 0;
    int held_ = 0;
};

}  // namespace pantry::work
