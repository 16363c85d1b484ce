#pragma once

#include <gtest/gtest.h>

#include <QApplication>
#include <QTest>

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/shell/main_window.h"
#include "core/base/executor.h"
#include "support/demo_copy.h"
#include "support/temporary_folder.h"

namespace pantry::app {

inline constexpr int kTimeoutMs = 20'000;

/// Waits until something is seen to be so; the test fails when it never is.
#define EVENTUALLY(condition) ASSERT_TRUE(QTest::qWaitFor([&] { return (condition); }, kTimeoutMs)) << #condition

/// A home folder with the orchard as its one connection, and a window on it.
class WindowTest : public testing::Test {
protected:
    void SetUp() override {
        ASSERT_TRUE(test::copyOrchard(folder_ / "orchard.db"));
        ASSERT_TRUE(home().prepare());
        db::ConnectionProfile p;
        p.id = "orchard";
        p.name = "Orchard records";
        p.database = (folder_ / "orchard.db").string();
        p.environment = db::Environment::Trial;
        p.colour = "marigold";
        ASSERT_TRUE(store::ConnectionsFile(home().connectionsFile()).put(p));
        openWindow();
    }
    void TearDown() override { closeWindow(); }

    [[nodiscard]] store::Home home() const { return store::findHome(folder_ / "home"); }

    /// Without waiting for its first picture.
    void showWindow() {
        desk_ = std::make_unique<Desk>(home());
        desk_->open();
        window_ = std::make_unique<MainWindow>(*desk_);
        window_->show();
        window_->activateWindow();
    }
    void openWindow() {
        showWindow();
        ASSERT_TRUE(QTest::qWaitForWindowExposed(window_.get()));
        // Keys work as soon as the first picture is there.
        ASSERT_TRUE(
            QTest::qWaitFor([this] { return window_->findChild<QAction*>("command.window.reach") != nullptr; }));
    }
    void closeWindow() {
        if (window_) window_->close();
        window_.reset();
        if (desk_) desk_->flush();
        desk_.reset();
        base::Executor::drainAll();
    }

    /// Waits until what is shown of the text in front is about the text as it is.
    void awaitReading() {
        Sheet& sheet = window_->currentSheet()->sheet();
        EVENTUALLY(sheet.reading()->text().isCopyOf(sheet.text()));
    }
    /// Lays out the text in front, or what is selected of it.
    void format() {
        key(Qt::Key_F, Qt::ControlModifier | Qt::AltModifier);
        EVENTUALLY(!window_->currentSheet()->isFormatting());
    }

    /// The visible widget of that name.
    template <class Widget = QWidget>
    Widget* find(const char* objectName) {
        for (Widget* w : window_->findChildren<Widget*>(QLatin1String(objectName))) {
            if (w->isVisible()) return w;
        }
        return nullptr;
    }
    void click(const char* objectName) {
        auto* widget = find(objectName);
        ASSERT_NE(widget, nullptr) << objectName;
        QTest::mouseClick(widget, Qt::LeftButton);
    }
    /// A key for whatever has the focus.
    void key(Qt::Key k, Qt::KeyboardModifiers modifiers = Qt::NoModifier) {
        QWidget* target = QApplication::focusWidget() != nullptr ? QApplication::focusWidget() : window_.get();
        QTest::keyClick(target, k, modifiers);
    }
    void type(const QString& text) { QTest::keyClicks(QApplication::focusWidget(), text); }

    void openSheet(const QString& text = {}) { window_->openSheet(QStringLiteral("orchard"), text); }
    [[nodiscard]] Card* card(std::size_t index) const {
        const auto& cards = window_->currentSheet()->sheet().cards();
        return index < cards.size() ? cards[index] : nullptr;
    }
    [[nodiscard]] bool isOver(std::size_t index) const {
        return card(index) != nullptr && !card(index)->isGoingOn() && card(index)->run().isKept();
    }
    std::string editorText() { return window_->currentSheet()->editor()->text().str(); }
    [[nodiscard]] bool hasCatalog() const { return desk_->catalogs().state("orchard").catalog != nullptr; }

    test::TemporaryFolder folder_;
    std::unique_ptr<Desk> desk_;
    std::unique_ptr<MainWindow> window_;
};

}  // namespace pantry::app
