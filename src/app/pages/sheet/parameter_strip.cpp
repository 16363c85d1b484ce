#include "app/pages/sheet/parameter_strip.h"

#include <QApplication>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QMenu>
#include <algorithm>

#include "app/base/background.h"
#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "core/base/file.h"
#include "core/base/secret_text.h"
#include "core/base/text.h"

namespace pantry::app {
namespace {

constexpr int kFieldWidth = 330;  // pixels that a parameter wants with its name and type

}  // namespace

ParameterStrip::ParameterStrip(Sheet& sheet, SqlEditor& editor, QWidget* parent)
    : QFrame(parent), sheet_(sheet), editor_(editor), grid_(new QGridLayout(this)) {
    name(this, objectName::kParameterStrip, tr("Parameters of the statement at the cursor"));
    setProperty("look", "fields");
    grid_->setContentsMargins(12, 5, 12, 5);
    grid_->setHorizontalSpacing(22);
    grid_->setVerticalSpacing(4);
    constexpr int kRestMs = 120;
    restTimer_.setSingleShot(true);
    restTimer_.setInterval(kRestMs);
    connect(&restTimer_, &QTimer::timeout, this, &ParameterStrip::look);
    connect(&editor_, &SqlEditor::caretMoved, this, &ParameterStrip::lookSoon);
    connect(&sheet_, &Sheet::readingChanged, this, &ParameterStrip::lookSoon);
    connect(&sheet_, &Sheet::parametersChanged, this, [this] {
        for (const Field& field : fields_) refresh(field);
    });
    connect(&sheet_, &Sheet::parameterMissing, this, &ParameterStrip::enter);
    hide();
    lookSoon();
}

/// A selection says which statements are meant, as it does when they run.
void ParameterStrip::look() {
    if (!sheet_.hasHelpers()) return show({});
    work::WantedStatements wanted{
        .caret = editor_.caret(), .selection = editor_.selection(), .session = sheet_.script().language()};
    sheet_.service().findParameters(
        std::move(wanted), sheet_.session().catalogView(),
        sheet_.whileSame<std::vector<sql::StatementParameter>>([this](const auto& found) { show(found); }));
}

void ParameterStrip::show(const std::vector<sql::StatementParameter>& parameters) {
    const bool isSame = std::ranges::equal(parameters, fields_, [](const auto& a, const Field& b) {
        return a.key == b.parameter.key && a.written == b.parameter.written && a.type == b.parameter.type &&
               a.isList == b.parameter.isList;
    });
    if (!isSame) {
        const bool hadFocus = focusWidget() != nullptr && isAncestorOf(QApplication::focusWidget());
        for (const Field& field : fields_) {
            field.frame->hide();
            field.frame->deleteLater();
        }
        fields_.clear();
        for (const sql::StatementParameter& one : parameters) fields_.push_back(makeField(one));
        layOut();
        setVisible(!fields_.empty());
        if (hadFocus) editor_.setFocus();
    }
    if (!wanted_.isEmpty()) enter(std::exchange(wanted_, {}));
}

ParameterStrip::Field ParameterStrip::makeField(const sql::StatementParameter& parameter) {
    Field field{.parameter = parameter,
                .frame = new QWidget(this),
                .value = new QLineEdit,
                .choices = makeButton(QStringLiteral("▾"), "plain", objectName::kParameterChoices,
                                      tr("Choices for %1").arg(toQt(parameter.written)))};
    auto* label = makeLabel(toQt(parameter.written), "parameter");
    label->setBuddy(field.value);
    name(field.value, objectName::kParameterValue, toQt(parameter.written));
    field.value->setProperty("parameter", toQt(parameter.key));
    field.value->setMinimumWidth(Theme::px(90));
    if (base::isSecretName(parameter.key)) field.value->setEchoMode(QLineEdit::Password);
    field.choices->setToolTip(tr("Values from before, NULL, and others"));
    field.value->installEventFilter(this);
    auto* row = new QHBoxLayout(field.frame);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(6);
    row->addWidget(label);
    row->addWidget(field.value, 1);
    row->addWidget(field.choices);
    const QString type = toQt(parameter.type);
    const QString shown = parameter.isList ? (type.isEmpty() ? tr("list") : tr("list of %1").arg(type)) : type;
    if (!shown.isEmpty()) row->addWidget(makeLabel(shown, "quiet"));
    connect(field.value, &QLineEdit::textEdited, this,
            [this, key = parameter.key](const QString& text) { sheet_.giveParameter(key, {.typed = fromQt(text)}); });
    connect(field.value, &QLineEdit::returnPressed, this, &ParameterStrip::runRequested);
    connect(field.choices, &QPushButton::clicked, this, [this, key = parameter.key] {
        const auto at = std::ranges::find(fields_, key, [](const Field& one) { return one.parameter.key; });
        if (at != fields_.end()) offerChoices(*at);
    });
    refresh(field);
    return field;
}

int ParameterStrip::columnsNow() const {
    const int room = std::max(1, width() / Theme::px(kFieldWidth));
    return std::max(1, std::min(room, static_cast<int>(fields_.size())));
}

void ParameterStrip::layOut() {
    while (QLayoutItem* item = grid_->takeAt(0)) delete item;
    shownColumns_ = columnsNow();
    for (int column = 0; column < grid_->columnCount(); ++column) grid_->setColumnStretch(column, 0);
    for (std::size_t i = 0; i < fields_.size(); ++i) {
        const int at = static_cast<int>(i);
        grid_->addWidget(fields_[i].frame, at / shownColumns_, at % shownColumns_);
        grid_->setColumnStretch(at % shownColumns_, 1);
        fields_[i].frame->setMaximumWidth(Theme::px(kFieldWidth * 2));
    }
}

void ParameterStrip::resizeEvent(QResizeEvent* event) {
    QFrame::resizeEvent(event);
    if (!fields_.empty() && columnsNow() != shownColumns_) layOut();
}

void ParameterStrip::refresh(const Field& field) {
    const store::ParameterText given = sheet_.parameters().given(field.parameter.key);
    if (field.value->text() != toQt(given.typed)) field.value->setText(toQt(given.typed));
    QString hint = field.parameter.isList ? tr("values with commas between") : tr("no value yet");
    if (given.isNull) hint = QStringLiteral("NULL");
    if (given.isEmptyText) hint = tr("empty text");
    field.value->setPlaceholderText(hint);
}

void ParameterStrip::offerChoices(const Field& field) {
    auto* menu = new QMenu(this);
    menu->setAttribute(Qt::WA_DeleteOnClose);
    menu->setObjectName(QLatin1String(objectName::kParameterMenu));
    const std::string key = field.parameter.key;
    const auto give = [this, key](store::ParameterText value) { sheet_.giveParameter(key, std::move(value)); };
    for (const std::string& before : sheet_.parameters().before(key)) {
        constexpr std::size_t kShown = 60;
        connect(menu->addAction(toQt(base::oneLine(before, kShown))), &QAction::triggered, this,
                [give, before] { give({.typed = before}); });
    }
    menu->addSeparator();
    connect(menu->addAction(QStringLiteral("NULL")), &QAction::triggered, this, [give] { give({.isNull = true}); });
    connect(menu->addAction(tr("Empty text")), &QAction::triggered, this, [give] { give({.isEmptyText = true}); });
    if (field.parameter.isList) {
        connect(menu->addAction(tr("Values from a file…")), &QAction::triggered, this, [this, key] { readFile(key); });
    }
    menu->popup(field.choices->mapToGlobal(QPoint(0, field.choices->height())));
}

/// A value a line.
void ParameterStrip::readFile(const std::string& key) {
    auto* dialog = new QFileDialog(this, tr("Values from a file, one a line"));
    dialog->setAttribute(Qt::WA_DeleteOnClose);
    connect(dialog, &QFileDialog::fileSelected, this, [this, key](const QString& file) {
        inBackground(
            this, [path = fromQt(file)] { return base::readFile(path); },
            [this, key](const Result<std::string>& text) {
                if (!text) return Q_EMIT remarked(toQt(text.error()));
                std::string list;
                for (const std::string_view line : base::splitAt(*text, '\n')) {
                    const std::string_view value = base::trimmed(line);
                    if (value.empty()) continue;
                    list += list.empty() ? "'" : ", '";
                    for (const char c : value) list += c == '\'' ? std::string("''") : std::string(1, c);
                    list += '\'';
                }
                sheet_.giveParameter(key, {.typed = std::move(list)});
            });
    });
    dialog->open();
}

void ParameterStrip::enter(const QString& key) {
    for (const Field& field : fields_) {
        if (!key.isEmpty() && field.parameter.key != fromQt(key)) continue;
        field.value->setFocus();
        return field.value->selectAll();
    }
    if (key.isEmpty()) return Q_EMIT remarked(tr("The statement at the cursor has no parameters."));
    // Its statement is another one than that at the caret, or is not shown yet.
    wanted_ = key;
    lookSoon();
}

bool ParameterStrip::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::KeyPress) {
        const auto* key = static_cast<QKeyEvent*>(event);
        if (key->key() == Qt::Key_Escape) {
            editor_.setFocus();
            return true;
        }
        if (key->key() == Qt::Key_Down) {
            const auto at = std::ranges::find(fields_, watched, [](const Field& one) { return one.value; });
            if (at != fields_.end()) offerChoices(*at);
            return true;
        }
    }
    return QFrame::eventFilter(watched, event);
}

}  // namespace pantry::app

#include "moc_parameter_strip.cpp"
