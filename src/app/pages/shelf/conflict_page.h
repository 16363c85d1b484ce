#pragma once

#include <QLabel>
#include <QListWidget>
#include <QPlainTextEdit>
#include <QPushButton>
#include <vector>

#include "app/page/page.h"
#include "app/pages/shelf/difference_view.h"
#include "app/shelf/shelf_verbs.h"

namespace pantry::app {

/// What was changed here and there: each file with both texts beside each other, and the choice between them, or a text
/// of both. Nothing is brought in before there is a choice for each.
///
/// Threads: the window's thread.
class ConflictPage : public Page {
    Q_OBJECT

public:
    ConflictPage(ShelfVerbs& verbs, std::string shelf, std::vector<shelf::Conflict> conflicts,
                 QWidget* parent = nullptr);

    [[nodiscard]] QString title() const override { return tr("Bring together"); }
    [[nodiscard]] QIcon icon() const override;
    void enter() override;

Q_SIGNALS:
    /// Everything is chosen and handed on.
    void finished();

private:
    enum class Choice { None, Ours, Theirs, Own };
    [[nodiscard]] QWidget* makeVerbs();
    void showFile(int row);
    void choose(Choice choice);
    void refresh();
    void finish();
    [[nodiscard]] std::size_t row() const { return static_cast<std::size_t>(files_->currentRow()); }

    ShelfVerbs& verbs_;
    std::string shelf_;
    std::vector<shelf::Conflict> conflicts_;
    std::vector<Choice> choices_;
    std::vector<QString> own_;  // texts of both, as far as somebody wrote one
    QListWidget* files_;
    QLabel* what_;
    DifferenceView* difference_;
    QPushButton* ours_;
    QPushButton* theirs_;
    QPushButton* both_;
    QPlainTextEdit* text_;
    QPushButton* finish_;
};

}  // namespace pantry::app
