// The drive's end of the link: protocol data units of any function and any length. Each gets an answer, and none a
// longer one than the protocol allows.
#include "server.h"

#include <QCoreApplication>

#include <cstdint>
#include <cstdlib>

using namespace ridge;

namespace {
class Open : public sim::Server {
public:
    using sim::Server::processRequest;
    using sim::Server::Server;
};
constexpr qsizetype longest = 253; // of a PDU, by the Modbus application protocol
} // namespace

extern "C" int LLVMFuzzerInitialize(int* argc, char*** argv)
{
    static QCoreApplication application(*argc, *argv);
    return 0;
}

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    sim::Truth truth;
    truth.plant.inertia = 1e-4;
    sim::Device device(truth);
    Open server(device, [&device](std::int64_t ticks) { device.advance(ticks); });
    std::size_t at = 0;
    for (int frames = 0; at + 2 <= size && frames < 200; ++frames) {
        const std::size_t length = std::min<std::size_t>(data[at], size - at - 2);
        const auto function = static_cast<QModbusPdu::FunctionCode>(data[at + 1]);
        const QByteArray body(reinterpret_cast<const char*>(data + at + 2), static_cast<qsizetype>(length));
        at += 2 + length;
        const QModbusResponse answer = server.processRequest(QModbusRequest(function, body));
        if (answer.size() > longest)
            std::abort();
        device.advance(16);
    }
    return 0;
}
