#include "core/base/uncaught.h"

#include <atomic>
#include <future>
#include <stdexcept>

#include "core/base/deep_stack.h"
#include "core/base/serial_worker.h"

namespace pantry::base {
namespace {

/// Gathers what is told while it lives.
class Heard {
public:
    Heard() {
        onUncaught([this](const Error& error) { texts.push_back(error.text()); });
    }
    ~Heard() { onUncaught({}); }
    std::vector<std::string> texts;
};

TEST(UncaughtTest, AWorkerOutlivesATaskThatThrows) {
    Heard heard;
    std::promise<int> done;
    {
        SerialWorker worker;
        worker.post([] { throw std::runtime_error("the jar broke"); });
        worker.post([] { throw 7; });
        worker.post([&] { done.set_value(42); });
        EXPECT_EQ(done.get_future().get(), 42);
    }
    ASSERT_EQ(heard.texts.size(), 2U);
    EXPECT_THAT(heard.texts[0], testing::HasSubstr("the jar broke"));
}

TEST(UncaughtTest, AnExceptionOfADeepStackReachesWhoWaitsForIt) {
    EXPECT_THROW(onDeepStack([] { throw std::runtime_error("too deep"); }), std::runtime_error);
}

TEST(UncaughtTest, AHandlerThatThrowsBringsNothingDown) {
    onUncaught([](const Error&) { throw std::runtime_error("again"); });
    EXPECT_FALSE(guarded("something was tried", [] { throw std::bad_alloc(); }));
    onUncaught({});
    EXPECT_TRUE(guarded("something was tried", [] {}));
}

}  // namespace
}  // namespace pantry::base
