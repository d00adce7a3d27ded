#pragma once
#include <QPointer>
#include <QRandomGenerator>
#include <QTcpServer>
#include <QTcpSocket>
#include <QTimer>

#include <map>
#include <set>

/// A wire between the program and a drive that knows Modbus TCP and spoils what goes over it, frame by frame: refuses,
/// drops, delays, cuts short, or answers nonsense. The drive itself is never asked to misbehave.
class FaultyWire : public QObject {
public:
    enum class Fault {
        None,
        RefuseControl, ///< every write of the control word is answered with an exception
        RefuseWrites,  ///< every write
        RefuseReads,   ///< every read
        Cut,           ///< nothing gets through, neither end is told
        Deaf,          ///< requests arrive, answers do not
        Mute,          ///< answers would arrive, requests do not
        Slow,          ///< answers come a quarter of a second late
        Half,          ///< every second answer is lost
        Short,         ///< read answers lack their last byte, with a length that agrees
        OneRegister,   ///< read answers hold one register, whatever was asked
        Nonsense,      ///< the values in read answers are random
        Closed,        ///< the connection is closed, and again on every attempt
    };

    FaultyWire(int drivePort, int controlWord)
        : m_drivePort(drivePort)
        , m_control(controlWord)
    {
        m_server.listen(QHostAddress::LocalHost);
        connect(&m_server, &QTcpServer::newConnection, this, [this] { accept(); });
    }
    [[nodiscard]] int port() const { return m_server.serverPort(); }
    void spoil(Fault fault)
    {
        m_fault = fault;
        if (fault == Fault::Closed && m_near) {
            ++m_spoiled;
            m_near->disconnectFromHost();
        }
    }
    void delayAnswers(int ms) { m_delay = ms; }
    /// From now on the far end is a drive that sends low word first: the two registers from each of these, both ways.
    void swapHalves(std::set<int> firstRegisters) { m_halves = std::move(firstRegisters); }
    [[nodiscard]] int spoiled() const { return m_spoiled; } ///< frames that did not go through as they came

private:
    void accept()
    {
        m_near = m_server.nextPendingConnection();
        if (m_fault == Fault::Closed) {
            ++m_spoiled;
            m_near->disconnectFromHost();
            return;
        }
        m_fromNear.clear();
        m_fromFar.clear();
        m_far = new QTcpSocket(m_near);
        m_far->connectToHost(QHostAddress::LocalHost, static_cast<quint16>(m_drivePort));
        connect(m_near, &QTcpSocket::readyRead, this, [this] {
            m_fromNear += m_near->readAll();
            for (QByteArray frame = whole(m_fromNear); !frame.isEmpty(); frame = whole(m_fromNear))
                request(frame);
        });
        connect(m_far, &QTcpSocket::readyRead, this, [this] {
            m_fromFar += m_far->readAll();
            for (QByteArray frame = whole(m_fromFar); !frame.isEmpty(); frame = whole(m_fromFar))
                answer(frame);
        });
    }
    /// The first complete frame of a stream, taken out of it; empty: more has to come.
    static QByteArray whole(QByteArray& stream)
    {
        if (stream.size() < 7)
            return {};
        const qsizetype size = 6 + word(stream, 4);
        if (stream.size() < size)
            return {};
        const QByteArray frame = stream.left(size);
        stream.remove(0, size);
        return frame;
    }
    static int word(const QByteArray& frame, qsizetype at)
    {
        return static_cast<quint8>(frame[at]) << 8 | static_cast<quint8>(frame[at + 1]);
    }
    static bool isWrite(quint8 function) { return function == 6 || function == 16; }

    /// @param payload  place of the value of register `first` in the frame
    void swapped(QByteArray& frame, int first, qsizetype payload) const
    {
        for (qsizetype at = payload; at + 3 < frame.size(); at += 2)
            if (m_halves.contains(first + static_cast<int>((at - payload) / 2))) {
                std::swap(frame[at], frame[at + 2]);
                std::swap(frame[at + 1], frame[at + 3]);
                at += 2;
            }
    }

    void request(QByteArray frame)
    {
        if (frame.size() < 10)
            return;
        const auto function = static_cast<quint8>(frame[7]);
        const int first = word(frame, 8), count = function == 16 || function == 3 ? word(frame, 10) : 1;
        const bool control = isWrite(function) && first <= m_control && m_control < first + count;
        const bool refused = (m_fault == Fault::RefuseControl && control)
                             || (m_fault == Fault::RefuseWrites && isWrite(function))
                             || (m_fault == Fault::RefuseReads && !isWrite(function));
        if (refused) {
            ++m_spoiled;
            QByteArray no = frame.left(4) + QByteArray("\0\3", 2) + frame.mid(6, 1);
            no += static_cast<char>(function | 0x80);
            no += '\4'; // device failure
            toNear(no);
            return;
        }
        if (m_fault == Fault::Cut || m_fault == Fault::Mute || !m_far) {
            ++m_spoiled;
            return;
        }
        if (function == 16)
            swapped(frame, first, 13);
        m_asked[word(frame, 0)] = first;
        m_far->write(frame);
    }

    void answer(QByteArray frame)
    {
        const auto function = frame.size() > 8 ? static_cast<quint8>(frame[7]) : quint8(0);
        const bool values = function == 3 && frame.size() > 10;
        if (values)
            swapped(frame, m_asked[word(frame, 0)], 9);
        switch (m_fault) {
        case Fault::Cut:
        case Fault::Deaf: ++m_spoiled; return;
        case Fault::Half:
            if (++m_count % 2 == 0) {
                ++m_spoiled;
                return;
            }
            break;
        case Fault::Short:
            if (values) {
                frame.chop(1);
                sized(frame);
            }
            break;
        case Fault::OneRegister:
            if (values) {
                frame.truncate(11);
                frame[8] = 2;
                sized(frame);
            }
            break;
        case Fault::Nonsense:
            if (values) {
                for (qsizetype k = 9; k < frame.size(); ++k)
                    frame[k] = static_cast<char>(m_random.bounded(256));
                ++m_spoiled;
            }
            break;
        default: break;
        }
        const int late = m_fault == Fault::Slow ? 250 : m_delay;
        m_spoiled += late > 0;
        if (late == 0)
            toNear(frame);
        else
            QTimer::singleShot(late, Qt::PreciseTimer, this, [this, frame] { toNear(frame); });
    }
    void sized(QByteArray& frame)
    {
        const auto length = static_cast<quint16>(frame.size() - 6);
        frame[4] = static_cast<char>(length >> 8);
        frame[5] = static_cast<char>(length & 0xFF);
        ++m_spoiled;
    }
    void toNear(const QByteArray& frame)
    {
        if (m_near)
            m_near->write(frame);
    }

    QTcpServer m_server;
    std::set<int> m_halves;
    std::map<int, int> m_asked; ///< first register by the number of the request
    QPointer<QTcpSocket> m_near, m_far;
    QByteArray m_fromNear, m_fromFar;
    QRandomGenerator m_random{20261128};
    int m_drivePort, m_control;
    Fault m_fault = Fault::None;
    int m_delay = 0, m_count = 0, m_spoiled = 0;
};
