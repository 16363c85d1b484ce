#pragma once

#include <QListWidget>
#include <vector>

#include "core/shelf/repository.h"

namespace pantry::app {

/// The versions of a query as a line of moments, the newest above; the gaps between them tell how long it was. Two of
/// them are chosen, the newer and the older.
///
/// Threads: the window's thread.
class VersionLine : public QListWidget {
    Q_OBJECT

public:
    explicit VersionLine(QWidget* parent = nullptr);

    void show(std::vector<shelf::Version> versions);
    [[nodiscard]] const std::vector<shelf::Version>& versions() const { return versions_; }
    /// Numbers from the newest; the newer is compared with the older. -1 while there is none.
    [[nodiscard]] int newer() const { return newer_; }
    [[nodiscard]] int older() const { return older_; }

Q_SIGNALS:
    /// Two others are chosen.
    void chosen();

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    void choose(int row);
    [[nodiscard]] int linesOf(const QString& message) const;

    std::vector<shelf::Version> versions_;
    int newer_ = -1;
    int older_ = -1;
};

}  // namespace pantry::app
