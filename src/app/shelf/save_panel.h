#pragma once

#include <QComboBox>
#include <QFrame>
#include <QLabel>
#include <QLineEdit>
#include <functional>

#include "app/desk/desk.h"

namespace pantry::app {

/// Over the text of a sheet that is on no shelf yet: what it is called there, and where. Both are proposed, so that
/// Return is enough.
///
/// Threads: the window's thread.
class SavePanel : public QFrame {
    Q_OBJECT

public:
    SavePanel(Desk& desk, QWidget* parent);

    /// What is to be saved, as far as it is known.
    struct Proposal {
        QString title;
        QString folder;
    };
    /// `top`: pixels that are left free above it.
    void open(const Proposal& proposal, int top);

Q_SIGNALS:
    /// Somebody chose a place that is free, or the same one again to replace what is there.
    void saveRequested(const pantry::store::QueryPlace& place, const QString& title, const QString& note);
    /// Somewhere else on the disk instead.
    void fileRequested();
    void closed();

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    [[nodiscard]] store::QueryPlace place() const;
    [[nodiscard]] bool isTaken() const;
    void fillFolders();
    void showPlace();
    void save();
    void close();

    Desk& desk_;
    QLineEdit* title_;
    QComboBox* shelf_;
    QComboBox* folder_;
    QLineEdit* note_;
    QLabel* place_;
};

}  // namespace pantry::app
