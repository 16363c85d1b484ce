#pragma once

#include "app/source/result_source.h"

namespace pantry::app {

class Sheet;

/// One run of a sheet as a result that is shown.
///
/// Threads: the window's thread.
class Card : public ResultSource {
    Q_OBJECT

public:
    /// Lifetime: the sheet owns it.
    Card(work::RunPtr run, Sheet& sheet);

    [[nodiscard]] int number() const { return run().number(); }
    /// The statement that it is only a part of, as that was when it ran; empty when it is a whole one.
    [[nodiscard]] const std::string& whole() const { return whole_; }
    void setWhole(std::string statement) { whole_ = std::move(statement); }
    [[nodiscard]] QString mark() const override { return QString::number(number()); }

    void setPinned(bool isPinned) override;
    void fetchMore() override;
    void fetchAll() override;
    [[nodiscard]] std::optional<Error> whyNotAgain() const override;
    [[nodiscard]] std::optional<work::RunBeside> runAgain(db::RunRequest request,
                                                          std::shared_ptr<db::RunObserver> observer,
                                                          bool isWhereItRan) const override;
    [[nodiscard]] db::ConnectionState connection() const override;
    [[nodiscard]] store::RunStart record() const override;

private:
    Sheet& sheet_;
    std::string whole_;
};

}  // namespace pantry::app
