#include "app/result/export_panel.h"

#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QRegularExpression>
#include <QScrollArea>
#include <QStandardPaths>
#include <QVBoxLayout>
#include <numeric>

#include "app/base/background.h"
#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/base/widgets.h"
#include "app/sheet/run_bridge.h"
#include "core/base/text.h"
#include "core/base/utf8.h"
#include "core/sql/risk.h"

namespace pantry::app {
namespace {

constexpr int kWidth = 312;

/// A path that may be broken after each folder.
QString breakable(const std::filesystem::path& path) {
    return toQt(path.string()).replace(QLatin1Char('/'), QStringLiteral("/\u200B"));
}

QString countedRows(qulonglong rows) { return toQt(base::counted(static_cast<std::int64_t>(rows), "row", "rows")); }

}  // namespace

ExportPanel::ExportPanel(Sheet& sheet, QWidget* parent)
    : QFrame(parent),
      sheet_(sheet),
      source_(makeLabel({}, "quiet", this)),
      file_(new QLineEdit(this)),
      format_(new QComboBox(this)),
      csvFields_(new QWidget(this)),
      insertFields_(new QWidget(this)),
      table_(new QLineEdit(this)),
      createTable_(new QCheckBox(tr("Begin with CREATE TABLE"), this)),
      preview_(new QPlainTextEdit(this)),
      delimiter_(new QComboBox(this)),
      lineEnd_(new QComboBox(this)),
      encoding_(new QComboBox(this)),
      nullText_(new QLineEdit(this)),
      headings_(new QCheckBox(tr("Headings in the first line"), this)),
      quoteAll_(new QCheckBox(tr("Quote every value"), this)),
      progress_(new QProgressBar(this)),
      state_(makeLabel({}, "small", this)),
      start_(makeButton(tr("Export"), "main", objectName::kExportStart, tr("Write the file"), this)),
      stop_(makeButton(tr("Stop"), "", objectName::kExportStop, tr("Stop writing"), this)) {
    setProperty("look", "side");
    name(this, objectName::kExportPanel, tr("Export"));
    name(file_, objectName::kExportFile, tr("File to write"));
    name(state_, objectName::kExportState, tr("State of the export"));
    name(format_, "exportFormat", tr("Form of the file"));
    name(table_, "exportTable", tr("Table that the statements name"));
    name(createTable_, "exportCreateTable", tr("Begin with CREATE TABLE"));
    name(preview_, "exportPreview", tr("The first lines"));
    for (const std::string& word : exchange::formatWords()) {
        const exchange::Format format = *exchange::formatFromWord(word);
        format_->addItem(toQt(exchange::formatName(format)), static_cast<int>(format));
    }
    table_->setProperty("look", "code");
    preview_->setReadOnly(true);
    preview_->setLineWrapMode(QPlainTextEdit::NoWrap);
    preview_->setProperty("look", "code");
    preview_->setFixedHeight(92);
    csvFields_->setObjectName(QStringLiteral("plainBox"));
    insertFields_->setObjectName(QStringLiteral("plainBox"));
    name(delimiter_, "exportDelimiter", tr("Delimiter"));
    name(lineEnd_, "exportLineEnd", tr("Line end"));
    name(encoding_, "exportEncoding", tr("Encoding"));
    name(nullText_, "exportNullText", tr("Text for null"));
    name(headings_, "exportHeadings", tr("Headings in the first line"));
    name(quoteAll_, "exportQuoteAll", tr("Quote every value"));
    setFixedWidth(kWidth);
    source_->setWordWrap(true);
    state_->setWordWrap(true);
    file_->setProperty("look", "code");
    delimiter_->addItem(tr("Comma"), QChar(u','));
    delimiter_->addItem(tr("Semicolon"), QChar(u';'));
    delimiter_->addItem(tr("Tab"), QChar(u'\t'));
    delimiter_->addItem(tr("Bar"), QChar(u'|'));
    lineEnd_->addItem(tr("CR LF"), QStringLiteral("\r\n"));
    lineEnd_->addItem(tr("LF"), QStringLiteral("\n"));
    for (const auto e : {exchange::Encoding::Utf8, exchange::Encoding::Utf8WithMark,
                         exchange::Encoding::Utf16LittleEndian, exchange::Encoding::Latin1}) {
        encoding_->addItem(toQt(exchange::encodingName(e)), static_cast<int>(e));
    }
    nullText_->setPlaceholderText(tr("nothing"));
    headings_->setChecked(true);
    progress_->setTextVisible(false);

    auto* close =
        makeButton(QStringLiteral("✕"), "plain", objectName::kExportClose, tr("Close the export panel"), this);
    auto* choose = makeButton(tr("Choose…"), "", "exportChoose", tr("Choose the file"), this);
    auto* top = new QHBoxLayout;
    top->addWidget(makeLabel(tr("Export as"), "bigHeading"));
    top->addWidget(format_, 1);
    top->addStretch();
    top->addWidget(close);
    auto* fileRow = new QHBoxLayout;
    fileRow->addWidget(file_, 1);
    fileRow->addWidget(choose);
    auto* options = new QGridLayout;
    options->setContentsMargins(0, 0, 0, 0);
    options->setHorizontalSpacing(10);
    options->setVerticalSpacing(2);
    const auto place = [options](const QString& label, QWidget* widget, int row, int column) {
        options->addWidget(makeLabel(label, "field"), row * 2, column);
        options->addWidget(widget, row * 2 + 1, column);
        options->setColumnStretch(column, 1);
    };
    place(tr("Delimiter"), delimiter_, 0, 0);
    place(tr("Line end"), lineEnd_, 0, 1);
    place(tr("Encoding"), encoding_, 1, 0);
    place(tr("Null as"), nullText_, 1, 1);
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(start_);
    buttons->addWidget(stop_);
    buttons->addStretch();
    auto* body = new QWidget;
    body->setObjectName(QStringLiteral("formBody"));
    body->setMaximumWidth(kWidth - 12);
    for (QComboBox* box : {delimiter_, lineEnd_, encoding_}) {
        box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
        box->setMinimumContentsLength(8);
    }
    auto* layout = new QVBoxLayout(body);
    layout->setContentsMargins(16, 8, 14, 12);
    layout->setSpacing(7);
    layout->addLayout(top);
    layout->addWidget(source_);
    layout->addLayout(fileRow);
    layout->addLayout(buttons);
    layout->addWidget(progress_);
    layout->addWidget(state_);
    auto* csvLayout = new QVBoxLayout(csvFields_);
    csvLayout->setContentsMargins(0, 0, 0, 0);
    csvLayout->addLayout(options);
    csvLayout->addWidget(headings_);
    csvLayout->addWidget(quoteAll_);
    auto* insertLayout = new QVBoxLayout(insertFields_);
    insertLayout->setContentsMargins(0, 0, 0, 0);
    insertLayout->addWidget(makeLabel(tr("Table"), "field"));
    insertLayout->addWidget(table_);
    insertLayout->addWidget(createTable_);
    layout->addWidget(makeLabel(tr("The first lines"), "field"));
    layout->addWidget(preview_);
    layout->addWidget(csvFields_);
    layout->addWidget(insertFields_);
    layout->addStretch();
    auto* scroll = new QScrollArea(this);
    scroll->setWidget(body);
    scroll->setWidgetResizable(true);
    scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->addWidget(scroll);
    connect(close, &QPushButton::clicked, this, &QWidget::hide);
    previewTimer_.setSingleShot(true);
    previewTimer_.setInterval(120);
    connect(&previewTimer_, &QTimer::timeout, this, &ExportPanel::showPreview);
    connect(format_, &QComboBox::currentIndexChanged, this, &ExportPanel::showFormat);
    for (QComboBox* box : {delimiter_, lineEnd_, encoding_}) {
        connect(box, &QComboBox::currentIndexChanged, &previewTimer_, qOverload<>(&QTimer::start));
    }
    for (QLineEdit* edit : {nullText_, table_}) {
        connect(edit, &QLineEdit::textChanged, &previewTimer_, qOverload<>(&QTimer::start));
    }
    for (QCheckBox* box : {headings_, quoteAll_, createTable_}) {
        connect(box, &QCheckBox::toggled, &previewTimer_, qOverload<>(&QTimer::start));
    }
    showFormat();
    connect(choose, &QPushButton::clicked, this, &ExportPanel::chooseFile);
    connect(start_, &QPushButton::clicked, this, &ExportPanel::start);
    connect(stop_, &QPushButton::clicked, this, &ExportPanel::stop);
    connect(file_, &QLineEdit::returnPressed, this, &ExportPanel::start);
    refresh();
}

ExportPanel::~ExportPanel() {
    stop();
    destroyInBackground(std::move(session_));
}

void ExportPanel::open(Card* card) {
    if (!isRunning_) {
        card_ = card;
        state_->clear();
        QString stem = card->title();
        stem.replace(QRegularExpression(QStringLiteral("[^\\w-]+")), QStringLiteral("-"));
        const QString folder = QStandardPaths::writableLocation(QStandardPaths::DocumentsLocation);
        file_->setText(QDir(QFileInfo(folder).isDir() ? folder : QDir::homePath())
                           .filePath(stem.left(40) + QLatin1Char('.') + toQt(exchange::fileEnding(format()))));
        table_->setText(stem.left(40));
        previewTimer_.start();
    }
    refresh();
    show();
    file_->setFocus();
    file_->selectAll();
}

void ExportPanel::setCard(Card* card) {
    if (isRunning_ || !isVisible() || card == nullptr || !card->result()) return;
    open(card);
}

/// All rows are here already, so the export takes what is seen, in its order; else the statement is run again, and its
/// rows stream to the file.
bool ExportPanel::isWholeHere() const { return card_ != nullptr && !card_->hasMore() && !card_->isGoingOn(); }

void ExportPanel::refresh() {
    start_->setEnabled(!isRunning_ && card_ != nullptr);
    stop_->setVisible(isRunning_);
    progress_->setVisible(isRunning_);
    if (card_ == nullptr || !card_->result()) return source_->setText(tr("Choose a result first."));
    const QString which = tr("Result %1, %2: ").arg(card_->number()).arg(card_->title());
    if (isWholeHere()) {
        const qulonglong seen = card_->view()->rowCount();
        const bool isFiltered = seen != card_->rowCount();
        source_->setText(which + (isFiltered ? tr("%1 of %2 go, as filtered.")
                                                   .arg(toQt(base::grouped(static_cast<std::int64_t>(seen))),
                                                        countedRows(card_->rowCount()))
                                             : tr("all %1 go, in the order shown.").arg(countedRows(seen))));
    } else {
        source_->setText(which +
                         tr("%1 are here so far. All rows go: the statement runs once more, and its rows stream "
                            "from the server to the file.")
                             .arg(countedRows(card_->rowCount())));
    }
}

void ExportPanel::chooseFile() {
    auto* dialog = new QFileDialog(
        this, tr("Export to"), file_->text(),
        tr("%1 files (*.%2);;All files (*)").arg(format_->currentText(), toQt(exchange::fileEnding(format()))));
    dialog->setAcceptMode(QFileDialog::AcceptSave);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    connect(dialog, &QFileDialog::fileSelected, file_, &QLineEdit::setText);
    dialog->open();
}

exchange::Format ExportPanel::format() const { return static_cast<exchange::Format>(format_->currentData().toInt()); }

exchange::FormatChoices ExportPanel::choices() const {
    exchange::FormatChoices choices;
    choices.csv = {.delimiter = delimiter_->currentData().toChar().toLatin1(),
                   .hasHeadings = headings_->isChecked(),
                   .nullText = fromQt(nullText_->text()),
                   .quotesEverything = quoteAll_->isChecked(),
                   .lineEnd = fromQt(lineEnd_->currentData().toString()),
                   .encoding = static_cast<exchange::Encoding>(encoding_->currentData().toInt())};
    choices.insert = {.dialect = sheet_.dialect(),
                      .table = table_->text().isEmpty() ? "rows" : fromQt(table_->text()),
                      .hasCreateTable = createTable_->isChecked()};
    return choices;
}

/// Only what concerns the form is asked for, and the file gets its ending.
void ExportPanel::showFormat() {
    const bool isDelimited = format() == exchange::Format::Csv || format() == exchange::Format::Tsv;
    csvFields_->setVisible(isDelimited);
    delimiter_->setEnabled(format() == exchange::Format::Csv);
    lineEnd_->setEnabled(format() == exchange::Format::Csv);
    insertFields_->setVisible(format() == exchange::Format::Insert);
    const QFileInfo file(file_->text());
    const bool isOurs = exchange::formatFromWord(fromQt(file.suffix())).has_value() ||
                        file.suffix() == QStringLiteral("md") || file.suffix() == QStringLiteral("sql") ||
                        file.suffix() == QStringLiteral("txt");
    if (isOurs) {
        file_->setText(
            file.dir().filePath(file.completeBaseName() + QLatin1Char('.') + toQt(exchange::fileEnding(format()))));
    }
    previewTimer_.start();
}

/// What the file will begin with.
void ExportPanel::showPreview() {
    constexpr std::size_t kRows = 4;
    constexpr std::size_t kMostBytes = 4000;
    if (card_ == nullptr || !card_->result() || !isVisible()) return preview_->clear();
    exchange::FormatChoices shown = choices();
    shown.csv.encoding = exchange::Encoding::Utf8;  // on the screen
    std::vector<std::size_t> rows(std::min(kRows, card_->view()->rowCount()));
    std::iota(rows.begin(), rows.end(), std::size_t{0});
    std::vector<std::size_t> columns(card_->result()->columns().size());
    std::iota(columns.begin(), columns.end(), std::size_t{0});
    const std::string text = exchange::rowsAs(format(), shown, *card_->view(), rows, columns);
    preview_->setPlainText(toQt(base::prefixOf(text, kMostBytes)));
}

void ExportPanel::start() {
    if (isRunning_ || card_ == nullptr || !card_->result()) return;
    const std::string path = fromQt(file_->text().trimmed());
    if (path.empty()) return state_->setText(tr("Name a file to write."));
    isRunning_ = true;
    cancellation_ = base::Cancellation();
    auto file = std::make_shared<exchange::ExportFile>(path, exchange::makeWriter(format(), choices()));
    output_ = file;
    setLook(state_, "small");
    if (isWholeHere()) {
        startFromView(std::move(file));
    } else {
        startFromServer(std::move(file));
    }
    refresh();
    showProgress(0);
}

void ExportPanel::startFromView(std::shared_ptr<exchange::ExportFile> file) {
    total_ = card_->view()->rowCount();
    progress_->setRange(0, 1000);
    inBackground(
        this,
        [view = *card_->view(), file, cancellation = cancellation_, guard = QPointer<QObject>(this), this] {
            return exchange::exportView(view, *file, cancellation, [&](std::size_t rows) {
                onWindowThread(guard, [this, rows] { showProgress(rows); });
            });
        },
        [this](const Status& status) { finish(status, total_); });
}

void ExportPanel::startFromServer(std::shared_ptr<exchange::ExportFile> file) {
    if (sql::mayChangeData(card_->statement(), sheet_.dialect())) {
        return finish(Error{.message = "The statement changes data, so it is not run again for an export.",
                            .hint = "Read all rows first, then export them."},
                      0);
    }
    session_ = sheet_.anotherSession();
    if (!session_) return finish(Error{.message = "The sheet's connection is gone."}, 0);
    total_ = 0;
    progress_->setRange(0, 0);
    auto bridge = RunBridge::make();
    connect(bridge.get(), &RunBridge::rowsArrived, this, &ExportPanel::showProgress);
    connect(bridge.get(), &RunBridge::runFailed, this,
            [this](const Error& error, const db::RunSummary& summary) { finish(error, summary.rowCount); });
    connect(bridge.get(), &RunBridge::runFinished, this, [this, file](const db::RunSummary& summary) {
        inBackground(
            this, [file] { return file->finish(); },
            [this, rows = summary.rowCount](const Status& status) { finish(status, rows); });
    });
    handle_ = session_->execute({.statement = card_->statement(),
                                 .pageRows = std::nullopt,
                                 .consumer = std::make_shared<exchange::ExportConsumer>(file)},
                                bridge);
}

void ExportPanel::stop() {
    if (!isRunning_) return;
    cancellation_.request();
    handle_.cancel();
}

void ExportPanel::showProgress(qulonglong rows) {
    if (!isRunning_) return;
    if (total_ > 0) progress_->setValue(static_cast<int>(rows * 1000 / total_));
    state_->setText(total_ > 0
                        ? tr("%1 of %2").arg(toQt(base::grouped(static_cast<std::int64_t>(rows))), countedRows(total_))
                        : tr("%1 so far").arg(countedRows(rows)));
}

void ExportPanel::finish(const Status& status, qulonglong rows) {
    isRunning_ = false;
    if (status) {
        setLook(state_, "good");
        QString words =
            tr("Wrote %1, %2, to %3")
                .arg(countedRows(rows), toQt(base::readableBytes(output_->byteCount())), breakable(output_->path()));
        if (output_->lostCharacters() > 0) {
            words += tr(". %1 that this encoding lacks became “?”")
                         .arg(toQt(base::counted(static_cast<std::int64_t>(output_->lostCharacters()), "character",
                                                 "characters")));
        }
        state_->setText(words);
    } else {
        setLook(state_, "bad");
        const bool isStop = status.error().kind == ErrorKind::Cancelled;
        state_->setText(isStop ? tr("Stopped. Nothing was left at %1.").arg(breakable(output_->path()))
                               : toQt(status.error()));
    }
    output_.reset();
    destroyInBackground(std::move(session_));
    refresh();
}

}  // namespace pantry::app
