#pragma once
#include <QPointer>
#include <QTcpServer>
#include <QTcpSocket>

/// A cable between a program and a drive that can be cut: nothing gets through any more, and neither end is told.
class Proxy : public QObject {
public:
    explicit Proxy(int drivePort)
    {
        m_server.listen(QHostAddress::LocalHost);
        connect(&m_server, &QTcpServer::newConnection, this, [this, drivePort] {
            QTcpSocket* near = m_server.nextPendingConnection();
            auto* far = new QTcpSocket(near);
            far->connectToHost(QHostAddress::LocalHost, static_cast<quint16>(drivePort));
            connect(near, &QTcpSocket::readyRead, far, [this, near, far] {
                const QByteArray data = near->readAll();
                if (!m_cut)
                    far->write(data);
            });
            connect(far, &QTcpSocket::readyRead, near, [this, near, far] {
                const QByteArray data = far->readAll();
                if (!m_cut)
                    near->write(data);
            });
        });
    }
    [[nodiscard]] int port() const { return m_server.serverPort(); }
    void cut() { m_cut = true; }

private:
    QTcpServer m_server;
    bool m_cut = false;
};
