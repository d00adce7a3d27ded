#pragma once
#include "core/working/message.h"

#include <QString>

namespace ridge::app {

/// The units in which the reader sees everything.
[[nodiscard]] UnitSystem unitSystem();
void setUnitSystem(UnitSystem system);

/// A word or template of the core in the reader's language.
[[nodiscard]] QString said(std::string_view coreText);

/// A sentence of the core in the reader's language and units.
[[nodiscard]] QString sentence(const Message& message);

} // namespace ridge::app
