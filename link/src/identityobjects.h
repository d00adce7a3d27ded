#pragma once
#include "core/objects/objects.h"

namespace ridge::link {

/// Objects by which a drive says what it is (CiA 301), and the number of the drive profile (CiA 402, IEC 61800-7-201).
inline constexpr ObjectKey deviceTypeObject{0x1000, 0}, serialNumberObject{0x1018, 4}, supportedModesObject{0x6502, 0},
    makerObject{0x2010, 1}, deviceNameObject{0x1008, 0};
inline constexpr std::int64_t driveProfile = 402;

} // namespace ridge::link
