#pragma once

#include <QLineEdit>
#include <QListWidget>
#include <QTextBrowser>
#include <vector>

#include "app/page/page.h"
#include "core/work/guide_topics.h"

namespace pantry::app {

/// The topics of the user guide, in its order; read from the program itself once.
[[nodiscard]] const std::vector<work::GuideTopic>& guide();

/// The user guide: its topics by chapter at the left, with a field that finds words in them, and the one chosen.
class GuidePage : public Page {
    Q_OBJECT

public:
    explicit GuidePage(QWidget* parent = nullptr);

    [[nodiscard]] QString title() const override { return tr("Guide"); }
    [[nodiscard]] QIcon icon() const override;
    [[nodiscard]] bool hasLeftColumn() const override { return false; }

    /// Shows a topic of guide(), by its index there.
    void showTopic(std::size_t index);

protected:
    bool eventFilter(QObject* object, QEvent* event) override;

private:
    void fillList(const QString& words);
    void showRow(int row);

    QLineEdit* find_;
    QListWidget* list_;
    QTextBrowser* text_;
};

}  // namespace pantry::app
