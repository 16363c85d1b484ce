#include "core/data/store/temporary_file.h"

#include <fcntl.h>
#include <unistd.h>

#include <cerrno>
#include <cstdlib>

#include "core/base/file.h"

namespace pantry::data {

Result<TemporaryFile> TemporaryFile::make(const std::filesystem::path& folder) {
    int descriptor = ::open(folder.c_str(), O_TMPFILE | O_RDWR | O_CLOEXEC, 0600);
    if (descriptor < 0 && (errno == EOPNOTSUPP || errno == EISDIR)) {  // a file system that has no such files
        std::string name = (folder / "result.XXXXXX").string();
        descriptor = ::mkostemp(name.data(), O_CLOEXEC);
        if (descriptor >= 0) ::unlink(name.c_str());
    }
    if (descriptor < 0) return base::fileError(errno, "make", (folder / "a temporary file").string());
    return TemporaryFile(descriptor);
}

TemporaryFile::~TemporaryFile() {
    if (descriptor_ >= 0) ::close(descriptor_);
}

}  // namespace pantry::data
