#pragma once

#include <QAbstractScrollArea>
#include <QColor>
#include <string>
#include <vector>

#include "core/shelf/text_difference.h"
#include "core/sql/text/dialect.h"

namespace pantry::app {

/// Two texts of SQL beside each other, line by line: equal lines on one height, the others tinted with a sign before
/// them, since colour never stands alone. It is only looked at.
///
/// Threads: the window's thread.
class DifferenceView : public QAbstractScrollArea {
    Q_OBJECT

public:
    explicit DifferenceView(QWidget* parent = nullptr);

    void show(std::vector<shelf::DifferenceLine> lines, const sql::Language& language);
    [[nodiscard]] const std::vector<shelf::DifferenceLine>& lines() const { return lines_; }

protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    /// A piece of a line in one colour.
    struct Piece {
        std::size_t start = 0;
        std::size_t length = 0;
        const char* role = "ink";
        bool isBold = false;
    };
    using Pieces = std::vector<Piece>;
    void colour(const sql::Language& language);
    void layOut();
    void goToFirstChange();
    void paintSide(QPainter& painter, const QRect& area, const shelf::DifferenceLine::Side* side, const Pieces& pieces,
                   bool isSame, bool isNow);
    [[nodiscard]] int lineHeight() const;
    [[nodiscard]] QFont codeFont() const;

    std::vector<shelf::DifferenceLine> lines_;
    std::vector<std::pair<Pieces, Pieces>> pieces_;  // of each line, before and now
    bool isLookedAt_ = false;                        // somebody has scrolled
    int widest_ = 0;                                 // letters of the longest line
};

}  // namespace pantry::app
