#include "app/pages/connections/property_fields.h"

#include <QComboBox>
#include <QLineEdit>
#include <algorithm>
#include <array>

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/look/theme.h"
#include "app/look/widgets.h"
#include "app/pages/connections/explained_field.h"
#include "core/db/driver_properties.h"

namespace pantry::app {
namespace {

/// Those that the form shows elsewhere.
bool hasFieldOfItsOwn(std::string_view name) {
    constexpr auto kNames = std::to_array<std::string_view>({"tls", "tls-ca", "guard"});
    return std::ranges::find(kNames, name) != kNames.end();
}

QString valueOf(const QWidget* input) {
    if (const auto* choice = qobject_cast<const QComboBox*>(input)) return choice->currentData().toString();
    return qobject_cast<const QLineEdit*>(input)->text().trimmed();
}

}  // namespace

PropertyFields::PropertyFields(QWidget* parent)
    : QWidget(parent),
      heading_(makeButton(tr("Driver properties"), "link", objectName::kFormProperties, tr("Driver properties"), this)),
      body_(new QWidget(this)),
      rows_(new QVBoxLayout(body_)) {
    setObjectName(QStringLiteral("plainBox"));
    body_->setObjectName(QStringLiteral("plainBox"));
    rows_->setContentsMargins(0, 0, 0, 0);
    rows_->setSpacing(8);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(6);
    layout->addWidget(heading_, 0, Qt::AlignLeft);
    layout->addWidget(body_);
    connect(heading_, &QPushButton::clicked, this, [this] { setOpen(body_->isHidden()); });
    setOpen(false);
    connect(&Theme::current(), &Theme::changed, this, [this] { showFold(heading_, !body_->isHidden()); });
}

void PropertyFields::setOpen(bool isOpen) {
    body_->setVisible(isOpen);
    showFold(heading_, isOpen);
}

void PropertyFields::show(const db::ConnectionProfile& profile, const KeptSecret& kept) {
    clearLayout(rows_);
    inputs_.clear();
    secrets_.clear();
    for (const db::DriverProperty& property : db::driverProperties(profile.engine)) {
        if (hasFieldOfItsOwn(property.name)) continue;
        const auto found = profile.options.find(std::string(property.name));
        const QString value = found == profile.options.end() ? QString() : toQt(found->second);
        auto* input = new QLineEdit(value);
        input->setProperty("look", "code");
        input->setPlaceholderText(property.fallback.empty() ? tr("none") : toQt(property.fallback));
        name(input, "formProperty", toQt(property.name));
        connect(input, &QLineEdit::textChanged, this, &PropertyFields::changed);
        rows_->addWidget(new ExplainedField(toQt(property.name), toQt(property.explanation), input));
        if (property.isSecret) {
            input->setEchoMode(QLineEdit::Password);
            input->setText(toQt(kept(property.name).value_or("")));
            secrets_[std::string(property.name)] = input;
        } else {
            inputs_[std::string(property.name)] = input;
        }
    }
    setVisible(!inputs_.empty());
}

std::map<std::string, std::string> PropertyFields::secrets() const {
    std::map<std::string, std::string> values;
    for (const auto& [property, input] : secrets_) values[property] = fromQt(input->text());
    return values;
}

void PropertyFields::applyTo(db::ConnectionProfile& profile) const {
    for (const auto& [property, input] : inputs_) {
        const std::string value = fromQt(valueOf(input));
        if (value.empty()) {
            profile.options.erase(property);
        } else {
            profile.options[property] = value;
        }
    }
}

}  // namespace pantry::app

#include "moc_property_fields.cpp"
