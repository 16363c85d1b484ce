#pragma once

#include <optional>
#include <string>
#include <vector>

#include "core/work/application_fixture.h"
#include "core/work/document_session.h"
#include "support/demo_copy.h"

namespace pantry::work {

/// A document of the orchard, and a second place to go to.
class DocumentTest : public ApplicationTest {
protected:
    void SetUp() override {
        ApplicationTest::SetUp();
        ASSERT_TRUE(test::copyOrchard(folder_ / "orchard.db"));
        put("orchard", (folder_ / "orchard.db").string());
        put("kitchen", (folder_ / "kitchen.db").string());
        session_.emplace(needs(), RunPlace{.connection = "orchard"},
                         DocumentSession::Told{.changed = [this] { ++changed_; },
                                               .placeChanged = [this] { ++placed_; },
                                               .left = [this] { ++left_; },
                                               .remarked = [this](const auto& text) { remarks_.push_back(text); }});
    }
    [[nodiscard]] DocumentSession::Needs needs() { return {around_.owner(), connections_, catalogs_, preferences_}; }
    void put(const std::string& id, const std::string& database, db::Environment environment = db::Environment::Trial) {
        db::ConnectionProfile p;
        p.id = p.name = id;
        p.database = database;
        p.environment = environment;
        connections_.put(p);
    }

    Preferences preferences_{around_, [] {}};
    Connections connections_{around_,
                             {.changed =
                                  [this] {
                                      if (session_) session_->noteConnections();
                                  },
                              .ledElsewhere = [](const auto&) {},
                              .begun = [](const auto&) {}}};
    Catalogs catalogs_{
        around_, connections_, {[](const auto&) {}, [](const auto&) {}, [](const auto&, const auto&) {}}};
    std::optional<DocumentSession> session_;
    int changed_ = 0;
    int placed_ = 0;
    int left_ = 0;
    std::vector<std::string> remarks_;
};

}  // namespace pantry::work
