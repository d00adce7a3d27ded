#pragma once
#include "store/catalogue.h"

#include <QObject>
#include <QString>

#include <memory>

namespace ridge::app {

/// The parts at hand: those that ship with the program and the user's own, kept between sessions.
class Parts : public QObject {
    Q_OBJECT

public:
    explicit Parts(QObject* parent = nullptr);
    /// Shared, so that a ranking in another thread keeps the parts it began with.
    [[nodiscard]] std::shared_ptr<const store::Catalogue> catalogue() const { return m_catalogue; }
    /// A file of parts, JSON or CSV (@param kind  of a CSV, e.g. "motors"); touches nothing and may run beside the
    /// window. @error file-missing, those of the parts
    [[nodiscard]] static Result<store::Catalogue> read(const QString& path, const QString& kind);
    /// Adds what was read from a file of this name.
    /// @return one sentence a line: what was taken, and each row that was refused with its place. `good` says whether
    /// anything was taken
    QStringList add(const store::Catalogue& read, const QString& name, bool& good);
    void forgetOwn(); ///< back to what ships

Q_SIGNALS:
    void changed();

private:
    void merge();
    [[nodiscard]] static QString ownPath();
    store::Catalogue m_own;
    std::shared_ptr<const store::Catalogue> m_catalogue;
};

} // namespace ridge::app
