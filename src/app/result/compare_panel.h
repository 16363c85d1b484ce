#pragma once

#include <QCheckBox>
#include <QComboBox>
#include <QFrame>
#include <QLabel>
#include <QListWidget>
#include <QPointer>
#include <QProgressBar>
#include <QPushButton>
#include <functional>
#include <vector>

#include "app/sheet/sheet.h"
#include "core/data/view/comparison.h"

namespace pantry::app {

/// Lays two results beside each other: chooses the other one, and the columns by which rows belong together; the
/// differences become a card of their own.
class ComparePanel : public QFrame {
    Q_OBJECT

public:
    /// `cards` gives the cards with rows of all sheets, this sheet's first.
    ComparePanel(Sheet& sheet, std::function<std::vector<Card*>()> cards, QWidget* parent = nullptr);
    ~ComparePanel() override;

    /// `primaryKey`: the columns of the card that are the key of their table, as far as that is known.
    void open(Card* card, const std::vector<std::size_t>& primaryKey);

Q_SIGNALS:
    void closeRequested();

private:
    void offerCards(Card* after);
    void noteCards();
    void showKeys(const std::vector<std::size_t>& proposed);
    void proposeKeys();
    [[nodiscard]] std::vector<std::size_t> keysOfTable() const;
    void swap();
    void start();
    void stop();
    void finish(const std::optional<data::Comparison>& comparison, const data::ResultSetPtr& rows);
    void refresh();
    [[nodiscard]] Card* cardIn(const QComboBox* box) const;
    [[nodiscard]] std::vector<std::size_t> keys() const;
    [[nodiscard]] QString columnWords() const;
    [[nodiscard]] QString partWords() const;

    Sheet& sheet_;
    std::function<std::vector<Card*>()> cards_;
    std::vector<QPointer<Card>> offered_;
    data::ColumnMatch match_;
    QComboBox* before_;
    QComboBox* after_;
    QLabel* words_;
    QListWidget* keys_;
    QCheckBox* sameRows_;
    QPushButton* start_;
    QPushButton* stop_;
    QProgressBar* progress_;
    QLabel* state_;
    bool isRunning_ = false;
    base::Cancellation cancellation_;
    base::Cancellation proposal_;
    QPointer<Card> keyed_;  // the card whose key is known
    std::vector<std::size_t> primaryKey_;
};

}  // namespace pantry::app
