#pragma once

#include <future>
#include <thread>

namespace pantry::app {

/// Has the list of the machine's fonts read on a thread of its own while the rest of the start goes on: it takes as
/// long as half of an empty window. Made before the application; told when that is there, since Qt's part of the list
/// needs it. Whoever measures the first letters calls awaitFonts() before: Qt would begin to read all of it once more
/// while the thread is at it; so does the end of the application, with which the list goes. There is one of it at most.
class EarlyFonts {
public:
    EarlyFonts();
    ~EarlyFonts();
    EarlyFonts(const EarlyFonts&) = delete;
    EarlyFonts& operator=(const EarlyFonts&) = delete;

    /// To be told once, from the thread that made the application.
    void noteApplication();

private:
    friend void awaitFonts();
    void finish();

    static EarlyFonts* current;

    std::promise<bool> isApplicationThere_;
    bool isTold_ = false;
    std::thread reader_;
};

/// Returns when the list is read, at once where nobody reads it early. From the window's thread.
void awaitFonts();

}  // namespace pantry::app
