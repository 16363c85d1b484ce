#pragma once

#include <filesystem>
#include <string>
#include <string_view>

#include "core/base/result.h"

namespace pantry::base {

/// The whole content of a file. Errors: NotFound, Permission, Io, each naming the file.
Result<std::string> readFile(const std::filesystem::path& path);

/// Replaces a file's content so that a crash leaves either the old or the new one, never a part: writes a
/// temporary file beside it, syncs, renames. New files are readable by their owner only.
Status writeFileAtomically(const std::filesystem::path& path, std::string_view content);

/// Makes a folder and those above it, for the owner only. Fine when it is there already.
Status makeFolder(const std::filesystem::path& path);

/// Writes all bytes to a descriptor, through interruptions. Returns the error number, 0 when all is written.
int writeAll(int descriptor, std::string_view bytes);

/// The Error for errno after a failed call on `path`; `doing` completes “could not …”.
/// Whether programs can keep each other from writing into files of a folder. Network folders may have no locks.
/// Errors: Io when there are none; those of making a file there, which goes again.
Status checkLocks(const std::filesystem::path& folder);

/// Whether a lock was refused because the folder has none, and not because somebody else has it.
[[nodiscard]] bool isWithoutLocks(int errorNumber);

Error fileError(int errorNumber, std::string_view doing, const std::filesystem::path& path);

/// Whole content of standard input.
Result<std::string> readStandardInput();

}  // namespace pantry::base
