#include "core/shelf/git_handle.h"

#include <fmt/format.h>

#include "core/base/late_library.h"

namespace pantry::shelf {

Status beginGit() {
    if (Status there = base::loadLibrary(LATE_GIT2); !there) return there;
    static const int began = git_libgit2_init();
    (void)began;
    return {};
}

std::string idText(const git_oid& id) {
    std::string text(GIT_OID_HEXSZ, '0');
    git_oid_fmt(text.data(), &id);
    return text;
}

Error gitError(int code, std::string_view doing) {
    const git_error* last = git_error_last();
    const std::string said = last != nullptr && last->message != nullptr ? last->message : "no reason was given";
    Error error{.kind = ErrorKind::Io, .message = fmt::format("Could not {}: {}.", doing, said)};
    const int of = last != nullptr ? last->klass : GIT_ERROR_NONE;
    if (code == GIT_ELOCKED) {
        error.kind = ErrorKind::Busy;
        error.hint =
            "Another git program is at work there, or one was ended in the middle; then remove the file that "
            "ends in .lock.";
    } else if (code == GIT_EOWNER) {
        error.kind = ErrorKind::Permission;
        error.hint = "The folder belongs to somebody else; git config --global --add safe.directory allows it.";
    } else if (said.find("ermission denied") != std::string::npos) {
        error.kind = ErrorKind::Permission;
    } else if (of == GIT_ERROR_ODB || of == GIT_ERROR_OBJECT || of == GIT_ERROR_ZLIB || of == GIT_ERROR_TREE ||
               of == GIT_ERROR_INDEX || of == GIT_ERROR_SHA || of == GIT_ERROR_REFERENCE) {
        error.kind = ErrorKind::Damaged;
        error.hint =
            "The repository seems to be damaged; git fsck tells what is wrong. The files themselves are there.";
    } else if (code == GIT_ENOTFOUND) {
        error.kind = ErrorKind::NotFound;
    }
    return error;
}

}  // namespace pantry::shelf
