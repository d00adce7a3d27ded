#pragma once
#include "core/wiring/plan.h"
#include "core/working/message.h"
#include "core/working/result.h"

#include <string>
#include <string_view>
#include <vector>

namespace ridge {

/// Parts of a plan as a person types them in one line. Each reader gives a sentence where a line cannot be read.
template <class T>
using Typed = tl::expected<T, Message>;

/// "U=mot.u V=mot.v R=ac.l1/L1": name, role, another name in use; in the order they stand on the device.
[[nodiscard]] std::string terminalsText(const WireDevice& device);
/// @param device  what is there already of a terminal stays with its name
[[nodiscard]] Typed<std::map<std::string, Terminal>> readTerminals(std::string_view text, const WireDevice& device);

/// "bus_v=565 fb_type=serial chopper=yes": numbers, words, yes and no.
[[nodiscard]] std::string propertiesText(const Properties& properties);
[[nodiscard]] Typed<Properties> readProperties(std::string_view text);

/// "outer=D1.SH1+M1.SH inner/brake=D1.0V"
[[nodiscard]] std::string shieldsText(const Cable& cable);
[[nodiscard]] Typed<std::vector<Shield>> readShields(std::string_view text);

/// "K1=-/end D1=1 D2=2/end/0.3": device, address, terminator, stub [m]
[[nodiscard]] std::string nodesText(const PlanBus& bus);
[[nodiscard]] Typed<std::vector<BusNode>> readNodes(std::string_view text);

/// "J4: 1-2 > 2-3; P1: 3/10 > 4/10; S1.2: off > on": jumpers, trimmers and switches of a board, before and after.
[[nodiscard]] std::string settingsText(const std::vector<BoardSetting>& settings);
[[nodiscard]] Typed<std::vector<BoardSetting>> readSettings(std::string_view text);

} // namespace ridge
