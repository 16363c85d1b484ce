#pragma once

#include <filesystem>
#include <string>
#include <vector>

#include "core/base/result.h"
#include "core/snippet/snippets.h"

namespace pantry::store {

/// Somebody's own snippets, in the order in which they were made. A file that cannot be understood counts as none, and
/// is kept aside. Errors: TooNew, Permission, Io.
Result<std::vector<snippet::Snippet>> loadSnippets(const std::filesystem::path& path);

// Each changes one thing in the file; what others wrote there meanwhile stays. Errors: those of reading and writing.

/// Takes the place of the one with the trigger `replaces`, which may be empty.
Status saveSnippet(const std::filesystem::path& path, const snippet::Snippet& one, const std::string& replaces);
Status removeSnippet(const std::filesystem::path& path, const std::string& trigger);

}  // namespace pantry::store
