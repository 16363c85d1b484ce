#pragma once

#include <QString>
#include <string>

#include "core/catalog/catalog.h"

namespace pantry::app {

/// An object and where it is: a connection, and one of its databases (empty: the profile's own).
struct ObjectPlace {
    QString connectionId;
    std::string database;
    catalog::ObjectName object;

    friend bool operator==(const ObjectPlace&, const ObjectPlace&) = default;
};

}  // namespace pantry::app
