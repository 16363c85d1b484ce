#pragma once

#include <filesystem>
#include <functional>
#include <string>
#include <string_view>
#include <vector>

#include "core/base/result.h"
#include "core/store/ledger.h"

namespace pantry::store {

/// A run as a line of JSON Lines: one object with the names that `pantry history --json` uses. Of a run without a place
/// for its error and the like, the value is null.
[[nodiscard]] std::string ledgerLine(const LedgerEntry& entry);

/// Reads such a line. Names that are not known are passed over; those that are missing are empty.
/// Errors: InvalidInput for what is no run: it has no statement or no moment.
[[nodiscard]] Result<LedgerEntry> ledgerEntryFrom(std::string_view line);

/// Runs as CSV, with a line of names first; the same values as in JSON Lines.
[[nodiscard]] std::string ledgerCsvHeading();
[[nodiscard]] std::string ledgerCsvLine(const LedgerEntry& entry);

/// All runs of a file, JSON Lines or CSV by what it begins with.
/// Errors: those of reading it; InvalidInput with the line of what is no run. Nothing is taken then.
[[nodiscard]] Result<std::vector<LedgerEntry>> readLedgerFile(const std::filesystem::path& path);

/// Writes all runs that a search finds, the newest first, as CSV when the name ends in .csv, else as JSON Lines. What
/// stood there stays until all is written.
/// Returns: how many.
[[nodiscard]] Result<std::size_t> writeLedgerFile(const Ledger& ledger, LedgerQuery query,
                                                  const std::filesystem::path& path);

}  // namespace pantry::store
