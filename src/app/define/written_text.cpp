#include "app/define/written_text.h"

#include <QPointer>

#include "app/base/background.h"
#include "app/base/text.h"
#include "app/editor/text_settings.h"
#include "core/catalog/catalog_view.h"
#include "core/db/engine_traits.h"

namespace pantry::app {
namespace {

sql::Language languageAt(Desk& desk, const QString& connectionId) {
    const db::ConnectionProfile* profile = desk.connections().profile(fromQt(connectionId));
    return profile != nullptr ? db::dialectOf(profile->engine) : sql::Dialect::Ansi;
}

}  // namespace

WrittenText::WrittenText(Desk& desk, const QString& connectionId, std::string database, QWidget* parent)
    : SqlEditor(parent),
      desk_(desk),
      connectionId_(connectionId),
      database_(std::move(database)),
      language_(languageAt(desk, connectionId)),
      service_(language_, [this, guard = QPointer<QObject>(this)](const work::TextReadingPtr& reading) {
          onWindowThread(guard, [this, reading] {
              setReading(reading);
              checkTimer_.start();
          });
      }) {
    constexpr int kRestMs = 600;
    checkTimer_.setSingleShot(true);
    checkTimer_.setInterval(kRestMs);
    service_.setFindingChoices(desk_.settings().findingsOff, desk_.settings().manyRows);
    setReading(std::make_shared<const work::TextReading>(language_));  // of nothing, until the text is read
    applySettings(*this, desk_.settings());
    connect(&checkTimer_, &QTimer::timeout, this, &WrittenText::check);
    connect(this, &SqlEditor::textEdited, this, &WrittenText::noteText);
    connect(this, &SqlEditor::completionRequested, this, [this](std::size_t caret, quint64 question, bool isAsked) {
        service_.complete(caret, catalog::View(catalogHere()), {.isAsked = isAsked},
                          [this, guard = QPointer<QObject>(this), question](const sql::Completion& completion) {
                              onWindowThread(guard, [this, completion, question] { offer(completion, question); });
                          });
    });
    connect(&desk_, &Desk::settingsChanged, this, [this] { applySettings(*this, desk_.settings()); });
    connect(&desk_, &Desk::catalogChanged, this, [this](const QString& id) {
        if (id == connectionId_) checkTimer_.start();
    });
}

catalog::CatalogPtr WrittenText::catalogHere() const {
    return desk_.catalogs().state(fromQt(connectionId_), database_).catalog;
}

void WrittenText::setWritten(const std::string& text) {
    resetText(base::SharedText(text));
    noteText();
}

void WrittenText::noteText() { service_.setText(text()); }

void WrittenText::check() {
    if (isCompleting()) return checkTimer_.start();
    const catalog::CatalogPtr catalog = catalogHere();
    service_.check(catalog ? std::optional(catalog::View(catalog)) : std::nullopt,
                   [this, guard = QPointer<QObject>(this)](const work::TextReadingPtr& reading, const auto& findings) {
                       onWindowThread(guard, [this, reading, findings] {
                           if (reading->text().isCopyOf(text())) showFindings(findings);
                       });
                   });
}

void WrittenText::showFindings(const std::vector<sql::Finding>& findings) {
    std::vector<TextHint> hints;
    for (const sql::Finding& finding : findings) hints.push_back(hintOf(finding));
    setHints(std::move(hints));
}

void WrittenText::format() {
    service_.format({.caret = caret(), .options = desk_.settings().format},
                    [this, guard = QPointer<QObject>(this)](const work::FormattedEdit& edit) {
                        onWindowThread(guard, [this, edit] {
                            if (edit.of.isCopyOf(text())) replaceText(edit.text, edit.caret);
                        });
                    });
}

}  // namespace pantry::app

#include "moc_written_text.cpp"
