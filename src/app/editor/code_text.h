#pragma once

#include "app/editor/sql_editor.h"
#include "core/base/shared_text.h"
#include "core/sql/text/dialect.h"

namespace pantry::app {

/// SQL to read, in colours and as high as it is, up to a height; it is worked out beside the window.
class CodeText : public SqlEditor {
    Q_OBJECT

public:
    /// `tallest`: in pixels at the usual text size; more is scrolled. 0: the height is the layout's business.
    explicit CodeText(int tallest, QWidget* parent = nullptr);

    void show(const base::SharedText& text, const sql::Language& language);

private:
    int tallest_;
};

}  // namespace pantry::app
