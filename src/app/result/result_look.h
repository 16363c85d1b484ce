#pragma once

#include <QColor>
#include <QHash>
#include <QObject>
#include <functional>
#include <memory>
#include <vector>

#include "app/result/column_facts.h"
#include "core/data/store/result_set.h"
#include "core/data/view/grid_choices.h"

namespace pantry::app {

/// How a result's cells look: the forms, colours and labels that are chosen for its query. What is copied and exported
/// does not ask here.
class ResultLook : public QObject {
    Q_OBJECT

public:
    using QObject::QObject;

    void setColumns(const std::vector<data::Column>& columns);
    /// Before another result is shown.
    void forget();
    void setChoices(const data::GridChoices& choices);
    [[nodiscard]] const data::GridChoices& choices() const { return choices_; }
    void setFacts(ColumnFacts facts);
    [[nodiscard]] const ColumnFacts& facts() const { return facts_; }

    /// Under what the choices for a column are kept: its name, with a number when others are called the same.
    [[nodiscard]] const std::string& keyOf(int column) const { return keys_[static_cast<std::size_t>(column)]; }
    [[nodiscard]] int columnOf(const std::string& key) const;
    [[nodiscard]] data::ColumnChoice choiceOf(int column) const;

    /// A cell as it is shown.
    [[nodiscard]] QString text(const data::Cell& cell, int column) const;
    /// The ground that a rule gives a cell; invalid where none does.
    [[nodiscard]] QColor background(const data::Cell& cell, int column) const;

    /// The label of the row that a key's value points at; empty when there is none, or not yet.
    [[nodiscard]] QString label(const data::Cell& cell, int column) const;
    void setLabels(int column, QHash<QByteArray, QString> labels);
    /// Smallest and largest number of a column, which a scale of colours needs.
    void setRange(int column, double low, double high);

Q_SIGNALS:
    void changed();

private:
    struct Rule {
        std::function<bool(const data::Cell&)> holds;  // of a scale: empty
        std::string colour;
        bool isScale = false;
    };
    struct Range {
        double low = 0;
        double high = 0;
    };
    void compileRules();

    std::vector<data::Column> columns_;
    std::vector<std::string> keys_;
    data::GridChoices choices_;
    ColumnFacts facts_;
    std::vector<std::vector<Rule>> rules_;  // by column
    QHash<int, QHash<QByteArray, QString>> labels_;
    QHash<int, Range> ranges_;
};

}  // namespace pantry::app
