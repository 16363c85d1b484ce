#pragma once

#include <QFrame>
#include <QLabel>
#include <QPointer>
#include <QPushButton>

#include "app/source/result_source.h"

namespace pantry::app {

/// Says what is other in a result than in the one before of the same saved query, and leads to the differences. Hidden
/// where nothing is known.
class ChangeStrip : public QFrame {
    Q_OBJECT

public:
    explicit ChangeStrip(QWidget* parent = nullptr);

    /// For a source, nullptr for none.
    void show(ResultSource* source);

Q_SIGNALS:
    void differencesWanted(const QString& title, const pantry::data::ResultSetPtr& differences, const QString& text);

private:
    QPointer<ResultSource> source_;
    QLabel* label_;
    QPushButton* differences_;
};

}  // namespace pantry::app
