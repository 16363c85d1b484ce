#pragma once

#include "core/store/ledger_database.h"

namespace pantry::store {

struct Ledger::Impl {
    LedgerDatabase file;
};

}  // namespace pantry::store
