#pragma once

#include <QCheckBox>
#include <QComboBox>
#include <QLineEdit>
#include <QSpinBox>
#include <QWidget>
#include <optional>

#include "core/exchange/row_export.h"

namespace pantry::app {

/// What one format can be told: only what concerns it is asked for.
class ExportForm : public QWidget {
    Q_OBJECT

public:
    explicit ExportForm(QWidget* parent = nullptr);

    void setChoices(const exchange::ExportChoices& choices);
    /// Everything but columns, dialect, title and the table's name.
    [[nodiscard]] exchange::ExportChoices choices() const;
    [[nodiscard]] exchange::Format format() const { return format_; }
    /// For which engine statements are written; nothing when for the result's own.
    [[nodiscard]] std::optional<sql::Dialect> dialect() const;

Q_SIGNALS:
    void changed();

private:
    QWidget* makeDelimited();
    QWidget* makeValues();
    QWidget* makeStatements();
    void showWhatConcerns();
    void setCsv(const exchange::CsvOptions& csv);
    void setValueFormat(const exchange::ValueFormat& valueFormat);
    [[nodiscard]] exchange::CsvOptions csv() const;
    [[nodiscard]] exchange::ValueFormat valueFormat() const;

    exchange::Format format_ = exchange::Format::Csv;
    QComboBox* encoding_;
    QComboBox* compression_;
    QWidget* encodingRow_;
    QCheckBox* headings_;
    QCheckBox* indented_;
    QCheckBox* inexactText_;
    QWidget* delimited_;
    QComboBox* delimiter_;
    QComboBox* lineEnd_;
    QComboBox* quoting_;
    QComboBox* quotes_;
    QCheckBox* guard_;
    QWidget* values_;
    QLineEdit* nullText_;
    QComboBox* dates_;
    QLineEdit* trueText_;
    QLineEdit* falseText_;
    QComboBox* decimalSign_;
    QCheckBox* trim_;
    QWidget* statements_;
    QComboBox* dialect_;
    QSpinBox* batch_;
    QCheckBox* createTable_;
};

}  // namespace pantry::app
