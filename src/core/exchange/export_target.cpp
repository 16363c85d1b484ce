#include "core/exchange/export_target.h"

#include <fmt/format.h>
#include <unistd.h>

#include <cerrno>

#include "core/base/file.h"
#include "core/base/text.h"

namespace pantry::exchange {
namespace {

/// The error number, 0 when all is written.
int writeAll(int descriptor, std::string_view bytes) {
    while (!bytes.empty()) {
        const ssize_t count = ::write(descriptor, bytes.data(), bytes.size());
        if (count < 0 && errno == EINTR) continue;
        if (count < 0) return errno;
        bytes.remove_prefix(static_cast<std::size_t>(count));
    }
    return 0;
}

}  // namespace

FileTarget::~FileTarget() { (void)abandon(true); }

std::string FileTarget::abandon(bool isWorthKeeping) {
    if (!file_.isOpen()) return {};
    if (isWorthKeeping && file_.written() > 0) return file_.keepPart();
    file_.drop();
    return {};
}

Status TextTarget::write(std::string_view bytes) {
    if (text_.size() + bytes.size() > most_) {
        return Error{
            .kind = ErrorKind::InvalidInput,
            .message = fmt::format("That is more than {}, too much to hold at once.", base::readableBytes(most_)),
            .hint = "Export to a file, or choose fewer rows or columns."};
    }
    text_ += bytes;
    return {};
}

Status StreamTarget::write(std::string_view bytes) {
    const int error = ::isatty(descriptor_) == 1 ? writeAll(descriptor_, base::withVisibleControls(bytes))
                                                 : writeAll(descriptor_, bytes);
    return error == 0 ? Status() : Status(base::fileError(error, "write", "standard output"));
}

}  // namespace pantry::exchange
