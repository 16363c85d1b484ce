#include "app/pages/form/form_fields.h"

#include <QCheckBox>
#include <QComboBox>
#include <QCompleter>
#include <QGridLayout>
#include <QLineEdit>
#include <QListWidget>
#include <algorithm>

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/look/elided_label.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"

namespace pantry::app {
namespace {

constexpr int kFieldWidth = 380;
constexpr int kNarrowestField = 170;
constexpr int kGap = 12;
constexpr int kTickRow = 24;
constexpr int kMaxTickRows = 6;

/// In columns of one width, as high as its rows.
void fitTicks(QListWidget* list) {
    constexpr int kBox = 42;  // the box and the room around it
    list->ensurePolished();   // with the letters that it is going to have
    int widest = 1;
    for (int i = 0; i < list->count(); ++i) {
        widest = std::max(widest, list->fontMetrics().horizontalAdvance(list->item(i)->text()) + Theme::px(kBox));
    }
    list->setGridSize(QSize(widest, Theme::px(kTickRow)));
    const int inRow = std::max(1, Theme::px(kFieldWidth - kBox) / widest);
    const int rows = std::clamp((list->count() + inRow - 1) / inRow, 1, kMaxTickRows);
    list->setFixedHeight(rows * Theme::px(kTickRow) + 8);
}

void addTick(QListWidget* list, const std::string& text, bool isTicked) {
    auto* item = new QListWidgetItem(toQt(text), list);
    item->setFlags(Qt::ItemIsEnabled | Qt::ItemIsSelectable | Qt::ItemIsUserCheckable);
    item->setCheckState(isTicked ? Qt::Checked : Qt::Unchecked);
}

}  // namespace

FormFields::FormFields(std::vector<sql::FormField> fields, QWidget* parent)
    : QWidget(parent), fields_(std::move(fields)) {
    auto* grid = new QGridLayout(this);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setHorizontalSpacing(kGap);
    grid->setVerticalSpacing(8);
    grid->setColumnStretch(2, 1);
    for (const sql::FormField& field : fields_) {
        const int row = grid->rowCount();
        QWidget* widget = makeField(field);
        widgets_.push_back(widget);
        name(widget, "", toQt(field.label));
        widget->setObjectName(QLatin1String(objectName::kFormField) + toQt(field.id));
        widget->setFixedWidth(Theme::px(kFieldWidth));
        if (field.kind != sql::FieldKind::Tick) {
            auto* label = makeLabel(toQt(field.label), "quiet", this);
            label->setBuddy(widget);
            labelWidth_ = std::max(labelWidth_, label->sizeHint().width());
            const bool isList = field.kind == sql::FieldKind::Ticks;
            grid->addWidget(label, row, 0, Qt::AlignRight | (isList ? Qt::AlignTop : Qt::AlignVCenter));
        }
        grid->addWidget(widget, row, 1);
        if (field.hint.empty()) continue;
        auto* hint = new ElidedLabel(toQt(field.hint), this);
        setLook(hint, "small");
        grid->addWidget(hint, row, 2);
    }
    for (std::size_t i = 0; i < fields_.size(); ++i) put(i, fields_[i].value);
}

QSize FormFields::minimumSizeHint() const {
    return {labelWidth_ + kGap * 2 + Theme::px(kNarrowestField), QWidget::minimumSizeHint().height()};
}

/// All fields are of one width, which gives way in a narrow window.
void FormFields::resizeEvent(QResizeEvent* event) {
    QWidget::resizeEvent(event);
    const int room = width() - labelWidth_ - kGap * 2;
    for (QWidget* field : widgets_) {
        field->setFixedWidth(std::clamp(room, Theme::px(kNarrowestField), Theme::px(kFieldWidth)));
    }
}

QWidget* FormFields::makeField(const sql::FormField& field) {
    switch (field.kind) {
        case sql::FieldKind::Tick: {
            auto* box = new QCheckBox(toQt(field.label), this);
            connect(box, &QCheckBox::toggled, this, [this, box] { noteEdit(box); });
            return box;
        }
        case sql::FieldKind::Choice: {
            auto* box = new QComboBox(this);
            box->setEditable(true);
            box->setInsertPolicy(QComboBox::NoInsert);
            box->completer()->setFilterMode(Qt::MatchContains);
            box->completer()->setCompletionMode(QCompleter::PopupCompletion);
            for (const std::string& one : field.choices) box->addItem(toQt(one));
            box->setCurrentIndex(-1);
            connect(box, &QComboBox::currentTextChanged, this, [this, box] { noteEdit(box); });
            return box;
        }
        case sql::FieldKind::Ticks: return makeTicks(field);
        case sql::FieldKind::Text:
        case sql::FieldKind::Number:
        case sql::FieldKind::Secret: break;
    }
    auto* line = new QLineEdit(this);
    if (field.kind == sql::FieldKind::Secret) line->setEchoMode(QLineEdit::Password);
    connect(line, &QLineEdit::textChanged, this, [this, line] { noteEdit(line); });
    return line;
}

QWidget* FormFields::makeTicks(const sql::FormField& field) {
    auto* list = new QListWidget(this);
    list->setFlow(QListView::LeftToRight);
    list->setWrapping(true);
    list->setResizeMode(QListView::Adjust);
    for (const std::string& one : field.choices) addTick(list, one, false);
    fitTicks(list);
    connect(list, &QListWidget::itemChanged, this, [this, list] { noteEdit(list); });
    return list;
}

void FormFields::noteEdit(const QWidget* field) {
    if (!widgets_.empty() && field == widgets_.front()) Q_EMIT subjectChanged();
    Q_EMIT edited();
}

std::string FormFields::valueIn(std::size_t place) const {
    QWidget* widget = widgets_[place];
    switch (fields_[place].kind) {
        case sql::FieldKind::Tick:
            return static_cast<QCheckBox*>(widget)->isChecked() ? std::string(sql::kTicked) : std::string();
        case sql::FieldKind::Choice: return fromQt(static_cast<QComboBox*>(widget)->currentText().trimmed());
        case sql::FieldKind::Ticks: {
            std::string ticks;
            const auto* list = static_cast<QListWidget*>(widget);
            for (int i = 0; i < list->count(); ++i) {
                if (list->item(i)->checkState() != Qt::Checked) continue;
                if (!ticks.empty()) ticks += sql::kBetweenTicks;
                ticks += fromQt(list->item(i)->text());
            }
            return ticks;
        }
        case sql::FieldKind::Secret: return fromQt(static_cast<QLineEdit*>(widget)->text());
        case sql::FieldKind::Text:
        case sql::FieldKind::Number: break;
    }
    return fromQt(static_cast<QLineEdit*>(widget)->text().trimmed());
}

void FormFields::put(std::size_t place, const std::string& value) {
    QWidget* widget = widgets_[place];
    switch (fields_[place].kind) {
        case sql::FieldKind::Tick: static_cast<QCheckBox*>(widget)->setChecked(!value.empty()); break;
        case sql::FieldKind::Choice: static_cast<QComboBox*>(widget)->setCurrentText(toQt(value)); break;
        case sql::FieldKind::Ticks: {
            auto* list = static_cast<QListWidget*>(widget);
            const QStringList ticks = toQt(value).split(QLatin1Char(sql::kBetweenTicks), Qt::SkipEmptyParts);
            for (int i = 0; i < list->count(); ++i) {
                list->item(i)->setCheckState(ticks.contains(list->item(i)->text()) ? Qt::Checked : Qt::Unchecked);
            }
            break;
        }
        case sql::FieldKind::Text:
        case sql::FieldKind::Number:
        case sql::FieldKind::Secret: static_cast<QLineEdit*>(widget)->setText(toQt(value)); break;
    }
}

sql::FieldValues FormFields::values() const {
    sql::FieldValues values;
    for (std::size_t i = 0; i < fields_.size(); ++i) values[std::string(fields_[i].id)] = valueIn(i);
    return values;
}

void FormFields::fill(const sql::FieldValues& values) {
    const QSignalBlocker blocker(this);
    for (std::size_t i = 0; i < fields_.size(); ++i) {
        const auto found = values.find(fields_[i].id);
        if (found != values.end()) put(i, found->second);
    }
}

/// What was chosen or typed meanwhile stays.
void FormFields::addChoices(std::string_view id, const std::vector<std::string>& choices) {
    const auto at = std::ranges::find(fields_, id, &sql::FormField::id);
    if (at == fields_.end()) return;
    const auto place = static_cast<std::size_t>(at - fields_.begin());
    if (at->kind == sql::FieldKind::Choice) {
        auto* box = static_cast<QComboBox*>(widgets_[place]);
        const QSignalBlocker blocker(box);
        const QString now = box->currentText();
        for (const std::string& one : choices) {
            if (box->findText(toQt(one), Qt::MatchExactly) < 0) box->addItem(toQt(one));
        }
        box->setCurrentIndex(box->findText(now, Qt::MatchExactly));
        box->setEditText(now);
        return;
    }
    if (at->kind != sql::FieldKind::Ticks) return;
    auto* list = static_cast<QListWidget*>(widgets_[place]);
    const QSignalBlocker blocker(list);
    for (const std::string& one : choices) addTick(list, one, false);
    if (list->count() == 0) (new QListWidgetItem(tr("there are none"), list))->setFlags(Qt::NoItemFlags);
    fitTicks(list);
}

void FormFields::focusFirst() {
    for (std::size_t i = 0; i < fields_.size(); ++i) {
        if (fields_[i].kind != sql::FieldKind::Tick && valueIn(i).empty()) return widgets_[i]->setFocus();
    }
    if (!widgets_.empty()) widgets_.front()->setFocus();
}

}  // namespace pantry::app

#include "moc_form_fields.cpp"
