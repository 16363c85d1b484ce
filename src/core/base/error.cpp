#include "core/base/error.h"

namespace pantry {

std::string Error::text() const { return hint.empty() ? message : message + " " + hint; }

}  // namespace pantry
