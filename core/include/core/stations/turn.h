#pragma once
#include "core/commutation/sweepreport.h"
#include "core/model/machine.h"
#include "core/objects/scaling.h"
#include "core/record/evidence.h"

#include <optional>
#include <string_view>
#include <vector>

namespace ridge {

/// What a finding of a sweep or a search means and what helps (common practice).
struct TurnWords {
    Message what, cure;
};
[[nodiscard]] TurnWords sweepWords(std::string_view code, std::string_view phase, double value);
/// The causes of a failed pole search in the order they are offered; the one the drive names comes first.
[[nodiscard]] std::vector<TurnWords> searchCauses(std::string_view code, bool hangs);
/// Result of a routine of the drive (2024:7, 2025:4, 2020:6) as its word; empty: done, or nothing yet.
[[nodiscard]] std::string_view routineWord(std::int64_t result);

/// Its poles are not known from its maker: built in by a person, or its feedback does not tell the angle.
[[nodiscard]] bool needsPhasing(const Axis& axis);
/// What a sweep of this axis is compared with, at a share of the rated current.
[[nodiscard]] SweepExpected sweepExpected(const Axis& axis, double share);

/// How far a vector sweep or a pole search moves the load.
struct SearchRoom {
    double travel = 0;          ///< that it needs, to both sides together [m or rad of the load]
    double speed = 0;           ///< that it may make [m/s or rad/s of the load]
    std::optional<double> free; ///< travel of the axis; nothing: endless or not entered
};
/// @param method  1: pulses, 2: turned vector, as 2024:1; 0: a sweep of so many electrical turns
[[nodiscard]] SearchRoom searchRoom(const Axis& axis, double travelPerRadian, int method, double turns = 3);

/// What the drive does by itself while a person holds.
enum class Routine { Sweep, Pulses, TurnedVector, Standing, TurningBare, TurningLoaded };
/// What a person confirms before it.
struct Confirmed {
    bool propped = false; ///< a hanging load is propped or balanced, not on its brake alone
    bool loadOff = false; ///< load, belt or rope is off
};
/// Why a routine is not begun on this axis (common practice); empty: it may be.
[[nodiscard]] Message refusalOfRoutine(const Axis& axis, Routine routine, const SearchRoom& room, Confirmed confirmed);

/// The words of a hand turn, with the gear of the chain for a wrong shaft.
[[nodiscard]] OneTurnCheck handCheck(const Axis& axis, const HandTurned& turned);
/// The codes in forward order, from whichever they begin: 5 1 3 2 6 4.
[[nodiscard]] bool hallsInOrder(std::string_view codes);

/// What a fact tells of poles and halls is void with another motor, encoder, phase or coupling.
[[nodiscard]] bool stillTold(const Fact& fact, const Evidence& evidence);

/// How far the two newest ways to the poles lie apart, electrical [rad]; nothing before there are two.
struct PhasesApart {
    const Fact *first = nullptr, *second = nullptr; ///< newest last
    double apart = 0;
};
[[nodiscard]] std::optional<PhasesApart> phasesApart(const Evidence& evidence);

/// The homings of one zero: those since the position was lost or the plan of homing changed.
struct HomingRun {
    std::vector<const Fact*> homings;
    double spread = 0;                 ///< of the zeros [m or rad]
    std::optional<double> edgeToIndex; ///< least, of those that found an index
};
[[nodiscard]] HomingRun homingRun(const Evidence& evidence);

/// Of an electrical self-tune, against the motor's data: relative errors.
struct ElectricalFit {
    double resistance = 0, inductance = 0;
    [[nodiscard]] bool good() const { return std::abs(resistance) <= 0.3 && std::abs(inductance) <= 0.3; }
};
[[nodiscard]] ElectricalFit electricalFit(const ServoMotor& motor, const SelfTuned& tuned);

} // namespace ridge
