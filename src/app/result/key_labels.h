#pragma once

#include <QObject>
#include <QPointer>

#include "app/base/desk.h"
#include "app/result/grid_model.h"

namespace pantry::app {

/// Asks what the rows are called that a result's keys point at, and gives the names to its look.
class KeyLabels : public QObject {
    Q_OBJECT

public:
    KeyLabels(Desk& desk, GridModel* model, ResultLook* look, QObject* parent);

    /// Asks for the keys among the first rows; what is known already is not asked again.
    void read(const QString& connectionId, const std::string& database);

private:
    void readColumn(int column, const QString& connectionId, const std::string& database);

    Desk& desk_;
    GridModel* model_;
    ResultLook* look_;
};

}  // namespace pantry::app
