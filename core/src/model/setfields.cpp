// Tables of what a person decides about command, homing and parameters.
#include "core/model/fields.h"

#include "fieldlimits.h"

#include <array>

namespace ridge {

namespace {
using namespace detail;
using enum Quantity;

constexpr std::array commandTable{
    choice<&CommandPlan::source>("source", "Command from",
                                 "Where the drive takes its command from; it decides which loops close where."),
    choice<&CommandPlan::mode>("mode", "The network commands"),
    flag<&CommandPlan::controllerCloses>("controllerCloses", "Controller corrects the position",
                                         "It reads the position back and corrects it in a loop of its own."),
    number<&CommandPlan::controllerWindow>("controllerWindow", "Following error of the controller", Travel,
                                           {0, 1000, true, "not-positive"},
                                           "Where the controller trips by itself; the drive has a window of its own."),
    number<&CommandPlan::perPulse>("perPulse", "Way of a pulse", Travel, {0, 1, true, "not-positive"},
                                   "What one command pulse is to move at the load."),
    number<&CommandPlan::gearLimit>("gearLimit", "Largest gear number", Count, {1, 4294967295.0, false, "count"},
                                    "Of the drive's pulse gear, up and down."),
    flag<&CommandPlan::driftAccepted>("driftAccepted", "Drift accepted",
                                      "No ratio within the limit is exact: the nearest is taken, and it drifts."),
    number<&CommandPlan::fullVolts>("fullVolts", "Full command", Voltage, {0, 15, true, "out-of-range"},
                                    "Its sign is the direction, its size the speed or the torque."),
    number<&CommandPlan::fullSpeed>("fullSpeed", "Speed at full command", TravelSpeed, {0, 2e4, true, "not-positive"}),
    number<&CommandPlan::fullTorque>("fullTorque", "Torque at full command", Torque, {0, 1e6, true, "not-positive"},
                                     "Of the motor; of a linear motor its force."),
    number<&CommandPlan::offset>("offset", "Offset at standstill", Voltage, {-1, 1, false, "out-of-range"},
                                 "Measured at the drive's input while the controller commands nothing."),
    number<&CommandPlan::bits>("bits", "Bits of the output", Count, {8, 24, false, "count"}, "Sign included."),
};
constexpr std::array homingTable{
    choice<&HomingPlan::method>("method", "Homing", "How the axis finds its zero after power-up, or that it need not."),
    number<&HomingPlan::fast>("fast", "Speed to the switch", TravelSpeed, {0, 2e4, true, "not-positive"}),
    number<&HomingPlan::slow>("slow", "Speed to the zero", TravelSpeed, {0, 2e4, true, "not-positive"},
                              "Slow repeats better: the switch is seen once a cycle of the drive."),
    number<&HomingPlan::acceleration>("acceleration", "Homing ramp", TravelAcceleration,
                                      {0, 1e5, true, "not-positive"}),
    number<&HomingPlan::offset>("offset", "Position of what is found", Travel, anyLimits,
                                "The position that switch or index get; zero lies from there."),
    words<&HomingPlan::zero>("zero", "What is at zero"),
    words<&HomingPlan::reason>("reason", "Why none"),
};
constexpr std::array parameterTable{
    flag<&ParameterPlan::positiveIsNegative>("positiveIsNegative", "Positive reversed",
                                             "Direction of the user: a positive command turns the motor backwards."),
    choice<&ParameterPlan::shaftSense>("shaftSense", "Positive on the shaft",
                                       "As the maker counts it, looking at the end of the shaft; schools differ."),
    flag<&ParameterPlan::feedbackInverted>("feedbackInverted", "Feedback inverted",
                                           "Direction of counting, apart from that of the user; by parameter, never by "
                                           "wires."),
    choice<&ParameterPlan::poles>("poles", "Poles known by", "How the drive knows its commutation angle."),
    number<&ParameterPlan::poleAngle>("poleAngle", "Angle of the poles", Angle,
                                      {-6.2832, 6.2832, false, "out-of-range"},
                                      "Electrical, at count 0; kept from phasing."),
    number<&ParameterPlan::hallForm>("hallForm", "Form of the halls", Count, {0, 61, false, "count"},
                                     "Order 0 to 5 of UVW UWV VUW VWU WUV WVU, plus 8 times the inverted inputs; kept "
                                     "from phasing."),
    choice<&ParameterPlan::motorSensor>("motorSensor", "Motor temperature sensor",
                                        "With none its monitor is switched off on purpose, by name and reason."),
    number<&ParameterPlan::firstCurrent>("firstCurrent", "Current before phasing", Share, {0.05, 1, false, "share"},
                                         "20 to 30 % of the motor's continuous current, common practice."),
    number<&ParameterPlan::frictionFeedforward>("frictionFeedforward", "Friction feedforward", Share,
                                                {0, 1, false, "share"}, "Of the constant friction of Load."),
    number<&ParameterPlan::smoothing>("smoothing", "Command smoothing", Time, {0, 1, false, "out-of-range"}),
    number<&ParameterPlan::switching>("switching", "Switching frequency", Frequency,
                                      {1000, 64000, false, "out-of-range"},
                                      "Empty: that of the drive's data. Higher is quieter and leaves less current."),
    words<&ParameterPlan::leastFirmware>("leastFirmware", "Least firmware", "That the job needs, such as 3.2.1."),
    words<&ParameterPlan::leastSafety>("leastSafety", "Least safety firmware"),
    words<&ParameterPlan::leastTool>("leastTool", "Least version of this program"),
};
} // namespace

std::span<const Field> commandFields() { return commandTable; }
std::span<const Field> homingFields() { return homingTable; }
std::span<const Field> parameterFields() { return parameterTable; }

} // namespace ridge
