#pragma once

#include <memory>
#include <vector>

#include "app/desk/desk.h"
#include "app/source/result_source.h"
#include "core/work/document_runs.h"
#include "core/work/document_session.h"

namespace pantry::app {

/// Statements that run at a place without a sheet, one after the other, under the same guard and into the same ledger;
/// each result is a source to show.
///
/// Threads: the window's thread.
class PlaceRuns : public QObject, private work::RunsClient {
    Q_OBJECT

public:
    /// `title`: what the ledger says they belong to.
    PlaceRuns(Desk& desk, work::RunPlace place, QString title, QObject* parent);
    ~PlaceRuns() override;

    /// Runs a query in the place of the one before, which is stopped and forgotten.
    void show(const std::string& statement);
    void stop() { runs_.stop(); }
    [[nodiscard]] bool isRunning() const { return runs_.isRunning(); }
    /// The result at hand; nullptr before the first.
    [[nodiscard]] ResultSource* current() const { return current_.get(); }
    [[nodiscard]] work::DocumentRuns& runs() { return runs_; }
    [[nodiscard]] const work::DocumentSession& session() const { return session_; }
    [[nodiscard]] std::size_t pageRows() const;

Q_SIGNALS:
    /// Another result is the one at hand; the one before is gone with this.
    void currentChanged(pantry::app::ResultSource* source);
    void runningChanged();

private:
    [[nodiscard]] std::string documentTitle() const override { return title_; }
    [[nodiscard]] sql::Language language() const override;
    [[nodiscard]] catalog::View catalogFor(const Error& /*error*/) const override { return session_.catalogView(); }
    void noteAdded(const work::RunPtr& run) override;
    void noteChanged(const work::RunPtr& /*run*/, work::RunChange /*change*/) override {}
    void noteRemoved(const work::RunPtr& /*run*/) override {}
    void noteRunning() override { Q_EMIT runningChanged(); }
    void noteHeld() override { runs_.dismiss(); }
    void noteNowhere() override {}
    void remark(const std::string& /*text*/) override {}

    Desk& desk_;
    std::string title_;
    work::DocumentSession session_;
    work::DocumentRuns runs_;
    std::unique_ptr<ResultSource> current_;
};

}  // namespace pantry::app
