#pragma once

#include <QCheckBox>
#include <QComboBox>
#include <QFrame>
#include <QLabel>
#include <QPushButton>
#include <QVBoxLayout>
#include <set>

#include "app/desk/desk.h"

namespace pantry::app {

/// Carries connections to another machine in a file without secrets, and brings such a file in: which of them, and what
/// becomes of names that are taken. It stands where the form of a connection stands.
class TransferPanel : public QFrame {
    Q_OBJECT

public:
    explicit TransferPanel(Desk& desk, QWidget* parent = nullptr);

    /// Asks which connections go out.
    void beginExport();
    /// Reads a file and asks which of its connections come in.
    void beginImport(const QString& path);
    /// Writes those that are ticked.
    void writeTo(const QString& path);

Q_SIGNALS:
    void closed();

private:
    void show(const store::ConnectionList& list, bool isImport);
    [[nodiscard]] std::set<std::string> ticked() const;
    void chooseFile();
    void bringIn();
    void say(const Status& status, const QString& text);

    Desk& desk_;
    store::ConnectionList incoming_;
    bool isImport_ = false;
    QLabel* heading_;
    QLabel* explanation_;
    QVBoxLayout* ticks_;
    QComboBox* clash_;
    QPushButton* go_;
    QLabel* state_;
};

}  // namespace pantry::app
