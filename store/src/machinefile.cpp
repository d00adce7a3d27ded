#include "store/machinefile.h"

#include "store/factjson.h"
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

struct MachineFile::Database {
    sqlite3* handle = nullptr;
    std::string path, keptAside;
    ~Database() { sqlite3_close(handle); }
    [[nodiscard]] bool execute(const char* sql) const
    {
        return sqlite3_exec(handle, sql, nullptr, nullptr, nullptr) == SQLITE_OK;
    }
    [[nodiscard]] tl::unexpected<Error> failed() const
    {
        return refuse("file-write", path, fmt::format("{} ({})", path, sqlite3_errmsg(handle)));
    }
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
        sqlite3_busy_timeout(db->handle, 2000);
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
    const std::int64_t version = pragma(db->handle, "PRAGMA user_version");
    const bool whole = [&] {
        Statement check(db->handle, "PRAGMA quick_check(1)");
        return check.row() && check.text(0) == "ok";
    }();
    if (version < 0 || !whole)
        return refuse("file-damaged", path, "the database is damaged; it was left as it is. Use an older copy.");
    if (!db->execute("PRAGMA synchronous=FULL"))
        return refuse("file-missing", path, path);
    if (version < schemaVersion) {
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

Result<void> MachineFile::commit(Change& change)
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
