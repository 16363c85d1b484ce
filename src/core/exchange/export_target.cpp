#include "core/exchange/export_target.h"

#include <fmt/format.h>
#include <unistd.h>

#include <cerrno>

#include "core/base/file.h"
#include "core/base/text.h"

namespace pantry::exchange {
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
    const int error = ::isatty(descriptor_) == 1 ? base::writeAll(descriptor_, base::withVisibleControls(bytes))
                                                 : base::writeAll(descriptor_, bytes);
    return error == 0 ? Status() : Status(base::fileError(error, "write", "standard output"));
}

}  // namespace pantry::exchange
