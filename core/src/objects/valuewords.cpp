#include "core/objects/valuewords.h"

#include <algorithm>
#include <array>

namespace ridge {

namespace {
using W = ValueWord;
constexpr std::array quickStop{W{0, "torque off"},
                               W{1, "ramp of moves, then off"},
                               W{2, "quick stop ramp, then off"},
                               W{3, "current limit, then off"},
                               W{4, "voltage limit, then off"},
                               W{5, "ramp of moves, stays enabled"},
                               W{6, "quick stop ramp, stays enabled"},
                               W{7, "current limit, stays enabled"},
                               W{8, "voltage limit, stays enabled"}};
constexpr std::array disable{W{0, "torque off"}, W{1, "ramp, then off"}};
constexpr std::array halt{W{1, "ramp of moves"}, W{2, "quick stop ramp"}};
constexpr std::array faultStop{W{0, "coasts"}, W{1, "ramp of moves"}, W{2, "quick stop ramp"}, W{3, "current limit"},
                               W{4, "voltage limit"}};
constexpr std::array modes{W{1, "position moves"}, W{3, "speed"}, W{4, "torque"}, W{6, "homing"},
                           W{8, "cyclic position"}};
constexpr std::array polarity{W{0, "as counted"}, W{0x80, "position reversed"}, W{0xC0, "reversed"}};
constexpr std::array profile{W{0, "trapezoid"}, W{3, "jerk-limited"}};
constexpr std::array homing{W{1, "low limit, then index"}, W{2, "high limit, then index"}, W{17, "low limit"},
                            W{18, "high limit"},           W{33, "next index, downwards"}, W{34, "next index, upwards"},
                            W{37, "where it stands"}};
constexpr std::array yesNo{W{0, "no"}, W{1, "yes"}};
constexpr std::array fitted{W{0, "none"}, W{1, "fitted"}};
constexpr std::array onOff{W{0, "off"}, W{1, "on"}};
constexpr std::array level{W{0, "high enables"}, W{1, "low enables"}};
constexpr std::array sensors{W{0, "serial, absolute"}, W{1, "incremental with halls"}, W{2, "incremental"}};
constexpr std::array direction{W{0, "as wired"}, W{1, "inverted"}};
constexpr std::array sources{W{0, "network"}, W{1, "analog speed"}, W{2, "analog torque"}, W{3, "pulses"}};
constexpr std::array search{W{1, "pulses"}, W{2, "turned vector"}};
constexpr std::array encoderUse{W{0, "none"}, W{1, "stall detection"}};
constexpr std::array inputs{W{0, "no function"}, W{1, "low limit"},   W{2, "high limit"}, W{3, "home switch"},
                            W{4, "enable"},      W{5, "fault reset"}, W{6, "quick stop"}};
constexpr std::array outputs{W{0, "no function"}, W{1, "ready"}, W{2, "fault"},   W{3, "brake open"}, W{4, "reached"},
                             W{5, "stands"},      W{6, "homed"}, W{7, "warning"}, W{8, "torque on"}};
} // namespace

std::span<const ValueWord> inputFunctions() { return inputs; }
std::span<const ValueWord> outputFunctions() { return outputs; }

std::span<const ValueWord> valueWords(ObjectKey key)
{
    switch (key.index) {
    case 0x605A: return quickStop;
    case 0x605C: return disable;
    case 0x605D: return halt;
    case 0x605E: return faultStop;
    case 0x6060:
    case 0x6061: return modes;
    case 0x607E: return polarity;
    case 0x6086: return profile;
    case 0x6098: return homing;
    case 0x2027: return key.sub <= inputTerminals ? std::span<const ValueWord>(inputs) : std::span<const ValueWord>();
    case 0x2028: return outputs;
    default: break;
    }
    switch (key.index << 8 | key.sub) {
    case 0x210404:
    case 0x210504:
    case 0x210604:
    case 0x210704: return onOff;
    case 0x213001:
    case 0x213201: return fitted;
    case 0x213004: return yesNo;
    case 0x201902: return level;
    case 0x201A03: return sources;
    case 0x202401: return search;
    case 0x202601: return sensors;
    case 0x202602: return fitted;
    case 0x202605: return direction;
    case 0x203301: return yesNo;
    case 0x202908: return yesNo;
    case 0x202A05: return encoderUse;
    default: return {};
    }
}

std::string_view valueWord(ObjectKey key, std::int64_t value)
{
    const auto words = valueWords(key);
    const auto it = std::ranges::find(words, value, &ValueWord::value);
    return it == words.end() ? std::string_view{} : it->word;
}

} // namespace ridge
