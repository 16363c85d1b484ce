#include "app/pages/sheet/query_changes.h"

#include <QApplication>
#include <QClipboard>

#include "app/base/text.h"
#include "app/look/pick_list.h"
#include "app/look/tick_list.h"
#include "core/sql/write/code_strings.h"

namespace pantry::app {

QueryChanges::QueryChanges(Sheet& sheet, SqlEditor& editor, QObject* parent)
    : QObject(parent), sheet_(sheet), editor_(editor) {}

void QueryChanges::rewrite(const std::string& way) { rewriteWith(way, {.caret = editor_.caret(), .columns = {}}); }

void QueryChanges::rewriteWith(const std::string& way, sql::RewriteWish wish) {
    if (!sheet_.hasHelpers()) return Q_EMIT remarked(tr("This text is too large to be looked at."));
    sheet_.service().rewrite(way, std::move(wish), sheet_.session().catalogView(),
                             sheet_.whileSame<Result<sql::Rewritten>>([this](const auto& change) { put(change); }));
}

void QueryChanges::put(const Result<sql::Rewritten>& change) {
    if (!change) return Q_EMIT remarked(toQt(change.error()));
    editor_.apply(change->edits);
    if (!change->places.empty()) {
        editor_.selectEach(change->places);
        Q_EMIT remarked(tr("Type the name; it changes at %1 places.").arg(change->places.size()));
    }
    if (change->value) Q_EMIT parameterMade(toQt(change->value->name), toQt(change->value->text));
}

void QueryChanges::unfold() {
    if (!sheet_.hasHelpers()) return Q_EMIT remarked(tr("This text is too large to be looked at."));
    const std::size_t caret = editor_.caret();
    sheet_.service().findStar(caret, sheet_.session().catalogView(),
                              sheet_.whileSame<Result<sql::StarColumns>>([this](const Result<sql::StarColumns>& star) {
                                  if (!star) return Q_EMIT remarked(toQt(star.error()));
                                  std::vector<TickList::Choice> choices;
                                  for (const sql::StarColumn& column : star->columns)
                                      choices.push_back({toQt(column.text), toQt(column.type)});
                                  const auto taken = [this,
                                                      at = star->range.start + 1](std::vector<std::size_t> columns) {
                                      rewriteWith("unfold-star", {.caret = at, .columns = std::move(columns)});
                                  };
                                  auto* list = new TickList(choices, tr("Columns of *"), tr("Write"), taken, &editor_);
                                  list->openAt(editor_.pointBelow(star->range.start));
                              }));
}

void QueryChanges::rename() {
    sheet_.service().findName(
        editor_.caret(), sheet_.session().catalogView(),
        sheet_.whileSame<std::optional<work::NameInText>>([this](const std::optional<work::NameInText>& name) {
            if (!name) return Q_EMIT remarked(tr("There is no name at the cursor."));
            if (!name->madeAt) {
                return Q_EMIT remarked(
                    tr("Only names that the statement makes are changed: aliases, common tables, names of the select "
                       "list."));
            }
            std::vector<sql::TextRange> places{name->at};
            for (const sql::TextRange& use : name->uses) {
                if (use != name->at) places.push_back(use);
            }
            editor_.selectEach(places);
            Q_EMIT remarked(tr("Type the new name; it changes at %1 places.").arg(places.size()));
        }));
}

void QueryChanges::pasteFromCode() {
    const std::string text = fromQt(QApplication::clipboard()->text());
    const std::optional<std::string> sql = sql::fromCode(text);
    editor_.insertText(sql.value_or(text));
    if (!sql) Q_EMIT remarked(tr("No SQL in quotes was found; the text was pasted as it is."));
}

void QueryChanges::copyAsCode() {
    std::string text = editor_.selection();
    const std::optional<std::size_t> statement = sheet_.script().indexAt(editor_.caret());
    if (text.empty() && statement) text = sheet_.script().textOf(*statement);
    if (text.empty()) return Q_EMIT remarked(tr("There is no statement at the cursor."));
    std::vector<PickList::Choice> choices;
    for (const sql::CodeLanguage language : sql::codeLanguages()) {
        const QString name = toQt(sql::codeLanguageName(language));
        choices.push_back({.text = name, .detail = {}, .icon = {}, .act = [this, text, language, name] {
                               QApplication::clipboard()->setText(toQt(sql::asCodeString(text, language)));
                               Q_EMIT remarked(tr("Copied as a string of %1.").arg(name));
                           }});
    }
    auto* list = new PickList(std::move(choices), tr("Language"), &editor_);
    list->openAt(editor_.pointBelow(editor_.caret()));
}

}  // namespace pantry::app

#include "moc_query_changes.cpp"
