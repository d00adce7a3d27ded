#include "store/catalogue.h"

#include "core/machine/axis.h"
#include "data.h"
#include "fieldjson.h"

#include <fmt/core.h>
#include <stdexcept>

namespace ridge::store {

namespace {

/// The first field of a part that lies outside its limits.
std::optional<Error> problemIn(std::span<const Field> fields, const void* object)
{
    for (const Field& f : fields)
        if (f.kind == FieldKind::Number)
            if (auto problem = problemOf(f, f.get(object))) {
                problem->subject = f.key;
                return problem;
            }
    return {};
}

std::optional<Error> order(const ServoMotor& m)
{
    if (!(m.ratedTorque <= m.stallTorque && m.stallTorque <= m.peakTorque))
        return Error{"out-of-range", "stallTorque", "Rated torque cannot exceed stall torque, nor stall torque the peak; check which column is which.", {}};
    if (!(m.ratedCurrent <= m.stallCurrent && m.stallCurrent <= m.peakCurrent))
        return Error{"out-of-range", "stallCurrent", "Rated current cannot exceed stall current, nor stall current the peak; check which column is which.", {}};
    return {};
}
template <class T>
std::optional<Error> order(const T&)
{
    return {};
}

template <class T>
void readRows(const json& document, const char* key, std::span<const Field> fields, std::vector<T>& out, std::vector<Error>& refused)
{
    const auto rows = document.find(key);
    if (rows == document.end())
        return;
    if (!rows->is_array() || rows->size() > 1000000)
        throw Wrong{std::string("/") + key, "a list was expected"};
    std::size_t n = 0;
    for (const json& row : *rows) {
        const std::string where = fmt::format("/{}/{}", key, n++);
        T part;
        try {
            readFields(row, fields, &part, false, where);
        } catch (const Wrong& wrong) {
            refused.push_back({"file-damaged", wrong.where, wrong.where + ": " + wrong.what + ".", {}});
            continue;
        }
        auto problem = problemIn(fields, &part);
        if (!problem)
            problem = order(part);
        if (problem) {
            problem->subject = where + "/" + problem->subject;
            refused.push_back(std::move(*problem));
            continue;
        }
        out.push_back(std::move(part));
    }
}

} // namespace

Result<Catalogue> parseCatalogue(std::string_view input)
{
    try {
        const json document = json::parse(input);
        if (!document.is_object() || document.value("format", "") != "vortex-ridge-catalogue")
            return refuse("file-foreign");
        Catalogue c;
        readRows(document, "servoMotors", motorFields(), c.motors, c.refused);
        readRows(document, "servoDrives", driveFields(), c.drives, c.refused);
        readRows(document, "brakeResistors", resistorFields(), c.resistors, c.refused);
        return c;
    } catch (const Wrong& wrong) {
        return refuse("file-damaged", wrong.where, wrong.where + ": " + wrong.what + ".");
    } catch (const json::exception& e) {
        return refuse("file-damaged", {}, e.what());
    }
}

const Catalogue& shippedCatalogue()
{
    static const Catalogue catalogue = [] {
        auto parsed = parseCatalogue(data::file("catalogue.json"));
        if (!parsed || !parsed->refused.empty()) // the file is part of the program: this is a broken build
            throw std::logic_error("catalogue.json: " + (parsed ? messageFor(parsed->refused.front()) + parsed->refused.front().subject : parsed.error().actual));
        return std::move(*parsed);
    }();
    return catalogue;
}

} // namespace ridge::store
