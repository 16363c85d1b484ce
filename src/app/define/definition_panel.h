#pragma once

#include <QFrame>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <memory>

#include "app/desk/desk.h"
#include "app/editor/code_text.h"
#include "core/sql/define/alter_table.h"
#include "core/work/definition_run.h"

namespace pantry::app {

/// The statements of a change as they stand now, what goes with them, and the verbs: run them here, or take them into a
/// sheet. What a form shows below its fields. It runs nothing that is not shown.
///
/// Threads: the window's thread.
class DefinitionPanel : public QFrame {
    Q_OBJECT

public:
    /// `title`: of what is done, for the ledger and the sheet.
    DefinitionPanel(Desk& desk, const QString& connectionId, const std::string& database, QWidget* parent);

    void setTitle(const QString& title) { title_ = title; }
    /// What the button says before the connection's name; by itself it counts the statements.
    void setVerb(const QString& verb) { verb_ = verb; }
    /// Says something that stays until other statements are shown, or run.
    void tell(const QString& text) { tell(text, "small"); }
    /// There are none yet, for a reason that is no mistake.
    void wait(const QString& reason);
    /// Shows statements; `problem` says why they are not to be run yet, `warning` what goes with them.
    void show(const sql::DefinitionChange& change, const QString& problem, const QString& warning = {});
    [[nodiscard]] QString text() const;
    /// Whether there is something to run.
    [[nodiscard]] bool hasStatements() const { return !change_.isEmpty(); }
    [[nodiscard]] bool isRunning() const { return run_ && run_->isRunning(); }
    /// Runs what is shown, as the button does.
    void run();
    /// The button says that somebody wants it, instead of running: what is shown may be older than what it is made of.
    void setAsksFirst() { asksFirst_ = true; }
    /// Whether the statements stand here; not where they are the text that somebody writes above.
    void setStatementsShown(bool areShown) { code_->setVisible(areShown); }

Q_SIGNALS:
    void runRequested();
    void sheetRequested(const QString& title, const QString& text);
    /// All of it was run.
    void done();
    /// It failed; the reason is shown here. `place`: the byte of the text that somebody wrote, or -1.
    void failed(qint64 place);
    void cancelled();

private:
    [[nodiscard]] sql::Dialect dialect() const;
    QWidget* makePasswordRow();
    void askPassword();
    void takePassword();
    void ensureRun();
    void showVerbs();
    void say(const QString& text, const char* look);
    void tell(const QString& text, const char* look);
    void noteFinished(const work::DefinitionRun::Outcome& outcome);

    Desk& desk_;
    QString connectionId_;
    std::string database_;
    QString title_;
    QString verb_;
    sql::DefinitionChange change_;
    QString problem_;
    const char* problemLook_ = "bad";
    QString warning_;
    /// What was told last: how these statements ended. It stands while they are shown, whoever shows them again.
    QString told_;
    const char* toldLook_ = "small";
    CodeText* code_;
    QLabel* message_;
    QPushButton* run_verb_;
    QPushButton* sheet_verb_;
    QPushButton* stop_;
    QPushButton* cancel_;
    QWidget* passwordRow_;
    QLabel* passwordLabel_;
    QLineEdit* password_;
    bool asksFirst_ = false;
    bool hasSecret_ = false;  // the statements hold one, which is not shown
    std::unique_ptr<work::DefinitionRun> run_;
};

}  // namespace pantry::app
