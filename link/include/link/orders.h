#pragma once
#include "core/commutation/sweepreport.h"

#include <cstdint>
#include <functional>
#include <optional>
#include <vector>

namespace ridge::link {

// What is asked of the runs of Turn, and what comes of them. Ways and speeds in position units of the drive, torque and
// current in thousandths of what is rated.

/// The current vector turned there and back, without any loop.
struct SweepOrder {
    std::int64_t current = 100, most = 1000; ///< to begin with; raised up to this while the rotor lags
    double rate = 0.5;                       ///< electrical turns a second
    double turns = 3;                        ///< electrical, each way
    std::int64_t travelLimit = 0;            ///< of the drive [counts]; 0: none
    bool twoCurrents = false; ///< once more at double the current: parts a constant torque from the offset
    SweepExpected expected;   ///< at the first current
};
/// There and back at one current.
struct SweepPass {
    std::int64_t current = 0;
    std::vector<SweepSample> forward, backward;
};
using SweepLive = std::function<void(const SweepSample& sample, bool back, std::int64_t current)>;

/// The drive's own search for the poles.
struct SearchOrder {
    int method = 1; ///< 2024:1
    std::int64_t current = 600;
    double travel = 0, speed = 0; ///< permitted, mechanical of the motor [rad], [rad/s]
};
struct SearchFound {
    std::int64_t result = 0;      ///< 2024:7; 1: found
    double angle = 0, before = 0; ///< electrical, of the poles at count 0 [rad]
};

/// The drive measures its motor.
struct SelfTuneOrder {
    int kind = 0; ///< 2025:11, 0 standing, 1 turning
    std::int64_t current = 500;
    std::int64_t travelLimit = 0; ///< [counts]
};
struct SelfTuneFound {
    std::int64_t result = 0;                                           ///< 2025:4; 1: measured
    double resistance = 0, inductance = 0, gain = 0, integralTime = 0; ///< line to line; [V/A], [s]
    std::vector<double> current; ///< amplitude of the vector while it was measured [A]; empty: the drive records none
    double step = 0;             ///< of its samples [s]
};

/// Creeping onto a switch, or to a hard end, and off again.
struct LimitOrder {
    double speed = 0; ///< signed
    std::int64_t torqueLimit = 0;
    double most = 0; ///< way after which nothing is expected any more
};
struct LimitSeen {
    bool switched = false, stopped = false, left = false; ///< the switch acted; the drive stopped on it; it left alone
    bool hard = false;                                    ///< it stood at an end without a switch
    std::int64_t position = 0;                            ///< where it stood
};

struct HomeSeen {
    double zero = 0;                   ///< of user position 0 by the encoder, which counts on [counts]
    double from = 0;                   ///< where it began [counts]
    std::optional<double> edgeToIndex; ///< [counts]
};

/// Point after point, there and back, again and again.
struct PointsOrder {
    std::vector<double> points; ///< from where it stands; returned to 0 at the end of each round
    double speed = 0;           ///< 0: as the drive holds it
    std::int64_t torqueLimit = 0;
    int rounds = 1;
};
struct PointsSeen {
    int rounds = 0;
    double left = 0;                 ///< from where it began, by the drive's count
    std::optional<double> lostSteps; ///< by the drive, of a stepper with an encoder
};

struct EncodersSeen {
    double motor = 0, load = 0; ///< counts of the motor's encoder; of the load's, in the motor's by ratio and sign
};

struct AnalogSample {
    double volts = 0, speed = 0; ///< position units per second
};

/// Enabled as it is after power-up, moved a little, then compared with a vector.
struct ProofSeen {
    bool searched = false; ///< the drive looked for its poles when it was enabled
    double error = 0;      ///< of the angle it keeps, electrical [rad]
};

} // namespace ridge::link
