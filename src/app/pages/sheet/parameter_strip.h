#pragma once

#include <QFrame>
#include <QGridLayout>
#include <QLineEdit>
#include <QPushButton>
#include <QTimer>

#include <vector>

#include "app/editor/sql_editor.h"
#include "app/sheet/sheet.h"

namespace pantry::app {

/// Under the band: a field for each parameter of the statement at the caret, with what stood in it before as choices.
/// Hidden while there is none.
class ParameterStrip : public QFrame {
    Q_OBJECT

public:
    ParameterStrip(Sheet& sheet, SqlEditor& editor, QWidget* parent = nullptr);

    /// Goes into the first field, or into that of a parameter; says so when there is none.
    void enter(const QString& key = {});
    /// What it shows may be another: the text, the caret, or what the database has.
    void lookSoon() { restTimer_.start(); }

Q_SIGNALS:
    /// The statement is to be run: Return was pressed in a field.
    void runRequested();
    void remarked(const QString& text);

protected:
    void resizeEvent(QResizeEvent* event) override;
    bool eventFilter(QObject* watched, QEvent* event) override;

private:
    /// One parameter as it is shown.
    struct Field {
        sql::StatementParameter parameter;
        QWidget* frame = nullptr;
        QLineEdit* value = nullptr;
        QPushButton* choices = nullptr;
    };
    void look();
    void show(const std::vector<sql::StatementParameter>& parameters);
    Field makeField(const sql::StatementParameter& parameter);
    void layOut();
    void refresh(const Field& field);
    void offerChoices(const Field& field);
    void readFile(const std::string& key);
    [[nodiscard]] int columnsNow() const;

    Sheet& sheet_;
    SqlEditor& editor_;
    QGridLayout* grid_;
    std::vector<Field> fields_;
    QTimer restTimer_;
    QString wanted_;  // the field to enter as soon as it is there
    int shownColumns_ = 0;
};

}  // namespace pantry::app
