#include "app/pages/connections/template_choice.h"

#include <QVBoxLayout>
#include <algorithm>

#include "app/base/object_names.h"
#include "app/base/text.h"
#include "app/look/widgets.h"
#include "app/pages/connections/explained_field.h"

namespace pantry::app {
namespace {

/// The fields that a template can give, in words.
std::vector<std::pair<std::string, QString>> fieldWords() {
    return {{"engine", TemplateChoice::tr("engine")},
            {"host", TemplateChoice::tr("host")},
            {"port", TemplateChoice::tr("port")},
            {"database", TemplateChoice::tr("database")},
            {"user", TemplateChoice::tr("user")},
            {"password", TemplateChoice::tr("where the password comes from")},
            {"environment", TemplateChoice::tr("environment")},
            {"colour", TemplateChoice::tr("colour")},
            {"onConnect", TemplateChoice::tr("statements on connecting")},
            {"readOnly", TemplateChoice::tr("read-only")},
            {"options", TemplateChoice::tr("encryption and properties")}};
}

}  // namespace

TemplateChoice::TemplateChoice(Desk& desk, QWidget* parent)
    : QWidget(parent), desk_(desk), templates_(new QComboBox), inherited_(makeLabel({}, "small")) {
    setObjectName(QStringLiteral("plainBox"));
    name(templates_, objectName::kFormTemplate, tr("Template that it is based on"));
    inherited_->setWordWrap(true);
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    layout->setSpacing(3);
    layout->addWidget(new ExplainedField(
        tr("Based on"), tr("What is the same as in the template is left to it, and follows its changes."), templates_));
    layout->addWidget(inherited_);
    connect(templates_, &QComboBox::activated, this, &TemplateChoice::taken);
}

void TemplateChoice::show(const db::ConnectionProfile& profile) {
    templates_->clear();
    templates_->addItem(tr("nothing"), QString());
    for (const auto& p : desk_.connections().list().profiles) {
        if (p.isTemplate && p.id != profile.id) templates_->addItem(toQt(p.name), toQt(p.id));
    }
    templates_->setCurrentIndex(std::max(0, templates_->findData(toQt(profile.templateId))));
    setVisible(templates_->count() > 1 && !profile.isTemplate);
}

const db::ConnectionProfile* TemplateChoice::chosen() const {
    const std::string id = fromQt(templates_->currentData().toString());
    const auto& all = desk_.connections().list().profiles;
    const auto found = std::ranges::find(all, id, &db::ConnectionProfile::id);
    return id.empty() || found == all.end() ? nullptr : &*found;
}

void TemplateChoice::showInherited(const std::set<std::string>& fields) {
    inherited_->setVisible(chosen() != nullptr);
    QStringList names;
    for (const auto& [field, label] : fieldWords()) {
        if (fields.contains(field)) names += label;
    }
    inherited_->setText(names.isEmpty() ? tr("Nothing is left to the template.")
                                        : tr("From the template: %1").arg(names.join(QStringLiteral(", "))));
}

}  // namespace pantry::app

#include "moc_template_choice.cpp"
