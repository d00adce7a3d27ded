#include "parts.h"

#include "store/report.h"

#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QStandardPaths>

namespace ridge::app {

namespace {
constexpr qint64 mostBytes = 256LL << 20;

std::size_t countOf(const store::Catalogue& c)
{
    return c.motors.size() + c.drives.size() + c.steppers.size() + c.stepperDrives.size() + c.gearboxes.size()
           + c.resistors.size() + c.brakes.size() + c.encoders.size() + c.supplies.size();
}
} // namespace

Parts::Parts(QObject* parent)
    : QObject(parent)
{
    QFile file(ownPath());
    if (file.open(QIODevice::ReadOnly) && file.size() < mostBytes)
        if (auto own = store::parseCatalogue(file.readAll().toStdString()))
            m_own = std::move(*own);
    m_own.refused.clear();
    merge();
}

QString Parts::ownPath()
{
    return QStandardPaths::writableLocation(QStandardPaths::AppDataLocation) + QStringLiteral("/parts.json");
}

void Parts::merge()
{
    auto all = std::make_shared<store::Catalogue>(store::shippedCatalogue());
    store::mergeCatalogue(*all, m_own);
    m_catalogue = std::move(all);
}

Result<store::Catalogue> Parts::read(const QString& path, const QString& kind)
{
    QFile file(path);
    if (!file.open(QIODevice::ReadOnly) || file.size() >= mostBytes)
        return refuse("file-missing", path.toStdString(), path.toStdString());
    const std::string text = file.readAll().toStdString();
    return path.endsWith(QLatin1String(".csv"), Qt::CaseInsensitive)
               ? store::parseCatalogueCsv(kind.toStdString(), text)
               : store::parseCatalogue(text);
}

QStringList Parts::add(const store::Catalogue& read, const QString& name, bool& good)
{
    good = false;
    QStringList words;
    const std::size_t taken = countOf(read);
    words << tr("%n part(s) of %1 taken.", nullptr, static_cast<int>(taken)).arg(name);
    for (const Error& e : read.refused) {
        const QString sentence = QString::fromStdString(messageFor(e)), place = QString::fromStdString(e.subject);
        words << (sentence.contains(place) ? sentence : tr("%1: %2").arg(place, sentence));
    }
    if (taken == 0)
        return words;
    good = true;
    store::mergeCatalogue(m_own, read);
    m_own.refused.clear();
    QDir().mkpath(QFileInfo(ownPath()).path());
    if (const auto kept =
            store::writeText(ownPath().toStdString(), store::writeCatalogue(m_own, "Parts added by hand."));
        !kept)
        words << tr("They are there until the program ends: %1").arg(QString::fromStdString(messageFor(kept.error())));
    merge();
    Q_EMIT changed();
    return words;
}

void Parts::forgetOwn()
{
    m_own = {};
    QFile::remove(ownPath());
    merge();
    Q_EMIT changed();
}

} // namespace ridge::app
