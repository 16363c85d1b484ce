#pragma once

#include <future>
#include <thread>

namespace pantry::app {

/// Has the list of the machine's fonts read on a thread of its own while the rest of the start goes on: it takes as
/// long as half of an empty window. Made before the application; told when that is there, since Qt's part of the list
/// needs it. Whoever needs a font before it is read waits within Qt, which guards its list by a lock.
class EarlyFonts {
public:
    EarlyFonts();
    ~EarlyFonts();
    EarlyFonts(const EarlyFonts&) = delete;
    EarlyFonts& operator=(const EarlyFonts&) = delete;

    /// To be told once, from the thread that made the application.
    void noteApplication();

private:
    void finish();

    std::promise<bool> isApplicationThere_;
    bool isTold_ = false;
    std::thread reader_;
};

}  // namespace pantry::app
