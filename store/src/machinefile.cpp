#include "store/machinefile.h"

#include "store/factjson.h"
#include "store/machinejson.h"

#include <QCryptographicHash>
#include <QLockFile>

#include <fmt/core.h>
#include <sqlite3.h>

#include <array>
#include <chrono>
#include <cstring>
#include <filesystem>
#include <fstream>
#include <map>
#include <mutex>

namespace ridge::store {

namespace {

constexpr int applicationId = 0x56526467;
constexpr int schemaVersion = 2;

constexpr const char* plainTables = R"sql(
CREATE TABLE machine(id INTEGER PRIMARY KEY CHECK(id = 1), doc TEXT NOT NULL CHECK(json_valid(doc)));
CREATE TABLE axis(id TEXT PRIMARY KEY, pos INTEGER NOT NULL, doc TEXT NOT NULL CHECK(json_valid(doc)));
CREATE TABLE capture(id TEXT PRIMARY KEY, simulated INTEGER NOT NULL, samples INTEGER NOT NULL, data BLOB NOT NULL);
CREATE TABLE version(name TEXT PRIMARY KEY, time TEXT NOT NULL, doc TEXT NOT NULL CHECK(json_valid(doc)));
)sql";
/// The record: facts with their chain, and how far it reaches, so that a cut end shows.
constexpr const char* recordTables = R"sql(
CREATE TABLE fact(number INTEGER PRIMARY KEY, doc TEXT NOT NULL CHECK(json_valid(doc)), hash TEXT NOT NULL);
CREATE TABLE chain(id INTEGER PRIMARY KEY CHECK(id = 1), entries INTEGER NOT NULL, head TEXT NOT NULL);
INSERT INTO chain(id, entries, head) VALUES(1, 0, '');
CREATE TABLE photo(id TEXT PRIMARY KEY, data BLOB NOT NULL);
CREATE TRIGGER fact_no_update BEFORE UPDATE ON fact BEGIN SELECT RAISE(ABORT, 'the record is append-only'); END;
CREATE TRIGGER fact_no_delete BEFORE DELETE ON fact BEGIN SELECT RAISE(ABORT, 'the record is append-only'); END;
CREATE TRIGGER capture_no_update BEFORE UPDATE ON capture BEGIN SELECT RAISE(ABORT, 'a trace is never overwritten'); END;
)sql";
/// Of the first schema: the logbook was a table of sentences. Text for text as it was made then.
constexpr const char* logbookTables = R"sql(
CREATE TABLE logbook(number INTEGER PRIMARY KEY AUTOINCREMENT, time TEXT NOT NULL, axis TEXT NOT NULL, kind TEXT NOT NULL,
                     text TEXT NOT NULL, hash TEXT NOT NULL);
CREATE TRIGGER logbook_no_update BEFORE UPDATE ON logbook BEGIN SELECT RAISE(ABORT, 'the logbook is append-only'); END;
CREATE TRIGGER logbook_no_delete BEFORE DELETE ON logbook BEGIN SELECT RAISE(ABORT, 'the logbook is append-only'); END;
)sql";
constexpr auto longestOpening = std::chrono::seconds(20);
constexpr int largestValue = 256 << 20; ///< of one document, trace or photo [bytes]

/// A prepared statement, finalised on leaving.
class Statement {
public:
    Statement(sqlite3* db, const char* sql) { m_ok = sqlite3_prepare_v2(db, sql, -1, &m_handle, nullptr) == SQLITE_OK; }
    ~Statement() { sqlite3_finalize(m_handle); }
    Statement(const Statement&) = delete;
    Statement& operator=(const Statement&) = delete;

