#pragma once
#include "core/stations/wire.h"
#include "core/wiring/devices.h"

#include <initializer_list>
#include <set>
#include <string>
#include <string_view>
#include <vector>

namespace ridge::detail {

/// Draws a plan from device templates: a device at a time, then cables, then conductors.
class Laying {
public:
    explicit Laying(WirePlan& plan)
        : m_plan(plan)
    {}
    /// @param parts  of the template that are wanted; the reference lives until the next device
    WireDevice& device(const std::string& id, std::string_view of, const std::set<std::string>& parts = {});
    [[nodiscard]] WireDevice& the(std::string_view id); ///< that is there already
    void cable(const std::string& id, const char* use, double length, std::vector<Shield> shields = {});
    void run(const CableRun& run) { m_plan.runs.push_back(run); }
    void wire(const std::string& a, const std::string& b, const std::string& cable, double mm2,
              const std::string& colour = {}, const std::string& pair = {});
    /// A conductor for each of these roles that both devices have, in the template's order; channel and complement are
    /// one pair.
    void sameRoles(const std::string& from, const std::string& to, const std::string& cable, double mm2,
                   std::initializer_list<std::string_view> roles);
    /// A conductor for each role that a device has in common with one port of another.
    void samePort(const std::string& from, const std::string& port, const std::string& to, const std::string& cable,
                  double mm2);
    /// "D1.U": the first terminal of a role; empty: the device has none.
    [[nodiscard]] std::string at(const std::string& device, std::string_view role) const;
    [[nodiscard]] bool has(const std::string& device) const { return m_plan.device(device) != nullptr; }

private:
    WirePlan& m_plan;
};

inline constexpr double controlWire = 0.75, signalWire = 0.5, heavyWire = 1; ///< of a cabinet, our choice [mm²]
/// Cross-section in the unit of the trade.
[[nodiscard]] double mm2(double area);

void laySupply(Laying& draft, const WirePlanInput& input);
void layDrive(Laying& draft, const WirePlanInput& input);
void layMotor(Laying& draft, const WirePlanInput& input);
void layFeedback(Laying& draft, const WirePlanInput& input);
void laySecondFeedback(Laying& draft, const WirePlanInput& input);
void layHalls(Laying& draft, const WirePlanInput& input);
void layResistor(Laying& draft, const WirePlanInput& input);
void layControl(Laying& draft, const WirePlanInput& input);

/// What the drive of an axis is, by the templates: "drive-three-phase", "stepper-pulse" ...
[[nodiscard]] std::string driveTemplate(const WirePlanInput& input);
[[nodiscard]] std::string templateOf(FeedbackKind kind);
/// The feedback device, by the templates; empty: none.
[[nodiscard]] std::string feedbackTemplate(const WirePlanInput& input);
[[nodiscard]] bool fedByMains(const WirePlanInput& input); ///< else with direct current
[[nodiscard]] bool onePhase(const WirePlanInput& input);   ///< of the drive's mains input
[[nodiscard]] bool pulseDriven(const WirePlanInput& input);

} // namespace ridge::detail
