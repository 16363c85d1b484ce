#pragma once

#include <QHeaderView>
#include <QMenu>

#include "app/result/result_names.h"
#include "app/window_fixture.h"

namespace pantry::app {

/// Runs statements in the real window and looks at their rows.
class ResultsWindowTest : public WindowTest {
protected:
    void run(const QString& sql) {
        openSheet(sql);
        find(objectName::kEditor)->setFocus();
        const std::size_t before = window_->currentSheet()->sheet().cards().size();
        key(Qt::Key_Return, Qt::ControlModifier);
        EVENTUALLY(isOver(before));
        QCoreApplication::processEvents();
    }
    ResultPane* pane() { return window_->currentSheet()->result(); }
    GridModel* model() { return pane()->model(); }
    [[nodiscard]] QString cellText(int row, int column) { return model()->index(row, column).data().toString(); }
    int columnOf(const QString& title) {
        for (int c = 0; c < model()->columnCount(); ++c) {
            if (model()->headerData(c, Qt::Horizontal, Qt::DisplayRole).toString() == title) return c;
        }
        return -1;
    }
    /// Chooses from a menu by its words, sub-menus parted by >.
    void choose(const char* menuName, const QString& path) {
        QMenu* menu = nullptr;
        ASSERT_TRUE(QTest::qWaitFor(
            [&] { return (menu = window_->findChild<QMenu*>(QLatin1String(menuName))) != nullptr; }, kTimeoutMs));
        QAction* found = nullptr;
        for (const QString& word : path.split(QLatin1Char('>'))) {
            found = nullptr;
            for (QAction* action : menu->actions()) {
                if (action->text().startsWith(word)) found = action;
            }
            ASSERT_NE(found, nullptr) << word.toStdString();
            if (found->menu() != nullptr) menu = found->menu();
        }
        found->trigger();
        QCoreApplication::processEvents();
        for (QMenu* open : window_->findChildren<QMenu*>(QLatin1String(menuName))) open->close();
        QCoreApplication::sendPostedEvents(nullptr, QEvent::DeferredDelete);
        QCoreApplication::processEvents();
    }
    void columnMenu(int column, const QString& path) {
        auto* header = pane()->grid()->horizontalHeader();
        const QPoint at(header->sectionViewportPosition(column) + 10, 10);
        Q_EMIT header->customContextMenuRequested(at);
        choose(resultName::kColumnMenu, path);
    }
};

}  // namespace pantry::app
