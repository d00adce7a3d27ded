#pragma once
#include <QPointer>
#include <QTcpServer>
#include <QTcpSocket>
#include <QTimer>

/// A cable between a program and a drive that can be cut: nothing gets through any more, and neither end is told. What
/// the drive answers can be held up on the way.
class Proxy : public QObject {
public:
    explicit Proxy(int drivePort)
    {
        m_server.listen(QHostAddress::LocalHost);
        connect(&m_server, &QTcpServer::newConnection, this, [this, drivePort] {
            m_near = m_server.nextPendingConnection();
            connect(m_near, &QTcpSocket::readyRead, this, [this] {
                const QByteArray data = m_near->readAll();
                count(data);
                if (!m_cut && m_far)
                    m_far->write(data);
            });
            plugInto(drivePort);
        });
    }
    /// The far end goes into another drive; the near end is not told.
    void plugInto(int drivePort)
    {
        delete m_far;
        m_far = new QTcpSocket(m_near);
        m_far->connectToHost(QHostAddress::LocalHost, static_cast<quint16>(drivePort));
        connect(m_far, &QTcpSocket::readyRead, this, [this] {
            QTimer::singleShot(m_delay, m_far, [this, data = m_far->readAll()] { // of equal times, in their order
                if (!m_cut && m_near)
                    m_near->write(data);
            });
        });
    }
    [[nodiscard]] int port() const { return m_server.serverPort(); }
    void cut() { m_cut = true; }
    void delayAnswers(int ms) { m_delay = ms; }
    /// Requests that went over it: those that write, and those that only read.
    [[nodiscard]] int writes() const { return m_writes; }
    [[nodiscard]] int reads() const { return m_reads; }

private:
    /// By the function of each Modbus TCP frame: 3 and 4 read.
    void count(const QByteArray& data)
    {
        m_stream += data;
        while (m_stream.size() >= 8) {
            const qsizetype length = 6 + (static_cast<uchar>(m_stream[4]) << 8 | static_cast<uchar>(m_stream[5]));
            if (m_stream.size() < length)
                return;
            ++(m_stream[7] == 3 || m_stream[7] == 4 ? m_reads : m_writes);
            m_stream.remove(0, length);
        }
    }
    QTcpServer m_server;
    QPointer<QTcpSocket> m_near, m_far;
    bool m_cut = false;
    int m_delay = 0, m_writes = 0, m_reads = 0;
    QByteArray m_stream;
};
