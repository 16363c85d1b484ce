#include "app/result/export_form.h"

#include <QGridLayout>
#include <QVBoxLayout>

#include "app/base/text.h"
#include "app/look/widgets.h"

namespace pantry::app {
namespace {

constexpr int kMaxBatchRows = 100'000;

/// Pairs of a label and a field, two beside each other.
class FieldGrid {
public:
    explicit FieldGrid(QWidget* parent) : layout_(new QGridLayout(parent)) {
        layout_->setContentsMargins(0, 0, 0, 0);
        layout_->setHorizontalSpacing(10);
        layout_->setVerticalSpacing(2);
        layout_->setColumnStretch(0, 1);
        layout_->setColumnStretch(1, 1);
    }
    void add(const QString& label, QWidget* field) {
        layout_->addWidget(makeLabel(label, "field"), row_, column_);
        layout_->addWidget(field, row_ + 1, column_);
        column_ = 1 - column_;
        if (column_ == 0) row_ += 2;
    }
    void addWide(QWidget* field) {
        if (column_ == 1) row_ += 2;
        column_ = 0;
        layout_->addWidget(field, row_, 0, 1, 2);
        row_ += 1;
    }

private:
    QGridLayout* layout_;
    int row_ = 0;
    int column_ = 0;
};

QComboBox* makeCombo(const char* objectName, const QString& accessibleName, QWidget* parent) {
    auto* box = new QComboBox(parent);
    name(box, objectName, accessibleName);
    box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
    box->setMinimumContentsLength(8);
    return box;
}

QWidget* makeGroup(QWidget* parent) {
    auto* group = new QWidget(parent);
    group->setObjectName(QStringLiteral("plainBox"));
    return group;
}

void choose(QComboBox* box, const QVariant& value) {
    const int found = box->findData(value);
    if (found >= 0) box->setCurrentIndex(found);
}

template <class Choice>
Choice chosen(const QComboBox* box) {
    return static_cast<Choice>(box->currentData().toInt());
}

}  // namespace

ExportForm::ExportForm(QWidget* parent)
    : QWidget(parent),
      encoding_(makeCombo("exportEncoding", tr("Encoding"), this)),
      compression_(makeCombo("exportCompression", tr("Compression"), this)),
      encodingRow_(makeGroup(this)),
      headings_(new QCheckBox(tr("Headings in the first line"), this)),
      indented_(new QCheckBox(tr("A line for each member"), this)),
      inexactText_(new QCheckBox(tr("Inexact numbers as text"), this)),
      delimited_(makeDelimited()),
      values_(makeValues()),
      statements_(makeStatements()) {
    setObjectName(QStringLiteral("plainBox"));
    name(headings_, "exportHeadings", tr("Headings in the first line"));
    name(indented_, "exportIndented", tr("A line for each member"));
    name(inexactText_, "exportInexactText", tr("Inexact numbers as text"));
    inexactText_->setToolTip(tr(
        "A workbook keeps 15 digits of a number, and times without a zone. Decimals with more are rounded and can be "
        "summed up; as text they stay exact. What was rounded is told at the end."));
    for (std::size_t i = 0; i < exchange::kEncodings; ++i) {
        encoding_->addItem(toQt(exchange::encodingName(static_cast<exchange::Encoding>(i))), static_cast<int>(i));
    }
    for (std::size_t i = 0; i < exchange::kCompressions; ++i) {
        compression_->addItem(toQt(exchange::compressionName(static_cast<exchange::Compression>(i))),
                              static_cast<int>(i));
    }
    FieldGrid files(encodingRow_);
    files.add(tr("Encoding"), encoding_);
    files.add(tr("Compression"), compression_);
    headings_->setChecked(true);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(7);
    for (QWidget* part : {static_cast<QWidget*>(headings_), static_cast<QWidget*>(indented_),
                          static_cast<QWidget*>(inexactText_), delimited_, statements_, values_, encodingRow_}) {
        layout->addWidget(part);
    }
    for (QComboBox* box : findChildren<QComboBox*>()) {
        connect(box, &QComboBox::currentTextChanged, this, &ExportForm::changed);
    }
    for (QLineEdit* edit : {nullText_, trueText_, falseText_}) {
        connect(edit, &QLineEdit::textChanged, this, &ExportForm::changed);
    }
    for (QCheckBox* box : findChildren<QCheckBox*>()) connect(box, &QCheckBox::toggled, this, &ExportForm::changed);
    connect(batch_, &QSpinBox::valueChanged, this, &ExportForm::changed);
    showWhatConcerns();
}

QWidget* ExportForm::makeDelimited() {
    QWidget* group = makeGroup(this);
    delimiter_ = makeCombo("exportDelimiter", tr("Delimiter"), group);
    delimiter_->setEditable(true);
    delimiter_->setToolTip(tr("One of these, or any other: one character or several"));
    delimiter_->addItem(tr("Comma"), QStringLiteral(","));
    delimiter_->addItem(tr("Semicolon"), QStringLiteral(";"));
    delimiter_->addItem(tr("Tab"), QStringLiteral("\t"));
    delimiter_->addItem(tr("Bar"), QStringLiteral("|"));
    lineEnd_ = makeCombo("exportLineEnd", tr("Line end"), group);
    lineEnd_->addItem(tr("CR LF"), QStringLiteral("\r\n"));
    lineEnd_->addItem(tr("LF"), QStringLiteral("\n"));
    lineEnd_->addItem(tr("CR"), QStringLiteral("\r"));
    quoting_ = makeCombo("exportQuoting", tr("What is quoted"), group);
    quoting_->addItem(tr("Where needed"), static_cast<int>(exchange::Quoting::WhereNeeded));
    quoting_->addItem(tr("Every text"), static_cast<int>(exchange::Quoting::Texts));
    quoting_->addItem(tr("Every value"), static_cast<int>(exchange::Quoting::Everything));
    quotes_ = makeCombo("exportQuotes", tr("Quotes, and what stands before one within them"), group);
    quotes_->addItem(tr("\"…\", doubled"), QStringLiteral("\"\""));
    quotes_->addItem(tr("\"…\", \\ before"), QStringLiteral("\"\\"));
    quotes_->addItem(tr("'…', doubled"), QStringLiteral("''"));
    quotes_->addItem(tr("'…', \\ before"), QStringLiteral("'\\"));
    guard_ = new QCheckBox(tr("Guard against formulas"), group);
    guard_->setToolTip(tr("An apostrophe before texts that a spreadsheet would take for a formula"));
    name(guard_, "exportGuard", tr("Guard against formulas"));
    FieldGrid grid(group);
    grid.add(tr("Delimiter"), delimiter_);
    grid.add(tr("Line end"), lineEnd_);
    grid.add(tr("Quotes around"), quoting_);
    grid.add(tr("Quotes"), quotes_);
    grid.addWide(guard_);
    return group;
}

QWidget* ExportForm::makeValues() {
    QWidget* group = makeGroup(this);
    nullText_ = new QLineEdit(group);
    name(nullText_, "exportNullText", tr("Text for null"));
    nullText_->setPlaceholderText(tr("as usual"));
    dates_ = makeCombo("exportDates", tr("Form of dates"), group);
    for (std::size_t i = 0; i < exchange::kDateForms; ++i) {
        dates_->addItem(toQt(exchange::dateFormExample(static_cast<exchange::DateForm>(i))), static_cast<int>(i));
    }
    trueText_ = new QLineEdit(group);
    falseText_ = new QLineEdit(group);
    name(trueText_, "exportTrue", tr("Text for true"));
    name(falseText_, "exportFalse", tr("Text for false"));
    trueText_->setPlaceholderText(tr("as sent"));
    falseText_->setPlaceholderText(tr("as sent"));
    decimalSign_ = makeCombo("exportDecimalSign", tr("Decimal sign"), group);
    decimalSign_->addItem(tr("Point: 0.5"), QChar(u'.'));
    decimalSign_->addItem(tr("Comma: 0,5"), QChar(u','));
    trim_ = new QCheckBox(tr("Without blanks at the end of texts"), group);
    name(trim_, "exportTrim", tr("Without blanks at the end of texts"));
    FieldGrid grid(group);
    grid.add(tr("Null as"), nullText_);
    grid.add(tr("Dates as"), dates_);
    grid.add(tr("True as"), trueText_);
    grid.add(tr("False as"), falseText_);
    grid.add(tr("Decimal sign"), decimalSign_);
    grid.addWide(trim_);
    return group;
}

QWidget* ExportForm::makeStatements() {
    QWidget* group = makeGroup(this);
    dialect_ = makeCombo("exportDialect", tr("Engine that the statements are for"), group);
    dialect_->addItem(tr("This engine"), -1);
    dialect_->addItem(QStringLiteral("PostgreSQL"), static_cast<int>(sql::Dialect::Postgres));
    dialect_->addItem(QStringLiteral("MariaDB, MySQL"), static_cast<int>(sql::Dialect::MySql));
    dialect_->addItem(QStringLiteral("SQLite"), static_cast<int>(sql::Dialect::Sqlite));
    dialect_->addItem(tr("Standard SQL"), static_cast<int>(sql::Dialect::Ansi));
    batch_ = new QSpinBox(group);
    batch_->setRange(1, kMaxBatchRows);
    batch_->setValue(100);
    name(batch_, "exportBatch", tr("Rows in one statement"));
    createTable_ = new QCheckBox(tr("Begin with CREATE TABLE"), group);
    name(createTable_, "exportCreateTable", tr("Begin with CREATE TABLE"));
    FieldGrid grid(group);
    grid.add(tr("Written for"), dialect_);
    grid.add(tr("Rows in a statement"), batch_);
    grid.addWide(createTable_);
    return group;
}

void ExportForm::showWhatConcerns() {
    using exchange::Format;
    const bool isDelimited = format_ == Format::Csv || format_ == Format::Tsv;
    delimited_->setVisible(isDelimited);
    delimiter_->setEnabled(format_ == Format::Csv);
    lineEnd_->setEnabled(format_ == Format::Csv);
    headings_->setVisible(isDelimited || format_ == Format::Workbook);
    indented_->setVisible(format_ == Format::Json);
    inexactText_->setVisible(format_ == Format::Workbook);
    statements_->setVisible(format_ == Format::Insert);
    values_->setVisible(exchange::takesValueFormat(format_));
    encoding_->setEnabled(exchange::takesEncoding(format_));
    compression_->setEnabled(format_ != Format::Workbook);  // which is compressed already
}

void ExportForm::setChoices(const exchange::ExportChoices& choices) {
    {
        const QSignalBlocker blocker(this);
        format_ = choices.format;
        choose(encoding_, static_cast<int>(choices.encoding));
        choose(compression_, static_cast<int>(choices.compression));
        setCsv(choices.forms.csv);
        setValueFormat(choices.forms.valueFormat);
        indented_->setChecked(choices.forms.isJsonIndented);
        inexactText_->setChecked(choices.forms.isInexactText);
        batch_->setValue(static_cast<int>(choices.forms.insert.batchRows));
        createTable_->setChecked(choices.forms.insert.hasCreateTable);
        showWhatConcerns();
    }
    Q_EMIT changed();
}

void ExportForm::setCsv(const exchange::CsvOptions& csv) {
    if (const int found = delimiter_->findData(toQt(csv.delimiter)); found >= 0) {
        delimiter_->setCurrentIndex(found);
    } else {
        delimiter_->setEditText(toQt(csv.delimiter));
    }
    choose(lineEnd_, toQt(csv.lineEnd));
    choose(quoting_, static_cast<int>(csv.quoting));
    choose(quotes_, QString(QLatin1Char(csv.quote)) + QLatin1Char(csv.escape));
    headings_->setChecked(csv.hasHeadings);
}

void ExportForm::setValueFormat(const exchange::ValueFormat& valueFormat) {
    nullText_->setText(toQt(valueFormat.nullText.value_or("")));
    choose(dates_, static_cast<int>(valueFormat.dateForm));
    trueText_->setText(toQt(valueFormat.trueText));
    falseText_->setText(toQt(valueFormat.falseText));
    choose(decimalSign_, QChar(QLatin1Char(valueFormat.decimalSign)));
    trim_->setChecked(valueFormat.trimsTrailingBlanks);
    guard_->setChecked(valueFormat.guardsFormulas);
}

exchange::CsvOptions ExportForm::csv() const {
    const QString quotes = quotes_->currentData().toString();
    const int known = delimiter_->findText(delimiter_->currentText());
    const QString delimiter = known >= 0
                                  ? delimiter_->itemData(known).toString()
                                  : delimiter_->currentText().replace(QStringLiteral("\\t"), QStringLiteral("\t"));
    return {.delimiter = delimiter.isEmpty() ? "," : fromQt(delimiter),
            .hasHeadings = headings_->isChecked(),
            .quoting = chosen<exchange::Quoting>(quoting_),
            .quote = quotes.at(0).toLatin1(),
            .escape = quotes.at(1).toLatin1(),
            .lineEnd = fromQt(lineEnd_->currentData().toString())};
}

exchange::ValueFormat ExportForm::valueFormat() const {
    exchange::ValueFormat valueFormat{.trueText = fromQt(trueText_->text()),
                                      .falseText = fromQt(falseText_->text()),
                                      .dateForm = chosen<exchange::DateForm>(dates_),
                                      .decimalSign = decimalSign_->currentData().toChar().toLatin1(),
                                      .trimsTrailingBlanks = trim_->isChecked(),
                                      .guardsFormulas = guard_->isChecked()};
    if (!nullText_->text().isEmpty()) valueFormat.nullText = fromQt(nullText_->text());
    return valueFormat;
}

std::optional<sql::Dialect> ExportForm::dialect() const {
    const int chosenOne = dialect_->currentData().toInt();
    return chosenOne < 0 ? std::nullopt : std::optional(static_cast<sql::Dialect>(chosenOne));
}

exchange::ExportChoices ExportForm::choices() const {
    exchange::ExportChoices choices{.format = format_};
    choices.encoding = chosen<exchange::Encoding>(encoding_);
    choices.compression = format_ == exchange::Format::Workbook ? exchange::Compression::None
                                                                : chosen<exchange::Compression>(compression_);
    choices.forms.csv = csv();
    choices.forms.valueFormat = valueFormat();
    choices.forms.isJsonIndented = indented_->isChecked();
    choices.forms.isInexactText = inexactText_->isChecked();
    choices.forms.insert.batchRows = static_cast<std::size_t>(batch_->value());
    choices.forms.insert.hasCreateTable = createTable_->isChecked();
    return choices;
}

}  // namespace pantry::app

#include "moc_export_form.cpp"