    Statement& bind(int at, const std::string& text)
    {
        sqlite3_bind_text(m_handle, at, text.data(), static_cast<int>(text.size()), SQLITE_TRANSIENT);
        return *this;
    }
    Statement& bind(int at, std::int64_t value)
    {
        sqlite3_bind_int64(m_handle, at, value);
        return *this;
    }
    Statement& blob(int at, const std::vector<char>& data)
    {
        sqlite3_bind_blob64(m_handle, at, data.data(), data.size(), SQLITE_TRANSIENT);
        return *this;
    }
    bool row()
    {
        m_last = m_ok ? sqlite3_step(m_handle) : SQLITE_ERROR;
        return m_last == SQLITE_ROW;
    }
    /// After the last row: whether there really was no more, or reading failed.
    [[nodiscard]] bool finished() const { return m_last == SQLITE_DONE; }
    bool run() { return m_ok && sqlite3_step(m_handle) == SQLITE_DONE; }
    std::string text(int column) const
    {
        const unsigned char* data = sqlite3_column_text(m_handle, column);
        return data ? std::string(reinterpret_cast<const char*>(data),
                                  static_cast<std::size_t>(sqlite3_column_bytes(m_handle, column)))
                    : std::string{};
    }
    std::int64_t integer(int column) const { return sqlite3_column_int64(m_handle, column); }
    std::vector<char> data(int column) const
    {
        const auto* bytes = static_cast<const char*>(sqlite3_column_blob(m_handle, column));
        return bytes ? std::vector<char>(bytes, bytes + sqlite3_column_bytes(m_handle, column)) : std::vector<char>{};
    }

private:
    sqlite3_stmt* m_handle = nullptr;
    bool m_ok = false;
    int m_last = SQLITE_OK;
};

std::int64_t pragma(sqlite3* db, const char* sql)
{
    Statement s(db, sql);
    return s.row() ? s.integer(0) : -1;
}

/// Tables, triggers and whatever else stands in a database, by name; the database's own are left out.
std::map<std::string, std::string> schemaOf(sqlite3* db)
{
    std::map<std::string, std::string> all;
    Statement s(db, "SELECT type || ' ' || name, sql FROM sqlite_master WHERE name NOT LIKE 'sqlite\\_%' ESCAPE '\\'");
    while (s.row())
        all[s.text(0)] = s.text(1);
    if (!s.finished())
        all["unreadable"] = {};
    return all;
}
/// The same of a file that this program made.
std::map<std::string, std::string> schemaWanted(std::int64_t version)
{
    sqlite3* db = nullptr;
    std::map<std::string, std::string> all;
    if (sqlite3_open(":memory:", &db) == SQLITE_OK
        && sqlite3_exec(db, plainTables, nullptr, nullptr, nullptr) == SQLITE_OK
        && sqlite3_exec(db, version == 1 ? logbookTables : recordTables, nullptr, nullptr, nullptr) == SQLITE_OK)
        all = schemaOf(db);
    sqlite3_close(db);
    return all;
}
/// What a file has that it should not, or has not; empty: it is as this program makes it. Nothing of it was read yet.
std::string strangeness(sqlite3* db, std::int64_t version)
{
    const auto there = schemaOf(db), wanted = schemaWanted(version);
    for (const auto& [name, sql] : there)
        if (const auto it = wanted.find(name); it == wanted.end())
            return fmt::format("it holds a {} that this program does not make", name.substr(0, 60));
        else if (it->second != sql)
            return fmt::format("its {} is not the one that this program makes", name.substr(0, 60));
    for (const auto& [name, sql] :
         wanted) // a trigger that somebody dropped is no harm: the chain tells what came of it
        if (!there.contains(name) && !name.starts_with("trigger "))
            return fmt::format("its {} is missing", name);
    return {};
}

