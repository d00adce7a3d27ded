#include "partnotes.h"

#include "store/report.h"

#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QStandardPaths>

#include <algorithm>

namespace ridge::app {

namespace {
constexpr qint64 mostNoteBytes = 64LL << 20;

Result<std::vector<store::PartNote>> readNotes(const QString& path)
{
    QFile file(path);
    if (!file.open(QIODevice::ReadOnly) || file.size() >= mostNoteBytes)
        return refuse("file-missing", {}, path.toStdString());
    return store::parsePartNotes(file.readAll().toStdString());
}
} // namespace

PartNotes::PartNotes(QObject* parent)
    : QObject(parent)
{
    if (auto own = readNotes(ownPath()))
        m_notes = std::move(*own);
}

QString PartNotes::ownPath()
{
    return QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + QStringLiteral("/notes.json");
}

std::vector<store::PartNote> PartNotes::of(const std::string& part) const
{
    std::vector<store::PartNote> out;
    std::ranges::copy_if(m_notes, std::back_inserter(out), [&](const auto& n) { return n.part == part; });
    return out;
}

QString PartNotes::keep()
{
    QDir().mkpath(QFileInfo(ownPath()).path());
    const auto kept = store::writeText(ownPath().toStdString(), store::writePartNotes(m_notes));
    Q_EMIT changed();
    return kept ? QString()
                : tr("It is there until the program ends: %1").arg(QString::fromStdString(messageFor(kept.error())));
}

QString PartNotes::add(const store::PartNote& note)
{
    if (note.part.empty() || note.text.empty())
        return tr("A note names its part and says something.");
    m_notes.push_back(note);
    return keep();
}

void PartNotes::remove(const store::PartNote& note)
{
    std::erase(m_notes, note);
    keep();
}

QString PartNotes::import(const QString& path)
{
    const auto read = readNotes(path);
    if (!read)
        return QString::fromStdString(messageFor(read.error()));
    const int taken = store::mergePartNotes(m_notes, *read);
    const QString words = keep();
    return words.isEmpty() ? tr("%n note(s) taken.", nullptr, taken) : words;
}

QString PartNotes::exportTo(const QString& path) const
{
    const auto written = store::writeText(path.toStdString(), store::writePartNotes(m_notes));
    return written ? tr("%n note(s) written.", nullptr, static_cast<int>(m_notes.size()))
                   : QString::fromStdString(messageFor(written.error()));
}

} // namespace ridge::app
