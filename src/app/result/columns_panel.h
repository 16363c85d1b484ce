#pragma once

#include <QFrame>
#include <QLineEdit>
#include <QListWidget>

#include "app/result/result_look.h"

namespace pantry::app {

/// All columns of a result by name: found by typing, shown and hidden by ticks, gone to by Return.
class ColumnsPanel : public QFrame {
    Q_OBJECT

public:
    explicit ColumnsPanel(QWidget* parent = nullptr);

    /// `shown` holds the columns from left to right, with whether each is shown.
    void open(const std::vector<std::pair<int, bool>>& shown, const QStringList& names, const QPoint& at);

Q_SIGNALS:
    void columnChosen(int column);
    void columnShown(int column, bool isShown);
    void allShown();
    /// Only this column is to be shown; more follow by columnShown().
    void onlyShown(int column);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void narrow();
    void choose();
    void untickAll();
    void noteTick(const QListWidgetItem* item);

    QLineEdit* find_;
    QListWidget* list_;
    bool isFreshStart_ = false;  // all ticks were taken away: the first one decides
};

}  // namespace pantry::app
