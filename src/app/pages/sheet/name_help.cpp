#include "app/pages/sheet/name_help.h"

#include <QGridLayout>
#include <QPlainTextEdit>
#include <QVBoxLayout>
#include <algorithm>

#include "app/base/background.h"
#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"

namespace pantry::app {
namespace {

constexpr int kInsetWidth = 620;
constexpr int kCodeLines = 11;
constexpr int kCodeLine = 17;

QString tipOf(const sql::NameFacts& facts) {
    QString tip = QStringLiteral("%1 · %2").arg(toQt(facts.heading), toQt(facts.what));
    for (const auto& [label, value] : facts.facts) tip += QStringLiteral("\n%1: %2").arg(toQt(label), toQt(value));
    if (!facts.comment.empty()) tip += QStringLiteral("\n") + toQt(facts.comment);
    return tip;
}

void showCode(QPlainTextEdit* code, const QString& text) {
    code->setPlainText(text.trimmed());
    const int lines = std::clamp(static_cast<int>(text.trimmed().count(QLatin1Char('\n'))) + 1, 1, kCodeLines);
    code->setFixedHeight(Theme::px(lines * kCodeLine + 16));
}

}  // namespace

NameHelp::NameHelp(Desk& desk, Sheet& sheet, SqlEditor& editor, QObject* parent)
    : QObject(parent), desk_(desk), sheet_(sheet), editor_(editor) {
    constexpr int kRestMs = 300;
    restTimer_.setSingleShot(true);
    restTimer_.setInterval(kRestMs);
    connect(&restTimer_, &QTimer::timeout, this, &NameHelp::markUses);
    connect(&editor_, &SqlEditor::caretMoved, this, [this] { restTimer_.start(); });
    connect(&editor_, &SqlEditor::nameAsked, this, [this](std::size_t offset, const QPoint& at) {
        find(offset, [this, at](const Name& name) {
            if (name && name->facts) editor_.tellAt(at, tipOf(*name->facts));
        });
    });
    connect(&editor_, &SqlEditor::signatureRequested, this, &NameHelp::showSignature);
    connect(&editor_, &SqlEditor::nameChosen, this,
            [this](std::size_t offset) { find(offset, [this](const Name& name) { goTo(name); }); });
}

void NameHelp::find(std::size_t offset, std::function<void(const Name&)> told) {
    if (!sheet_.hasHelpers()) return;
    sheet_.service().findName(offset, sheet_.session().catalogView(), sheet_.whileSame<Name>(std::move(told)));
}

/// The argument that the caret is in stands out.
void NameHelp::showSignature(std::size_t caret) {
    if (!sheet_.hasHelpers()) return;
    sheet_.service().findSignature(
        caret, sheet_.session().catalogView(),
        sheet_.whileSame<std::optional<sql::Signature>>([this, caret](const std::optional<sql::Signature>& call) {
            if (editor_.caret() != caret) return;
            if (!call) return editor_.showSignature({});
            QStringList parts;
            for (std::size_t i = 0; i < call->arguments.size(); ++i) {
                const bool isLast = i + 1 == call->arguments.size();
                const bool isHere = i == call->at || (isLast && call->at > i);
                const QString part = toQt(call->arguments[i]).toHtmlEscaped();
                parts += isHere ? QStringLiteral("<b>%1</b>").arg(part) : part;
            }
            const QString returns =
                call->returns.empty() ? QString() : QStringLiteral(" → %1").arg(toQt(call->returns).toHtmlEscaped());
            editor_.showSignature(
                QStringLiteral("%1(%2)%3")
                    .arg(toQt(call->name).toHtmlEscaped(), parts.join(QStringLiteral(", ")), returns));
        }));
}

void NameHelp::markUses() {
    if (editor_.carets() > 1) return;
    find(editor_.caret(), [this](const Name& name) {
        const bool isWorthIt = name && name->uses.size() > 1 && editor_.selection().empty();
        editor_.markUses(isWorthIt ? name->uses : std::vector<sql::TextRange>());
    });
}

void NameHelp::showDefinition() {
    if (editor_.inset() != nullptr) return editor_.showInset(nullptr);
    if (!sheet_.hasHelpers()) return Q_EMIT remarked(tr("This text is too large to be looked at."));
    find(editor_.caret(), [this](const Name& name) { open(name); });
}

void NameHelp::open(const Name& name) {
    if (!name) return Q_EMIT remarked(tr("There is no name at the cursor."));
    if (!name->facts) return Q_EMIT remarked(tr("Nothing is known about this name on this connection."));
    editor_.showInset(makeInset(*name->facts));
}

QWidget* NameHelp::makeInset(const sql::NameFacts& facts) {
    QFrame* inset = makeFrame("float");
    name(inset, objectName::kDefinitionInset, tr("What the name is"));
    inset->setMaximumWidth(Theme::px(kInsetWidth));
    auto* layout = new QVBoxLayout(inset);
    layout->setContentsMargins(14, 10, 14, 8);
    layout->setSpacing(6);
    auto* heading = new QHBoxLayout;
    auto* title = makeLabel(toQt(facts.heading), "code");
    QFont bold = title->font();
    bold.setBold(true);
    title->setFont(bold);
    heading->addWidget(title);
    heading->addStretch();
    heading->addWidget(makeLabel(toQt(facts.what), "quiet"));
    layout->addLayout(heading);
    auto* grid = new QGridLayout;
    grid->setHorizontalSpacing(14);
    grid->setVerticalSpacing(2);
    grid->setColumnStretch(1, 1);
    const bool isDefined = facts.object.has_value() || !facts.definition.empty();
    for (const auto& [label, value] : facts.facts) {
        if (isDefined && label == "Columns") continue;  // the definition has them
        const int row = grid->rowCount();
        grid->addWidget(makeLabel(toQt(label), "quiet"), row, 0, Qt::AlignTop);
        auto* text = makeLabel(toQt(value), "");
        text->setWordWrap(true);
        text->setTextInteractionFlags(Qt::TextSelectableByMouse);
        grid->addWidget(text, row, 1);
    }
    layout->addLayout(grid);
    if (!facts.comment.empty()) {
        auto* comment = makeLabel(toQt(facts.comment), "quiet");
        comment->setWordWrap(true);
        layout->addWidget(comment);
    }
    if (isDefined) {
        auto* code = new QPlainTextEdit;
        code->setProperty("look", "code");
        code->setReadOnly(true);
        code->setLineWrapMode(QPlainTextEdit::NoWrap);
        code->setFocusPolicy(Qt::ClickFocus);
        name(code, objectName::kDefinitionCode, tr("The statement that makes it"));
        layout->addWidget(code);
        showCode(code, facts.definition.empty() ? tr("Reading…") : toQt(facts.definition));
        if (facts.object && facts.definition.empty()) {
            desk_.catalogs().readDefinition(
                fromQt(sheet_.connectionId()), sheet_.database(), *facts.object,
                whileThere(code, [this, code, inset](const Result<catalog::Definition>& definition) {
                    showCode(code, definition ? toQt(definition->whole()) : toQt(definition.error()));
                    if (editor_.inset() == inset) editor_.placeInset();
                }));
        }
    }
    const bool hasPage = facts.object.has_value();
    layout->addWidget(makeLabel(hasPage ? tr("Esc closes · Ctrl and a click on the name opens its details")
                                        : tr("Esc closes · Ctrl and a click on the name goes to it"),
                                "small"));
    return inset;
}

/// To where the text makes the name, else to the page of what the database has.
void NameHelp::goTo(const Name& name) {
    if (!name) return;
    const bool isThere = name->madeAt && *name->madeAt == name->at;
    if (name->madeAt && !isThere)
        return editor_.select(name->madeAt->start, name->madeAt->start + name->madeAt->length);
    if (name->facts && name->facts->object) {
        return Q_EMIT objectRequested({sheet_.connectionId(), sheet_.database(), *name->facts->object});
    }
    if (!isThere) Q_EMIT remarked(tr("Nothing is known about this name on this connection."));
}

}  // namespace pantry::app

#include "moc_name_help.cpp"
