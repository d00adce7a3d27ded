#pragma once
#include "core/working/result.h"

#include <QLockFile>

#include <memory>
#include <string>

namespace ridge::store {

/// One writer: the lock beside a file, shared inside this program, and kept while anything of it may write.
class WriterLock {
public:
    explicit WriterLock(const std::string& path);
    /// @error file-held, file-write
    [[nodiscard]] static Result<std::shared_ptr<WriterLock>> take(const std::string& path);

private:
    QLockFile m_lock;
};

} // namespace ridge::store
