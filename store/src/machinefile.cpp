#include "store/machinefile.h"

#include "store/factjson.h"
#include "store/machinejson.h"

#include "fileschema.h"
#include "inparallel.h"
#include "statement.h"
#include "writerlock.h"

#include <fmt/core.h>
#include <openssl/evp.h>

#include <array>
#include <cstring>
#include <filesystem>
#include <thread>
#include <utility>

namespace ridge::store {

namespace {

/// SHA-256 over the hash before and the document, in hexadecimal digits.
std::string chained(const std::string& before, const std::string& doc)
{
    const std::string text = before + "\n" + doc;
    std::array<unsigned char, EVP_MAX_MD_SIZE> sum{};
    unsigned int size = 0;
    if (EVP_Digest(text.data(), text.size(), sum.data(), &size, EVP_sha256(), nullptr) != 1)
        return {};
    constexpr std::string_view digits = "0123456789abcdef";
    std::string out;
    for (unsigned int k = 0; k < size; ++k) {
        out += digits[sum.at(k) >> 4];
        out += digits[sum.at(k) & 15];
    }
    return out;
}

std::vector<char> packed(const Trace& t)
{
    std::vector<char> out;
    for (const auto* column : {&t.time, &t.positionError, &t.speedDemand, &t.speed, &t.torque, &t.position}) {
        const auto* bytes = reinterpret_cast<const char*>(column->data());
        out.insert(out.end(), bytes, bytes + column->size() * sizeof(double));
    }
    return out;
}

} // namespace

struct MachineFile::Database {
    sqlite3* handle = nullptr;
    std::string path, keptAside;
    std::shared_ptr<WriterLock> writer;
    std::optional<Machine> read; ///< at opening, for the first who asks
    std::int64_t seen = 0;       ///< changes by others, when it was last read or written here
    ~Database() { sqlite3_close(handle); }
    [[nodiscard]] bool execute(const char* sql) const
    {
        return sqlite3_exec(handle, sql, nullptr, nullptr, nullptr) == SQLITE_OK;
    }
    [[nodiscard]] tl::unexpected<Error> failed() const
    {
        return refuse("file-write", path, fmt::format("{} ({})", path, reasonOf(handle)));
    }
    /// Counts the changes that others have made.
    [[nodiscard]] std::int64_t changesByOthers() const { return pragma(handle, "PRAGMA data_version"); }
    /// Appends facts behind the chain; inside a transaction.
    [[nodiscard]] bool append(std::vector<Fact>& facts) const
    {
        Statement head(handle, "SELECT entries, head FROM chain WHERE id = 1");
        if (!head.row())
            return false;
        std::int64_t n = head.integer(0);
        std::string hash = head.text(1);
        for (Fact& f : facts) {
            f.number = ++n;
            const std::string doc = writeFact(f);
            f.hash = hash = chained(hash, doc);
            if (!Statement(handle, "INSERT INTO fact(number, doc, hash) VALUES(?, ?, ?)")
                     .bind(1, n)
                     .bind(2, doc)
                     .bind(3, hash)
                     .run())
                return false;
        }
        return facts.empty()
               || Statement(handle, "UPDATE chain SET entries = ?, head = ? WHERE id = 1")
                      .bind(1, n)
                      .bind(2, hash)
                      .run();
    }
    /// From the schema in which results stood inside the axes and the logbook was a table of sentences.
    [[nodiscard]] bool migrateFrom1() const;
};

MachineFile::MachineFile(std::unique_ptr<Database> database)
    : m_database(std::move(database))
{}
MachineFile::MachineFile(MachineFile&&) noexcept = default;
MachineFile& MachineFile::operator=(MachineFile&&) noexcept = default;
MachineFile::~MachineFile() = default;

const std::string& MachineFile::path() const { return m_database->path; }

Result<MachineFile> MachineFile::create(const std::string& path, const Machine& machine)
{
    if (std::filesystem::exists(path))
        return refuse("file-exists", path, path);
    auto db = std::make_unique<Database>();
    db->path = path;
    if (sqlite3_open_v2(path.c_str(), &db->handle, SQLITE_OPEN_READWRITE | SQLITE_OPEN_CREATE, nullptr) != SQLITE_OK)
        return refuse("file-write", path, path);
    const std::string head = fmt::format("PRAGMA application_id={}; PRAGMA user_version={}; PRAGMA synchronous=FULL;",
                                         applicationId, schemaVersion);
    if (!db->execute(head.c_str()) || !db->execute("BEGIN") || !db->execute(plainTables) || !db->execute(recordTables)
        || !db->execute("COMMIT"))
        return db->failed();
    MachineFile file(std::move(db));
    Change all;
    all.header = machine;
    all.axes = machine.axes;
    file.m_database->seen = file.m_database->changesByOthers();
    if (auto done = file.commit(all); !done)
        return tl::make_unexpected(done.error());
    return file;
}

Result<MachineFile> MachineFile::open(const std::string& path, std::stop_token stop)
{
    std::error_code missing;
    if (!std::filesystem::is_regular_file(path, missing))
        return refuse("file-missing", path, path);
    const auto opened = [&](int flags) {
        auto db = std::make_unique<Database>();
        db->path = path;
        sqlite3_open_v2(path.c_str(), &db->handle, flags, nullptr);
        sqlite3_busy_timeout(db->handle, 500);
        harden(db->handle);
        return db;
    };
    // the first bytes alone say whether it is ours: a file that is not is never opened
    const auto head = headOf(path);
    if (!head || head->application != static_cast<std::uint32_t>(applicationId))
        return refuse("file-foreign", path);
    if (head->schema > static_cast<std::uint32_t>(schemaVersion))
        return refuse("file-newer", path, fmt::format("version {}", head->schema));
    // for writing: what a killed program left half written is rolled back by the database itself
    auto db = opened(SQLITE_OPEN_READWRITE);
    const Deadline deadline(db->handle, stop);
    if (stop.stop_requested())
        return refuse("cancelled");
    const std::int64_t version = pragma(db->handle, "PRAGMA user_version");
    if (version >= 0)
        if (const std::string strange = strangeness(db->handle, version); !strange.empty())
            return refuse("file-damaged", path, strange + "; it was left as it is.");
    const bool whole = [&] {
        Statement check(db->handle, "PRAGMA quick_check(1)");
        return check.row() && check.text(0) == "ok";
    }();
    if (stop.stop_requested())
        return refuse("cancelled");
    if (deadline.over())
        return refuse("file-damaged", path, "reading it took too long; it was left as it is.");
    if (version < 0 || !whole)
        return refuse("file-damaged", path, "the database is damaged; it was left as it is. Use an older copy.");
    sqlite3_db_config(db->handle, SQLITE_DBCONFIG_ENABLE_TRIGGER, 1, nullptr);
    if (!db->execute("PRAGMA synchronous=FULL"))
        return refuse("file-missing", path, path);
    if (version < schemaVersion) {
        if (auto writer = WriterLock::take(path))
            db->writer = std::move(*writer);
        else
            return tl::make_unexpected(writer.error());
        const std::string aside = path + ".schema" + std::to_string(version);
        std::error_code failed;
        if (!std::filesystem::exists(aside))
            std::filesystem::copy_file(path, aside, failed);
        if (failed)
            return refuse("file-write", aside, aside);
        db->keptAside = aside;
        const std::string stamp = fmt::format("PRAGMA user_version={}", schemaVersion);
        if (!db->execute("BEGIN IMMEDIATE") || !db->migrateFrom1() || !db->execute(stamp.c_str())
            || !db->execute("COMMIT")) {
            (void)db->execute("ROLLBACK");
            return refuse("file-damaged", path, "it could not be brought to the present form; it was left as it is.");
        }
    }
    MachineFile file(std::move(db));
    file.m_database->seen = file.m_database->changesByOthers();
    auto read = file.machine();
    if (!read)
        return tl::make_unexpected(read.error());
    file.m_database->read = std::move(*read);
    return file;
}

Result<void> MachineFile::hold()
{
    if (m_database->writer)
        return {};
    if (sqlite3_db_readonly(m_database->handle, "main") == 1)
        return refuse("file-write", path(), fmt::format("{} (it may not be written)", path()));
    auto writer = WriterLock::take(path());
    if (!writer)
        return tl::make_unexpected(writer.error());
    m_database->writer = std::move(*writer);
    return {};
}

Result<Machine> MachineFile::machine() const
{
    if (auto read = std::exchange(m_database->read, std::nullopt))
        return std::move(*read); // at opening, and nothing was written since
    Statement head(m_database->handle, "SELECT doc FROM machine WHERE id = 1");
    if (!head.row())
        return refuse("file-damaged", path(), "the machine itself is missing.");
    auto machine = parseHeader(head.text(0));
    if (!machine)
        return machine;
    Statement axes(m_database->handle, "SELECT doc FROM axis ORDER BY pos");
    std::vector<std::string> documents;
    while (documents.size() <= mostAxes && axes.row())
        documents.push_back(axes.text(0));
    if (documents.size() > mostAxes)
        return refuse("file-damaged", path(),
                      fmt::format("it holds more than {} axes; it was left as it is.", mostAxes));
    if (!axes.finished())
        return refuse("file-damaged", path(), "its axes cannot be read; it was left as it is.");
    std::vector<std::optional<Result<Axis>>> parsed(documents.size());
    inParallel(documents.size(), [&](std::size_t from, std::size_t to) {
        for (std::size_t k = from; k < to; ++k)
            parsed[k] = parseAxis(documents[k]);
    });
    for (auto& axis : parsed) {
        if (!*axis)
            return tl::make_unexpected(axis->error());
        machine->axes.push_back(std::move(**axis));
    }
    return machine;
}

Result<void> MachineFile::commit(Change& change)
{
    if (auto held = hold(); !held)
        return held;
    m_database->read.reset();
    sqlite3* db = m_database->handle;
    if (!m_database->execute("BEGIN IMMEDIATE"))
        return m_database->failed();
    if (m_database->changesByOthers() != m_database->seen) {
        (void)m_database->execute("ROLLBACK");
        return refuse("file-changed", path(), path());
    }
    bool good = true;
    if (change.header)
        good = good
               && Statement(
                      db, "INSERT INTO machine(id, doc) VALUES(1, ?) ON CONFLICT(id) DO UPDATE SET doc = excluded.doc")
                      .bind(1, writeHeader(*change.header))
                      .run();
    for (const Axis& axis : change.axes)
        good = good
               && Statement(
                      db, "INSERT INTO axis(id, pos, doc) VALUES(?1, (SELECT COALESCE(MAX(pos), 0) + 1 FROM axis), ?2) "
                          "ON CONFLICT(id) DO UPDATE SET doc = excluded.doc")
                      .bind(1, axis.id)
                      .bind(2, writeAxis(axis))
                      .run();
    for (const std::string& id : change.removed)
        good = good && Statement(db, "DELETE FROM axis WHERE id = ?").bind(1, id).run();
    for (std::size_t k = 0; k < change.order.size(); ++k)
        good = good
               && Statement(db, "UPDATE axis SET pos = ? WHERE id = ?")
                      .bind(1, static_cast<std::int64_t>(k + 1))
                      .bind(2, change.order[k])
                      .run();
    if (change.trace) {
        const Trace& t = change.trace->second;
        good = good
               && Statement(db, "INSERT INTO capture(id, simulated, samples, data) VALUES(?, ?, ?, ?)")
                      .bind(1, change.trace->first)
                      .bind(2, static_cast<std::int64_t>(t.simulated))
                      .bind(3, static_cast<std::int64_t>(t.time.size()))
                      .blob(4, packed(t))
                      .run();
    }
    if (change.photo)
        good = good
               && Statement(db, "INSERT INTO photo(id, data) VALUES(?, ?)")
                      .bind(1, change.photo->first)
                      .blob(2, change.photo->second)
                      .run();
    good = good && m_database->append(change.facts);
    if (!good || !m_database->execute("COMMIT")) {
        auto error = m_database->failed();
        (void)m_database->execute("ROLLBACK");
        return error;
    }
    return {};
}

namespace {
/// An entry of the record as it stands in the file.
struct Entry {
    std::int64_t number = 0;
    std::string doc, hash;
};
struct Entries {
    std::vector<Entry> all;
    bool whole = true;         ///< the table could be read to its end
    std::int64_t reaches = -1; ///< how many there should be
    std::string head;          ///< and the hash of the last
};
Entries entriesOf(sqlite3* db)
{
    Entries out;
    Statement s(db, "SELECT number, doc, hash FROM fact ORDER BY number");
    while (s.row())
        out.all.push_back({s.integer(0), s.text(1), s.text(2)});
    out.whole = s.finished();
    Statement head(db, "SELECT entries, head FROM chain WHERE id = 1");
    if (head.row()) {
        out.reaches = head.integer(0);
        out.head = head.text(1);
    }
    return out;
}

MachineFile::Chain chainOf(const Entries& entries)
{
    MachineFile::Chain chain;
    std::string before;
    std::int64_t n = 0;
    for (const Entry& e : entries.all) {
        ++n;
        if (e.number != n || chained(before, e.doc) != e.hash) {
            chain.broken = e.number;
            return chain;
        }
        before = e.hash;
    }
    if (!entries.whole)
        chain.broken = n + 1;
    else
        chain.cut = entries.reaches != n || entries.head != before;
    return chain;
}

Result<Facts> factsOf(const Entries& entries, const std::string& path)
{
    if (!entries.whole)
        return refuse("file-damaged", path, "its record cannot be read to the end; it was left as it is.");
    Facts out(entries.all.size());
    std::vector<std::optional<Error>> wrong((entries.all.size() + 1));
    inParallel(entries.all.size(), [&](std::size_t from, std::size_t to) {
        FactReader reader;
        for (std::size_t k = from; k < to; ++k) {
            const Entry& e = entries.all[k];
            auto fact = reader.read(e.doc);
            if (!fact) {
                wrong[k] =
                    Error{"file-damaged",
                          path,
                          fmt::format("entry {} of the record cannot be read: {}", e.number, fact.error().actual),
                          {}};
                continue;
            }
            fact->number = e.number;
            fact->hash = e.hash;
            out[k] = std::move(*fact);
        }
    });
    for (const auto& error : wrong)
        if (error)
            return tl::make_unexpected(*error);
    return out;
}
} // namespace

Result<MachineFile::Record> MachineFile::record() const
{
    const Entries entries = entriesOf(m_database->handle);
    Chain chain;
    std::jthread hashing([&] { chain = chainOf(entries); });
    auto facts = factsOf(entries, path());
    hashing.join();
    if (!facts)
        return tl::make_unexpected(facts.error());
    return Record{std::move(*facts), chain};
}

Result<Facts> MachineFile::facts() const { return factsOf(entriesOf(m_database->handle), path()); }

Message MachineFile::Chain::words() const
{
    return broken != 0
               ? say("The record was changed from outside: entry {} does not follow from the one before it.", broken)
           : cut ? Message("The record was changed from outside: entries are missing at its end.")
                 : Message{};
}

MachineFile::Chain MachineFile::chain() const { return chainOf(entriesOf(m_database->handle)); }

bool MachineFile::Database::migrateFrom1() const
{
    if (!execute(recordTables))
        return false;
    std::vector<Fact> facts;
    std::vector<std::pair<std::string, std::string>> documents;
    { // a table that is being read cannot be dropped
        Statement lines(handle, "SELECT time, axis, kind, text FROM logbook ORDER BY number");
        while (lines.row()) {
            Fact& f = facts.emplace_back();
            f.time = lines.text(0);
            f.axis = lines.text(1);
            f.payload = OldEntry{lines.text(2), lines.text(3)};
        }
        Statement axes(handle, "SELECT id, doc FROM axis ORDER BY pos");
        while (axes.row())
            documents.emplace_back(axes.text(0), axes.text(1));
    }
    for (const auto& [id, doc] : documents) {
        const auto results = oldResults(doc);
        const auto axis = parseAxis(doc);
        if (!results || !axis)
            return false;
        facts.insert(facts.end(), results->begin(), results->end());
        if (!Statement(handle, "UPDATE axis SET doc = ? WHERE id = ?").bind(1, writeAxis(*axis)).bind(2, id).run())
            return false;
    }
    std::string header;
    {
        Statement head(handle, "SELECT doc FROM machine WHERE id = 1");
        if (!head.row())
            return false;
        header = head.text(0);
    }
    const auto machine = parseHeader(header);
    return machine && Statement(handle, "UPDATE machine SET doc = ? WHERE id = 1").bind(1, writeHeader(*machine)).run()
           && append(facts) && execute("DROP TABLE logbook");
}

const std::string& MachineFile::keptAside() const { return m_database->keptAside; }

std::vector<char> MachineFile::photo(const std::string& id) const
{
    Statement s(m_database->handle, "SELECT data FROM photo WHERE id = ?");
    return s.bind(1, id).row() ? s.data(0) : std::vector<char>{};
}

std::optional<Trace> MachineFile::trace(const std::string& id) const
{
    Statement s(m_database->handle, "SELECT simulated, samples, data FROM capture WHERE id = ?");
    s.bind(1, id);
    if (!s.row())
        return {};
    Trace t;
    t.simulated = s.integer(0) != 0;
    const auto n = static_cast<std::size_t>(s.integer(1));
    const std::vector<char> bytes = s.data(2);
    const std::size_t one = n * sizeof(double);
    if (bytes.size() != 5 * one && bytes.size() != 6 * one)
        return {};
    std::size_t at = 0;
    for (auto* column : {&t.time, &t.positionError, &t.speedDemand, &t.speed, &t.torque, &t.position}) {
        if (at == bytes.size())
            break; // recorded without a position
        column->resize(n);
        std::memcpy(column->data(), bytes.data() + at, one);
        at += one;
    }
    return t;
}

Result<void> MachineFile::keepVersion(const std::string& name, const std::string& time, const Machine& machine)
{
    if (auto held = hold(); !held)
        return held;
    Statement taken(m_database->handle, "SELECT 1 FROM version WHERE name = ?");
    if (taken.bind(1, name).row())
        return refuse("version-exists", name, name);
    Statement s(m_database->handle, "INSERT INTO version(name, time, doc) VALUES(?, ?, ?)");
    if (!s.bind(1, name).bind(2, time).bind(3, writeMachine(machine)).run())
        return m_database->failed();
    return {};
}

std::vector<MachineFile::Version> MachineFile::versions() const
{
    std::vector<Version> out;
    Statement s(m_database->handle, "SELECT name, time FROM version ORDER BY rowid");
    while (s.row())
        out.push_back({s.text(0), s.text(1)});
    return out;
}

Result<Machine> MachineFile::version(const std::string& name) const
{
    Statement s(m_database->handle, "SELECT doc FROM version WHERE name = ?");
    if (!s.bind(1, name).row())
        return refuse("no-version", name, name);
    return parseMachine(s.text(0));
}

Result<void> MachineFile::copyTo(const std::string& target) const
{
    sqlite3* to = nullptr;
    if (sqlite3_open(target.c_str(), &to) != SQLITE_OK) {
        sqlite3_close(to);
        return refuse("file-write", target, target);
    }
    sqlite3_backup* backup = sqlite3_backup_init(to, "main", m_database->handle, "main");
    const bool good = backup && sqlite3_backup_step(backup, -1) == SQLITE_DONE;
    sqlite3_backup_finish(backup);
    sqlite3_close(to);
    if (!good)
        return refuse("file-write", target, target);
    return {};
}

} // namespace ridge::store