/// Nothing in a file is executed before its schema is known to be ours: no views, no triggers, no writing past it.
void harden(sqlite3* db)
{
    sqlite3_db_config(db, SQLITE_DBCONFIG_DEFENSIVE, 1, nullptr);
    sqlite3_db_config(db, SQLITE_DBCONFIG_ENABLE_VIEW, 0, nullptr);
    sqlite3_db_config(db, SQLITE_DBCONFIG_ENABLE_TRIGGER, 0, nullptr); // until ours are known to be ours
    sqlite3_limit(db, SQLITE_LIMIT_LENGTH, largestValue);
    sqlite3_limit(db, SQLITE_LIMIT_TRIGGER_DEPTH, 4);
    sqlite3_limit(db, SQLITE_LIMIT_ATTACHED, 0);
}

/// Ends what the database is doing when opening takes longer than it may.
class Deadline {
public:
    explicit Deadline(sqlite3* db)
        : m_db(db)
    {
        sqlite3_progress_handler(
            db, 20000, [](void* self) { return static_cast<const Deadline*>(self)->over() ? 1 : 0; }, this);
    }
    ~Deadline() { sqlite3_progress_handler(m_db, 0, nullptr, nullptr); }
    Deadline(const Deadline&) = delete;
    Deadline& operator=(const Deadline&) = delete;
    [[nodiscard]] bool over() const { return std::chrono::steady_clock::now() > m_end; }

private:
    sqlite3* m_db;
    std::chrono::steady_clock::time_point m_end = std::chrono::steady_clock::now() + longestOpening;
};

/// Why a change did not get into the file, in words.
std::string reasonOf(sqlite3* db)
{
    switch (sqlite3_extended_errcode(db)) {
    case SQLITE_FULL: return "there is no room left";
    case SQLITE_READONLY_DBMOVED: return "it was moved, removed or replaced";
    case SQLITE_READONLY_DIRECTORY:
    case SQLITE_CANTOPEN: return "its folder may not be written";
    default: break;
    }
    switch (sqlite3_errcode(db)) {
    case SQLITE_BUSY:
    case SQLITE_LOCKED: return "another program is writing it";
    case SQLITE_READONLY: return "it may not be written";
    case SQLITE_FULL: return "there is no room left";
    case SQLITE_IOERR: return "the disk did not take it";
    case SQLITE_TOOBIG: return "it is too large";
    default: return sqlite3_errmsg(db);
    }
}

/// What the first bytes of a file say of it; nothing is opened, nothing is touched.
struct Head {
    std::uint32_t application = 0; ///< SQLite's application id, bytes 68 to 71
    std::uint32_t schema = 0;      ///< user version, bytes 60 to 63
};
std::optional<Head> headOf(const std::string& path)
{
    std::ifstream file(path, std::ios::binary);
    std::array<char, 72> bytes{};
    if (!file.read(bytes.data(), bytes.size())
        || !std::string_view(bytes.data(), bytes.size()).starts_with("SQLite format 3"))
        return {};
    const auto word = [&](std::size_t at) {
        std::uint32_t value = 0;
        for (std::size_t k = at; k < at + 4; ++k)
            value = value << 8 | static_cast<unsigned char>(bytes.at(k));
        return value;
    };
    return Head{word(68), word(60)};
}

