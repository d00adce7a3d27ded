#pragma once
#include "core/model/actuator.h"
#include "core/model/command.h"
#include "core/model/load.h"
#include "core/model/mechanism.h"
#include "core/model/settings.h"
#include "core/model/solid.h"
#include "core/motion/cycle.h"

#include <map>
#include <string>
#include <vector>

namespace ridge {

struct CycleSettings {
    double start = 0;
    double offset = 0; ///< start inside the cycle of the machine [s]
    std::vector<Segment> segments;
    bool operator==(const CycleSettings&) const = default;
};

/// The plan of one axis: what a person decides. What happened to it stands in the record, see core/record/fact.h.
struct Axis {
    std::string id, name, note;
    std::string extra; ///< JSON of keys this version does not know; kept as they came
    Load load;
    Mechanism mechanism;
    std::vector<StageElement> stages;
    CycleSettings cycle;
    TravelPlan travel;
    Actuator actuator;
    SupplyPlan supply;
    SignalPlan io;
    std::map<std::string, std::vector<Solid>> bodies; ///< how the value of a field was built, by "group.key"
    WiringPlan wiring;
    LinkPlan link;
    CommandPlan command;
    HomingPlan homing;
    ParameterPlan parameters;
    TurnPlan turn;
    TuneSettings tune;
    GuardPlan guard;
    bool operator==(const Axis&) const = default;
};

/// Gives the axis another mechanism. Only a linear motor can drive a linear axis and only there: a motor that no longer
/// fits goes, its drive stays.
void changeMechanism(Axis& axis, const Mechanism& mechanism);

} // namespace ridge
