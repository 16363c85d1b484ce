#include "core/base/error.h"

namespace pantry {

std::string Error::text() const {
    std::string out = message;
    for (const std::string* part : {&detail, &hint}) {
        if (!part->empty()) out += " " + *part;
    }
    return out;
}

}  // namespace pantry
