#pragma once

#include <QFrame>
#include <QLabel>
#include <QLineEdit>
#include <QPushButton>
#include <QTimer>

#include <vector>

#include "app/editor/sql_editor.h"
#include "core/work/text_find.h"

namespace pantry::app {

/// Below the text: finds in it, and replaces. What is found is marked, counted, and gone through by Return; Esc closes
/// it. It is looked for beside the window.
class FindStrip : public QFrame {
    Q_OBJECT

public:
    /// Reaching: the text alone, or every open sheet from it.
    enum class Reach { Text, Sheets };
    FindStrip(Reach reach, SqlEditor& editor, QWidget* parent = nullptr);

    /// Opens it on what is selected; `replaces`: with the field for what to put in its place.
    void open(bool replaces);
    void goOn(bool forward);

Q_SIGNALS:
    void remarked(const QString& text);
    /// The same is to be looked for in every open sheet.
    void everywhereWanted(const pantry::work::TextQuery& query);

protected:
    bool eventFilter(QObject* watched, QEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    void makeLayout(Reach reach);
    QPushButton* makeToggle(const QString& text, const char* objectName, const QString& tip);
    [[nodiscard]] work::TextQuery query() const;
    void look();
    void show(const Result<std::vector<sql::TextRange>>& found);
    void showCount();
    void replaceOne();
    void replaceAll();
    void close();

    SqlEditor& editor_;
    QLineEdit* find_;
    QLineEdit* replacement_;
    QLabel* count_;
    QPushButton* letters_ = nullptr;
    QPushButton* words_ = nullptr;
    QPushButton* expression_ = nullptr;
    QPushButton* inSelection_ = nullptr;
    QWidget* replaceRow_;
    QTimer timer_;
    std::vector<sql::TextRange> found_;
    base::SharedText foundIn_;
};

}  // namespace pantry::app
