#pragma once

#include <QAbstractButton>
#include <QFrame>
#include <QHBoxLayout>
#include <QPointer>
#include <QScrollArea>
#include <QTimer>

#include "app/sheet/sheet.h"

namespace pantry::app {

/// The row of cards between editor and result, newest at the right.
class Tray : public QFrame {
    Q_OBJECT

public:
    explicit Tray(Sheet& sheet, QWidget* parent = nullptr);

    [[nodiscard]] Card* current() const { return current_; }
    void choose(Card* card);

Q_SIGNALS:
    void chosen(pantry::app::Card* card);
    /// Somebody wants to see a card in a window of its own.
    /// Somebody goes on in the rows of the chosen card.
    void rowsWanted();
    void windowWanted(pantry::app::Card* card);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void add(Card* card);
    void chooseSoon(Card* card);
    void remove(Card* card);
    void openMenu(Card* card, const QPoint& at);
    void rename(Card* card);
    [[nodiscard]] QAbstractButton* buttonOf(const Card* card) const;

    Sheet& sheet_;
    QScrollArea* scroll_;
    QHBoxLayout* row_;
    Card* current_ = nullptr;
    QPointer<Card> latest_;  // waits to be shown behind one that was shown a moment ago
    QTimer chooseTimer_;
    int inARow_ = 0;  // results that began without a moment between them
};

}  // namespace pantry::app
