#pragma once

#include <QFrame>
#include <QLabel>
#include <QVBoxLayout>
#include <functional>

namespace pantry::app {

/// What stands in the place of an empty list: why it is empty, and ways to where there is something.
class NothingHere : public QFrame {
    Q_OBJECT

public:
    explicit NothingHere(QWidget* parent = nullptr);

    struct Way {
        QString label;
        std::function<void()> go;
    };
    void say(const QString& text, const std::vector<Way>& ways = {});

private:
    QLabel* text_;
    QVBoxLayout* ways_;
};

}  // namespace pantry::app
