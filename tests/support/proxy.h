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

private:
    QTcpServer m_server;
    QPointer<QTcpSocket> m_near, m_far;
    bool m_cut = false;
    int m_delay = 0;
};
