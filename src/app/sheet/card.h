#pragma once

#include "app/source/result_source.h"

namespace pantry::app {

class Sheet;

/// One run of a sheet: its statement, what became of it, and its rows.
///
/// Threads: the window's thread.
class Card : public ResultSource {
    Q_OBJECT

public:
    /// Lifetime: the sheet owns it.
    Card(int number, QString title, sql::Statement statement, Sheet& sheet);

    [[nodiscard]] int number() const { return number_; }
    [[nodiscard]] QString mark() const override { return QString::number(number_); }

    void setPinned(bool isPinned) override;
    void fetchMore() override;
    void fetchAll() override;
    [[nodiscard]] std::optional<Error> whyNotAgain() const override;
    [[nodiscard]] std::optional<Again> runAgain(db::RunRequest request, std::shared_ptr<db::RunObserver> observer,
                                                bool isWhereItRan) const override;
    [[nodiscard]] db::ConnectionState line() const override;
    [[nodiscard]] store::RunStart record() const override;
    void beginAnew() override;

    db::RunHandle handle;
    std::int64_t ledgerId = 0;
    bool wasNeverSent = false;  ///< it is about to go, and nothing is to be kept of it

private:
    Sheet& sheet_;
    int number_;
};

}  // namespace pantry::app
