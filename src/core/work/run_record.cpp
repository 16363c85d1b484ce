#include "core/work/run_record.h"

#include "core/work/parameter_values.h"

namespace pantry::work {

store::RunStart startRecord(const db::ConnectionProfile& profile, const sql::Statement& statement,
                            const std::string& sheet) {
    return {.connectionId = profile.id,
            .connectionName = profile.name,
            .environment = std::string(db::environmentWord(profile.environment)),
            .engine = std::string(db::engineWord(profile.engine)),
            .database = profile.database,
            .user = profile.user,
            .statement = statement.text(),
            .sheet = sheet,
            .parameters = parametersText(statement)};
}

store::RunEnd endRecord(const RunOutcome& outcome) {
    store::RunEnd end{.duration = outcome.summary.totalTime, .isPartial = outcome.isPartial};
    end.rows = outcome.rows;
    end.affected = outcome.summary.result.affectedRows;
    if (!outcome.error || outcome.isPartial) return end;
    const bool isStop = outcome.error->kind == ErrorKind::Cancelled;
    end.status = isStop ? store::RunStatus::Stopped : store::RunStatus::Failed;
    if (!isStop) end.error = outcome.error->text();
    return end;
}

}  // namespace pantry::work
