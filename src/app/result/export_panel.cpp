#include "app/result/export_panel.h"

#include <QApplication>
#include <QClipboard>
#include <QDir>
#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QMenu>
#include <QRegularExpression>
#include <QStandardPaths>
#include <QVBoxLayout>
#include <numeric>

#include "app/base/background.h"
#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "core/base/text.h"
#include "core/base/utf8.h"

namespace pantry::app {
namespace {

constexpr int kExportWidth = 312;
constexpr int kExportProgressMs = 100;
constexpr std::size_t kMaxClipboardBytes = std::size_t{64} << 20;
constexpr std::size_t kMaxSheetBytes = std::size_t{4} << 20;

/// A path that may be broken after each folder.
QString breakable(const QString& path) {
    QString out = path;
    return out.replace(QLatin1Char('/'), QStringLiteral("/\u200B"));
}

}  // namespace

ExportPanel::ExportPanel(Desk& desk, GridWishes grid, QWidget* parent)
    : QFrame(parent),
      desk_(desk),
      grid_(std::move(grid)),
      body_(new QWidget),  // without a place until all is in it: each move dresses it anew
      from_(makeLabel({}, "quiet", body_)),
      rows_(new QComboBox(body_)),
      ownConnection_(new QCheckBox(tr("Use the sheet's connection"), body_)),
      format_(new QComboBox(body_)),
      presets_(makeButton(tr("Presets ▾"), "plain", "exportPresets", tr("Ways of exporting kept under a name"), body_)),
      presetRow_(new QWidget(body_)),
      presetName_(new QLineEdit(body_)),
      target_(new QComboBox(body_)),
      file_(new QLineEdit(body_)),
      choose_(makeButton(tr("Choose…"), "", "exportChoose", tr("Choose the file"), body_)),
      replace_(new QCheckBox(body_)),
      table_(new QLineEdit(body_)),
      columns_(new ExportColumns(body_)),
      form_(new ExportForm(body_)),
      preview_(new QPlainTextEdit(body_)),
      scroll_(new QScrollArea(this)),
      progress_(new QProgressBar(body_)),
      state_(makeLabel({}, "small", body_)),
      start_(makeButton(tr("Export"), "main", objectName::kExportStart, tr("Write the rows"), body_)),
      stop_(makeButton(tr("Stop"), "", objectName::kExportStop, tr("Stop writing"), body_)),
      job_(desk.owner(), desk.ledger(), [this](const work::ExportJob::End& end) { showEnd(end); }) {
    setProperty("look", "side");
    name(this, objectName::kExportPanel, tr("Export"));
    name(rows_, "exportRows", tr("Rows that go"));
    name(ownConnection_, "exportOwnLine", tr("Use the sheet's connection"));
    name(target_, "exportTarget", tr("Where the rows go"));
    name(file_, objectName::kExportFile, tr("File to write"));
    name(replace_, objectName::kExportReplace, tr("Replace the file that is there"));
    name(state_, objectName::kExportState, tr("State of the export"));
    name(format_, "exportFormat", tr("Format"));
    name(table_, "exportTable", tr("Table that the statements name, and title of a worksheet or page"));
    name(preview_, "exportPreview", tr("The first lines"));
    name(presetName_, "exportPresetName", tr("Name of the preset"));
    for (const std::string& word : exchange::formatWords()) {
        const exchange::Format format = *exchange::formatFromWord(word);
        format_->addItem(toQt(exchange::formatName(format)), static_cast<int>(format));
    }
    target_->addItem(tr("A file"), static_cast<int>(Target::File));
    target_->addItem(tr("The clipboard"), static_cast<int>(Target::Clipboard));
    target_->addItem(tr("A new sheet"), static_cast<int>(Target::Sheet));
    ownConnection_->setToolTip(
        tr("The statement sees this sheet's open changes and temporary tables. The sheet waits until the end."));
    previewTimer_.setSingleShot(true);
    previewTimer_.setInterval(120);
    progressTimer_.setInterval(kExportProgressMs);
    constexpr int kLookForFileMs = 150;
    fileTimer_.setSingleShot(true);
    fileTimer_.setInterval(kLookForFileMs);
    makeLayout();
    connectParts();
    if (const auto last = desk_.preferences().exportPresets().lastFormat) takePreset({.format = *last});
    noteFormat();
    refresh();
}

void ExportPanel::makeLayout() {
    Theme::fit(this, [this] { setFixedWidth(Theme::px(kExportWidth)); });
    dressParts();
    body_->setObjectName(QStringLiteral("formBody"));
    Theme::fit(body_, [this] { body_->setMaximumWidth(Theme::px(kExportWidth) - 12); });
    auto* layout = new QVBoxLayout(body_);
    layout->setContentsMargins(16, 8, 14, 12);
    layout->setSpacing(7);
    layout->addLayout(makeTop());
    layout->addWidget(from_);
    layout->addWidget(rows_);
    layout->addLayout(makeTargetRow());
    layout->addWidget(file_);
    layout->addWidget(replace_);
    layout->addLayout(makeButtonRow());
    layout->addWidget(makePresetRow());
    layout->addWidget(progress_);
    layout->addWidget(state_);
    layout->addWidget(makeLabel(tr("The first lines"), "field"));
    layout->addWidget(preview_);
    layout->addWidget(ownConnection_);
    layout->addWidget(columns_);
    layout->addWidget(table_);
    layout->addWidget(form_);
    layout->addStretch();
    scroll_->setWidget(body_);
    scroll_->setWidgetResizable(true);
    scroll_->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    auto* outer = new QVBoxLayout(this);
    outer->setContentsMargins(0, 0, 0, 0);
    outer->addWidget(scroll_);
}

void ExportPanel::dressParts() {
    from_->setWordWrap(true);
    state_->setWordWrap(true);
    file_->setProperty("look", "code");
    table_->setProperty("look", "code");
    preview_->setReadOnly(true);
    preview_->setLineWrapMode(QPlainTextEdit::NoWrap);
    preview_->setProperty("look", "code");
    preview_->setFixedHeight(92);
    progress_->setTextVisible(false);
    replace_->hide();
    for (QComboBox* box : {rows_, target_, format_}) {
        box->setSizeAdjustPolicy(QComboBox::AdjustToMinimumContentsLengthWithIcon);
        box->setMinimumContentsLength(8);
    }
}

QHBoxLayout* ExportPanel::makeTop() {
    auto* close =
        makeButton(QStringLiteral("✕"), "plain", objectName::kExportClose, tr("Close the export panel"), body_);
    connect(close, &QPushButton::clicked, this, &ExportPanel::closeRequested);
    auto* top = new QHBoxLayout;
    top->addWidget(makeLabel(tr("Export as"), "bigHeading"));
    top->addWidget(format_, 1);
    top->addWidget(close);
    return top;
}

QHBoxLayout* ExportPanel::makeTargetRow() {
    auto* row = new QHBoxLayout;
    row->addWidget(target_, 1);
    row->addWidget(choose_);
    row->addStretch();
    return row;
}

QHBoxLayout* ExportPanel::makeButtonRow() {
    auto* buttons = new QHBoxLayout;
    buttons->addWidget(start_);
    buttons->addWidget(stop_);
    buttons->addStretch();
    buttons->addWidget(presets_);
    return buttons;
}

QWidget* ExportPanel::makePresetRow() {
    presetRow_->setObjectName(QStringLiteral("plainBox"));
    auto* row = new QHBoxLayout(presetRow_);
    row->setContentsMargins(0, 0, 0, 0);
    presetName_->setPlaceholderText(tr("Name of the preset  ↵"));
    row->addWidget(presetName_, 1);
    auto* keep = makeButton(tr("Keep"), "", "exportPresetKeep", tr("Keep these choices under this name"), presetRow_);
    row->addWidget(keep);
    connect(keep, &QPushButton::clicked, this, &ExportPanel::keepPreset);
    presetRow_->hide();
    return presetRow_;
}

void ExportPanel::connectParts() {
    connect(&previewTimer_, &QTimer::timeout, this, &ExportPanel::showPreview);
    connect(&progressTimer_, &QTimer::timeout, this, &ExportPanel::showProgress);
    connect(format_, &QComboBox::currentIndexChanged, this,
            [this] { takePreset({.format = static_cast<exchange::Format>(format_->currentData().toInt())}); });
    connect(form_, &ExportForm::changed, this, &ExportPanel::noteFormat);
    connect(columns_, &ExportColumns::changed, this, &ExportPanel::refresh);
    connect(columns_, &ExportColumns::changed, &previewTimer_, qOverload<>(&QTimer::start));
    connect(rows_, &QComboBox::currentIndexChanged, this, &ExportPanel::refresh);
    connect(rows_, &QComboBox::currentIndexChanged, &previewTimer_, qOverload<>(&QTimer::start));
    connect(target_, &QComboBox::currentIndexChanged, this, &ExportPanel::refresh);
    connect(table_, &QLineEdit::textChanged, &previewTimer_, qOverload<>(&QTimer::start));
    connect(rows_, &QComboBox::currentIndexChanged, this, [this] { isRowsChosen_ = true; });
    connect(file_, &QLineEdit::textEdited, this, [this] { isFileNamed_ = true; });
    connect(file_, &QLineEdit::textChanged, this, [this] {
        replace_->setChecked(false);
        fileTimer_.start();
    });
    connect(&fileTimer_, &QTimer::timeout, this, &ExportPanel::noteFile);
    connect(target_, &QComboBox::currentIndexChanged, &fileTimer_, qOverload<>(&QTimer::start));
    connect(choose_, &QPushButton::clicked, this, &ExportPanel::chooseFile);
    connect(start_, &QPushButton::clicked, this, &ExportPanel::start);
    connect(stop_, &QPushButton::clicked, this, [this] { job_.stop(); });
    connect(file_, &QLineEdit::returnPressed, this, &ExportPanel::start);
    connect(presetName_, &QLineEdit::returnPressed, this, &ExportPanel::keepPreset);
    auto* menu = new QMenu(presets_);
    connect(menu, &QMenu::aboutToShow, this, &ExportPanel::offerPresets);
    presets_->setMenu(menu);
}

// ---- What is offered ----

void ExportPanel::open(ResultSource* source) {
    if (!job_.isRunning()) {
        state_->clear();
        isRowsChosen_ = false;
        isFileNamed_ = false;
        offered_.clear();
        source_ = source;
        show();
        adopt(source);
        const db::ConnectionState connection = source->connection();
        ownConnection_->setChecked(connection.transaction != db::TransactionState::None ||
                                   connection.hasTemporaryTables);
    }
    refresh();
    show();
    file_->setFocus();
    file_->selectAll();
}

/// The result that goes is this one now; where it goes to stays when somebody has said so.
void ExportPanel::adopt(ResultSource* source) {
    if (source->view() == nullptr) return refresh();
    const bool isOther = offered_ != source;
    offered_ = source;
    QStringList names;
    for (const data::Column& column : source->result()->columns()) names += toQt(column.name);
    if (isOther) {
        QString stem = source->title();
        stem.replace(QRegularExpression(QStringLiteral("[^\\w-]+")), QStringLiteral("-"));
        table_->setText(stem.left(40));
        if (!isFileNamed_) offerFile();
    }
    shownColumns_ = grid_.shownColumns();
    columns_->setColumns(shownColumns_, names);
    offerRows();
    previewTimer_.start();
    fileTimer_.start();
}

void ExportPanel::setSource(ResultSource* source) {
    if (job_.isRunning() || !isVisible() || source == nullptr || source == source_) return;
    source_ = source;
    isRowsChosen_ = false;
    isStartDue_ = false;
    state_->clear();
    adopt(source);
}

void ExportPanel::noteRows() {
    if (job_.isRunning() || !isVisible() || source_ == nullptr) return;
    if (offered_ != source_ || source_->view() == nullptr) return adopt(source_);
    const QString before = rows_->currentText();
    if (grid_.shownColumns() != shownColumns_) return adopt(source_);
    offerRows();
    if (isStartDue_ && !source_->isArranging()) {
        isStartDue_ = false;
        return beginWriting();
    }
    if (before == rows_->currentText()) return;
    previewTimer_.start();
    setLook(state_, "small");
    state_->setText(tr("The rows have changed. What goes now: %1.").arg(rows_->currentText()));
}

/// Says that a file is there already, before somebody wants to write it.
void ExportPanel::noteFile() {
    const QString file = path();
    if (target() != Target::File || file.isEmpty()) return replace_->hide();
    inBackground(
        base::Work::Long, this, [file] { return QFileInfo(file).isFile(); },
        [this, file](bool isThere) {
            if (file == path()) offerReplacing(isThere);
        });
}

void ExportPanel::offerReplacing(bool isThere) {
    replace_->setText(tr("Replace the file that is there"));
    replace_->setToolTip(path());
    replace_->setVisible(isThere && target() == Target::File);
}

/// A name made of the result's title, in the folder of the last export, else in the documents folder.
void ExportPanel::offerFile() {
    const QString last = toQt(desk_.preferences().exportPresets().folder);
    const QString folder = last.isEmpty() ? QStandardPaths::writableLocation(QStandardPaths::DocumentsLocation) : last;
    ending_ = ending();
    file_->setText(QDir(QFileInfo(folder).isDir() ? folder : QDir::homePath()).filePath(table_->text() + ending_));
}

/// All rows are here already.
bool ExportPanel::isWholeHere() const { return source_ != nullptr && !source_->hasMore() && !source_->isGoingOn(); }

/// Until somebody chooses, what the grid shows goes; of a result that is not narrowed, all its rows.
ExportPanel::Rows ExportPanel::rowsOffered(bool isNarrowed) const {
    return isNarrowed || isWholeHere() ? Rows::Shown : Rows::FromServer;
}

void ExportPanel::offerRows() {
    const Rows before = rows_->count() > 0 ? rows() : Rows::Shown;
    const std::size_t selected = grid_.selectedRows().size();
    const std::size_t shown = source_->view()->rowCount();
    const bool isNarrowed = shown != source_->rowCount();
    const bool isOrdered = !source_->viewRequest().order.empty();
    const QSignalBlocker blocker(rows_);
    rows_->clear();
    const auto offer = [this](const QString& text, Rows which) { rows_->addItem(text, static_cast<int>(which)); };
    if (!isWholeHere()) {
        offer(isNarrowed ? tr("All rows, from the server, unfiltered") : tr("All rows, from the server"),
              Rows::FromServer);
    }
    if (isNarrowed) {
        offer(tr("%1 of %2, as filtered").arg(grouped(shown), countedRows(source_->rowCount())), Rows::Shown);
    } else if (isWholeHere()) {
        offer(isOrdered ? tr("All %1, as sorted").arg(countedRows(shown)) : tr("All %1").arg(countedRows(shown)),
              Rows::Shown);
    } else {
        offer(tr("The %1 that are here").arg(countedRows(shown)), Rows::Shown);
    }
    if (isNarrowed) offer(tr("All %1 that are here").arg(countedRows(source_->rowCount())), Rows::Fetched);
    if (selected > 1) offer(tr("The %1 selected").arg(countedRows(selected)), Rows::Selected);
    const int same = isRowsChosen_ ? rows_->findData(static_cast<int>(before)) : -1;
    isRowsChosen_ = same >= 0;
    rows_->setCurrentIndex(same >= 0 ? same : rows_->findData(static_cast<int>(rowsOffered(isNarrowed))));
    refresh();
}

void ExportPanel::refresh() {
    const bool isAtVerbs = start_->hasFocus() || stop_->hasFocus();  // before one of them is disabled or goes
    const bool isReady = source_ != nullptr && source_->view() != nullptr && offered_ == source_;
    start_->setEnabled(!job_.isRunning() && isReady && !columns_->columns().empty());
    for (QWidget* widget : {static_cast<QWidget*>(rows_), static_cast<QWidget*>(columns_), static_cast<QWidget*>(form_),
                            static_cast<QWidget*>(format_), static_cast<QWidget*>(target_),
                            static_cast<QWidget*>(file_), static_cast<QWidget*>(replace_)}) {
        widget->setEnabled(!job_.isRunning());
    }
    // Who started it with a key stands at what ends it, and comes back.
    stop_->setVisible(job_.isRunning());
    progress_->setVisible(job_.isRunning());
    if (isAtVerbs && job_.isRunning()) stop_->setFocus();
    if (isAtVerbs && !job_.isRunning() && start_->isEnabled()) start_->setFocus();
    file_->setVisible(target() == Target::File);
    choose_->setVisible(target() == Target::File);
    const bool isFromServer = rows_->count() > 0 && rows() == Rows::FromServer;
    ownConnection_->setVisible(isFromServer);
    if (source_ == nullptr) return from_->setText(tr("Choose a result first."));
    if (!isReady) {
        const QSignalBlocker blocker(rows_);  // nobody has chosen anything
        rows_->clear();
        return from_->setText(tr("Result %1, %2, has no rows yet.").arg(source_->mark(), source_->title()));
    }
    QString text = tr("Result %1, %2.").arg(source_->mark(), source_->title());
    if (isFromServer) {
        if (source_->countOfAll()) {
            text += tr(" There are %1 in all.").arg(countedRows(static_cast<std::size_t>(*source_->countOfAll())));
        }
        text += tr(" %1 are here so far; the statement runs once more, and its rows stream from the server.")
                    .arg(countedRows(source_->rowCount()));
    }
    from_->setText(text);
}

QString ExportPanel::ending() const {
    const exchange::ExportChoices told = form_->choices();
    return QLatin1Char('.') + toQt(exchange::fileEnding(told.format)) +
           toQt(exchange::compressionEnding(told.compression));
}

/// The file gets the format's ending, unless the user gave it one of his own.
void ExportPanel::noteFormat() {
    const QString fresh = ending();
    if (!ending_.isEmpty() && file_->text().endsWith(ending_)) {
        file_->setText(file_->text().chopped(ending_.size()) + fresh);
    }
    ending_ = fresh;
    const exchange::Format format = form_->format();
    {
        const QSignalBlocker blocker(format_);  // the form knows already
        format_->setCurrentIndex(format_->findData(static_cast<int>(format)));
    }
    table_->setVisible(format == exchange::Format::Insert || format == exchange::Format::Workbook ||
                       format == exchange::Format::Html);
    table_->setPlaceholderText(format == exchange::Format::Insert ? tr("Table that the statements name") : tr("Title"));
    previewTimer_.start();
}

exchange::ExportChoices ExportPanel::choices() const {
    exchange::ExportChoices choices = form_->choices();
    choices.columns = columns_->columns();
    choices.forms.insert.dialect = form_->dialect().value_or(source_->language().dialect);
    choices.forms.insert.table = table_->text().isEmpty() ? "rows" : fromQt(table_->text());
    choices.forms.title = table_->text().isEmpty() ? "Rows" : fromQt(table_->text());
    if (target() != Target::File) {
        choices.compression = exchange::Compression::None;
        choices.encoding = exchange::Encoding::Utf8;
    }
    return choices;
}

/// What the file will begin with.
void ExportPanel::showPreview() {
    constexpr std::size_t kRows = 4;
    constexpr std::size_t kMaxBytes = 4000;
    if (source_ == nullptr || source_->view() == nullptr || !isVisible()) return preview_->clear();
    const exchange::ExportChoices told = choices();
    if (!exchange::isText(told.format)) {
        return preview_->setPlainText(
            tr("A workbook: bold headings that stay in place,\nnumbers, dates and truth as such."));
    }
    std::vector<std::size_t> positions = rows() == Rows::Selected ? grid_.selectedRows() : std::vector<std::size_t>();
    if (positions.empty()) {
        positions.resize(std::min(kRows, source_->view()->rowCount()));
        std::iota(positions.begin(), positions.end(), std::size_t{0});
    }
    positions.resize(std::min(positions.size(), kRows));
    const std::string text = exchange::rowsAs(told.format, told.forms, *source_->view(), positions, told.columns);
    preview_->setPlainText(toQt(base::prefixOf(text, kMaxBytes)));
}

// ---- Presets ----

/// A format comes with what it was told last.
void ExportPanel::takePreset(const exchange::ExportChoices& choices) {
    const auto last = desk_.preferences().exportPresets().lastUsed.find(choices.format);
    form_->setChoices(last == desk_.preferences().exportPresets().lastUsed.end() ? choices : last->second);
}

void ExportPanel::offerPresets() {
    QMenu* menu = presets_->menu();
    menu->clear();
    for (const store::ExportPreset& preset : desk_.preferences().exportPresets().named) {
        connect(menu->addAction(toQt(preset.name)), &QAction::triggered, this,
                [this, choices = preset.choices] { form_->setChoices(choices); });
    }
    if (!menu->isEmpty()) menu->addSeparator();
    connect(menu->addAction(tr("Keep these choices…")), &QAction::triggered, this, [this] {
        presetRow_->show();
        presetName_->setFocus();
    });
    if (desk_.preferences().exportPresets().named.empty()) return;
    QMenu* removal = menu->addMenu(tr("Remove"));
    for (const store::ExportPreset& preset : desk_.preferences().exportPresets().named) {
        connect(removal->addAction(toQt(preset.name)), &QAction::triggered, this,
                [this, which = preset.name] { desk_.preferences().removeExportPreset(which); });
    }
}

void ExportPanel::keepPreset() {
    const QString wanted = presetName_->text().trimmed();
    if (wanted.isEmpty()) return state_->setText(tr("Give the preset a name."));
    desk_.preferences().putExportPreset({fromQt(wanted), form_->choices()});
    presetName_->clear();
    presetRow_->hide();
    setLook(state_, "small");
    state_->setText(tr("Kept as “%1”.").arg(wanted));
}

// ---- The way out ----

QString ExportPanel::path() const {
    const QString typed = file_->text().trimmed();
    return typed.startsWith(QStringLiteral("~/")) ? QDir::homePath() + typed.mid(1) : typed;
}

void ExportPanel::chooseFile() {
    auto* dialog = new QFileDialog(this, tr("Export to"), path(),
                                   tr("%1 files (*%2);;All files (*)").arg(format_->currentText(), ending()));
    dialog->setAcceptMode(QFileDialog::AcceptSave);
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    connect(dialog, &QFileDialog::fileSelected, this, [this](const QString& chosen) {
        file_->setText(chosen);
        isFileNamed_ = true;
        replace_->setChecked(true);  // the dialog has asked already
    });
    dialog->open();
}

/// What the grid is about to show goes, also when the last key for it was pressed a moment ago. A file that is there is
/// replaced only when that was ticked, which is a gesture of its own in a place of its own.
void ExportPanel::start() {
    if (job_.isRunning() || !start_->isEnabled()) return;
    grid_.settle();
    setLook(state_, "small");
    if (source_->isArranging()) {
        isStartDue_ = true;
        return state_->setText(tr("The rows are being arranged; they are written then."));
    }
    beginWriting();
}

void ExportPanel::refuse(const QString& text) {
    setLook(state_, "bad");
    state_->setText(text);
}

void ExportPanel::beginWriting() {
    if (target() == Target::File && path().isEmpty()) return refuse(tr("Name a file to write."));
    if (target() != Target::File && !exchange::isText(form_->format())) {
        return refuse(tr("A workbook is no text; write it to a file."));
    }
    if (source_ == nullptr || source_->view() == nullptr) return refresh();
    if (const auto why = rows() == Rows::FromServer ? source_->whyNotAgain() : std::nullopt) return refuse(toQt(*why));
    write();
    progressTimer_.start();
    refresh();
    showProgress();
}

void ExportPanel::write() {
    const bool isFile = target() == Target::File;
    desk_.preferences().noteExport(form_->choices(), isFile ? fromQt(QFileInfo(path()).absolutePath()) : "");
    const work::ExportJob::Wish wish{.choices = choices(),
                                     .file = isFile ? fromQt(path()) : std::string(),
                                     .maxTextBytes = target() == Target::Sheet ? kMaxSheetBytes : kMaxClipboardBytes,
                                     .replacesFile = replace_->isChecked()};
    if (rows() == Rows::FromServer) {
        const bool isWhereItRan = ownConnection_->isChecked();
        return job_.writeFromServer(
            wish,
            [source = source_, isWhereItRan](db::RunRequest request, std::shared_ptr<db::RunObserver> observer) {
                return source ? source->runAgain(std::move(request), std::move(observer), isWhereItRan) : std::nullopt;
            },
            source_->record());
    }
    const data::ResultView view = rows() == Rows::Fetched ? data::ResultView(source_->result()) : *source_->view();
    job_.writeRows(wish, view, rows() == Rows::Selected ? grid_.selectedRows() : std::vector<std::size_t>());
}

void ExportPanel::showProgress() {
    if (!job_.isRunning()) return;
    const std::size_t rows = job_.rowCount();
    const std::size_t total = job_.total();
    progress_->setRange(0, total > 0 ? 1000 : 0);
    if (total > 0) progress_->setValue(static_cast<int>(rows * 1000 / total));
    const QString count = total > 0 ? tr("%1 of %2").arg(grouped(rows), countedRows(total)) : countedRows(rows);
    state_->setText(tr("%1, %2, %3 rows a second")
                        .arg(count, toQt(base::readableBytes(job_.byteCount())), grouped(job_.rowsPerSecond())));
}

void ExportPanel::showEnd(const work::ExportJob::End& end) {
    progressTimer_.stop();
    const QString wrote = countedRows(end.rows) + QStringLiteral(", ") + toQt(base::readableBytes(end.bytes));
    if (end.wasThere) {
        offerReplacing(true);  // what the words ask to tick is there with them
        refuse(tr("%1 is there already. Give another name, or tick “Replace the file that is there”.")
                   .arg(QFileInfo(path()).fileName()));
    } else if (end.status) {
        setLook(state_, "good");
        const QString where = target() == Target::File        ? tr("to %1").arg(breakable(path()))
                              : target() == Target::Clipboard ? tr("to the clipboard")
                                                              : tr("into a new sheet");
        QString text = tr("Wrote %1, %2.").arg(wrote, where);
        if (!end.remark.empty()) text += QLatin1Char(' ') + toQt(end.remark);
        state_->setText(text);
        deliver(end.text);
    } else {
        const bool isStop = end.status.error().kind == ErrorKind::Cancelled;
        QString text = isStop ? tr("Stopped.") : toQt(end.status.error());
        if (!end.part.empty()) text += tr(" %1 came before; they are in %2.").arg(wrote, breakable(toQt(end.part)));
        refuse(text);
    }
    replace_->setChecked(false);  // meant for this once
    fileTimer_.start();
    refresh();
    QTimer::singleShot(0, this, [this] { scroll_->ensureWidgetVisible(state_); });
}

/// What was gathered as a text goes to where it was meant for.
void ExportPanel::deliver(const std::string& gathered) {
    if (target() == Target::File) return;
    const QString text = toQt(gathered);
    if (target() == Target::Clipboard) return QApplication::clipboard()->setText(text);
    Q_EMIT sheetWanted(table_->text() + ending_, text);
}

}  // namespace pantry::app

#include "moc_export_panel.cpp"
