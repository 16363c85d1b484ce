#pragma once

#include <string>
#include <string_view>
#include <vector>

#include "core/db/profile.h"

namespace pantry::db {

/// Turns the parameters that engines define for their addresses (sslmode, connect_timeout, currentSchema, …) into what
/// a profile has for the same, so that an address that works can be saved. Parameters that say how another client goes
/// about things, and mean nothing here, are taken away; their names are returned, to be told. What nobody knows stays
/// in the options, where saving finds it.
///
/// Sources: PostgreSQL manual 34.1.2; MariaDB Connector/C, "mysql_optionsv"; the engines' JDBC drivers, for addresses
/// that begin with jdbc:; SQLite, "Uniform Resource Identifiers".
std::vector<std::string> takeAddressParameters(ConnectionProfile& profile);

}  // namespace pantry::db
