#pragma once
#include "core/working/result.h"

#include <QString>
#include <QStringList>

#include <string_view>

namespace ridge::link {

enum class Line { Tcp, Serial, Can };
enum class Parity { None, Even, Odd };

/// Where a drive is: on the network, on a serial line, on a CAN bus.
struct Address {
    Line line = Line::Tcp;
    QString name;     ///< host, serial device, or CAN interface
    int port = 502;   ///< of TCP
    int baud = 19200; ///< of a serial line
    Parity parity = Parity::Even;
    int unit = 1;                                 ///< unit of Modbus, node of CANopen
    QString plugin = QStringLiteral("socketcan"); ///< of the CAN interface
    bool operator==(const Address&) const = default;
};

/// As a person types it: "192.168.1.20:502", "192.168.1.20:502 unit 3", "serial /dev/ttyUSB0 19200 even unit 2",
/// "can can0 node 5". What is left out is the usual. @error address (what was read), address-part
[[nodiscard]] Result<Address> parseAddress(const QString& text);
[[nodiscard]] QString addressText(const Address& address);
/// Serial lines of this machine, by name, with what the system says of the adapter.
[[nodiscard]] QStringList serialLines();
/// CAN interfaces of this machine.
[[nodiscard]] QStringList canInterfaces();

} // namespace ridge::link
