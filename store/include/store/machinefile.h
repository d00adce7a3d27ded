#pragma once
#include "core/control/trace.h"
#include "core/machine/axis.h"

#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace ridge::store {

struct LogEntry {
    std::int64_t number = 0;      ///< given by the file
    std::string time, axis, kind; ///< kind: "decision", "measurement", "drive", "note", "version"
    std::string text;
    std::string hash; ///< SHA-256 over the entry and the hash before it
};

/// One edit: everything in it is in the file, or nothing of it.
struct Change {
    std::optional<Machine> header;    ///< site and policies
    std::vector<Axis> axes;           ///< changed or new
    std::vector<std::string> removed; ///< axes by id
    std::vector<LogEntry> log;
    std::optional<std::pair<std::string, Trace>> capture; ///< id and trace
};

/// The machine file (.vridge): one SQLite database, always saved. Axes as JSON documents, captures as blobs, the
/// logbook append-only with a hash chain. Every change is one transaction with full synchronisation.
class MachineFile {
public:
    /// Refuses to overwrite. @error file-exists, file-write
    [[nodiscard]] static Result<MachineFile> create(const std::string& path, const Machine& machine);
    /// A newer, foreign or damaged file is left untouched. @error file-missing, file-foreign, file-newer, file-damaged
    [[nodiscard]] static Result<MachineFile> open(const std::string& path);

    MachineFile(MachineFile&&) noexcept;
    MachineFile& operator=(MachineFile&&) noexcept;
    ~MachineFile();

    [[nodiscard]] const std::string& path() const;
    [[nodiscard]] Result<Machine> machine() const;
    /// @error file-write  the old state stands
    [[nodiscard]] Result<void> commit(const Change& change);
    [[nodiscard]] std::vector<LogEntry> logbook(int newest = 1000) const; ///< oldest first
    /// Number of the first entry whose hash does not follow from the one before; 0 when the chain holds.
    [[nodiscard]] std::int64_t brokenLogEntry() const;
    [[nodiscard]] std::optional<Trace> capture(const std::string& id) const;
    /// A named state of the whole machine. @error file-write, version-exists
    [[nodiscard]] Result<void> keepVersion(const std::string& name, const std::string& time, const Machine& machine);
    struct Version {
        std::string name, time;
    };
    [[nodiscard]] std::vector<Version> versions() const;                  ///< oldest first
    [[nodiscard]] Result<Machine> version(const std::string& name) const; ///< @error no-version
    /// A whole copy under another name. @error file-write
    [[nodiscard]] Result<void> copyTo(const std::string& path) const;

private:
    struct Database;
    explicit MachineFile(std::unique_ptr<Database> database);
    std::unique_ptr<Database> m_database;
};

} // namespace ridge::store
