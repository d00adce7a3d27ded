#pragma once
#include "core/wiring/plan.h"

#include <set>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace ridge {

/// A device as it is drawn before a person changes it (data/devices): terminals as printed, in their order.
struct DeviceTemplate {
    struct Spot {
        std::string name, part; ///< part: drawn only where it is wanted; empty: always
        Terminal terminal;
    };
    std::string id, kind, name, title; ///< name: what it is called in a plan
    std::vector<Spot> spots;
    std::vector<std::pair<std::string, std::string>> through;
    Properties properties;
};
[[nodiscard]] std::span<const DeviceTemplate> deviceTemplates();
[[nodiscard]] const DeviceTemplate* deviceTemplate(std::string_view id); ///< null: none of that name

/// A device of a plan. @param parts  that are wanted of it
[[nodiscard]] WireDevice layDevice(const DeviceTemplate& of, std::string id, const std::set<std::string>& parts);

} // namespace ridge
