#pragma once

#include <QCheckBox>
#include <QLabel>
#include <QLineEdit>
#include <QListWidget>
#include <QPlainTextEdit>
#include <QPushButton>
#include <QTimer>

#include <vector>

#include "app/desk/desk.h"
#include "app/editor/sql_editor.h"
#include "app/page/page.h"
#include "core/snippet/snippets.h"

namespace pantry::app {

/// All snippets: at the left their triggers, in the middle the chosen one to be changed, at the right the same as it is
/// used, to be tried with Tab. What is wrong with it is said as it is written.
class SnippetsPage : public Page {
    Q_OBJECT

public:
    explicit SnippetsPage(Desk& desk, QWidget* parent = nullptr);

    [[nodiscard]] QString title() const override { return tr("Snippets"); }
    [[nodiscard]] QIcon icon() const override;
    [[nodiscard]] bool hasLeftColumn() const override { return false; }
    void enter() override { list_->setFocus(); }

    /// Begins a new one with this text, such as a statement of a sheet.
    void begin(const std::string& text, sql::Dialect dialect);

private:
    [[nodiscard]] QWidget* makeList();
    [[nodiscard]] QWidget* makeForm();
    [[nodiscard]] QWidget* makeTrial();
    void fillList(const std::string& trigger);
    void show(int row);
    void showSnippet(const snippet::Snippet& one);
    [[nodiscard]] snippet::Snippet written() const;
    [[nodiscard]] std::vector<snippet::Snippet> others() const;
    void noteWritten();
    void tryOut();
    void makePlace();
    void save();
    void remove();

    Desk& desk_;
    std::vector<snippet::Snippet> shown_;  // in the list
    std::string before_;                   // trigger of the own one that is being changed; empty for a new one
    QListWidget* list_ = nullptr;
    QLineEdit* trigger_ = nullptr;
    QLineEdit* title_ = nullptr;
    QPlainTextEdit* text_ = nullptr;
    std::vector<std::pair<sql::Dialect, QCheckBox*>> dialects_;
    QLabel* message_ = nullptr;
    QPushButton* save_ = nullptr;
    QPushButton* remove_ = nullptr;
    SqlEditor* trial_ = nullptr;
    QTimer trialTimer_;
};

}  // namespace pantry::app
