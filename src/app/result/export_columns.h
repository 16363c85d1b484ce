#pragma once

#include <QLabel>
#include <QListWidget>
#include <QPushButton>
#include <QWidget>
#include <vector>

namespace pantry::app {

/// Which columns go and in which order: ticks choose, dragging or Alt with an arrow moves.
class ExportColumns : public QWidget {
    Q_OBJECT

public:
    explicit ExportColumns(QWidget* parent = nullptr);

    /// `columns` from left to right, with whether each goes.
    void setColumns(const std::vector<std::pair<int, bool>>& columns, const QStringList& names);
    [[nodiscard]] std::vector<std::size_t> columns() const;

Q_SIGNALS:
    void changed();

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void tickAll();
    void moveCurrent(int by);
    void refresh();

    QLabel* summary_;
    QPushButton* unfold_;
    QPushButton* all_;
    QListWidget* list_;
};

}  // namespace pantry::app
