#pragma once

#include <QHash>
#include <QObject>
#include <QPointer>
#include <QSet>
#include <QTimer>

#include "app/desk/desk.h"
#include "app/result/grid_model.h"

namespace pantry::app {

/// Asks what the rows are called that a result's keys point at, and gives the names to its look.
class KeyLabels : public QObject {
    Q_OBJECT

public:
    KeyLabels(Desk& desk, GridModel* model, ResultLook* look, QObject* parent);

    /// Forgets what is known, and asks for the keys among the first rows.
    void read(const QString& connectionId, const std::string& database);
    /// These rows are in sight: once scrolling rests, those of their keys are asked for that were not asked for yet.
    void noteShown(int firstRow, int lastRow);

private:
    void readRows(int firstRow, int lastRow);
    void readColumn(int column, int firstRow, int lastRow);

    Desk& desk_;
    GridModel* model_;
    ResultLook* look_;
    QString connectionId_;
    std::string database_;
    QHash<int, QHash<QByteArray, QString>> labels_;  // by column and key
    QHash<int, QSet<QByteArray>> asked_;
    QTimer restTimer_;
    int firstShown_ = 0;
    int lastShown_ = 0;
};

}  // namespace pantry::app
