#pragma once

#include <QTimer>
#include <string>

#include "app/desk/desk.h"
#include "app/editor/sql_editor.h"
#include "core/work/language_service.h"

namespace pantry::app {

/// A text of SQL that is written outside of a sheet: colours, completion, findings and layout by what is known of its
/// place.
///
/// Threads: the window's thread.
class WrittenText : public SqlEditor {
    Q_OBJECT

public:
    WrittenText(Desk& desk, const QString& connectionId, std::string database, QWidget* parent);

    /// Puts another text in place of all; it cannot be undone.
    void setWritten(const std::string& text);
    /// Lays the text out as the settings say.
    void format();

private:
    void noteText();
    void check();
    void showFindings(const std::vector<sql::Finding>& findings);
    [[nodiscard]] catalog::CatalogPtr catalogHere() const;

    Desk& desk_;
    QString connectionId_;
    std::string database_;
    sql::Language language_;
    work::LanguageService service_;
    QTimer checkTimer_;
};

}  // namespace pantry::app
