#include "core/base/late_library.h"

#include <dlfcn.h>
#include <fmt/format.h>

#include <cstdio>
#include <cstdlib>

namespace pantry::base {

Status loadLibrary(const char* soname) {
    if (dlopen(soname, RTLD_NOW | RTLD_LOCAL) != nullptr) return {};
    const char* said = dlerror();
    return Error{.kind = ErrorKind::NotFound,
                 .message = fmt::format("The library {} cannot be loaded: {}.", soname, said != nullptr ? said : "?"),
                 .hint = "Install the package that brings it."};
}

}  // namespace pantry::base

/// What the instructions of late_library.inc ask: the address of a function of a library. The loader knows which
/// libraries are there already, so that nothing is kept here; each function asks once.
extern "C" void* pantry_late_function(const char* soname, const char* function) {
    void* library = dlopen(soname, RTLD_NOW | RTLD_LOCAL);
    void* address = library != nullptr ? dlsym(library, function) : nullptr;
    if (address != nullptr) return address;
    const char* said = dlerror();
    std::fprintf(stderr, "%s\n", said != nullptr ? said : function);
    std::abort();
}
