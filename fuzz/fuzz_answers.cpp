// The program's end of the link: a simulated drive whose answers are spoiled as the input says. Nothing crashes,
// nothing waits for ever, every run says once that it is over.
#include "link/runs.h"

#include "device.h"

#include <QCoreApplication>
#include <QEventLoop>
#include <QTcpServer>
#include <QTcpSocket>
#include <QTimer>

#include <cstdint>
#include <cstdlib>

using namespace ridge;

namespace {

sim::Truth truth()
{
    sim::Truth t;
    t.plant.inertia = 1e-4;
    return t;
}

/// Answers Modbus TCP requests as the drive would, but where a byte of the input says otherwise.
class Peer : public QTcpServer {
public:
    Peer(const std::uint8_t* data, std::size_t size)
        : m_data(data)
        , m_size(size)
    {
        listen(QHostAddress::LocalHost);
        connect(this, &QTcpServer::newConnection, this, [this] {
            QTcpSocket* socket = nextPendingConnection();
            connect(socket, &QTcpSocket::readyRead, this, [this, socket] {
                m_stream += socket->readAll();
                while (m_stream.size() >= 12) {
                    const qsizetype length = 6 + byteAt(4) * 256 + byteAt(5);
                    if (m_stream.size() < length)
                        return;
                    answer(*socket, m_stream.left(length));
                    m_stream.remove(0, length);
                }
            });
        });
    }

private:
    [[nodiscard]] int byteAt(qsizetype k) const { return static_cast<std::uint8_t>(m_stream[k]); }
    [[nodiscard]] std::uint8_t next() { return m_at < m_size ? m_data[m_at++] : std::uint8_t(0); }

    void answer(QTcpSocket& socket, const QByteArray& request)
    {
        const auto function = static_cast<std::uint8_t>(request[7]);
        const std::uint8_t how = next();
        m_device.advance(160);
        QByteArray pdu = proper(request, function);
        if (how % 8 == 1) { // refused
            pdu = QByteArray(1, static_cast<char>(function | 0x80)) + static_cast<char>(next());
        } else if (how % 8 == 2) { // anything
            pdu.clear();
            for (int k = how / 8; k >= 0; --k)
                pdu += static_cast<char>(next());
        } else if (how % 8 == 3 && pdu.size() > 2) { // too short, with a length that agrees
            pdu.truncate(2 + how / 8 * 2 % (pdu.size() - 1));
            pdu[1] = static_cast<char>(pdu.size() - 2);
        } else if (how % 8 == 4) { // nothing at all
            return;
        } else if (how % 8 == 5) { // other values
            for (qsizetype k = 2; k < pdu.size(); ++k)
                pdu[k] = static_cast<char>(next());
        }
        QByteArray frame = request.left(4);
        frame += static_cast<char>((pdu.size() + 1) >> 8);
        frame += static_cast<char>((pdu.size() + 1) & 0xFF);
        frame += request.mid(6, 1) + pdu;
        socket.write(frame);
        if (how == 0xFF)
            socket.disconnectFromHost();
    }

    [[nodiscard]] static int word(const QByteArray& frame, qsizetype at)
    {
        return static_cast<std::uint8_t>(frame[at]) << 8 | static_cast<std::uint8_t>(frame[at + 1]);
    }
    [[nodiscard]] QByteArray proper(const QByteArray& request, std::uint8_t function)
    {
        const QByteArray no = QByteArray(1, static_cast<char>(function | 0x80)) + '\2';
        const int first = word(request, 8);
        if (function == 3) {
            const auto words = m_device.read(first, word(request, 10));
            if (!words)
                return no;
            QByteArray pdu(1, '\3');
            pdu += static_cast<char>(words->size() * 2);
            for (const std::uint16_t w : *words) {
                pdu += static_cast<char>(w >> 8);
                pdu += static_cast<char>(w & 0xFF);
            }
            return pdu;
        }
        std::vector<std::uint16_t> values;
        for (qsizetype at = function == 16 ? 13 : 10; at + 1 < request.size(); at += 2)
            values.push_back(static_cast<std::uint16_t>(word(request, at)));
        return m_device.write(first, values) == sim::Device::Refusal::None ? request.mid(7, 5) : no;
    }

    const std::uint8_t* m_data;
    std::size_t m_size, m_at = 0;
    sim::Device m_device{truth()};
    QByteArray m_stream;
};

void runFor(int ms)
{
    QEventLoop loop;
    QTimer::singleShot(ms, Qt::PreciseTimer, &loop, &QEventLoop::quit);
    loop.exec();
}

} // namespace

extern "C" int LLVMFuzzerInitialize(int* argc, char*** argv)
{
    static QCoreApplication application(*argc, *argv);
    return 0;
}

extern "C" int LLVMFuzzerTestOneInput(const std::uint8_t* data, std::size_t size)
{
    Peer peer(data, size);
    int told = 0, asked = 0;
    {
        link::Session session;
        link::Runs runs(session);
        session.connectTo(QStringLiteral("127.0.0.1"), peer.serverPort());
        for (int k = 0; k < 12 && !session.identified(); ++k)
            runFor(2);
        const auto over = [&told](const auto&) { ++told; };
        ++asked;
        runs.jog({.speed = 1000, .torqueLimit = 500}, over);
        ++asked;
        session.readHistory(over);
        ++asked;
        session.readAll(over);
        runFor(12);
        runs.release();
        ++asked;
        session.capture(
            {.channels = {{0x6064, 0}}, .samples = 60, .timeout_ms = 20}, [](const Result<void>&) {}, over);
        runFor(8);
        session.disconnectFrom(); // whoever still waits is told now
        runFor(0);
    }
    if (told != asked)
        std::abort();
    return 0;
}
