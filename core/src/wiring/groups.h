#pragma once
#include "nets.h"

#include <functional>
#include <string>

namespace ridge::detail {

/// Called with rule id, subject and detail.
using Report = std::function<void(std::string, std::string, std::string)>;

void netRules(const Nets& nets, const Report& report);
void mainsRules(const Nets& nets, const Report& report);
void motorRules(const Nets& nets, const Report& report);
void brakeRules(const Nets& nets, const Report& report);
void resistorRules(const Nets& nets, const Report& report);
void torqueOffRules(const Nets& nets, const Report& report);

} // namespace ridge::detail
