#include "sentence.h"

#include <QCoreApplication>

namespace ridge::app {

namespace {
UnitSystem system_ = UnitSystem::Metric;
}

UnitSystem unitSystem() { return system_; }
void setUnitSystem(UnitSystem system) { system_ = system; }

QString said(std::string_view text)
{
    const QByteArray raw(text.data(), static_cast<qsizetype>(text.size()));
    return QCoreApplication::translate("core", raw.constData());
}

QString sentence(const Message& message)
{
    return QString::fromStdString(
        plain(message, {system_, [](std::string_view text) { return said(text).toStdString(); }}));
}

} // namespace ridge::app
