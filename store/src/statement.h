#pragma once
#include <sqlite3.h>

#include <cstdint>
#include <string>
#include <vector>

namespace ridge::store {

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
    [[nodiscard]] bool row()
    {
        m_last = m_ok ? sqlite3_step(m_handle) : SQLITE_ERROR;
        return m_last == SQLITE_ROW;
    }
    /// After the last row: whether there really was no more, or reading failed.
    [[nodiscard]] bool finished() const { return m_last == SQLITE_DONE; }
    bool run() { return m_ok && sqlite3_step(m_handle) == SQLITE_DONE; }
    [[nodiscard]] std::string text(int column) const
    {
        const unsigned char* data = sqlite3_column_text(m_handle, column);
        return data ? std::string(reinterpret_cast<const char*>(data),
                                  static_cast<std::size_t>(sqlite3_column_bytes(m_handle, column)))
                    : std::string{};
    }
    [[nodiscard]] std::int64_t integer(int column) const { return sqlite3_column_int64(m_handle, column); }
    [[nodiscard]] std::vector<char> data(int column) const
    {
        const auto* bytes = static_cast<const char*>(sqlite3_column_blob(m_handle, column));
        return bytes ? std::vector<char>(bytes, bytes + sqlite3_column_bytes(m_handle, column)) : std::vector<char>{};
    }

private:
    sqlite3_stmt* m_handle = nullptr;
    bool m_ok = false;
    int m_last = SQLITE_OK;
};

[[nodiscard]] inline std::int64_t pragma(sqlite3* db, const char* sql)
{
    Statement s(db, sql);
    return s.row() ? s.integer(0) : -1;
}

} // namespace ridge::store
