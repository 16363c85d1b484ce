#pragma once

#include <QObject>
#include <QString>
#include <functional>
#include <vector>

#include "app/desk/desk.h"
#include "app/shell/main_window.h"

namespace pantry::app {

/// Drives the real window through the main work on the demo data and writes a picture of each main view. Every step
/// waits for what it needs to see, never for a time.
class Tour : public QObject {
    Q_OBJECT

public:
    Tour(MainWindow& window, Desk& desk, QString folder);
    void start();

private:
    struct Step {
        QString text;  ///< what it does, for the terminal
        std::function<void()> act;
        std::function<bool()> isDone;  ///< seen to be finished; null: at once
        QString picture;               ///< file name without ending; empty: none
    };
    void addSteps();
    void step(const QString& text, std::function<void()> act, std::function<bool()> isDone = {},
              const QString& picture = {});
    void connectionSteps();
    void writingSteps();
    void queryHelpSteps();
    void resultSteps();
    void compareSteps();
    void findingSteps();
    void guardSteps();
    void next();
    [[nodiscard]] bool isDone() const;
    void check();
    void picture(const QString& name);
    void fail(const QString& text);
    template <class Widget>
    Widget* find(const char* objectName) const;  // throws Missing, which ends the tour with a message
    [[nodiscard]] bool isResultThere() const;
    void type(const QString& text);

    MainWindow& window_;
    Desk& desk_;
    QString folder_;
    std::vector<Step> steps_;
    std::size_t at_ = 0;
    int checks_ = 0;
};

}  // namespace pantry::app
