#pragma once

#include <QLabel>
#include <QObject>
#include <QString>
#include <QTimer>

namespace pantry::app {

/// The place of the status line that several have something to say in: remarks about what has happened, which stay for
/// a while, and facts that hold as long as they hold. The newest shows; nobody's silence takes away what another said.
///
/// Threads: the window's thread.
class StatusText : public QObject {
    Q_OBJECT

public:
    /// Lifetime: the label outlives it.
    explicit StatusText(QLabel* label, QObject* parent = nullptr);

    /// Something has happened. It stays for fifteen seconds, until something newer is there, or until another page than
    /// the one that it is about comes to the front; `about` is only compared, and may be gone.
    void say(const QString& remark, const QObject* about = nullptr);
    /// What holds now, such as the sum of the chosen cells; empty for nothing.
    void setFacts(const QString& facts);
    /// Another page is in front: facts, and a remark about any other page, are not about what is seen now.
    void followPage(const QObject* page);

private:
    void show();

    QLabel* label_;
    QString remark_;
    const QObject* about_ = nullptr;  // never followed
    QString facts_;
    QTimer timer_;
};

}  // namespace pantry::app
