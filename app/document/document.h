#pragma once
#include "core/machine/evaluate.h"
#include "store/machinefile.h"

#include "parts.h"

#include <QObject>
#include <QString>
#include <QTimer>
#include <QUndoStack>

#include <functional>
#include <map>
#include <optional>

namespace ridge::app {

/// The open machine. Owns plain structs, the undo stack and the file; every redo and undo is one transaction of the
/// file. Views never write to the structs: they call edit().
class Document : public QObject {
    Q_OBJECT

public:
    explicit Document(QObject* parent = nullptr);
    ~Document() override;

    /// @return a sentence when the file cannot be opened; empty when it is open
    QString open(const QString& path);
    /// A fresh file with this machine, at a path that does not exist yet.
    QString createAt(const QString& path, const Machine& machine);

    [[nodiscard]] const Machine& machine() const { return m_machine; }
    [[nodiscard]] bool hasAxis() const { return m_axis < m_machine.axes.size(); }
    [[nodiscard]] const Axis& axis() const { return m_machine.axes[m_axis]; }
    [[nodiscard]] std::size_t axisIndex() const { return m_axis; }
    void selectAxis(std::size_t index);
    /// Of the selected axis, with workings.
    [[nodiscard]] const Evaluation& evaluation();
    [[nodiscard]] const Evaluation& evaluationOf(std::size_t index);
    /// The evaluation to show where figures are wanted: the present one, or, while Load or Move are incomplete, the
    /// last that was whole.
    [[nodiscard]] const Evaluation& lastGood();
    [[nodiscard]] const Axis& lastGoodAxis(); ///< the axis that lastGood() is of
    /// True while lastGood() is older than the entries; the sentence says why.
    [[nodiscard]] bool stale(QString* why = nullptr);
    [[nodiscard]] Parts& parts() { return m_parts; }
    [[nodiscard]] QUndoStack& undoStack() { return m_undo; }
    [[nodiscard]] QString path() const;

    /// One edit of the selected axis, in the file when this returns. Edits with a key are the steps of a pull with the
    /// mouse: those of one key merge into one step of undo, and reach the file together, a moment after the last of
    /// them or before anything else does.
    void edit(const QString& text, const QString& mergeKey, const std::function<void(Axis&)>& change);
    void editSite(const QString& text, const std::function<void(Site&)>& change);
    /// Something that happened: not undone, only added.
    void log(const QString& kind, const QString& text);
    [[nodiscard]] std::vector<store::LogEntry> logbook(int newest = 1000) const;
    /// Names the present state of the whole machine; gives a sentence when it cannot be written.
    QString keepVersion(const QString& name);
    void keepCapture(const QString& id, const Trace& trace);
    [[nodiscard]] std::optional<Trace> capture(const std::string& id) const;

    void swapAxis(std::size_t index, Axis& other, const QString& text); ///< used by the undo commands
    void swapSite(Site& other, const QString& text);

Q_SIGNALS:
    void changed();
    void axisSelected();
    void logged();
    void failed(const QString& sentence);

private:
    void commit(store::Change change);
    void flush();                     ///< what a pull has left to write
    void outdate(const Axis& before); ///< the present evaluation becomes the last good one, if it was whole
    void loaded();
    Machine m_machine;
    std::optional<store::MachineFile> m_file;
    QUndoStack m_undo;
    std::size_t m_axis = 0;
    std::optional<store::Change> m_waiting;
    bool m_pulling = false;
    QTimer m_flush;
    std::map<std::size_t, Evaluation> m_cache;
    std::optional<Evaluation> m_current, m_good; ///< of the selected axis
    Axis m_goodAxis;
    Parts m_parts;
};

/// Time for records, "2026-11-24 14:05".
[[nodiscard]] QString now();

} // namespace ridge::app
