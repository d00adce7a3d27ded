#pragma once
#include "core/commutation/halls.h"
#include "core/commutation/sweep.h"

#include <array>
#include <optional>
#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace ridge {

/// What a drive told at one moment of a sweep.
struct SweepSample {
    double field = 0;           ///< angle of the current vector, accumulated [deg]
    double counts = 0;          ///< of the motor's encoder
    int halls = 0;              ///< their code; 0 where none are fitted
    double u = 0, v = 0, w = 0; ///< phase currents [A]
};

/// What the sweep is compared with.
struct SweepExpected {
    double counts = 0;    ///< a turn of the motor; of a linear motor a magnet period, as entered
    double polePairs = 1; ///< as entered; of a linear motor 1
    bool linear = false, halls = false;
    double demand = 0; ///< amplitude of the vector [A]; 0: the currents are not told
    double rated = 0;  ///< continuous current of the motor, amplitude [A]
};

/// Words of the findings of a sweep; the order is that of the tests.
enum class SweepWord {
    CurrentOffset,
    OpenPhase,
    OnePolarity,
    NoMotion,
    Against,    ///< counts move against the field: phases swapped or feedback inverted
    PolesMixed, ///< poles and pole pairs were taken for each other
    PolesWrong,
    CountsDoubtful,
    PitchHalf,
    PitchDouble,
    PitchWrong,
    CountsDiffer, ///< forward and back
    LagLarge,
    LagNegative,
    HallStuck,
    HallSpread,
    HallNotPeriodic,
};
[[nodiscard]] std::string_view sweepCode(SweepWord word); ///< "OPEN_PHASE"

struct SweepFound {
    SweepWord word = SweepWord::NoMotion;
    char phase = 0;   ///< U, V, W where one is meant
    double value = 0; ///< what was found, in the unit of the word
};

/// All that a sweep forward and back tells, tested in the order in which one thing hides another. What a test forbids
/// is not computed: without motion there are no poles.
struct SweepReport {
    std::vector<SweepFound> found;   ///< first the one that explains the others
    double turns = 0;                ///< electrical, forward
    double moved = 0, movedBack = 0; ///< counts, signed
    std::optional<CurrentLocus> locus;
    std::optional<PoleCheck> poles;
    std::optional<PitchCheck> pitch;
    std::optional<double> forward, backward; ///< field minus counted angle [deg]
    std::optional<SweepOffset> offset;
    std::optional<HallSolution> halls;
    [[nodiscard]] bool clean() const { return found.empty() && offset; }
    [[nodiscard]] const SweepFound* first() const { return found.empty() ? nullptr : &found.front(); }
};
/// @error trace-too-short below 30 samples a way
[[nodiscard]] Result<SweepReport> reportSweep(std::span<const SweepSample> forward,
                                              std::span<const SweepSample> backward, const SweepExpected& expected);

inline constexpr double lagLimit = 20; ///< [deg]

/// The offset of the poles and what a constant torque holds, from the offsets at two currents: the offset stays, the
/// torque's share goes with asin(T/(K·I)).
struct HeldApart {
    double offset_deg = 0, torque = 0; ///< torque over K, as a current [A]
};
/// @param offsets  at the currents [deg], [A]. @error currents-too-close, load-above-holding
[[nodiscard]] Result<HeldApart> holdApart(double offset1_deg, double current1, double offset2_deg, double current2);

/// Samples as text, a line each "field counts halls u v w" [deg], [A], and back; forward and backward parted by an
/// empty line. Thinned to a sample every three degrees.
[[nodiscard]] std::string writeSweep(std::span<const SweepSample> forward, std::span<const SweepSample> backward);
struct SweepWays {
    std::vector<SweepSample> forward, backward;
};
/// Hostile until parsed: what is no sample is left out.
[[nodiscard]] SweepWays readSweep(std::string_view text);

/// How far two offsets lie apart around the turn [deg].
[[nodiscard]] double offsetsApart(double a_deg, double b_deg) noexcept;

} // namespace ridge
