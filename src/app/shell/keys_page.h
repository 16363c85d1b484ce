#pragma once

#include "app/page/page.h"

namespace pantry::app {

/// Every key and what it does, from the table of commands.
class KeysPage : public Page {
    Q_OBJECT

public:
    explicit KeysPage(QWidget* parent = nullptr);

    [[nodiscard]] QString title() const override { return tr("Keys"); }
    [[nodiscard]] QIcon icon() const override;
};

}  // namespace pantry::app
