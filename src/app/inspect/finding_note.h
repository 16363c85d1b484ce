#pragma once

#include <QFrame>
#include <QLabel>
#include <QPushButton>
#include <QString>

namespace pantry::app {

/// What is marked at the cursor, in full.
struct FindingText {
    QString severity;  ///< “Mistake”, as people say it
    QString message;
    QString rule;  ///< that can be turned off; empty for what cannot, such as what a server says
    bool canMend = false;
};

/// The part of the close-up that tells what is marked at the cursor, and what to do about it.
class FindingNote : public QFrame {
    Q_OBJECT

public:
    explicit FindingNote(QWidget* parent);
    void tell(const FindingText& finding);

Q_SIGNALS:
    void mendRequested();
    void silenceRequested();

private:
    QLabel* severity_;
    QLabel* message_;
    QPushButton* mend_;
    QPushButton* silence_;
};

}  // namespace pantry::app
