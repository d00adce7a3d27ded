#include "document.h"

#include "app/theme/sentence.h"

#include "planedits.h"

#include <QDateTime>
#include <QSettings>

#include <algorithm>

namespace ridge::app {

std::string now()
{
    return QDateTime::currentDateTimeUtc().toString(QStringLiteral("yyyy-MM-ddTHH:mm:ssZ")).toStdString();
}

QString localTime(const std::string& utc)
{
    const QDateTime time = QDateTime::fromString(QString::fromStdString(utc), Qt::ISODate);
    return time.isValid() ? time.toLocalTime().toString(QStringLiteral("yyyy-MM-dd HH:mm"))
                          : QString::fromStdString(utc);
}

Document::Document(QObject* parent)
    : QObject(parent)
{
    m_undo.setUndoLimit(500);
    m_flush.setSingleShot(true);
    m_flush.setInterval(150);
    connect(&m_flush, &QTimer::timeout, this, &Document::flush);
    m_retry.setInterval(3000);
    connect(&m_retry, &QTimer::timeout, this, &Document::writeWaiting);
    const QSettings settings;
    m_person = {settings.value(QStringLiteral("person/name")).toString().toStdString(),
                settings.value(QStringLiteral("person/role")).toString().toStdString()};
}

Document::~Document() { flush(); }

Result<Document::Contents> Document::read(const QString& path, const std::stop_token& stop)
{
    auto file = store::MachineFile::open(path.toStdString(), stop);
    if (!file)
        return tl::make_unexpected(file.error());
    auto machine = file->machine();
    if (!machine)
        return tl::make_unexpected(machine.error());
    auto record = file->record();
    if (!record)
        return tl::make_unexpected(record.error());
    if (stop.stop_requested())
        return refuse("cancelled");
    return Contents{std::move(*file), std::move(*machine), std::move(record->facts), record->chain.words()};
}

void Document::show(Contents contents)
{
    flush(); // into the file that was open
    m_altered = std::move(contents.altered);
    m_file = std::move(contents.file);
    m_machine = std::move(contents.machine);
    m_facts = std::move(contents.facts);
    const auto held = m_file->hold();
    m_readOnly = held ? QString() : QString::fromStdString(messageFor(held.error()));
    loaded();
}

QString Document::createAt(const QString& path, const Machine& machine)
{
    auto file = store::MachineFile::create(path.toStdString(), machine);
    if (!file)
        return QString::fromStdString(messageFor(file.error()));
    flush();
    m_file = std::move(*file);
    m_machine = machine;
    m_facts.clear();
    m_altered = {};
    m_readOnly.clear();
    loaded();
    return {};
}

void Document::showOnly(const Machine& machine, const QString& why)
{
    flush();
    m_file.reset();
    m_machine = machine;
    m_facts.clear();
    m_altered = {};
    m_readOnly = why;
    loaded();
}

void Document::loaded()
{
    m_open = true;
    m_retry.stop();
    m_unwritten.reset();
    m_unwrittenReason.clear();
    m_undo.clear();
    m_axis = 0;
    m_connected.clear();
    m_good.reset();
    forgetEvaluations();
    Q_EMIT axisSelected();
    Q_EMIT changed();
    Q_EMIT logged();
}

void Document::forgetEvaluations()
{
    m_cache.clear();
    m_current.reset();
    m_evidence.reset();
}

QString Document::path() const { return m_file ? QString::fromStdString(m_file->path()) : QString(); }

void Document::selectAxis(std::size_t index)
{
    if (index >= m_machine.axes.size() || index == m_axis)
        return;
    Q_EMIT aboutToLeave();
    m_axis = index;
    m_current.reset();
    m_evidence.reset();
    m_good.reset();
    Q_EMIT axisSelected();
    Q_EMIT changed();
}

View Document::viewOf(const std::string& axis) const
{
    View view;
    view.now = now();
    view.person = m_person;
    view.running = m_running;
    view.altered = m_altered;
    if (const auto it = m_connected.find(axis); it != m_connected.end()) {
        view.identity = it->second;
        return view;
    }
    view.identity = boundDrive(m_facts, axis);
    if (!view.identity.known()) // what was practised last can still be looked at
        for (auto it = m_facts.rbegin(); it != m_facts.rend() && !view.identity.known(); ++it)
            if (it->axis == axis && it->identity.known())
                view.identity = it->identity;
    return view;
}

const Evidence& Document::evidence()
{
    if (!m_evidence)
        m_evidence =
            hasAxis() ? Evidence(m_facts, axis().id, viewOf(axis().id), fingerprintOf(m_machine, axis())) : Evidence{};
    return *m_evidence;
}

const Evaluation& Document::evaluation()
{
    if (!m_current)
        m_current =
            hasAxis() ? evaluate(m_machine, axis(), evidence(), {.working = true, .memo = &m_memo}) : Evaluation{};
    return *m_current;
}

const Evaluation& Document::lastGood()
{
    const Evaluation& present = evaluation();
    return present.move.path || !m_good ? present : *m_good;
}

const Axis& Document::lastGoodAxis() { return stale() ? m_goodAxis : axis(); }

bool Document::stale(QString* why)
{
    const Evaluation& present = evaluation();
    if (present.move.path || !m_good)
        return false;
    if (why && !present.problems.empty())
        *why = tr("Figures of before: %1: %2")
                   .arg(said(fieldWords(axis(), present.problems.front().subject)),
                        QString::fromStdString(
                            messageFor(present.problems.front(), axis().mechanism.rotary(), unitSystem())));
    return true;
}

const Evaluation& Document::evaluationOf(std::size_t index)
{
    if (index == m_axis)
        return evaluation();
    auto it = m_cache.find(index);
    if (it == m_cache.end()) {
        const Axis& axis = m_machine.axes[index];
        it = m_cache
                 .emplace(index, evaluate(m_machine, axis,
                                          Evidence(m_facts, axis.id, viewOf(axis.id), fingerprintOf(m_machine, axis))))
                 .first;
    }
    return it->second;
}

bool Document::refusedReadOnly()
{
    if (m_readOnly.isEmpty())
        return false;
    Q_EMIT failed(m_readOnly);
    return true;
}

void Document::edit(const QString& text, const QString& mergeKey, const std::function<void(Axis&)>& change)
{
    if (!hasAxis())
        return;
    Axis after = axis();
    change(after);
    if (after == axis() || refusedReadOnly())
        return;
    m_pulling = !mergeKey.isEmpty();
    m_undo.push(new ChangeAxis(*this, m_axis, std::move(after), text, mergeKey));
    m_pulling = false;
}

void Document::editSite(const QString& text, const std::function<void(Site&)>& change)
{
    editMachine(text, [&](Machine& m) { change(m.site); });
}

void Document::editMachine(const QString& text, const std::function<void(Machine&)>& change)
{
    Machine after = m_machine;
    change(after);
    if (!(after == m_machine) && !refusedReadOnly())
        m_undo.push(new ChangeMachine(*this, std::move(after), text));
}

Fact Document::planFact(const Axis* axis, const QString& text) const
{
    Fact f;
    f.time = now();
    f.axis = axis ? axis->id : std::string{};
    f.person = m_person;
    if (axis)
        f.prints = fingerprintOf(m_machine, *axis);
    f.payload = PlanChanged{text.toStdString()};
    return f;
}

void Document::swapAxis(std::size_t index, Axis& other, const QString& text)
{
    std::swap(m_machine.axes[index], other);
    store::Change change;
    change.axes.push_back(m_machine.axes[index]);
    change.facts.push_back(planFact(&m_machine.axes[index], text));
    if (m_pulling) {
        m_waiting = std::move(change);
        m_flush.start();
    } else {
        commitPlan(std::move(change));
    }
    m_cache.erase(index);
    if (index == m_axis)
        outdate(other);
    Q_EMIT changed();
    Q_EMIT logged();
}

void Document::swapMachine(Machine& other, const QString& text)
{
    std::swap(m_machine, other); // now: the new state; other: the one before
    store::Change change;
    change.header = m_machine;
    for (const Axis& axis : m_machine.axes) {
        const auto before = std::ranges::find(other.axes, axis.id, &Axis::id);
        if (before == other.axes.end() || !(*before == axis))
            change.axes.push_back(axis);
        change.order.push_back(axis.id);
    }
    for (const Axis& axis : other.axes)
        if (std::ranges::find(m_machine.axes, axis.id, &Axis::id) == m_machine.axes.end())
            change.removed.push_back(axis.id);
    change.facts.push_back(planFact(nullptr, text));
    if (other.axes.size() == m_machine.axes.size())
        for (std::size_t k = 0; k < other.axes.size(); ++k)
            if (std::ranges::find(m_machine.axes, other.axes[k].id, &Axis::id) == m_machine.axes.end()) {
                Fact& f = change.facts.emplace_back(planFact(&m_machine.axes[k], text));
                f.payload = AxisRenumbered{other.axes[k].id, m_machine.axes[k].id};
            }
    // the site, what axes share, a version that is taken back: each axis whose plan became another one says so
    for (const Axis& axis : m_machine.axes) {
        const auto before = std::ranges::find(other.axes, axis.id, &Axis::id);
        if (before != other.axes.end() && !(fingerprintOf(other, *before) == fingerprintOf(m_machine, axis)))
            change.facts.push_back(planFact(&axis, text));
    }
    commitPlan(std::move(change));
    const std::string selected = m_axis < other.axes.size() ? other.axes[m_axis].id : std::string{};
    const auto still = std::ranges::find(m_machine.axes, selected, &Axis::id);
    const std::size_t index = still != m_machine.axes.end() ? static_cast<std::size_t>(still - m_machine.axes.begin())
                              : m_machine.axes.empty()      ? 0
                                                            : std::min(m_axis, m_machine.axes.size() - 1);
    const bool another = still == m_machine.axes.end();
    m_axis = index;
    m_cache.clear();
    if (!another && hasAxis())
        outdate(axis());
    else
        m_good.reset();
    m_current.reset();
    m_evidence.reset();
    if (another)
        Q_EMIT axisSelected();
    Q_EMIT changed();
    Q_EMIT logged();
}

void Document::outdate(const Axis& before)
{
    if (m_current && m_current->move.path) {
        m_good = std::move(m_current);
        m_goodAxis = before;
    }
    m_current.reset();
    m_evidence.reset();
}

void Document::flush()
{
    m_flush.stop();
    if (auto waiting = std::exchange(m_waiting, {}))
        commitPlan(std::move(*waiting));
    Q_EMIT logged();
}

bool Document::commit(store::Change change)
{
    if (!m_file)
        return false;
    if (m_waiting)
        flush();
    if (!writeWaiting()) { // the record keeps its order: nothing passes what waits
        Q_EMIT failed(m_unwrittenReason);
        return false;
    }
    if (const auto done = m_file->commit(change); !done) {
        Q_EMIT failed(QString::fromStdString(messageFor(done.error())));
        return false;
    }
    for (Fact& f : change.facts)
        m_facts.push_back(std::move(f));
    return true;
}

bool Document::commitPlan(store::Change change)
{
    if (!m_file)
        return false;
    if (!m_unwritten) {
        const auto done = m_file->commit(change);
        if (done) {
            for (Fact& f : change.facts)
                m_facts.push_back(std::move(f));
            return true;
        }
        m_unwrittenReason = QString::fromStdString(messageFor(done.error()));
        m_unwritten.emplace(); // the plan that is seen, and what its edits say of themselves
        m_retry.start();
        Q_EMIT failed(m_unwrittenReason);
    }
    m_unwritten->facts.insert(m_unwritten->facts.end(), std::make_move_iterator(change.facts.begin()),
                              std::make_move_iterator(change.facts.end()));
    m_unwritten->removed.insert(m_unwritten->removed.end(), change.removed.begin(), change.removed.end());
    return false;
}

void Document::dropWaiting()
{
    m_retry.stop();
    m_unwritten.reset();
    m_unwrittenReason.clear();
}

store::Change Document::everything() const
{
    store::Change whole = *m_unwritten;
    whole.header = m_machine;
    whole.axes = m_machine.axes;
    for (const Axis& axis : m_machine.axes) {
        whole.order.push_back(axis.id);
        std::erase(whole.removed, axis.id); // it is there again
    }
    return whole;
}

bool Document::writeWaiting()
{
    if (!m_unwritten || !m_file)
        return true;
    store::Change whole = everything();
    if (const auto done = m_file->commit(whole); !done) {
        m_unwrittenReason = QString::fromStdString(messageFor(done.error()));
        return false;
    }
    for (Fact& f : whole.facts)
        m_facts.push_back(std::move(f));
    m_retry.stop();
    m_unwritten.reset();
    m_unwrittenReason.clear();
    forgetEvaluations();
    Q_EMIT changed();
    Q_EMIT logged();
    return true;
}

void Document::setPerson(const Person& person)
{
    if (person == m_person)
        return;
    m_person = person;
    QSettings settings;
    settings.setValue(QStringLiteral("person/name"), QString::fromStdString(person.name));
    settings.setValue(QStringLiteral("person/role"), QString::fromStdString(person.role));
    forgetEvaluations();
    Q_EMIT changed();
}

void Document::setConnected(const std::string& axis, const std::optional<DriveIdentity>& identity)
{
    if (identity)
        m_connected[axis] = *identity;
    else
        m_connected.erase(axis);
    forgetEvaluations();
    Q_EMIT changed();
}

void Document::timePassed()
{
    m_current.reset();
    m_evidence.reset();
    Q_EMIT changed();
}

void Document::setRunning(int step)
{
    if (step == m_running)
        return;
    m_running = step;
    timePassed();
}

FactSource Document::typedSource() const
{
    FactSource s;
    if (!hasAxis())
        return s;
    s.axis = axis().id;
    s.identity = viewOf(s.axis).identity;
    s.prints = fingerprintOf(m_machine, axis());
    return s;
}

bool Document::append(const FactSource& source, Payload payload, std::optional<std::pair<std::string, Trace>> trace)
{
    if (refusedReadOnly())
        return false;
    store::Change change;
    Fact& f = change.facts.emplace_back();
    f.time = now();
    f.axis = source.axis;
    f.person = source.person.value_or(m_person);
    f.origin = source.origin;
    f.identity = source.identity;
    f.instrument = source.instrument;
    f.prints = source.prints;
    f.payload = std::move(payload);
    change.trace = std::move(trace);
    const bool good = commit(std::move(change));
    forgetEvaluations();
    Q_EMIT changed();
    Q_EMIT logged();
    return good;
}

bool Document::appendPhoto(const FactSource& source, const std::string& of, const std::vector<char>& data)
{
    if (refusedReadOnly())
        return false;
    const std::string id = "photo-" + std::to_string(m_facts.size() + 1);
    store::Change change;
    change.photo = {id, data};
    Fact& f = change.facts.emplace_back();
    f.time = now();
    f.axis = source.axis;
    f.person = m_person;
    f.prints = source.prints;
    f.payload = PhotoKept{id, of};
    const bool good = commit(std::move(change));
    Q_EMIT logged();
    return good;
}

void Document::note(const QString& text)
{
    FactSource s = typedSource();
    s.identity = {};
    append(s, NoteMade{text.toStdString()});
}

std::string Document::freshTraceId(const std::string& axis) const
{
    return axis + "-t" + std::to_string(m_facts.size() + 1);
}

std::optional<Trace> Document::trace(const std::string& id) const { return m_file ? m_file->trace(id) : std::nullopt; }

std::vector<char> Document::photo(const std::string& id) const
{
    return m_file ? m_file->photo(id) : std::vector<char>{};
}

Felled Document::felledBy(const std::function<void(Axis&)>& change)
{
    if (!hasAxis())
        return {};
    Axis after = axis();
    change(after);
    return ridge::felledBy(evaluation().steps, evidence(), fingerprintOf(m_machine, after));
}

QString Document::keepVersion(const QString& name)
{
    if (!m_file)
        return {};
    if (refusedReadOnly())
        return m_readOnly;
    if (const auto done = m_file->keepVersion(name.toStdString(), now(), m_machine); !done)
        return QString::fromStdString(messageFor(done.error()));
    append({}, NoteMade{tr("Kept version “%1”").arg(name).toStdString()});
    return {};
}

std::vector<store::MachineFile::Version> Document::versions() const
{
    return m_file ? m_file->versions() : std::vector<store::MachineFile::Version>{};
}

std::optional<Machine> Document::version(const std::string& name) const
{
    if (!m_file)
        return {};
    auto machine = m_file->version(name);
    return machine ? std::optional(std::move(*machine)) : std::nullopt;
}

QString Document::copyTo(const QString& path) const
{
    if (!m_file)
        return tr("Nothing is open.");
    const auto words = [](const auto& result) {
        return result ? QString() : QString::fromStdString(messageFor(result.error()));
    };
    if (QString wrong = words(m_file->copyTo(path.toStdString())); !wrong.isEmpty() || !m_unwritten)
        return wrong;
    // what waits goes into the copy
    auto copy = store::MachineFile::open(path.toStdString());
    if (!copy)
        return words(copy);
    store::Change whole = everything();
    return words(copy->commit(whole));
}

} // namespace ridge::app
