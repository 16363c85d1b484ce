#pragma once

#include <QHBoxLayout>
#include <QLabel>
#include <QPushButton>
#include <optional>

#include "app/look/tinted_band.h"
#include "app/page/page.h"
#include "app/pages/shelf/difference_view.h"
#include "app/pages/shelf/version_line.h"
#include "app/shelf/shelf_verbs.h"

namespace pantry::app {

/// Everything about one saved query: title, note, parameters, how it ran last; its versions as a line of moments at the
/// right, and the two that are chosen beside each other.
///
/// Threads: the window's thread.
class QueryPage : public Page {
    Q_OBJECT

public:
    QueryPage(Desk& desk, ShelfVerbs& verbs, store::QueryPlace place, QWidget* parent = nullptr);

    [[nodiscard]] QString title() const override;
    [[nodiscard]] QIcon icon() const override;
    [[nodiscard]] QString tip() const override;
    [[nodiscard]] QColor tabColour() const override;
    [[nodiscard]] std::optional<PagePlace> place() const override;
    void enter() override;

    [[nodiscard]] const store::QueryPlace& query() const { return query_; }

Q_SIGNALS:
    void openRequested(const pantry::store::QueryPlace& place, bool toRun);
    /// What ran of it, in the ledger.
    void ledgerRequested(const QString& statement);
    void remarked(const QString& text);

private:
    [[nodiscard]] QLayout* makeBand();
    [[nodiscard]] QWidget* makeHead();
    [[nodiscard]] QWidget* makeVersions();
    void read();
    void take(const work::QueryDetails& details);
    void showParameters();
    void showLastRun();
    void compare();
    void showDifference(const std::string& before, const std::string& now);
    [[nodiscard]] const db::ConnectionProfile* connection() const;
    [[nodiscard]] sql::Language language() const;

    Desk& desk_;
    ShelfVerbs& verbs_;
    store::QueryPlace query_;
    std::optional<work::QueryDetails> details_;
    TintedBand* band_;
    QLabel* connectionName_;
    QLabel* title_;
    QLabel* folder_;
    QPushButton* star_;
    QLabel* note_;
    QLabel* parameters_;
    QLabel* lastRun_;
    QLabel* before_;
    QLabel* now_;
    QLabel* count_;
    DifferenceView* difference_;
    VersionLine* versions_;
    QPushButton* restore_;
    QLabel* path_;
    std::uint64_t asked_ = 0;
};

}  // namespace pantry::app
