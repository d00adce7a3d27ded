#include "store/machinefile.h"

#include "store/machinejson.h"

#include <QCryptographicHash>

#include <fmt/core.h>
#include <sqlite3.h>

#include <array>
#include <cstring>
#include <filesystem>
#include <fstream>

namespace ridge::store {

namespace {

constexpr int applicationId = 0x56526467;
constexpr int schemaVersion = 1;

constexpr const char* schema = R"sql(
CREATE TABLE machine(id INTEGER PRIMARY KEY CHECK(id = 1), doc TEXT NOT NULL CHECK(json_valid(doc)));
CREATE TABLE axis(id TEXT PRIMARY KEY, pos INTEGER NOT NULL, doc TEXT NOT NULL CHECK(json_valid(doc)));
CREATE TABLE capture(id TEXT PRIMARY KEY, simulated INTEGER NOT NULL, samples INTEGER NOT NULL, data BLOB NOT NULL);
CREATE TABLE logbook(number INTEGER PRIMARY KEY AUTOINCREMENT, time TEXT NOT NULL, axis TEXT NOT NULL, kind TEXT NOT NULL,
                     text TEXT NOT NULL, hash TEXT NOT NULL);
CREATE TABLE version(name TEXT PRIMARY KEY, time TEXT NOT NULL, doc TEXT NOT NULL CHECK(json_valid(doc)));
CREATE TRIGGER logbook_no_update BEFORE UPDATE ON logbook BEGIN SELECT RAISE(ABORT, 'the logbook is append-only'); END;
CREATE TRIGGER logbook_no_delete BEFORE DELETE ON logbook BEGIN SELECT RAISE(ABORT, 'the logbook is append-only'); END;
)sql";

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
    bool row() { return m_ok && sqlite3_step(m_handle) == SQLITE_ROW; }
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
};

std::int64_t pragma(sqlite3* db, const char* sql)
{
    Statement s(db, sql);
    return s.row() ? s.integer(0) : -1;
}

/// Whether the header of a database that cannot be read any more names this program (application id, bytes 68 to 71).
bool carriesOurMark(const std::string& path)
{
    std::ifstream file(path, std::ios::binary);
    std::array<char, 72> head{};
    if (!file.read(head.data(), head.size())
        || !std::string_view(head.data(), head.size()).starts_with("SQLite format 3"))
        return false;
    std::uint32_t id = 0;
    for (std::size_t k = 68; k < 72; ++k)
        id = id << 8 | static_cast<unsigned char>(head[k]);
    return id == static_cast<std::uint32_t>(applicationId);
}

std::string chained(const std::string& before, const LogEntry& e)
{
    const std::string text = fmt::format("{}\n{}\n{}\n{}\n{}", before, e.time, e.axis, e.kind, e.text);
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

struct MachineFile::Database {
    sqlite3* handle = nullptr;
    std::string path;
    ~Database() { sqlite3_close(handle); }
    [[nodiscard]] bool execute(const char* sql) const
    {
        return sqlite3_exec(handle, sql, nullptr, nullptr, nullptr) == SQLITE_OK;
    }
    [[nodiscard]] tl::unexpected<Error> failed() const
    {
        return refuse("file-write", path, fmt::format("{} ({})", path, sqlite3_errmsg(handle)));
    }
    [[nodiscard]] std::string lastHash() const
    {
        Statement s(handle, "SELECT hash FROM logbook ORDER BY number DESC LIMIT 1");
        return s.row() ? s.text(0) : std::string{};
    }
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
    if (!db->execute(head.c_str()) || !db->execute("BEGIN") || !db->execute(schema) || !db->execute("COMMIT"))
        return db->failed();
    MachineFile file(std::move(db));
    if (auto done = file.commit({machine, machine.axes, {}, {}, {}}); !done)
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
        sqlite3_busy_timeout(db->handle, 2000);
        return db;
    };
    { // look first, read-only: a file that is not ours is not touched
        const auto db = opened(SQLITE_OPEN_READONLY);
        const std::int64_t id = pragma(db->handle, "PRAGMA application_id");
        if (id == -1 && carriesOurMark(path))
            return refuse("file-damaged", path, "the database is damaged; it was left as it is. Use an older copy.");
        if (id != applicationId)
            return refuse("file-foreign", path);
        const std::int64_t version = pragma(db->handle, "PRAGMA user_version");
        if (version > schemaVersion)
            return refuse("file-newer", path, fmt::format("version {}", version));
        Statement check(db->handle, "PRAGMA quick_check(1)");
        if (!check.row() || check.text(0) != "ok")
            return refuse("file-damaged", path, "the database is damaged; it was left as it is. Use an older copy.");
    }
    auto db = opened(SQLITE_OPEN_READWRITE);
    if (!db->execute("PRAGMA synchronous=FULL"))
        return refuse("file-missing", path, path);
    MachineFile file(std::move(db));
    if (auto read = file.machine(); !read)
        return tl::make_unexpected(read.error());
    return file;
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
    return machine;
}

Result<void> MachineFile::commit(const Change& change)
{
    sqlite3* db = m_database->handle;
    if (!m_database->execute("BEGIN IMMEDIATE"))
        return m_database->failed();
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
    if (change.capture) {
        const Trace& t = change.capture->second;
        good = good
               && Statement(db, "INSERT OR REPLACE INTO capture(id, simulated, samples, data) VALUES(?, ?, ?, ?)")
                      .bind(1, change.capture->first)
                      .bind(2, static_cast<std::int64_t>(t.simulated))
                      .bind(3, static_cast<std::int64_t>(t.time.size()))
                      .blob(4, packed(t))
                      .run();
    }
    std::string hash = m_database->lastHash();
    for (const LogEntry& e : change.log) {
        hash = chained(hash, e);
        good = good
               && Statement(db, "INSERT INTO logbook(time, axis, kind, text, hash) VALUES(?, ?, ?, ?, ?)")
                      .bind(1, e.time)
                      .bind(2, e.axis)
                      .bind(3, e.kind)
                      .bind(4, e.text)
                      .bind(5, hash)
                      .run();
    }
    if (!good || !m_database->execute("COMMIT")) {
        auto error = m_database->failed();
        (void)m_database->execute("ROLLBACK");
        return error;
    }
    return {};
}

std::vector<LogEntry> MachineFile::logbook(int newest) const
{
    std::vector<LogEntry> entries;
    Statement s(m_database->handle, "SELECT number, time, axis, kind, text, hash FROM (SELECT * FROM logbook ORDER BY "
                                    "number DESC LIMIT ?) ORDER BY number");
    s.bind(1, static_cast<std::int64_t>(newest));
    while (s.row())
        entries.push_back({s.integer(0), s.text(1), s.text(2), s.text(3), s.text(4), s.text(5)});
    return entries;
}

std::int64_t MachineFile::brokenLogEntry() const
{
    Statement s(m_database->handle, "SELECT number, time, axis, kind, text, hash FROM logbook ORDER BY number");
    std::string before;
    while (s.row()) {
        const LogEntry e{s.integer(0), s.text(1), s.text(2), s.text(3), s.text(4), s.text(5)};
        if (chained(before, e) != e.hash)
            return e.number;
        before = e.hash;
    }
    return 0;
}

std::optional<Trace> MachineFile::capture(const std::string& id) const
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
