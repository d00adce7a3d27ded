#include "link/address.h"

#include <QCanBus>
#include <QRegularExpression>
#include <QSerialPortInfo>

namespace ridge::link {

namespace {
constexpr int highestUnit = 247, highestNode = 127; // Modbus application protocol; CiA 301

tl::unexpected<Error> noAddress(const QString& text)
{
    return refuse("address", "address", text.trimmed().toStdString());
}
} // namespace

Result<Address> parseAddress(const QString& text)
{
    QStringList words = text.split(QRegularExpression(QStringLiteral("[\\s,]+")), Qt::SkipEmptyParts);
    if (words.isEmpty())
        return noAddress(text);
    Address a;
    const QString kind = words.first().toLower();
    if (kind == QLatin1String("serial") || kind == QLatin1String("can")) {
        a.line = kind == QLatin1String("can") ? Line::Can : Line::Serial;
        words.removeFirst();
        if (words.isEmpty())
            return noAddress(text);
        a.name = words.takeFirst();
        if (a.line == Line::Can && a.name.contains(QLatin1String("://"))) // a bus in this machine, for tries
            a.plugin = QStringLiteral("virtualcan");
    } else {
        const QString host = words.takeFirst();
        const qsizetype colon = host.lastIndexOf(QLatin1Char(':'));
        a.name = colon < 0 ? host : host.left(colon);
        bool number = true;
        if (colon >= 0)
            a.port = host.mid(colon + 1).toInt(&number);
        if (a.name.isEmpty() || !number || a.port < 1 || a.port > 65535)
            return noAddress(text);
    }
    while (!words.isEmpty()) {
        const QString word = words.takeFirst().toLower();
        bool number = false;
        const int value = word.toInt(&number);
        if (word == QLatin1String("unit") || word == QLatin1String("node")) {
            a.unit = words.isEmpty() ? 0 : words.takeFirst().toInt(&number);
            const int most = a.line == Line::Can ? highestNode : highestUnit;
            if (a.unit < 1 || a.unit > most)
                return refuse("address-part", "address", word.toStdString(), "1 to " + std::to_string(most));
        } else if (a.line == Line::Serial && number) {
            if (value < 300 || value > 4000000)
                return refuse("address-part", "address", "baud " + std::to_string(value), "300 to 4000000");
            a.baud = value;
        } else if (a.line == Line::Serial
                   && (word == QLatin1String("even") || word == QLatin1String("odd")
                       || word == QLatin1String("none"))) {
            a.parity = word == QLatin1String("even")  ? Parity::Even
                       : word == QLatin1String("odd") ? Parity::Odd
                                                      : Parity::None;
        } else {
            return noAddress(text);
        }
    }
    return a;
}

QString addressText(const Address& a)
{
    const QString unit = a.unit == 1 ? QString() : QStringLiteral(" unit %1").arg(a.unit);
    switch (a.line) {
    case Line::Tcp: return QStringLiteral("%1:%2").arg(a.name).arg(a.port) + unit;
    case Line::Serial:
        return QStringLiteral("serial %1 %2 %3")
                   .arg(a.name)
                   .arg(a.baud)
                   .arg(a.parity == Parity::Even  ? QLatin1String("even")
                        : a.parity == Parity::Odd ? QLatin1String("odd")
                                                  : QLatin1String("none"))
               + unit;
    case Line::Can: break;
    }
    return QStringLiteral("can %1 node %2").arg(a.name).arg(a.unit);
}

QStringList serialLines()
{
    QStringList out;
    const auto ports = QSerialPortInfo::availablePorts();
    for (const QSerialPortInfo& p : ports)
        out += p.description().isEmpty() ? p.systemLocation()
                                         : QStringLiteral("%1 (%2)").arg(p.systemLocation(), p.description());
    return out;
}

QStringList canInterfaces()
{
    QStringList out;
    const auto devices = QCanBus::instance()->availableDevices(QStringLiteral("socketcan"));
    for (const QCanBusDeviceInfo& d : devices)
        out += d.name();
    return out;
}

} // namespace ridge::link
