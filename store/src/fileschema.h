#pragma once
#include <sqlite3.h>

#include <chrono>
#include <cstdint>
#include <optional>
#include <stop_token>
#include <string>
#include <utility>

namespace ridge::store {

inline constexpr int applicationId = 0x56526467;
inline constexpr int schemaVersion = 2;
inline constexpr auto longestOpening = std::chrono::seconds(20);
inline constexpr int largestValue = 256 << 20; ///< of one document, trace or photo [bytes]

inline constexpr const char* plainTables = R"sql(
CREATE TABLE machine(id INTEGER PRIMARY KEY CHECK(id = 1), doc TEXT NOT NULL CHECK(json_valid(doc)));
CREATE TABLE axis(id TEXT PRIMARY KEY, pos INTEGER NOT NULL, doc TEXT NOT NULL CHECK(json_valid(doc)));
CREATE TABLE capture(id TEXT PRIMARY KEY, simulated INTEGER NOT NULL, samples INTEGER NOT NULL, data BLOB NOT NULL);
CREATE TABLE version(name TEXT PRIMARY KEY, time TEXT NOT NULL, doc TEXT NOT NULL CHECK(json_valid(doc)));
)sql";
/// The record: facts with their chain, and how far it reaches, so that a cut end shows.
inline constexpr const char* recordTables = R"sql(
CREATE TABLE fact(number INTEGER PRIMARY KEY, doc TEXT NOT NULL CHECK(json_valid(doc)), hash TEXT NOT NULL);
CREATE TABLE chain(id INTEGER PRIMARY KEY CHECK(id = 1), entries INTEGER NOT NULL, head TEXT NOT NULL);
INSERT INTO chain(id, entries, head) VALUES(1, 0, '');
CREATE TABLE photo(id TEXT PRIMARY KEY, data BLOB NOT NULL);
CREATE TRIGGER fact_no_update BEFORE UPDATE ON fact BEGIN SELECT RAISE(ABORT, 'the record is append-only'); END;
CREATE TRIGGER fact_no_delete BEFORE DELETE ON fact BEGIN SELECT RAISE(ABORT, 'the record is append-only'); END;
CREATE TRIGGER capture_no_update BEFORE UPDATE ON capture BEGIN SELECT RAISE(ABORT, 'a trace is never overwritten'); END;
)sql";

/// What the first bytes of a file say of it; nothing is opened, nothing is touched.
struct FileHead {
    std::uint32_t application = 0; ///< SQLite's application id, bytes 68 to 71
    std::uint32_t schema = 0;      ///< user version, bytes 60 to 63
};
[[nodiscard]] std::optional<FileHead> headOf(const std::string& path);

/// What a file has that it should not, or has not; empty: it is as this program makes it. Nothing of it was read yet.
[[nodiscard]] std::string strangeness(sqlite3* db, std::int64_t version);

/// Nothing in a file is executed before its schema is known to be ours: no views, no triggers, no writing past it.
void harden(sqlite3* db);

/// Ends what the database is doing when opening takes longer than it may, or somebody no longer wants it.
class Deadline {
public:
    Deadline(sqlite3* db, std::stop_token stop)
        : m_db(db)
        , m_stop(std::move(stop))
    {
        sqlite3_progress_handler(
            db, 20000, [](void* self) { return static_cast<const Deadline*>(self)->reached() ? 1 : 0; }, this);
    }
    ~Deadline() { sqlite3_progress_handler(m_db, 0, nullptr, nullptr); }
    Deadline(const Deadline&) = delete;
    Deadline& operator=(const Deadline&) = delete;
    [[nodiscard]] bool over() const { return std::chrono::steady_clock::now() > m_end; }
    [[nodiscard]] bool reached() const { return over() || m_stop.stop_requested(); }

private:
    sqlite3* m_db;
    std::stop_token m_stop;
    std::chrono::steady_clock::time_point m_end = std::chrono::steady_clock::now() + longestOpening;
};

/// Why a change did not get into the file, in words.
[[nodiscard]] std::string reasonOf(sqlite3* db);

} // namespace ridge::store
