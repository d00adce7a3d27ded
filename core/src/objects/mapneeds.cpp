#include "core/objects/mapneeds.h"

#include <array>

namespace ridge {

namespace {
constexpr std::array identity{ObjectKey{0x1000, 0}, ObjectKey{0x1018, 4}};
constexpr std::array motion{ObjectKey{0x6040, 0}, ObjectKey{0x6041, 0}, ObjectKey{0x603F, 0},
                            ObjectKey{0x6060, 0}, ObjectKey{0x6061, 0}, ObjectKey{0x6064, 0}};
constexpr std::array positioning{ObjectKey{0x607A, 0}, ObjectKey{0x6081, 0}, ObjectKey{0x6083, 0},
                                 ObjectKey{0x6084, 0}};
constexpr std::array save{ObjectKey{0x2300, 1}};
constexpr std::array watchdog{ObjectKey{0x2011, 1}, ObjectKey{0x2011, 2}, ObjectKey{0x2011, 3}};
constexpr std::array trace{ObjectKey{0x2200, 1},  ObjectKey{0x2200, 2}, ObjectKey{0x2200, 3},
                           ObjectKey{0x2200, 5},  ObjectKey{0x2200, 6}, ObjectKey{0x2200, 9},
                           ObjectKey{0x2200, 12}, ObjectKey{0x2201, 0}, ObjectKey{0x2202, 1}};
constexpr std::array vector{ObjectKey{0x2020, 1}, ObjectKey{0x2020, 3}, ObjectKey{0x2020, 5}, ObjectKey{0x2020, 6}};
constexpr std::array excitation{ObjectKey{0x2023, 1}, ObjectKey{0x2023, 2}, ObjectKey{0x2023, 6}};
constexpr std::array poleSearch{ObjectKey{0x2024, 1}, ObjectKey{0x2024, 5}, ObjectKey{0x2024, 7},
                                ObjectKey{0x2024, 11}};
constexpr std::array winding{ObjectKey{0x2025, 2}, ObjectKey{0x2025, 4}, ObjectKey{0x2025, 5}, ObjectKey{0x2025, 10}};
constexpr std::array safeStop{ObjectKey{0x2301, 1}, ObjectKey{0x2301, 2}};
constexpr std::array safeValues{ObjectKey{0x2030, 1}};
constexpr std::array secondEncoder{ObjectKey{0x2029, 1}};
constexpr std::array owner{ObjectKey{0x201A, 1}, ObjectKey{0x201A, 2}};
constexpr std::array conditions{ObjectKey{0x2015, 1}, ObjectKey{0x2015, 2}};
constexpr std::array history{ObjectKey{0x1003, 0}, ObjectKey{0x1003, 1}};
constexpr std::array moment{ObjectKey{0x2016, 1}};

struct Need {
    MapFeature feature;
    std::span<const ObjectKey> objects;
    const char *words, *instead;
};
const std::array needs{
    Need{MapFeature::Identity, identity, "who the drive is", "nothing is kept of it and nothing is written to it"},
    Need{MapFeature::Motion, motion, "moving and stopping it", "move it by its own keypad and enter what was seen"},
    Need{MapFeature::Positioning, positioning, "test moves to a place", "let its own program move it"},
    Need{MapFeature::Save, save, "saving in the drive", "save by its own means, then say so"},
    Need{MapFeature::Watchdog, watchdog, "a stop when this program goes silent",
         "an enabling device in hand, wired to the drive"},
    Need{MapFeature::Trace, trace, "recording in the drive", "enter what a recorder shows"},
    Need{MapFeature::Vector, vector, "turning the current vector", "power the phases from a bench supply"},
    Need{MapFeature::Excitation, excitation, "excitation inside the drive", "by its own tool; enter the response"},
    Need{MapFeature::PoleSearch, poleSearch, "the drive's pole search", "by its own tool; enter the angle"},
    Need{MapFeature::Winding, winding, "the drive's measurement of its winding", "measure it with a meter"},
    Need{MapFeature::SafeStop, safeStop, "the safe stop asked by this program", "press its button and time it"},
    Need{MapFeature::SafeValues, safeValues, "the safety checksum", "read it off the drive and enter it"},
    Need{MapFeature::SecondEncoder, secondEncoder, "the second encoder", "read it off the drive"},
    Need{MapFeature::Owner, owner, "who commands the drive", "look at its keypad and its controller"},
    Need{MapFeature::Conditions, conditions, "what is missing for enabling", "each condition is asked of a person"},
    Need{MapFeature::History, history, "the drive's own list of errors", "write its lamp or code down"},
    Need{MapFeature::Moment, moment, "all values of one moment", "they are of the time of a few requests"}};
} // namespace

std::span<const ObjectKey> objectsOf(MapFeature feature)
{
    for (const Need& n : needs)
        if (n.feature == feature)
            return n.objects;
    return {};
}

std::vector<ClosedFeature> closedBy(const ObjectDictionary& map)
{
    std::vector<ClosedFeature> out;
    for (const Need& n : needs) {
        ClosedFeature c{n.feature, {}, n.words, n.instead};
        for (const ObjectKey key : n.objects)
            if (!map.find(key))
                c.missing.push_back(key);
        if (!c.missing.empty())
            out.push_back(std::move(c));
    }
    return out;
}

} // namespace ridge
