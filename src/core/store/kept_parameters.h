#pragma once

#include <map>
#include <string>
#include <vector>

namespace pantry::store {

/// What somebody typed for a parameter.
struct ParameterText {
    std::string typed;
    bool isNull = false;
    bool isEmptyText = false;  ///< nothing is typed, and that is meant
    [[nodiscard]] bool isThere() const { return isNull || isEmptyText || !typed.empty(); }
    friend bool operator==(const ParameterText&, const ParameterText&) = default;
};

/// What is kept of a parameter between starts. Never a secret.
struct KeptParameter {
    ParameterText given;
    std::vector<std::string> before;  ///< what was typed and ran, the last one first
    friend bool operator==(const KeptParameter&, const KeptParameter&) = default;
};

/// By the parameters' keys.
using KeptParameters = std::map<std::string, KeptParameter>;

}  // namespace pantry::store
