// Loaded before a program: files cannot be locked, as on some network folders.
#include <dlfcn.h>
#include <fcntl.h>

#include <cerrno>
#include <cstdarg>

namespace {

int withoutLocks(const char* name, int descriptor, int command, void* argument) {
    if (command == F_SETLK || command == F_SETLKW || command == F_OFD_SETLK || command == F_OFD_SETLKW) {
        errno = ENOLCK;
        return -1;
    }
    using Function = int (*)(int, int, ...);
    return reinterpret_cast<Function>(::dlsym(RTLD_NEXT, name))(descriptor, command, argument);
}

void* argumentOf(va_list list) { return va_arg(list, void*); }

}  // namespace

extern "C" int fcntl(int descriptor, int command, ...) {
    va_list list;
    va_start(list, command);
    void* argument = argumentOf(list);
    va_end(list);
    return withoutLocks("fcntl", descriptor, command, argument);
}

extern "C" int fcntl64(int descriptor, int command, ...) {
    va_list list;
    va_start(list, command);
    void* argument = argumentOf(list);
    va_end(list);
    return withoutLocks("fcntl64", descriptor, command, argument);
}

extern "C" int flock(int /*descriptor*/, int /*operation*/) {
    errno = ENOLCK;
    return -1;
}
