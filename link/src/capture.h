#pragma once
#include "link/session.h"

namespace ridge::link {

/// A trace that is being taken.
struct Session::Capture {
    CaptureSettings settings;
    TraceDone done;
    Progress progress;
    std::vector<std::int32_t> flat;
    bool cancelled = false;
};

} // namespace ridge::link
