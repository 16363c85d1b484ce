#pragma once

#include <functional>
#include <utility>

namespace pantry::app {

/// A part of a window that is made when somebody first wants it: until then it costs nothing, and the window is there
/// sooner. Qt dresses and lays out what is hidden like what is seen.
///
/// `make` makes it, `ready` is told once it is there, for what it has to know from the start.
///
/// Ownership: the widget belongs to the parent that `make` gives it, which must live as long as this.
/// Threads:   the window's thread.
template <class Widget>
class LateWidget {
public:
    explicit LateWidget(std::function<Widget*()> make, std::function<void(Widget&)> ready = {})
        : make_(std::move(make)), ready_(std::move(ready)) {}

    /// The widget; made now, if it was not.
    Widget* get() {
        if (made_ != nullptr) return made_;
        made_ = make_();
        if (ready_) ready_(*made_);
        return made_;
    }
    Widget* operator->() { return get(); }

    /// The widget as it is; nullptr while nobody wanted it.
    [[nodiscard]] Widget* made() const { return made_; }

private:
    std::function<Widget*()> make_;
    std::function<void(Widget&)> ready_;
    Widget* made_ = nullptr;
};

}  // namespace pantry::app
