#pragma once
#include "core/model/field.h"
#include "core/model/machine.h"

#include <span>
#include <string_view>
#include <vector>

namespace ridge {

/// Tables of the model.
[[nodiscard]] std::span<const Field> siteFields();
[[nodiscard]] std::span<const Field> loadFields();
/// Those that count for this axis: a turning load has no slope, a counterbalance that is not there no springs.
[[nodiscard]] std::span<const Field> loadFieldsOf(const Axis& axis);
[[nodiscard]] std::span<const Field> mechanismFields(const Mechanism& mechanism);
[[nodiscard]] void* mechanismObject(Mechanism& mechanism); ///< what its fields are entries of
[[nodiscard]] const void* mechanismObject(const Mechanism& mechanism);
[[nodiscard]] std::span<const std::string_view> mechanismTypes();
[[nodiscard]] std::optional<Mechanism> mechanismOf(std::string_view type); ///< a blank one; none: no such type
[[nodiscard]] std::string_view mechanismType(const Mechanism& mechanism);  ///< its word in files, "ball-screw"
[[nodiscard]] std::string_view mechanismTitle(const Mechanism& mechanism); ///< "Ball screw"
[[nodiscard]] std::span<const Field> stageFields(StageKind kind);
[[nodiscard]] std::span<const Field> segmentFields();
[[nodiscard]] std::span<const Field> motorFields();
[[nodiscard]] std::span<const Field> driveFields();
[[nodiscard]] std::span<const Field> resistorFields();
[[nodiscard]] std::span<const Field> stepperMotorFields();
[[nodiscard]] std::span<const Field> stepperDriveFields();
[[nodiscard]] std::span<const Field> gearboxPartFields();
[[nodiscard]] std::span<const Field> brakeFields();
[[nodiscard]] std::span<const Field> encoderFields();
[[nodiscard]] std::span<const Field> supplyFields();
[[nodiscard]] std::span<const Field> solidFields();
[[nodiscard]] std::span<const Field> sheetFields(); ///< of a MotorSheet
[[nodiscard]] std::span<const Field> measuredFields();
[[nodiscard]] std::span<const Field> cycleFields();
[[nodiscard]] std::span<const Field> steppingFields();
[[nodiscard]] std::span<const Field> travelFields();
[[nodiscard]] std::span<const Field> supplyPlanFields();
[[nodiscard]] std::span<const Field> signalFields();
[[nodiscard]] std::span<const Field> unitFields();
[[nodiscard]] std::span<const Field> gantryFields();
[[nodiscard]] std::span<const Field> networkFields();
[[nodiscard]] std::span<const Field> mountingFields();
[[nodiscard]] std::span<const Field> wiringFields();
[[nodiscard]] std::span<const Field> commandFields();
[[nodiscard]] std::span<const Field> homingFields();
[[nodiscard]] std::span<const Field> parameterFields();
[[nodiscard]] std::span<const Field> turnFields();
[[nodiscard]] std::span<const Field> tuneFields();
/// The same in the units of this axis: of a linear motor the velocity gain is per m/s.
[[nodiscard]] std::span<const Field> tuneFieldsOf(const Axis& axis);
[[nodiscard]] std::span<const Field> guardFields();

/// Every struct of the axis with its table, for files, checks and search. The axis must outlive the groups.
[[nodiscard]] std::vector<FieldGroup> fieldGroups(Axis& axis);

/// Where a subject such as "load.moving" or "segment[2].time" stands, in the words of the window: "Load, Moving mass".
/// The subject itself where no field has it.
[[nodiscard]] std::string fieldWords(const Axis& axis, std::string_view subject);

/// All input problems at once, so that every field can be marked; subject is "group.key".
[[nodiscard]] std::vector<Error> inputProblems(const Axis& axis);
/// The same for the site, which every axis is judged on; subject is "site.key".
[[nodiscard]] std::vector<Error> siteProblems(const Site& site);
/// What is there and cannot be, of the site and of an axis; what is only missing is not among them. Nothing is computed
/// with these.
[[nodiscard]] std::vector<Error> refusedValues(const Machine& machine, const Axis& axis);

} // namespace ridge
