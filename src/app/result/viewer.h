#pragma once

#include <QString>
#include <QWidget>
#include <functional>

#include "app/source/result_source.h"

namespace pantry::app {

/// One way to look at a result, as the pane offers it.
struct Viewer {
    const char* objectName = nullptr;  ///< of its button
    QString label;
    QWidget* page = nullptr;  ///< several may share one
    /// It has something to show without any row: what the server said.
    bool showsWithoutRows = false;
    /// Fills the page with a result that has rows, or any when it shows without; null when the page follows by itself.
    std::function<void(const ResultSource&)> fill = {};
};

}  // namespace pantry::app
