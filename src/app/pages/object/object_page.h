#pragma once

#include <QHBoxLayout>
#include <QPointer>
#include <QScrollArea>
#include <QTimer>
#include <QVBoxLayout>
#include <optional>
#include <vector>

#include "app/catalog/change_menu.h"
#include "app/catalog/script_menu.h"
#include "app/editor/code_text.h"
#include "app/pages/object/call_form.h"
#include "app/pages/object/columns_section.h"
#include "app/pages/object/object_sections.h"
#include "app/pages/object/rows_view.h"
#include "app/place/place_page.h"
#include "core/catalog/object_details.h"
#include "core/store/ledger.h"

namespace pantry::app {

/// All that is known of an object of the catalog, as one page: columns, keys, indexes and their use, who refers to it,
/// its neighbours, rights, size, the runs that named it, the statements that make it. A line of words leads to each.
/// A routine is called by a form.
class ObjectPage : public PlacePage {
    Q_OBJECT

public:
    ObjectPage(Desk& desk, ObjectPlace place, QWidget* parent = nullptr);

    /// Shows the rows instead of the facts, or these again.
    void showRows(bool areShown);

    [[nodiscard]] QString title() const override;
    [[nodiscard]] QIcon icon() const override;
    void enter() override;

Q_SIGNALS:
    void rowsRequested(const pantry::app::ObjectPlace& place);
    void objectRequested(const pantry::app::ObjectPlace& place);
    void scriptRequested(const pantry::app::ScriptWish& wish);
    void tableRequested(const pantry::app::ObjectPlace& place, pantry::app::TableWish wish);
    void textRequested(const pantry::app::ObjectPlace& place, const pantry::sql::EditedObject& edited);
    /// `form`: the id of a sql::FormEntry.
    void formRequested(const pantry::app::ObjectPlace& place, const QString& form);
    void sheetRequested(const pantry::app::ObjectPlace& place, const QString& title, const QString& text);
    /// Statements to be run in a sheet of their own.
    void callRequested(const pantry::app::ObjectPlace& place, const QString& title, const QString& statements);

protected:
    void resizeEvent(QResizeEvent* event) override;

private:
    void refresh();
    void readDetails();
    void readRuns();
    void readDefinition();
    QWidget* makeHeader(const QString& facts, const std::string& comment, const std::string& problem);
    void addVerbs(QHBoxLayout* row);
    void addCount(QHBoxLayout* row);
    void countRows();
    void showRelation(const catalog::Relation& relation, const catalog::CatalogPtr& catalog);
    void showObject(const catalog::Object& object, const catalog::CatalogPtr& catalog);
    CallForm* callForm(const catalog::Catalog* catalog);
    void addSection(const QString& word, const QString& title, QWidget* content, bool isWide);
    void addDefinition();
    void refreshSoon();
    [[nodiscard]] QWidget* makeTriggers(const std::vector<catalog::Trigger>& triggers);
    void layOut();

    struct Section {
        QString word;  // in the line that leads to it
        QWidget* frame;
        bool isWide;
    };

    std::optional<catalog::ObjectDetails> details_;
    std::optional<std::vector<store::LedgerEntry>> runs_;
    std::optional<catalog::Definition> definition_;
    QString definitionProblem_;
    ShapeReader* shape_;
    QPointer<CallForm> callForm_;
    QString countWords_;
    bool isCounting_ = false;
    db::RunHandle counting_;

    QTimer refreshTimer_;  // what comes soon after each other is shown together
    QWidget* header_ = nullptr;
    QVBoxLayout* outer_;
    QHBoxLayout* links_;  // that lead to the sections
    QWidget* wordsBar_ = nullptr;
    QScrollArea* scroll_;
    RowsView* rows_ = nullptr;  // once somebody has looked at them
    QWidget* inner_ = nullptr;
    std::vector<Section> sections_;
    bool isTwoColumns_ = false;
};

}  // namespace pantry::app
