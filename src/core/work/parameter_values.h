#pragma once

#include <map>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"
#include "core/sql/meaning/parameters.h"
#include "core/sql/meaning/statement.h"
#include "core/store/kept_parameters.h"

/// Values for the parameters of statements, as people type them: the same in a sheet and on the command line.
namespace pantry::work {

/// What somebody has typed for a parameter. Of a list, values stand with commas or line ends between; one in single
/// quotes may have both in it, and NULL without quotes is NULL.
[[nodiscard]] sql::ParameterValue typedValue(std::string_view typed, bool isList);

/// A statement with those of the values that it has parameters for.
[[nodiscard]] sql::Statement withThose(const sql::Statement& statement, const sql::ParameterValues& values);

/// A statement with values for those of its parameters that somebody has typed one for.
[[nodiscard]] sql::Statement withTyped(const sql::Statement& statement,
                                       const std::map<std::string, std::string, std::less<>>& typed);

/// Another statement made of parts of one, such as the count of the rows that it would touch, with its values. Of
/// parameters without names the last ones are meant: conditions come last.
[[nodiscard]] sql::Statement withValuesOf(const std::string& text, const sql::Statement& whole);

/// A statement's values as the ledger keeps them and people read them: since = 2026-01-01, plots = (Saltmarsh, Sluice
/// Side). What has the name of a secret, or stands where a statement would hold one, is hidden.
[[nodiscard]] std::string parametersText(const sql::Statement& statement);

/// The values that somebody gave the parameters of one document; those given last are remembered.
///
/// Threads: the owner's.
class ParameterMemory {
public:
    /// What stands for a parameter now.
    using Given = store::ParameterText;
    static constexpr std::size_t kRemembered = 10;

    [[nodiscard]] Given given(const std::string& key) const;
    void give(const std::string& key, Given value);
    /// What was typed before and ran, the last one first; nothing for secrets.
    [[nodiscard]] std::vector<std::string> before(const std::string& key) const;

    /// The values to run statements with; they are remembered. Errors: NotFound with the key of the first parameter
    /// that has no value yet.
    [[nodiscard]] Result<sql::ParameterValues> valuesFor(const std::vector<sql::StatementParameter>& parameters);

    /// What can be kept between starts, secrets left out.
    [[nodiscard]] store::KeptParameters kept() const;
    void restore(store::KeptParameters kept) { known_ = std::move(kept); }

private:
    store::KeptParameters known_;
};

}  // namespace pantry::work
