#pragma once

#include <string>

#include "core/base/result.h"
#include "core/catalog/catalog_view.h"
#include "core/db/session.h"
#include "core/sql/text/dialect.h"
#include "core/work/run.h"

namespace pantry::work {

/// Whoever shows the runs of a document, or prints them. Called on the owner's thread.
class RunsClient {
public:
    virtual ~RunsClient() = default;

    /// The document's, for the ledger; may be empty.
    [[nodiscard]] virtual std::string documentTitle() const = 0;
    /// Where on the shelf the text came from, for the ledger; empty for one that is not saved there.
    [[nodiscard]] virtual std::string savedQuery() const { return {}; }
    /// Of its text, for as long as no session knows better.
    [[nodiscard]] virtual sql::Language language() const = 0;
    /// What a complaint about a name can be compared with.
    [[nodiscard]] virtual catalog::View catalogFor(const Error& error) const = 0;

    /// A run more; it stands behind the others.
    virtual void noteAdded(const RunPtr& run) = 0;
    virtual void noteChanged(const RunPtr& run, RunChange change) = 0;
    virtual void noteRemoved(const RunPtr& run) = 0;
    virtual void noteMoved(const RunPtr& /*run*/, int /*position*/) {}
    /// Something began or came to an end.
    virtual void noteRunning() = 0;
    /// Something is held back, or is not any more.
    virtual void noteHeld() = 0;
    /// There is no connection to run on.
    virtual void noteNowhere() = 0;
    /// Something for somebody to read.
    virtual void remark(const std::string& text) = 0;

    /// Adds what only the client knows of a request that is about to be sent, such as where its rows go.
    virtual void prepare(db::RunRequest& /*request*/) {}
    /// The statement has run, or has paused; the client does with the rows what is left to do. Errors: as if the
    /// statement itself had failed.
    virtual Status conclude(const RunPtr& /*run*/) { return {}; }
};

}  // namespace pantry::work
