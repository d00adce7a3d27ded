#include "bench.h"

#include "app/theme/sentence.h"
#include "core/objects/faults.h"
#include "core/stations/planfacts.h"
#include "store/machinejson.h"

#include <QCoreApplication>
#include <QDateTime>
#include <QEventLoop>
#include <QFile>
#include <QFileInfo>
#include <QTimer>

#include <limits>

namespace ridge::app {

AxisLink::AxisLink(std::string id, QObject* parent)
    : QObject(parent)
    , axis(std::move(id))
    , runs(session)
{}

AxisLink::~AxisLink()
{
    session.disconnect(this); // nobody is left to tell
    session.disconnectFrom();
    process.disconnect(this);
    process.kill();
    process.waitForFinished(1000);
}

Bench::Bench(Document& document, QObject* parent)
    : QObject(parent)
    , m_document(document)
{
    connect(&m_document, &Document::changed, this, &Bench::closeOrphans);
    auto* ages = new QTimer(this); // a state grows old without any news
    connect(ages, &QTimer::timeout, this, [this] {
        bool turned = false;
        for (auto& [axis, link] : m_links)
            turned = std::exchange(link->fresh, fresh(*link)) != link->fresh || turned;
        if (turned)
            Q_EMIT changed();
    });
    ages->start(500);
}

bool Bench::fresh(const AxisLink& link)
{
    return link.session.identified() && link.session.age() >= 0
           && static_cast<double>(link.session.age()) * 1e-3 <= stateGoesOld;
}

Bench::~Bench()
{
    for (auto& [axis, link] : m_links)
        link->session.disconnect(this);
}

AxisLink& Bench::here()
{
    static const std::string nobody;
    return linkOf(m_document.hasAxis() ? m_document.axis().id : nobody);
}

AxisLink& Bench::linkOf(const std::string& axis)
{
    auto& link = m_links[axis];
    if (link)
        return *link;
    link = std::make_unique<AxisLink>(axis, nullptr);
    AxisLink& l = *link;
    connect(&l.process, &QProcess::readyReadStandardOutput, this, [this, &l] { readPort(l); });
    connect(&l.process, &QProcess::errorOccurred, this, [this, &l](QProcess::ProcessError error) {
        if (error != QProcess::FailedToStart)
            return;
        l.last = tr("The simulated drive cannot be started: %1").arg(l.process.program());
        Q_EMIT changed();
    });
    connect(&l.session, &link::Session::connectionChanged, this, [this, &l] { connectionChanged(l); });
    connect(&l.session, &link::Session::snapshotChanged, this, [this, &l] {
        noteFault(l);
        Q_EMIT changed();
    });
    connect(&l.session, &link::Session::lost, this, [this, &l](const QString& why) {
        l.last = why;
        if (std::exchange(l.known, false)) // a drive that never said who it is leaves nothing unknown
            l.lostAt = QDateTime::currentDateTime().toString(QStringLiteral("HH:mm:ss"));
        FactSource s;
        s.axis = l.axis;
        m_document.append(s, NoteMade{why.toStdString()});
        Q_EMIT changed();
    });
    return l;
}

void Bench::connectionChanged(AxisLink& l)
{
    if (l.session.identified()) {
        l.lostAt.clear();
        l.last.clear();
        l.known = true;
        l.valuesKnown = false;
        m_document.setConnected(l.axis, l.session.identity());
    } else if (!l.session.connected()) {
        l.valuesKnown = false;
        l.noted = 0;
        m_document.setConnected(l.axis, {});
    }
    Q_EMIT changed();
}

/// A fault is named and kept, with the drive's own history, before anything can reset it.
void Bench::noteFault(AxisLink& l)
{
    const std::uint16_t error = l.session.snapshot().error;
    if (error == l.noted || !l.session.identified())
        return;
    l.noted = error;
    if (error == 0)
        return;
    FactSource s;
    s.axis = l.axis;
    s.identity = l.session.identity();
    s.origin = s.identity.simulated ? Origin::Simulated : Origin::Measured;
    l.session.readHistory([this, s, error](const Result<std::vector<link::ErrorEntry>>& history) {
        QStringList lines;
        if (history)
            for (const auto& e : *history)
                lines += QStringLiteral("%1 @ %2 s, position %3, current %4 ‰")
                             .arg(e.code, 4, 16, QLatin1Char('0'))
                             .arg(e.second)
                             .arg(e.position)
                             .arg(e.current);
        m_document.append(
            s, FaultSeen{error, std::string(faultWords(error).words), lines.join(QStringLiteral("; ")).toStdString()});
    });
}

bool Bench::running() const
{
    return std::ranges::any_of(m_links, [](const auto& item) { return item.second->runs.running(); });
}

bool Bench::connected(const std::string& axis) const
{
    const auto it = m_links.find(axis);
    return it != m_links.end() && it->second->session.connected();
}

void Bench::readPort(AxisLink& l)
{
    while (l.process.canReadLine()) {
        const QString line = QString::fromUtf8(l.process.readLine()).trimmed();
        if (!line.startsWith(QLatin1String("port ")))
            continue;
        l.session.setLookingOn(false);
        l.session.setMap(ObjectDictionary::shipped());
        l.session.connectTo(QStringLiteral("127.0.0.1"), line.section(QLatin1Char(' '), 1, 1).toInt());
    }
}

void Bench::startSimulated()
{
    if (!m_document.hasAxis())
        return;
    stopSimulated();
    AxisLink& l = here();
    l.lostAt.clear();
    l.known = false;
    QFile file(l.folder.filePath(QStringLiteral("machine.json")));
    const std::string machine = store::writeMachine(m_document.machine());
    if (!file.open(QIODevice::WriteOnly)
        || file.write(machine.data(), static_cast<qint64>(machine.size())) != static_cast<qint64>(machine.size())) {
        l.last = tr("The simulated drive cannot be started: no room for its file.");
        Q_EMIT changed();
        return;
    }
    file.close();
    const QString program =
        QFileInfo(QCoreApplication::applicationDirPath() + QStringLiteral("/vortex-ridge-drive")).absoluteFilePath();
    // another drive each time: what was practised on the one before is not on this one
    const qint64 serial = QDateTime::currentMSecsSinceEpoch() / 10 % 2000000000;
    l.process.start(program, {file.fileName(), QStringLiteral("--axis"), QString::fromStdString(l.axis),
                              QStringLiteral("--serial"), QString::number(serial)});
    l.last = tr("starting the simulated drive");
    Q_EMIT changed();
}

QString Bench::connectTo(const QString& text, bool lookOn)
{
    const auto address = link::parseAddress(text);
    if (!address)
        return QString::fromStdString(messageFor(address.error()));
    if (!m_document.hasAxis())
        return tr("Choose an axis first.");
    const std::string& own = m_document.axis().link.map;
    const auto map = own.empty() ? Result<ObjectDictionary>(ObjectDictionary::shipped()) : ObjectDictionary::parse(own);
    if (!map)
        return tr("The register map of this axis cannot be read: %1").arg(QString::fromStdString(map.error().actual));
    stopSimulated();
    here().session.setMap(*map);
    here().last = tr("connecting to %1").arg(text.trimmed());
    here().lostAt.clear();
    here().known = false;
    here().session.setLookingOn(lookOn);
    here().session.connectTo(*address);
    Q_EMIT changed();
    return {};
}

void Bench::disconnectHere()
{
    here().last = tr("disconnected");
    here().lostAt.clear();
    here().known = false;
    stopSimulated();
}

void Bench::stopSimulated()
{
    AxisLink& l = here();
    l.session.disconnectFrom();
    if (l.process.state() == QProcess::NotRunning)
        return;
    l.process.kill();
    l.process.waitForFinished(1000);
}

void Bench::stopAll()
{
    for (auto& [axis, link] : m_links)
        if (link->session.connected())
            link->runs.stopNow();
}

void Bench::lastWords()
{
    for (auto& [axis, link] : m_links)
        if (link->runs.running() || link->runs.torqueUnasked())
            link->session.lastWord();
}

void Bench::leave(int wait_ms)
{
    if (running()) {
        stopAll();
        QEventLoop loop;
        QTimer poll, limit;
        limit.setSingleShot(true);
        connect(&poll, &QTimer::timeout, &loop, [&] {
            if (!running())
                loop.quit();
        });
        connect(&limit, &QTimer::timeout, &loop, &QEventLoop::quit);
        poll.start(20);
        limit.start(wait_ms);
        loop.exec(QEventLoop::ExcludeUserInputEvents);
    }
    close();
}

void Bench::closeOrphans()
{
    bool again = false;
    for (auto& [axis, link] : m_links) {
        if (!link->session.connected() || m_document.machine().axis(axis))
            continue;
        if (link->runs.running()) { // to rest first, proved by the drive
            link->runs.stopNow();
            again = true;
            continue;
        }
        link->session.disconnectFrom();
        link->process.kill();
    }
    if (again)
        QTimer::singleShot(100, this, &Bench::closeOrphans);
}

void Bench::close()
{
    // nobody is told by a link that goes: what it said would ask for a new one
    auto links = std::exchange(m_links, {});
    for (auto& [axis, link] : links) {
        link->session.disconnect(this);
        link->process.disconnect(this);
    }
    links.clear();
    Q_EMIT left();
    Q_EMIT changed();
}

QString Bench::words()
{
    AxisLink& l = here();
    if (!l.session.connected())
        return !l.lostAt.isEmpty() ? tr("not known since %1: %2").arg(l.lostAt, l.last)
               : l.last.isEmpty()  ? tr("no drive connected")
                                   : l.last;
    if (!l.session.identified())
        return tr("connected, asking who it is");
    const DriveIdentity& id = l.session.identity();
    const link::Snapshot& now = l.session.snapshot();
    const qint64 age = l.session.age();
    if (l.runs.torqueUnasked()) // before everything else, and not cut off
        return tr("■ TORQUE IS ON, not from here · %1")
            .arg(id.simulated ? tr("SIMULATED drive") : QString::fromStdString(id.serial));
    const QString state = fresh(l)  ? said(driveStateWords(now.state))
                          : age < 0 ? tr("it has not said its state yet")
                                    : tr("its state not known for %1 s").arg(age / 1000);
    QString old;
    if (l.session.snapshot().innerProgram)
        old += tr(" · a program runs in the drive");
    if (l.session.snapshot().warnings != 0)
        old += tr(" · warnings %1").arg(l.session.snapshot().warnings, 8, 16, QLatin1Char('0'));
    if (now.oneMoment) // last: what is cut in a narrow window
        old += tr(" · %1 (%2)").arg(said(driveModeWords(now.mode))).arg(now.mode);
    if (id.simulated)
        return tr("SIMULATED drive · %1%2").arg(state, old);
    return tr("%1 %2 · %3%4").arg(QString::fromStdString(id.type), QString::fromStdString(id.serial), state, old);
}

link::Scale Bench::scale() const
{
    const Axis& a = m_document.axis();
    return {std::max(1.0, countsOfTurn(a)), unitsPerTravel(a)};
}

std::string Bench::whose()
{
    return m_document.axis().id + " " + session().identity().serial + " " + std::to_string(session().connections());
}

FactSource Bench::source()
{
    FactSource s = m_document.typedSource();
    s.identity = session().identity();
    s.origin = s.identity.simulated ? Origin::Simulated : Origin::Measured;
    return s;
}

LinkState Bench::linkState()
{
    AxisLink& l = here();
    LinkState s;
    s.connected = l.session.connected();
    s.identified = l.session.identified();
    s.remote = l.session.remote();
    s.watchdog = l.session.hasWatchdog();
    s.enablingDevice = l.runs.enablingDevice();
    s.present = l.runs.present();
    s.restarts = l.session.restarts();
    s.valuesKnown = l.valuesKnown;
    s.torqueUnasked = l.runs.torqueUnasked();
    s.stateAge =
        l.session.age() < 0 ? std::numeric_limits<double>::infinity() : static_cast<double>(l.session.age()) * 1e-3;
    s.error = l.session.snapshot().error;
    s.owner = l.session.owner().value_or(0);
    s.innerProgram = l.session.snapshot().innerProgram;
    if (const auto& in = l.session.logOn()) {
        s.level = in->level;
        s.defaultPassword = in->defaultPassword;
    }
    s.identity = l.session.identity();
    s.bound = boundDrive(m_document.facts(), l.axis);
    return s;
}

QString Bench::refusal(Act act)
{
    if (!m_document.hasAxis())
        return tr("Choose an axis first.");
    return sentence(ridge::refusal(act, m_document.evaluation(), m_document.evidence(), linkState()));
}

void Bench::bind(const std::string& replaces, const QString& reason)
{
    m_document.append(source(), DriveBound{replaces, reason.toStdString()});
}

void Bench::confirmPresence(bool present)
{
    runs().confirmPresence(present);
    if (present)
        m_document.append(source(), Acknowledged{"presence", "At the machine, the axis in sight, its stop in reach"});
    Q_EMIT changed();
}

void Bench::resetFault(std::function<void(const QString&)> done)
{
    if (const QString no = refusal(Act::ResetFault); !no.isEmpty()) {
        done(no);
        return;
    }
    const FactSource s = source();
    const std::uint16_t code = session().snapshot().error;
    runs().resetFault([this, s, code, done = std::move(done)](const Result<void>& r) {
        if (r)
            m_document.append(s, FaultReset{code});
        done(r ? tr("The fault is reset. Nothing moves until a person enables again.")
               : QString::fromStdString(messageFor(r.error())));
    });
}

} // namespace ridge::app
