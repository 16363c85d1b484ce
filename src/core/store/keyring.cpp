#include "core/store/keyring.h"

#include <fmt/format.h>
#include <libsecret/secret.h>

#include <chrono>
#include <memory>
#include <thread>

#include "core/base/late_library.h"
#include "core/base/mutex.h"

namespace pantry::store {
namespace {

constexpr auto kTimeout = std::chrono::seconds(5);

const SecretSchema* schema() {
    static const SecretSchema kSchema = {
        .name = "agile.pantry.Connection",
        .flags = SECRET_SCHEMA_NONE,
        .attributes = {{"connection", SECRET_SCHEMA_ATTRIBUTE_STRING}, {nullptr, SECRET_SCHEMA_ATTRIBUTE_STRING}},
    };
    return &kSchema;
}

struct Unref {
    void operator()(void* object) const { g_object_unref(object); }
};
template <class T>
using Handle = std::unique_ptr<T, Unref>;

struct FreeList {
    void operator()(GList* list) const { g_list_free_full(list, g_object_unref); }
};

/// Gives up a call of the library after a while: a service that does not answer must not hold anybody.
class Patience {
public:
    Patience() : cancellable_(g_cancellable_new()), timer_([this] { wait(); }) {}
    ~Patience() {
        {
            const base::Lock lock(mutex_);
            isDone_ = true;
            wake_.notify_all();
        }
        timer_.join();
    }
    [[nodiscard]] GCancellable* get() const { return cancellable_.get(); }

private:
    void wait() {
        base::Lock lock(mutex_);
        if (!lock.waitFor(wake_, kTimeout, [this]() REQUIRES(mutex_) { return isDone_; }))
            g_cancellable_cancel(cancellable_.get());
    }

    Handle<GCancellable> cancellable_;
    base::Mutex mutex_;
    base::Condition wake_;
    bool isDone_ GUARDED_BY(mutex_) = false;
    std::thread timer_;
};

/// The reason in words, and what to do. Takes the library's error over.
Error errorOf(GError* reason) {
    const std::unique_ptr<GError, decltype(&g_error_free)> owned(reason, g_error_free);
    if (g_error_matches(reason, G_IO_ERROR, G_IO_ERROR_CANCELLED)) {
        return {.kind = ErrorKind::Busy,
                .message = fmt::format("The keyring did not answer within {} seconds.", kTimeout.count()),
                .hint = "See whether it asks for its password in another window, or choose “asking each time”."};
    }
    if (g_error_matches(reason, SECRET_ERROR, SECRET_ERROR_IS_LOCKED)) {
        return {.kind = ErrorKind::Busy,
                .message = "The keyring is locked.",
                .hint = "Unlock it with the desktop's own program for passwords, then try again."};
    }
    return {.kind = ErrorKind::NotFound,
            .message = "There is no keyring to ask on this desktop.",
            .hint = "Start one such as gnome-keyring, or choose “asking each time” for this connection.",
            .detail = reason->message};
}

Result<Handle<SecretService>> openService(const Patience& patience) {
    GError* reason = nullptr;
    SecretService* service = secret_service_get_sync(SECRET_SERVICE_OPEN_SESSION, patience.get(), &reason);
    if (service == nullptr) return errorOf(reason);
    return Handle<SecretService>(service);
}

struct Attributes {
    explicit Attributes(const std::string& connectionId)
        : table(secret_attributes_build(schema(), "connection", connectionId.c_str(), nullptr)) {}
    ~Attributes() { g_hash_table_unref(table); }
    Attributes(const Attributes&) = delete;
    Attributes& operator=(const Attributes&) = delete;
    GHashTable* table;
};

}  // namespace

Result<std::optional<std::string>> Keyring::find(const std::string& connectionId) {
    if (Status there = base::loadLibrary(LATE_SECRET_1); !there) return there.error();
    const Patience patience;
    auto service = openService(patience);
    if (!service) return service.error();
    const Attributes attributes(connectionId);
    GError* reason = nullptr;
    // Without the wish to unlock, a locked item comes back as it is instead of opening a dialog.
    const std::unique_ptr<GList, FreeList> items(secret_service_search_sync(
        service->get(), schema(), attributes.table, SECRET_SEARCH_LOAD_SECRETS, patience.get(), &reason));
    if (reason != nullptr) return errorOf(reason);
    if (items == nullptr) return std::optional<std::string>();
    auto* item = static_cast<SecretItem*>(items->data);
    if (secret_item_get_locked(item) != FALSE) {
        return errorOf(g_error_new_literal(SECRET_ERROR, SECRET_ERROR_IS_LOCKED, "locked"));
    }
    const std::unique_ptr<SecretValue, decltype(&secret_value_unref)> value(secret_item_get_secret(item),
                                                                            [](auto v) { secret_value_unref(v); });
    if (!value) return std::optional<std::string>();
    gsize length = 0;
    const gchar* bytes = secret_value_get(value.get(), &length);
    return std::optional<std::string>(std::string(bytes, length));
}

Status Keyring::keep(const std::string& connectionId, const std::string& label, const std::string& password) {
    if (Status there = base::loadLibrary(LATE_SECRET_1); !there) return there.error();
    const Patience patience;
    auto service = openService(patience);
    if (!service) return service.error();
    // Storing into a locked keyring would open its dialog, so it is looked at first.
    GError* reason = nullptr;
    const Handle<SecretCollection> collection(secret_collection_for_alias_sync(
        service->get(), SECRET_COLLECTION_DEFAULT, SECRET_COLLECTION_NONE, patience.get(), &reason));
    if (reason != nullptr) return errorOf(reason);
    if (!collection) {
        return Error{.kind = ErrorKind::NotFound,
                     .message = "The desktop has no default keyring yet.",
                     .hint = "Make one with the desktop's own program for passwords, then save again."};
    }
    if (secret_collection_get_locked(collection.get()) != FALSE) {
        return errorOf(g_error_new_literal(SECRET_ERROR, SECRET_ERROR_IS_LOCKED, "locked"));
    }
    const bool isKept =
        secret_password_store_sync(schema(), SECRET_COLLECTION_DEFAULT, label.c_str(), password.c_str(), patience.get(),
                                   &reason, "connection", connectionId.c_str(), nullptr) != FALSE;
    return isKept ? Status() : Status(errorOf(reason));
}

Status Keyring::forget(const std::string& connectionId) {
    if (Status there = base::loadLibrary(LATE_SECRET_1); !there) return there.error();
    const Patience patience;
    GError* reason = nullptr;
    secret_password_clear_sync(schema(), patience.get(), &reason, "connection", connectionId.c_str(), nullptr);
    return reason == nullptr ? Status() : Status(errorOf(reason));
}

}  // namespace pantry::store
