#pragma once
#include "store/partnotes.h"

#include <QObject>
#include <QString>

namespace ridge::app {

/// One's own notes on types of parts, kept on this laptop between sessions and machines.
class PartNotes : public QObject {
    Q_OBJECT

public:
    explicit PartNotes(QObject* parent = nullptr);
    [[nodiscard]] std::vector<store::PartNote> of(const std::string& part) const; ///< newest last
    [[nodiscard]] const std::vector<store::PartNote>& all() const { return m_notes; }
    /// @return empty when it is kept, else the sentence that says why not
    QString add(const store::PartNote& note);
    void remove(const store::PartNote& note);
    /// Adds what a file holds. @return one sentence
    QString import(const QString& path);
    QString exportTo(const QString& path) const;

Q_SIGNALS:
    void changed();

private:
    [[nodiscard]] static QString ownPath();
    QString keep();
    std::vector<store::PartNote> m_notes;
};

} // namespace ridge::app
