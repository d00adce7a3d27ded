#include "fileschema.h"

#include "statement.h"

#include <fmt/core.h>

#include <array>
#include <fstream>
#include <map>
#include <string_view>

namespace ridge::store {

namespace {
/// Of the first schema: the logbook was a table of sentences. Text for text as it was made then.
constexpr const char* logbookTables = R"sql(
CREATE TABLE logbook(number INTEGER PRIMARY KEY AUTOINCREMENT, time TEXT NOT NULL, axis TEXT NOT NULL, kind TEXT NOT NULL,
                     text TEXT NOT NULL, hash TEXT NOT NULL);
CREATE TRIGGER logbook_no_update BEFORE UPDATE ON logbook BEGIN SELECT RAISE(ABORT, 'the logbook is append-only'); END;
CREATE TRIGGER logbook_no_delete BEFORE DELETE ON logbook BEGIN SELECT RAISE(ABORT, 'the logbook is append-only'); END;
)sql";

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
} // namespace

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

void harden(sqlite3* db)
{
    sqlite3_db_config(db, SQLITE_DBCONFIG_DEFENSIVE, 1, nullptr);
    sqlite3_db_config(db, SQLITE_DBCONFIG_ENABLE_VIEW, 0, nullptr);
    sqlite3_db_config(db, SQLITE_DBCONFIG_ENABLE_TRIGGER, 0, nullptr); // until ours are known to be ours
    sqlite3_limit(db, SQLITE_LIMIT_LENGTH, largestValue);
    sqlite3_limit(db, SQLITE_LIMIT_TRIGGER_DEPTH, 4);
    sqlite3_limit(db, SQLITE_LIMIT_ATTACHED, 0);
}

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

std::optional<FileHead> headOf(const std::string& path)
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
    return FileHead{word(68), word(60)};
}

} // namespace ridge::store
