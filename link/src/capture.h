#pragma once
#include "link/session.h"

namespace ridge::link {

/// A trace that is being taken.
struct Session::Capture {
    CaptureSettings settings;
    TraceDone done;
    Progress progress;
    std::vector<std::int32_t> flat;
    Values stamp;      ///< of the buffer that is read
    int triesLeft = 3; ///< when somebody arms it again meanwhile, our choice
};

} // namespace ridge::link
