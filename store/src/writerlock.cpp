#include "writerlock.h"

#include <fmt/core.h>

#include <filesystem>
#include <map>
#include <mutex>

namespace ridge::store {

WriterLock::WriterLock(const std::string& path)
    : m_lock(QString::fromStdString(path) + QStringLiteral(".lock"))
{
    m_lock.setStaleLockTime(0); // a lock is stale when its program is gone, however old it is
}

Result<std::shared_ptr<WriterLock>> WriterLock::take(const std::string& path)
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
                      fmt::format("{}, process {} on {}", program.isEmpty() ? "a program" : program.toStdString(), pid,
                                  host.isEmpty() ? "this machine" : host.toStdString()));
    }
    held[key] = lock;
    return lock;
}

} // namespace ridge::store
