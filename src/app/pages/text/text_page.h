#pragma once

#include <QCheckBox>
#include <QLabel>
#include <QTimer>

#include "app/define/definition_panel.h"
#include "app/define/written_text.h"
#include "app/editor/find_strip.h"
#include "app/place/place_page.h"
#include "core/sql/define/edited_text.h"

namespace pantry::app {

/// The text of a view, a routine, an event or a trigger: written here, and put in the place of what is there by one
/// press. What fails is marked where it stands.
///
/// Threads: the window's thread.
class TextPage : public PlacePage {
    Q_OBJECT

public:
    /// `place`: the object; its schema alone, with the kind, for a new one; the table of a trigger.
    TextPage(Desk& desk, ObjectPlace place, sql::EditedObject edited, QWidget* parent);

    [[nodiscard]] const sql::EditedObject& edited() const { return edited_; }
    [[nodiscard]] SqlEditor* editor() const { return editor_; }
    [[nodiscard]] QString title() const override;
    [[nodiscard]] QIcon icon() const override;
    [[nodiscard]] std::optional<UnfinishedText> unfinished() const override;
    void enter() override { editor_->setFocus(); }
    /// Puts the text in the place of what is there, as the button does.
    void apply();

Q_SIGNALS:
    void sheetRequested(const pantry::app::ObjectPlace& place, const QString& title, const QString& text);
    /// A new object is made; its place, as far as its text tells it.
    void made(const pantry::app::ObjectPlace& there);
    void closeRequested();

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    void makeLayout();
    void makeKeys();
    void read();
    void begin(const std::string& text);
    void work();
    void show(const Result<sql::TextChange>& change);
    void run();
    void finish();
    [[nodiscard]] bool isShown() const {
        return shownOf_.isCopyOf(editor_->text()) && shownDrops_ == dropsFirst_->isChecked();
    }

    sql::EditedObject edited_;
    bool canRollBack_ = false;
    base::SharedText before_;   // as it stands on the server
    base::SharedText shownOf_;  // the text whose statements the panel has
    bool shownDrops_ = false;
    int asked_ = 0;            // the last question for statements, of which only the answer counts
    bool isThere_ = false;     // the text was read
    bool isApplyDue_ = false;  // as soon as the panel has the statements
    bool isGivenUp_ = false;
    sql::TextChange change_;
    sql::TextChange applied_;     // what runs, or ran last
    base::SharedText appliedOf_;  // and the text of it
    QTimer workTimer_;
    QLabel* about_;
    WrittenText* editor_;
    FindStrip* finding_;
    QCheckBox* dropsFirst_;
    DefinitionPanel* panel_;
};

}  // namespace pantry::app
