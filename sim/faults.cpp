#include "faults.h"

#include <array>

namespace ridge::sim {

namespace {
constexpr std::array kinds{
    FaultKind{1, "motor phases swapped", true, false},
    FaultKind{2, "a motor phase open", true, false},
    FaultKind{3, "encoder inverted", true, false},
    FaultKind{4, "halls in the wrong order", true, false},
    FaultKind{5, "pole pairs wrong", true, false},
    FaultKind{6, "resolution wrong", true, false},
    FaultKind{7, "coupling slips", true, false},
    FaultKind{8, "backlash", true, false},
    FaultKind{9, "high friction"},
    FaultKind{10, "brake not released"},
    FaultKind{11, "brake supply missing"},
    FaultKind{12, "resonance", true, false},
    FaultKind{13, "inertia overload"},
    FaultKind{14, "shield missing", true, false},
    FaultKind{15, "low bus voltage"},
    FaultKind{16, "brake resistor missing", true, false},
    FaultKind{17, "one torque-off channel open"},
    FaultKind{18, "limit switch inverted"},
    FaultKind{19, "encoder battery lost", true, false},
    FaultKind{20, "thermal sensor missing", true, false},
    FaultKind{21, "electronic gear wrong"},
    FaultKind{22, "following error window too small", true, false},
    FaultKind{23, "current sensor offset", true, false},
    FaultKind{24, "balance of gravity lost"},
    FaultKind{25, "index pulse missing", true, false},
    FaultKind{26, "a phase of the stepper in the wrong pair", false, true},
    FaultKind{27, "stepper current set too low", false, true},
    FaultKind{28, "steps per turn wrong", false, true},
    FaultKind{29, "enable input inverted", false, true},
    FaultKind{30, "stepper swings in its resonance", false, true},
};

void apply(FaultEffects& e, int number, double s)
{
    switch (number) {
    case 1: e.phasesSwapped = true; break;
    case 2: e.phaseOpen = true; break;
    case 3: e.encoderInverted = true; break;
    case 4: e.hallWiring = 1; break; // U W V: the other way round
    case 5: e.polePairs = 2; break;
    case 6: e.resolution = 1 + s; break;
    case 7: // the more the fault, the earlier and the further it slips
        e.slipAbove = 1 - 0.8 * s;
        e.slip = 2e-3 * s;
        break;
    case 8: e.gap = 0.02 * s; break;
    case 9: e.friction = 1 + 4 * s; break;
    case 10:
        e.brakeStuck = s > 0.5;
        e.brakeDrag = s;
        break;
    case 11: e.brakeSupply = false; break;
    case 12:
        e.stiffness = 1 - 0.75 * s;
        e.damping = 1 - 0.7 * s;
        break;
    case 13: e.load = 1 + 4 * s; break;
    case 14: e.noise = 400 * s; break;
    case 15: e.supply = 1 - 0.5 * s; break;
    case 16: e.resistor = false; break;
    case 17: e.stoB = false; break;
    case 18: e.limitInverted = true; break;
    case 19: e.batteryLost = true; break;
    case 20: e.thermometer = s > 0.5 ? 200 : -40; break;
    case 21: e.gear = 1 + 9 * s; break;
    case 22: e.window = 1 / (1 + 19 * s); break;
    case 23: e.currentOffset = 0.03 * s; break;
    case 24: e.balance = 0.3 * s; break;
    case 25: e.index = false; break;
    case 26: e.splitPair = true; break;
    case 27: e.stepperCurrent = 1 - 0.8 * s; break;
    case 28: e.stepsPerTurn = 1 + s; break;
    case 29: e.enableInverted = true; break;
    case 30: e.stepperDamping = 1 - 0.95 * s; break;
    default: break;
    }
}
} // namespace

std::span<const FaultKind> faultKinds() { return kinds; }

FaultEffects effectsOf(const std::map<int, int>& strengths)
{
    FaultEffects e;
    for (const auto& [number, strength] : strengths)
        if (strength > 0)
            apply(e, number, strength / 1000.0);
    return e;
}

} // namespace ridge::sim
