#pragma once
#include "core/commutation/halls.h"
#include "core/control/plantmotion.h"
#include "core/control/random.h"
#include "core/control/stepperrotor.h"
#include "core/drives/servo.h"

#include "bus.h"
#include "faults.h"
#include "truth.h"

#include <array>
#include <cstdint>
#include <memory>

namespace ridge::sim {

/// What the power stage is asked for in one tick.
struct Stage {
    bool on = false;
    double q = 0, d = 0;               ///< currents in the frame of `field` [A peak]
    double field = 0, fieldSpeed = 0;  ///< electrical angle that the control believes, and its rate [rad], [rad/s]
    double gain = 0, integralRate = 0; ///< of the current loop [V/A], [V/(A·s)]
    double stepperCurrent = 0;         ///< of a stepper: peak of the sine [A]; `field` and its speed are of the rotor
};

/// What hands, plugs and jumpers have changed.
struct Hands {
    double push = 0; ///< torque on the load [N·m]
    bool motorCable = true, feedbackCable = true, brakeWire = true, secondCable = true, hallCable = true,
         limitPlug = true, thermalWire = true, resistorWire = true, mains = true;
    bool homePushed = false;
};

/// Motor, mechanics, encoder, brake, switches and heat: the side of the world that only measures and pushes. Everything
/// at the motor shaft; time goes in ticks of 1/16000 s.
class AxisMachine {
public:
    static constexpr double tickTime = 1.0 / 16000;
    AxisMachine(const Truth& truth, std::shared_ptr<Bus> bus);

    void tick(const Stage& stage);
    void everyMillisecond(); ///< heat and what slips
    void setFaults(const FaultEffects& effects);
    void setSeed(std::uint64_t seed);
    void setHands(const Hands& hands) { m_hands = hands; }
    [[nodiscard]] const Hands& hands() const { return m_hands; }

    void brake(bool open); ///< the drive's output; acts after its time
    [[nodiscard]] bool brakeHolds() const { return m_brakeHolds; }
    [[nodiscard]] bool brakeOpen() const { return m_brakeOpen; } ///< the output
    [[nodiscard]] bool brakeSupplied() const;

    /// What the drive counts; straight after power-up the turns may be gone.
    [[nodiscard]] std::int64_t counts() const { return m_counts; }
    [[nodiscard]] double measured() const { return m_measured; } ///< [rad]
    [[nodiscard]] std::int64_t secondCounts() const;
    [[nodiscard]] int hall() const;
    [[nodiscard]] bool indexAt() const; ///< within a count of it
    [[nodiscard]] bool lowSwitch() const;
    [[nodiscard]] bool highSwitch() const;
    [[nodiscard]] bool homeSwitch() const;
    /// Power off and on. @return whether whole turns were lost
    bool powerUp();

    [[nodiscard]] double angle() const { return m_angle; }
    [[nodiscard]] double speed() const { return m_speed; }
    [[nodiscard]] double loadAngle() const { return m_truth.stepper ? m_angle : m_plant.loadAngle(); }
    [[nodiscard]] double loadSpeed() const { return m_truth.stepper ? m_speed : m_plant.loadSpeed(); }
    [[nodiscard]] double torque() const { return m_torque; }                           ///< of the motor
    [[nodiscard]] const std::array<double, 3>& currents() const { return m_currents; } ///< as sensed [A]
    [[nodiscard]] double torqueCurrent() const { return m_iq; }       ///< in the frame of the field [A peak]
    [[nodiscard]] double fieldCurrent() const { return m_id; }        ///< [A peak]
    [[nodiscard]] double fieldVoltage() const { return m_vd; }        ///< that the regulator asks for [V]
    [[nodiscard]] double currentSquares() const { return m_squares; } ///< (A rms)²
    [[nodiscard]] double electricalAngle() const;                     ///< of the poles [rad]
    [[nodiscard]] double winding() const { return m_winding; }        ///< [°C]
    [[nodiscard]] double windingTold() const;                         ///< as the sensor says
    [[nodiscard]] double driveTemperature() const { return m_heatsink; }
    [[nodiscard]] Bus& bus() { return *m_bus; }
    [[nodiscard]] const Bus& bus() const { return *m_bus; }
    [[nodiscard]] const Truth& truth() const { return m_truth; }
    [[nodiscard]] const FaultEffects& faults() const { return m_faults; }
    [[nodiscard]] double gravity() const { return m_plant.plant().gravityAt(m_angle); }
    /// Passes of the index since power-up, and the count at the last one.
    [[nodiscard]] std::int64_t indexPasses() const { return m_indexPasses; }
    [[nodiscard]] std::int64_t countAtIndex() const { return m_countAtIndex; }
    void invertSensor(bool inverted);                        ///< by a parameter of the drive
    void setSwitching(double share) { m_switching = share; } ///< of its frequency to that of the rating
    [[nodiscard]] std::int64_t lostSteps(double field) const { return m_rotor.lostSteps(field); }

    /// By hand, without torque.
    void turnTo(double angle);
    /// From outside, e.g. the other side of a gantry [N·m].
    void pushFromBeam(double torque) { m_beam = torque; }
    [[nodiscard]] PhaseData phase() const { return m_phase; }

private:
    void electric(const Stage& stage);
    void stepping(const Stage& stage);
    void sense();
    void applyPlant();

    Truth m_truth;
    std::shared_ptr<Bus> m_bus;
    FaultEffects m_faults;
    Hands m_hands;
    PlantMotion m_plant;
    StepperRotor m_rotor;
    SplitMix m_noise;
    PhaseData m_phase;
    double m_resistance = 0;
    double m_angle = 0, m_speed = 0, m_torque = 0, m_beam = 0;
    double m_alpha = 0, m_beta = 0, m_iq = 0, m_id = 0, m_vd = 0, m_sumD = 0, m_sumQ = 0, m_squares = 0;
    std::array<double, 3> m_currents{};
    std::int64_t m_counts = 0, m_lostCounts = 0, m_indexPasses = 0, m_countAtIndex = 0;
    double m_turnsBefore = 0, m_switching = 1;
    bool m_inverted = false;
    double m_measured = 0, m_countSize = 0, m_perRadian = 0;
    bool m_brakeOpen = false, m_brakeHolds = true;
    std::int64_t m_brakeAt = -1, m_ticks = 0;
    double m_winding = 25, m_housing = 25, m_heatsink = 25, m_losses = 0;
};

} // namespace ridge::sim
