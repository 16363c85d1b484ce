#include "core/work/run_record.h"

#include <algorithm>

#include "core/db/engine_traits.h"
#include "core/sql/meaning/secrets.h"
#include "core/work/parameter_values.h"

namespace pantry::work {

store::RunStart startRecord(const db::ConnectionProfile& profile, const sql::Statement& statement,
                            const std::string& sheet, const std::string& schema) {
    const bool isFile = db::isFile(profile.engine);
    const std::string port = profile.port == 0 ? "" : ":" + std::to_string(profile.port);
    return {.connectionId = profile.id,
            .connectionName = profile.name,
            .environment = std::string(db::environmentWord(profile.environment)),
            .engine = std::string(db::engineWord(profile.engine)),
            .server = isFile ? "" : profile.host + port,
            .database = profile.database,
            .schema = schema,
            .user = profile.user,
            .statement = statement.text(),
            .sheet = sheet,
            .parameters = parametersText(statement)};
}

std::string planText(const data::ResultSet& rows, std::string_view statement, const sql::Language& language) {
    constexpr std::size_t kLongest = 64 * 1024;
    std::string text;
    const auto addLine = [&](auto valueOf) {
        for (std::size_t column = 0; column < rows.columns().size(); ++column) {
            if (column > 0) text += '\t';
            text += valueOf(column);
        }
        text += '\n';
    };
    if (rows.columns().size() > 1) addLine([&](std::size_t column) { return rows.columns()[column].name; });
    std::size_t row = 0;
    for (; row < rows.rowCount() && text.size() < kLongest; ++row)
        addLine([&](std::size_t column) { return data::toText(rows.cell(row, column)); });
    if (row < rows.rowCount()) text += "…\n";
    return sql::withoutSecrets(Error{.message = std::move(text)}, statement, language).message;
}

store::RunEnd endRecord(const RunOutcome& outcome) {
    store::RunEnd end{.duration = outcome.summary.totalTime, .isPartial = outcome.isPartial};
    end.fetching = std::max(std::chrono::microseconds(0), outcome.summary.totalTime - outcome.summary.serverTime);
    end.rows = outcome.rows;
    end.affected = outcome.summary.result.affectedRows;
    if (!outcome.error || outcome.isPartial) return end;
    const bool isStop = outcome.error->kind == ErrorKind::Cancelled;
    end.status = isStop ? store::RunStatus::Stopped : store::RunStatus::Failed;
    if (outcome.error->kind == ErrorKind::HeldBack) end.status = store::RunStatus::HeldBack;
    if (isStop) return end;
    end.error = outcome.error->text();
    end.errorCode = outcome.error->code;
    if (outcome.error->byteOffset) end.errorPlace = static_cast<std::int64_t>(*outcome.error->byteOffset);
    return end;
}

}  // namespace pantry::work
