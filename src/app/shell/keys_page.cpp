#include "app/shell/keys_page.h"

#include <QHeaderView>
#include <QTableWidget>
#include <QVBoxLayout>

#include "app/command/command.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"

namespace pantry::app {
namespace {

/// What a command does, and where when its key belongs to one part of the window.
QString wordsOf(const Command& one) {
    const QString where = placeText(one.place);
    return where.isEmpty() ? one.help : QStringLiteral("%1: %2").arg(where, one.help);
}

}  // namespace

QIcon KeysPage::icon() const { return colourDot(Theme::current().colour("juniper")); }

KeysPage::KeysPage(QWidget* parent) : Page(parent) {
    auto* table = new QTableWidget(0, 3, this);
    name(table, "keysPage", tr("Keys"));
    table->setProperty("look", "onCard");
    table->setHorizontalHeaderLabels({tr("Key"), tr("Command"), tr("What it does")});
    table->horizontalHeader()->setStretchLastSection(true);
    table->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    table->verticalHeader()->hide();
    table->setShowGrid(false);
    table->setEditTriggers(QAbstractItemView::NoEditTriggers);
    for (const Command& one : commands()) {
        const bool isOneOfMany = one.id.starts_with("card.") && !one.isOfWidget && one.id != "card.1";
        if (keyText(one.id).isEmpty() || isOneOfMany) continue;
        const int row = table->rowCount();
        table->insertRow(row);
        table->setItem(row, 0, new QTableWidgetItem(keyText(one.id)));
        table->setItem(row, 1, new QTableWidgetItem(one.menu.isEmpty() ? QString() : one.text));
        table->setItem(row, 2, new QTableWidgetItem(wordsOf(one)));
    }
    constexpr int kKeyWidth = 190;
    constexpr int kCommandWidth = 230;
    table->setColumnWidth(0, kKeyWidth);
    table->setColumnWidth(1, kCommandWidth);
    table->setSelectionBehavior(QAbstractItemView::SelectRows);
    table->horizontalHeader()->setHighlightSections(false);
    table->selectRow(0);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->addWidget(table);
    setFocusProxy(table);
}

}  // namespace pantry::app

#include "moc_keys_page.cpp"
