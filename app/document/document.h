#pragma once
#include "core/stations/evaluate.h"
#include "store/machinefile.h"

#include "partnotes.h"
#include "parts.h"

#include <QObject>
#include <QString>
#include <QTimer>
#include <QUndoStack>

#include <functional>
#include <map>
#include <optional>
#include <stop_token>

namespace ridge::app {

/// Where a fact comes from: the axis and the drive of the moment the run began.
struct FactSource {
    std::string axis;
    Origin origin = Origin::Typed;
    DriveIdentity identity;
    Fingerprint prints; ///< of the plan then
    Instrument instrument = {};
    std::optional<Person> person = {}; ///< who signs, when it is not the one at the laptop
};

/// The open machine: the plan with its undo stack, and the record, which is only added to. Every redo and undo is one
/// transaction of the file, every fact too. Views never write to the structs: they call edit() and append().
class Document : public QObject {
    Q_OBJECT

public:
    explicit Document(QObject* parent = nullptr);
    ~Document() override;

    /// What a file holds.
    struct Contents {
        store::MachineFile file;
        Machine machine;
        Facts facts;
        Message altered; ///< in what way its record was changed from outside
    };
    /// Reads a file whole; touches no document and may run beside the window. @error those of the file, cancelled
    [[nodiscard]] static Result<Contents> read(const QString& path, const std::stop_token& stop = {});
    /// This is the machine from now on.
    void show(Contents contents);
    /// A fresh file with this machine, at a path that does not exist yet.
    QString createAt(const QString& path, const Machine& machine);
    /// A state to be read, without a file: every edit is refused with the reason. A file that somebody else holds is
    /// opened the same way.
    void showOnly(const Machine& machine, const QString& why);
    [[nodiscard]] bool readOnly() const { return !m_readOnly.isEmpty(); }
    [[nodiscard]] const QString& readOnlyReason() const { return m_readOnly; }
    /// Why edits are not in the file; empty: everything that is seen is on the disk. They are tried again every few
    /// seconds, and before anything else is written.
    [[nodiscard]] const QString& unwritten() const { return m_unwrittenReason; }
    bool writeWaiting(); ///< tries now; true when nothing waits
    void dropWaiting();  ///< a person has said that they may be lost

    [[nodiscard]] const Machine& machine() const { return m_machine; }
    [[nodiscard]] bool isOpen() const { return m_open; }
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
    [[nodiscard]] PartNotes& notes() { return m_notes; }
    [[nodiscard]] QUndoStack& undoStack() { return m_undo; }
    [[nodiscard]] QString path() const;

    /// One edit of the selected axis, in the file when this returns. Edits with a key are the steps of a pull with the
    /// mouse: those of one key merge into one step of undo, and reach the file together, a moment after the last of
    /// them or before anything else does.
    void edit(const QString& text, const QString& mergeKey, const std::function<void(Axis&)>& change);
    void editSite(const QString& text, const std::function<void(Site&)>& change);
    /// Adds, removes, reorders axes, renames the machine; undone like any edit of the plan.
    void editMachine(const QString& text, const std::function<void(Machine&)>& change);

    /// Who works; stands on every fact from now on and is remembered on this laptop.
    void setPerson(const Person& person);
    [[nodiscard]] const Person& person() const { return m_person; }
    /// The drive that answers for an axis, or none any more.
    void setConnected(const std::string& axis, const std::optional<DriveIdentity>& identity);
    void timePassed();         ///< what hangs on the age of a reading is looked at anew
    void setRunning(int step); ///< number of the step whose run is under way; 0: none

    [[nodiscard]] const Facts& facts() const { return m_facts; }
    [[nodiscard]] const Evidence& evidence();
    [[nodiscard]] View viewOf(const std::string& axis) const;
    /// The source of what is typed now about the selected axis.
    [[nodiscard]] FactSource typedSource() const;
    /// Something that happened: in the file when this returns true. Never undone.
    bool append(const FactSource& source, Payload payload, std::optional<std::pair<std::string, Trace>> trace = {});
    bool appendPhoto(const FactSource& source, const std::string& of, const std::vector<char>& data);
    void note(const QString& text);
    [[nodiscard]] std::string freshTraceId(const std::string& axis) const;
    [[nodiscard]] std::optional<Trace> trace(const std::string& id) const;
    [[nodiscard]] std::vector<char> photo(const std::string& id) const;
    /// What an edit of one field would make stale, told while the field has the focus.
    [[nodiscard]] Felled felledBy(const std::function<void(Axis&)>& change);

    /// Names the present state of the whole machine; gives a sentence when it cannot be written.
    QString keepVersion(const QString& name);
    [[nodiscard]] std::vector<store::MachineFile::Version> versions() const;
    [[nodiscard]] std::optional<Machine> version(const std::string& name) const;
    QString copyTo(const QString& path) const;
    /// What was wrong with the record at opening; empty: its chain holds.
    [[nodiscard]] const Message& recordAltered() const { return m_altered; } ///< from outside; empty: it was not

    void swapAxis(std::size_t index, Axis& other, const QString& text); ///< used by the undo commands
    void swapMachine(Machine& other, const QString& text);

Q_SIGNALS:
    void changed();
    void axisSelected();
    void aboutToLeave(); ///< what is half typed is taken or refused now
    void logged();
    void failed(const QString& sentence);

private:
    bool commit(store::Change change);
    bool commitPlan(store::Change change);          ///< waits when it cannot be written
    [[nodiscard]] store::Change everything() const; ///< what is seen, with what waits
    void flush();                                   ///< what a pull has left to write
    void outdate(const Axis& before); ///< the present evaluation becomes the last good one, if it was whole
    void loaded();
    void forgetEvaluations();
    [[nodiscard]] bool refusedReadOnly();
    [[nodiscard]] Fact planFact(const Axis* axis, const QString& text) const;
    Machine m_machine;
    Facts m_facts;
    std::optional<store::MachineFile> m_file;
    QUndoStack m_undo;
    std::size_t m_axis = 0;
    bool m_open = false;
    QString m_readOnly;
    Message m_altered;
    std::optional<store::Change> m_waiting;
    bool m_pulling = false;
    QTimer m_flush;
    /// Of plan edits that could not be written: their lines of the record and the axes they removed; the plan itself is
    /// what is seen.
    std::optional<store::Change> m_unwritten;
    QString m_unwrittenReason;
    QTimer m_retry;
    Person m_person;
    std::map<std::string, DriveIdentity> m_connected;
    int m_running = 0;
    std::map<std::size_t, Evaluation> m_cache;
    std::optional<Evidence> m_evidence;
    std::optional<Evaluation> m_current, m_good; ///< of the selected axis
    EvaluationMemo m_memo;                       ///< for the next evaluation of it
    Axis m_goodAxis;
    Parts m_parts;
    PartNotes m_notes;
};

/// Time for records, UTC, "2026-11-24T14:05:33Z".
[[nodiscard]] std::string now();
/// The same in the reader's own time zone, "2026-11-24 15:05".
[[nodiscard]] QString localTime(const std::string& utc);

} // namespace ridge::app
