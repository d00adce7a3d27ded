#pragma once
#include "document.h"

namespace ridge::app {

/// Records what a person typed about the selected axis, if nothing refuses it. @return empty when it is in the file,
/// else the sentence that says why not
[[nodiscard]] Message recordTyped(Document& document, const Payload& payload, const Instrument& instrument = {});

} // namespace ridge::app
