#pragma once
#include "core/control/trace.h"
#include "core/model/machine.h"
#include "core/record/fact.h"
#include "core/working/message.h"
#include "core/working/result.h"

#include <memory>
#include <optional>
#include <stop_token>
#include <string>
#include <vector>

namespace ridge::store {

/// One edit: everything in it is in the file, or nothing of it.
struct Change {
    std::optional<Machine> header;                      ///< name, note, site and policies
    std::vector<Axis> axes;                             ///< changed or new
    std::vector<std::string> removed;                   ///< axes by id
    std::vector<std::string> order;                     ///< ids of all axes in their new order; empty: as it was
    std::vector<Fact> facts;                            ///< appended; number and hash are given by the file
    std::optional<std::pair<std::string, Trace>> trace; ///< id and samples; an id that is there already is refused
    std::optional<std::pair<std::string, std::vector<char>>> photo;
};

/// The machine file (.vridge): one SQLite database, always saved. Axes as JSON documents, traces and photos as blobs,
/// the record append-only with a hash chain that is verified at opening. Every change is one transaction with full
/// synchronisation.
class MachineFile {
public:
    /// Refuses to overwrite. @error file-exists, file-write
    [[nodiscard]] static Result<MachineFile> create(const std::string& path, const Machine& machine);
    /// A newer, foreign or damaged file, or one with tables, views or triggers that this program does not make, is left
    /// untouched; an older one is copied aside and migrated.
    /// @param stop  asked now and then; the file is left as it was
    /// @error file-missing, file-foreign, file-newer, file-damaged, cancelled
    [[nodiscard]] static Result<MachineFile> open(const std::string& path, std::stop_token stop = {});

    MachineFile(MachineFile&&) noexcept;
    MachineFile& operator=(MachineFile&&) noexcept;
    ~MachineFile();

    [[nodiscard]] const std::string& path() const;
    [[nodiscard]] Result<Machine> machine() const;
    /// Makes this program the only one that writes the file, until the last of its objects is gone; reading stays free.
    /// @error file-held  by whom; file-write
    [[nodiscard]] Result<void> hold();
    /// Gives the facts their numbers and hashes; holds the file first. @error file-held, file-write; file-changed: by
    /// another program since it was opened; the old state stands
    [[nodiscard]] Result<void> commit(Change& change);
    /// The whole record. @error file-damaged  an entry that cannot be read, with its number
    [[nodiscard]] Result<Facts> facts() const;
    /// Whether the record is as it was written.
    struct Chain {
        std::int64_t broken = 0; ///< first entry whose hash does not follow from the one before; 0: the chain holds
        bool cut = false;        ///< entries are missing at its end
        [[nodiscard]] bool holds() const { return broken == 0 && !cut; }
        [[nodiscard]] Message words() const; ///< what is wrong with it; empty: it holds
    };
    [[nodiscard]] Chain chain() const;
    struct Record {
        Facts facts;
        Chain chain;
    };
    [[nodiscard]] Result<Record> record() const; ///< both in one reading. @error those of facts()
    [[nodiscard]] std::optional<Trace> trace(const std::string& id) const;
    [[nodiscard]] std::vector<char> photo(const std::string& id) const;
    /// A named state of the whole machine. @error file-write, version-exists
    [[nodiscard]] Result<void> keepVersion(const std::string& name, const std::string& time, const Machine& machine);
    struct Version {
        std::string name, time;
    };
    [[nodiscard]] std::vector<Version> versions() const;                  ///< oldest first
    [[nodiscard]] Result<Machine> version(const std::string& name) const; ///< @error no-version
    /// A whole copy under another name. @error file-write
    [[nodiscard]] Result<void> copyTo(const std::string& target) const;
    /// Where the file of the old schema was kept when this one was migrated at opening; empty: it was not.
    [[nodiscard]] const std::string& keptAside() const;

private:
    struct Database;
    explicit MachineFile(std::unique_ptr<Database> database);
    std::unique_ptr<Database> m_database;
};

} // namespace ridge::store
