#pragma once
#include "document.h"

#include <QUndoCommand>

#include <utility>

namespace ridge::app {

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

/// Swaps the whole plan of the machine: its site, its name, the list of its axes.
class ChangeMachine final : public QUndoCommand {
public:
    ChangeMachine(Document& document, Machine after, const QString& text)
        : QUndoCommand(text)
        , m_document(document)
        , m_other(std::move(after))
    {}
    void redo() override { m_document.swapMachine(m_other, text()); }
    void undo() override { m_document.swapMachine(m_other, QObject::tr("Undo: %1").arg(text())); }

private:
    Document& m_document;
    Machine m_other;
};

} // namespace ridge::app
