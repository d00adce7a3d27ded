#include "document.h"

#include <QCryptographicHash>
#include <QDateTime>
#include <QUndoCommand>

namespace ridge::app {

namespace {

/// Swaps a whole axis in and back; a run of edits with one key is one step, and a step that changes nothing is dropped.
class ChangeAxis final : public QUndoCommand {
public:
    ChangeAxis(Document& document, std::size_t index, Axis after, const QString& text, const QString& key)
        : QUndoCommand(text)
        , m_document(document)
        , m_index(index)
        , m_other(std::move(after))
        , m_key(key)
    {}
    void redo() override { m_document.swapAxis(m_index, m_other, text()); }
    void undo() override { m_document.swapAxis(m_index, m_other, QObject::tr("Undo: %1").arg(text())); }
    [[nodiscard]] int id() const override { return m_key.isEmpty() ? -1 : static_cast<int>(qHash(m_key) & 0x7FFFFFFF); }
    bool mergeWith(const QUndoCommand* next) override
    {
        const auto* later = static_cast<const ChangeAxis*>(next);
        if (later->m_key != m_key || later->m_index != m_index)
            return false;
        setObsolete(m_document.machine().axes[m_index] == m_other); // back where it began
        return true;
    }

private:
    Document& m_document;
    std::size_t m_index;
    Axis m_other; ///< the state that is not in the document now
    QString m_key;
};

class ChangeSite final : public QUndoCommand {
public:
    ChangeSite(Document& document, Site after, const QString& text)
        : QUndoCommand(text)
        , m_document(document)
        , m_other(std::move(after))
    {}
    void redo() override { m_document.swapSite(m_other, text()); }
    void undo() override { m_document.swapSite(m_other, QObject::tr("Undo: %1").arg(text())); }

private:
    Document& m_document;
    Site m_other;
};

} // namespace

QString now() { return QDateTime::currentDateTime().toString(QStringLiteral("yyyy-MM-dd HH:mm:ss")); }

Document::Document(QObject* parent)
    : QObject(parent)
{
    m_undo.setUndoLimit(500);
    m_flush.setSingleShot(true);
    m_flush.setInterval(150);
    connect(&m_flush, &QTimer::timeout, this, &Document::flush);
}

Document::~Document() { flush(); }

QString Document::open(const QString& path)
{
    auto file = store::MachineFile::open(path.toStdString());
    if (!file)
        return QString::fromStdString(messageFor(file.error()));
    auto machine = file->machine();
    if (!machine)
        return QString::fromStdString(messageFor(machine.error()));
    flush(); // into the file that was open
    m_file = std::move(*file);
    m_machine = std::move(*machine);
    loaded();
    return {};
}

QString Document::createAt(const QString& path, const Machine& machine)
{
    auto file = store::MachineFile::create(path.toStdString(), machine);
    if (!file)
        return QString::fromStdString(messageFor(file.error()));
    flush();
    m_file = std::move(*file);
    m_machine = machine;
    loaded();
    return {};
}

void Document::loaded()
{
    m_undo.clear();
    m_axis = 0;
    m_cache.clear();
    m_current.reset();
    m_good.reset();
    Q_EMIT axisSelected();
    Q_EMIT changed();
}

QString Document::path() const { return m_file ? QString::fromStdString(m_file->path()) : QString(); }

void Document::selectAxis(std::size_t index)
{
    if (index >= m_machine.axes.size() || index == m_axis)
        return;
    m_axis = index;
    m_current.reset();
    m_good.reset();
    Q_EMIT axisSelected();
    Q_EMIT changed();
}

const Evaluation& Document::evaluation()
{
    if (!m_current)
        m_current = hasAxis() ? evaluate(m_machine, axis(), {.working = true}) : Evaluation{};
    return *m_current;
}

const Evaluation& Document::lastGood()
{
    const Evaluation& now = evaluation();
    return now.path || !m_good ? now : *m_good;
}

const Axis& Document::lastGoodAxis() { return stale() ? m_goodAxis : axis(); }

bool Document::stale(QString* why)
{
    const Evaluation& now = evaluation();
    if (now.path || !m_good)
        return false;
    if (why && !now.problems.empty())
        *why = tr("Figures of before: %1: %2")
                   .arg(QString::fromStdString(now.problems.front().subject),
                        QString::fromStdString(messageFor(now.problems.front(), axis().mechanism.rotary())));
    return true;
}

const Evaluation& Document::evaluationOf(std::size_t index)
{
    if (index == m_axis)
        return evaluation();
    auto it = m_cache.find(index);
    if (it == m_cache.end())
        it = m_cache.emplace(index, evaluate(m_machine, m_machine.axes[index])).first;
    return it->second;
}

void Document::edit(const QString& text, const QString& mergeKey, const std::function<void(Axis&)>& change)
{
    if (!hasAxis())
        return;
    Axis after = axis();
    change(after);
    if (after == axis())
        return;
    m_pulling = !mergeKey.isEmpty();
    m_undo.push(new ChangeAxis(*this, m_axis, std::move(after), text, mergeKey));
    m_pulling = false;
}

void Document::editSite(const QString& text, const std::function<void(Site&)>& change)
{
    Site after = m_machine.site;
    change(after);
    if (!(after == m_machine.site))
        m_undo.push(new ChangeSite(*this, after, text));
}

void Document::swapAxis(std::size_t index, Axis& other, const QString& text)
{
    std::swap(m_machine.axes[index], other);
    store::Change change;
    change.axes.push_back(m_machine.axes[index]);
    change.log.push_back({0, now().toStdString(), m_machine.axes[index].id, "decision", text.toStdString(), {}});
    if (m_pulling) {
        m_waiting = std::move(change);
        m_flush.start();
    } else {
        commit(std::move(change));
    }
    m_cache.erase(index);
    if (index == m_axis)
        outdate(other);
    Q_EMIT changed();
    Q_EMIT logged();
}

void Document::swapSite(Site& other, const QString& text)
{
    std::swap(m_machine.site, other);
    store::Change change;
    change.header = m_machine;
    change.log.push_back({0, now().toStdString(), {}, "decision", text.toStdString(), {}});
    commit(std::move(change));
    m_cache.clear();
    if (hasAxis())
        outdate(axis());
    Q_EMIT changed();
    Q_EMIT logged();
}

void Document::outdate(const Axis& before)
{
    if (m_current && m_current->path) {
        m_good = std::move(m_current);
        m_goodAxis = before;
    }
    m_current.reset();
}

void Document::flush()
{
    m_flush.stop();
    if (auto waiting = std::exchange(m_waiting, {}))
        commit(std::move(*waiting));
    Q_EMIT logged();
}

void Document::commit(store::Change change)
{
    if (!m_file)
        return;
    if (m_waiting)
        flush();
    if (const auto done = m_file->commit(change); !done)
        Q_EMIT failed(QString::fromStdString(messageFor(done.error())));
}

void Document::log(const QString& kind, const QString& text)
{
    store::Change change;
    change.log.push_back(
        {0, now().toStdString(), hasAxis() ? axis().id : std::string{}, kind.toStdString(), text.toStdString(), {}});
    commit(std::move(change));
    Q_EMIT logged();
}

std::vector<store::LogEntry> Document::logbook(int newest) const
{
    return m_file ? m_file->logbook(newest) : std::vector<store::LogEntry>{};
}

QString Document::keepVersion(const QString& name)
{
    if (!m_file)
        return {};
    if (const auto done = m_file->keepVersion(name.toStdString(), now().toStdString(), m_machine); !done)
        return QString::fromStdString(messageFor(done.error()));
    log(QStringLiteral("version"), tr("Kept version “%1”").arg(name));
    return {};
}

void Document::keepCapture(const QString& id, const Trace& trace)
{
    store::Change change;
    change.capture = {id.toStdString(), trace};
    commit(std::move(change));
}

std::optional<Trace> Document::capture(const std::string& id) const
{
    return m_file ? m_file->capture(id) : std::nullopt;
}

} // namespace ridge::app
