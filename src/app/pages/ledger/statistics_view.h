#pragma once

#include <QComboBox>
#include <QLabel>
#include <QVBoxLayout>
#include <QWidget>
#include <optional>
#include <string>
#include <vector>

#include "app/desk/desk.h"
#include "core/store/ledger_statistics.h"

namespace pantry::app {

/// What all runs say together: what ran most, took longest, failed most and got slower, by hour and by day. A click on
/// a statement shows its runs.
///
/// Threads: the window's thread; counting happens elsewhere.
class StatisticsView : public QWidget {
    Q_OBJECT

public:
    explicit StatisticsView(Desk& desk, QWidget* parent = nullptr);

    /// Of which connections; all for none.
    void show(std::vector<std::string> connections);
    [[nodiscard]] const std::optional<store::LedgerStatistics>& counted() const { return counted_; }

Q_SIGNALS:
    void runChosen(const pantry::store::LedgerEntry& entry);

private:
    void count();
    void refresh();
    template <class Tell>
    void addList(const QString& heading, const std::vector<store::RunCount>& counts, Tell tell);

    Desk& desk_;
    std::vector<std::string> connections_;
    std::optional<store::LedgerStatistics> counted_;
    QComboBox* period_;
    QLabel* state_;
    QVBoxLayout* content_;
    std::uint64_t asked_ = 0;
};

}  // namespace pantry::app
