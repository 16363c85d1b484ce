#include "app/pages/object/call_form.h"

#include <QComboBox>
#include <QGridLayout>
#include <QLineEdit>
#include <QVBoxLayout>

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"

namespace pantry::app {

CallForm::CallForm(catalog::ObjectName routine, catalog::ObjectDetails details, sql::Dialect dialect,
                   const catalog::Catalog* catalog, QWidget* parent)
    : QFrame(parent),
      routine_(std::move(routine)),
      details_(std::move(details)),
      dialect_(dialect),
      code_(new CodeText(150, this)),
      problem_(makeLabel({}, "bad", this)),
      call_(makeButton(tr("Call it"), "main", objectName::kCallRun, tr("Run this statement in a sheet"), this)) {
    name(this, objectName::kCallForm, tr("Call the routine"));
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(10);
    grid->setVerticalSpacing(6);
    int row = 0;
    for (const catalog::RoutineParameter* one : sql::parametersToFill(details_)) {
        const QString label = one->name.empty() ? tr("argument %1").arg(row + 1) : toQt(one->name);
        const std::vector<std::string> choices = sql::choicesFor(*one, catalog, dialect_);
        auto* box = choices.empty() ? nullptr : new QComboBox(this);
        if (box != nullptr) {
            box->setEditable(true);
            for (const std::string& choice : choices) box->addItem(toQt(choice));
            box->setCurrentIndex(-1);
        }
        Field field{.text = box != nullptr ? box->lineEdit() : new QLineEdit(this), .kind = new QComboBox(this)};
        name(field.text, objectName::kCallField, label);
        field.text->setPlaceholderText(toQt(one->typeName));
        name(field.kind, objectName::kCallKind, tr("How the argument is meant"));
        field.kind->addItem(tr("value"), int(sql::Argument::Kind::Text));
        field.kind->addItem(tr("NULL"), int(sql::Argument::Kind::Null));
        field.kind->addItem(tr("expression"), int(sql::Argument::Kind::Expression));
        if (one->defaultValue) {
            field.kind->addItem(tr("default: %1").arg(toQt(*one->defaultValue)), int(sql::Argument::Kind::Default));
            field.kind->setCurrentIndex(field.kind->count() - 1);
        }
        grid->addWidget(makeLabel(label, "code", this), row, 0);
        grid->addWidget(box != nullptr ? static_cast<QWidget*>(box) : field.text, row, 1);
        grid->addWidget(field.kind, row, 2);
        connect(field.text, &QLineEdit::textChanged, this, [this, kind = field.kind] {
            const auto meant = static_cast<sql::Argument::Kind>(kind->currentData().toInt());
            if (meant == sql::Argument::Kind::Null || meant == sql::Argument::Kind::Default) kind->setCurrentIndex(0);
            write();
        });
        connect(field.kind, &QComboBox::currentIndexChanged, this, &CallForm::write);
        connect(field.text, &QLineEdit::returnPressed, call_, &QPushButton::click);
        fields_.push_back(field);
        ++row;
    }
    grid->setColumnStretch(1, 1);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(8);
    layout->addLayout(grid);
    layout->addWidget(code_);
    layout->addWidget(problem_);
    layout->addWidget(call_, 0, Qt::AlignLeft);
    connect(call_, &QPushButton::clicked, this, [this] {
        if (call_->isEnabled()) Q_EMIT callRequested(statements_);
    });
    write();
}

sql::Argument CallForm::argumentOf(const Field& field) const {
    return {static_cast<sql::Argument::Kind>(field.kind->currentData().toInt()), fromQt(field.text->text())};
}

void CallForm::write() {
    std::vector<sql::Argument> arguments;
    for (const Field& field : fields_) arguments.push_back(argumentOf(field));
    const auto statements = sql::callOf(routine_, details_, arguments, dialect_);
    call_->setEnabled(statements.has_value());
    problem_->setVisible(!statements);
    if (!statements) return problem_->setText(toQt(statements.error().message));
    std::string script;
    for (const std::string& one : *statements) script += one + ";\n";
    statements_ = toQt(script);
    code_->show(base::SharedText(script), dialect_);
}

}  // namespace pantry::app

#include "moc_call_form.cpp"