std::string chained(const std::string& before, const std::string& doc)
{
    const std::string text = before + "\n" + doc;
    return QCryptographicHash::hash(QByteArrayView(text.data(), static_cast<qsizetype>(text.size())),
                                    QCryptographicHash::Sha256)
        .toHex()
        .toStdString();
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

/// One writer: the lock beside a file, shared inside this program, and kept while anything of it may write.
class MachineFile::WriterLock {
public:
    explicit WriterLock(const std::string& path)
        : m_lock(QString::fromStdString(path) + QStringLiteral(".lock"))
    {
        m_lock.setStaleLockTime(0); // a lock is stale when its program is gone, however old it is
    }
    /// @error file-held, file-write
    static Result<std::shared_ptr<WriterLock>> take(const std::string& path)
    {
        static std::mutex guard;
        static std::map<std::string, std::weak_ptr<WriterLock>> held;
        std::error_code unknown;
        const std::filesystem::path whole = std::filesystem::weakly_canonical(path, unknown);
        const std::string key = unknown ? path : whole.string();
        const std::scoped_lock alone(guard);
        if (auto mine = held[key].lock())
            return mine;
        auto lock = std::make_shared<WriterLock>(key);
        if (!lock->m_lock.tryLock(200)) {
            if (lock->m_lock.error() != QLockFile::LockFailedError)
                return refuse("file-write", path, fmt::format("{} (its folder may not be written)", path));
            qint64 pid = 0;
            QString host, program;
            lock->m_lock.getLockInfo(&pid, &host, &program);
            return refuse("file-held", path,
                          fmt::format("{}, process {} on {}", program.isEmpty() ? "a program" : program.toStdString(),
                                      pid, host.isEmpty() ? "this machine" : host.toStdString()));
        }
        held[key] = lock;
        return lock;
    }

private:
    QLockFile m_lock;
};

struct MachineFile::Database {
    sqlite3* handle = nullptr;
    std::string path, keptAside;
    std::shared_ptr<WriterLock> writer;
    std::int64_t seen = 0; ///< changes by others, when it was last read or written here
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

Result<MachineFile> MachineFile::open(const std::string& path)
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
    const Deadline deadline(db->handle);
    const std::int64_t version = pragma(db->handle, "PRAGMA user_version");
    if (version >= 0)
        if (const std::string strange = strangeness(db->handle, version); !strange.empty())
            return refuse("file-damaged", path, strange + "; it was left as it is.");
    const bool whole = [&] {
        Statement check(db->handle, "PRAGMA quick_check(1)");
        return check.row() && check.text(0) == "ok";
    }();
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
    if (auto read = file.machine(); !read)
        return tl::make_unexpected(read.error());
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
    Statement head(m_database->handle, "SELECT doc FROM machine WHERE id = 1");
    if (!head.row())
        return refuse("file-damaged", path(), "the machine itself is missing.");
    auto machine = parseHeader(head.text(0));
    if (!machine)
        return machine;
    Statement axes(m_database->handle, "SELECT doc FROM axis ORDER BY pos");
    while (axes.row()) {
        auto axis = parseAxis(axes.text(0));
        if (!axis)
            return tl::make_unexpected(axis.error());
        machine->axes.push_back(std::move(*axis));
    }
    if (!axes.finished())
        return refuse("file-damaged", path(), "its axes cannot be read; it was left as it is.");
    return machine;
}

Result<void> MachineFile::commit(Change& change)
{
    if (auto held = hold(); !held)
        return held;
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

Result<Facts> MachineFile::facts() const
{
    Facts out;
    Statement s(m_database->handle, "SELECT number, doc, hash FROM fact ORDER BY number");
    while (s.row()) {
        auto fact = parseFact(s.text(1));
        if (!fact)
            return refuse("file-damaged", path(),
                          fmt::format("entry {} of the record cannot be read: {}", s.integer(0), fact.error().actual));
        fact->number = s.integer(0);
        fact->hash = s.text(2);
        out.push_back(std::move(*fact));
    }
    if (!s.finished())
        return refuse("file-damaged", path(), "its record cannot be read to the end; it was left as it is.");
    return out;
}

MachineFile::Chain MachineFile::chain() const
{
    Chain chain;
    Statement s(m_database->handle, "SELECT number, doc, hash FROM fact ORDER BY number");
    std::string before;
    std::int64_t n = 0;
    while (s.row()) {
        ++n;
        if (s.integer(0) != n || chained(before, s.text(1)) != s.text(2)) {
            chain.broken = s.integer(0);
            return chain;
        }
        before = s.text(2);
    }
    if (!s.finished()) {
        chain.broken = n + 1;
        return chain;
    }
    Statement head(m_database->handle, "SELECT entries, head FROM chain WHERE id = 1");
    chain.cut = !head.row() || head.integer(0) != n || head.text(1) != before;
    return chain;
}

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
