#pragma once
#include <QString>

#include <sqlite3.h>

/// Runs SQL on a file from outside, as another program would.
inline bool sql(const QString& path, const char* text)
{
    sqlite3* db = nullptr;
    const bool good = sqlite3_open(path.toUtf8().constData(), &db) == SQLITE_OK
                      && sqlite3_exec(db, text, nullptr, nullptr, nullptr) == SQLITE_OK;
    sqlite3_close(db);
    return good;
}
