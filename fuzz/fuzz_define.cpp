// Any bytes as what definitions are read from: CREATE statements, types, expressions, pasted columns, edited texts.
#include <cstdint>
#include <cstdlib>
#include <string>
#include <string_view>

#include "core/sql/define/edited_text.h"
#include "core/sql/define/table_design.h"
#include "core/sql/define/table_options.h"
#include "core/sql/define/translate.h"
#include "core/sql/define/type_map.h"
#include "core/sql/forms/form.h"
#include "core/sql/meaning/table_parts.h"

namespace {

using namespace pantry::sql;

void readTable(std::string_view text, Dialect dialect) {
    (void)tablePartsOf(text, dialect);
    (void)predicateOf(text, dialect);
    const std::string options = optionsIn(text, dialect);
    if (!optionChanges(options, options, dialect).empty()) std::abort();
    (void)optionChanges(options, text, dialect);
    (void)columnsFromLines(text, dialect);
}

void apply(std::string_view text, Dialect dialect) {
    const EditedObject view{.object = {pantry::catalog::ObjectKind::View, "s", "v", {}}};
    const auto change = applyText(view, text, {}, false, dialect);
    if (!change) return;
    for (const DefinitionStep& step : change->change.steps) {
        const auto place = step.placeInText(step.statement.size());
        if (place && *place > text.size()) std::abort();
    }
    (void)triggerIn(text, "t", dialect);
}

void fillIn(std::string_view text, Dialect dialect) {
    const FormPlace place{.dialect = dialect, .database = std::string(text), .object = {.schema = "s", .name = "n"}};
    for (const FormEntry& form : formEntries()) {
        if (!form.isFor(place)) continue;
        FieldValues values;
        for (const FormField& field : form.fields(place)) values[std::string(field.id)] = std::string(text);
        (void)whyIncomplete(form.fields(place), values);
        (void)form.write(place, values, {});
        (void)form.currentQuery(place, std::string(text));
    }
}

}  // namespace

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size) {
    const std::string_view text(reinterpret_cast<const char*>(data), size);
    for (const Dialect dialect : {Dialect::Postgres, Dialect::MySql, Dialect::Sqlite}) {
        readTable(text, dialect);
        apply(text, dialect);
        fillIn(text, dialect);
        for (const Dialect to : {Dialect::Postgres, Dialect::MySql, Dialect::Sqlite}) {
            (void)expressionIn(text, dialect, to);
            (void)typeIn(text, dialect, to);
        }
    }
    return 0;
}
