// The program's end of the link: a peer that answers each request with whatever the input says. Nothing crashes,
// nothing waits for ever, every run says once that it is over.
#include "link/runs.h"

#include <QCoreApplication>
#include <QEventLoop>
#include <QTcpServer>
#include <QTcpSocket>
#include <QTimer>

#include <cstdint>
#include <cstdlib>

using namespace ridge;

namespace {

/// Answers Modbus TCP requests from the bytes of one input; out of bytes, it answers properly with zeros.
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
        const int count = function == 3 ? static_cast<std::uint8_t>(request[11]) : 0;
        const std::uint8_t how = next();
        QByteArray pdu;
        if (how % 8 == 1) { // refused
            pdu += static_cast<char>(function | 0x80);
            pdu += static_cast<char>(next());
        } else if (how % 8 == 2) { // anything
            for (int k = how / 8; k >= 0; --k)
                pdu += static_cast<char>(next());
        } else if (function == 3) {
            const int registers = how % 8 == 3 ? how / 8 : count; // also too short or too long
            pdu += static_cast<char>(function);
            pdu += static_cast<char>(registers * 2);
            for (int k = 0; k < registers * 2; ++k)
                pdu += static_cast<char>(next());
        } else {
            pdu = request.mid(7, 5);
        }
        if (how % 8 == 4) // and nothing at all
            return;
        QByteArray frame = request.left(4);
        frame += static_cast<char>((pdu.size() + 1) >> 8);
        frame += static_cast<char>((pdu.size() + 1) & 0xFF);
        frame += request.mid(6, 1) + pdu;
        socket.write(frame);
        if (how == 0xFF)
            socket.disconnectFromHost();
    }

    const std::uint8_t* m_data;
    std::size_t m_size, m_at = 0;
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
        for (int k = 0; k < 8 && !session.identified(); ++k)
            runFor(2);
        const auto over = [&told](const auto&) { ++told; };
        ++asked;
        runs.jog({.speed = 1000, .torqueLimit = 500}, over);
        ++asked;
        session.readHistory(over);
        ++asked;
        session.readAll(over);
        runFor(8);
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
