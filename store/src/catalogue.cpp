#include "store/catalogue.h"

#include "core/model/fields.h"
#include "core/working/jsontext.h"

#include "csv.h"
#include "data.h"
#include "fieldjson.h"
#include "inparallel.h"

#include <fmt/format.h>

#include <algorithm>
#include <optional>
#include <set>
#include <stdexcept>
#include <unordered_map>
#include <unordered_set>

namespace ridge::store {

namespace {

/// The first field of a part that lies outside its limits.
std::optional<Error> problemIn(std::span<const Field> fields, const void* object)
{
    for (const Field& f : fields)
        if (f.kind == FieldKind::Number) {
            auto problem = problemOf(f, f.get(object));
            if (!problem && f.gap && !f.get(object)) // a plate may lack it, a catalogue not
                problem = Error{std::string(f.limits.code), std::string(f.label), {}, {}, f.limits.low, f.quantity};
            if (problem) {
                problem->subject = f.key;
                return problem;
            }
        }
    return {};
}

std::optional<Error> order(const ServoMotor& m)
{
    if (!(m.ratedTorque <= m.stallTorque && m.stallTorque <= m.peakTorque))
        return Error{"refused",
                     "stallTorque",
                     "Rated torque cannot exceed stall torque, nor stall torque the peak; check which column is which.",
                     {}};
    if (!(m.ratedCurrent <= m.stallCurrent && m.stallCurrent <= m.peakCurrent))
        return Error{
            "refused",
            "stallCurrent",
            "Rated current cannot exceed stall current, nor stall current the peak; check which column is which.",
            {}};
    return {};
}
template <class T>
std::optional<Error> order(const T&)
{
    return {};
}

/// What is wrong with a row, if anything is.
template <class T>
std::optional<Error> readRow(const json& row, const std::string& where, std::span<const Field> fields, T& part)
{
    try {
        if constexpr (std::is_same_v<T, ServoMotor>)
            part = motorFrom(row, where);
        else
            readFields(row, fields, &part, false, where);
    } catch (const Wrong& wrong) {
        return Error{"file-damaged", wrong.where, wrong.where + ": " + wrong.what + ".", {}};
    } catch (const json::exception& e) { // in a thread of its own nobody else would catch it
        return Error{"file-damaged", where, where + ": " + e.what() + ".", {}};
    }
    auto problem = problemIn(fields, &part);
    if (!problem)
        problem = order(part);
    if (problem)
        problem->subject = where + "/" + problem->subject;
    return problem;
}

template <class T>
void readRows(const json& document, const char* key, std::span<const Field> fields, std::vector<T>& out,
              std::vector<Error>& refused)
{
    const auto rows = document.find(key);
    if (rows == document.end())
        return;
    (void)listOf(*rows, std::string("/") + key, 1000000);
    std::set<std::string> known;
    for (const Field& f : fields)
        known.insert(fileKey(f, false));
    if constexpr (std::is_same_v<T, ServoMotor>)
        known.insert("measured");
    std::vector<T> parts(rows->size());
    std::vector<std::optional<Error>> problems(rows->size());
    std::vector<char> strange(rows->size()); ///< has a key that is not known
    inParallel(rows->size(), [&](std::size_t from, std::size_t to) {
        for (std::size_t k = from; k < to; ++k) {
            const json& row = (*rows)[k];
            problems[k] = readRow(row, fmt::format("/{}/{}", key, k), fields, parts[k]);
            for (auto it = row.begin(); row.is_object() && it != row.end(); ++it)
                strange[k] |= !known.contains(it.key());
        }
    });
    for (std::size_t k = 0; k < parts.size(); ++k) // each such key is told once
        for (auto it = (*rows)[k].begin(); strange[k] && it != (*rows)[k].end(); ++it)
            if (known.insert(it.key()).second)
                refused.push_back({"unknown-column", fmt::format("/{}/{}", key, k), it.key(), {}});
    std::unordered_set<std::string> names;
    for (std::size_t k = 0; k < parts.size(); ++k)
        if (problems[k])
            refused.push_back(std::move(*problems[k]));
        else if (!parts[k].name.empty() && !names.insert(parts[k].name).second)
            refused.push_back({"twice", fmt::format("/{}/{}/name", key, k), parts[k].name, {}});
        else
            out.push_back(std::move(parts[k]));
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
        readRows(document, "stepperMotors", stepperMotorFields(), c.steppers, c.refused);
        readRows(document, "stepperDrives", stepperDriveFields(), c.stepperDrives, c.refused);
        readRows(document, "gearboxes", gearboxPartFields(), c.gearboxes, c.refused);
        readRows(document, "brakeResistors", resistorFields(), c.resistors, c.refused);
        readRows(document, "holdingBrakes", brakeFields(), c.brakes, c.refused);
        readRows(document, "encoders", encoderFields(), c.encoders, c.refused);
        readRows(document, "supplies", supplyFields(), c.supplies, c.refused);
        return c;
    } catch (const Wrong& wrong) {
        return refuse("file-damaged", wrong.where, wrong.where + ": " + wrong.what + ".");
    } catch (const json::exception& e) {
        return refuse("file-damaged", {}, e.what());
    }
}

namespace {

/// A column of a table and the field it fills; none: a head that is not known.
struct PartColumn {
    std::string head;
    const Field* field = nullptr;
};

template <class T>
void readCsvRow(const std::vector<PartColumn>& columns, const CsvLine& line, std::span<const Field> fields,
                std::unordered_set<std::string>& names, std::vector<T>& out, std::vector<Error>& refused)
{
    const std::vector<std::string>& cells = line.cells;
    T part;
    for (std::size_t k = 0; k < columns.size() && k < cells.size(); ++k) {
        const Field* field = columns[k].field;
        if (!field || cells[k].empty())
            continue;
        if (field->kind == FieldKind::Choice && !field->knows(cells[k])) {
            refused.push_back({"file-damaged",
                               fmt::format("line {}, column {}", line.number, k + 1),
                               fmt::format("line {}, column {} ({}): {}.", line.number, k + 1, columns[k].head,
                                           unknownWord(*field, cells[k].substr(0, 40))),
                               {}});
            return;
        }
        if (field->kind == FieldKind::Text || field->kind == FieldKind::Choice) {
            if (const auto problem = field->textProblem ? field->textProblem(cells[k]) : std::nullopt) {
                refused.push_back({"file-damaged",
                                   fmt::format("line {}, column {}", line.number, k + 1),
                                   fmt::format("line {}, column {} ({}): {}", line.number, k + 1, columns[k].head,
                                               messageFor(*problem)),
                                   {}});
                return;
            }
            field->setText(&part, cells[k]);
            continue;
        }
        const auto value = numberOf(cells[k], line.separator);
        if (!value) {
            refused.push_back({"file-damaged",
                               fmt::format("line {}, column {}", line.number, k + 1),
                               fmt::format("line {}, column {} ({}): “{}” is not a number.", line.number, k + 1,
                                           columns[k].head, cells[k].substr(0, 40)),
                               {}});
            return;
        }
        field->set(&part, *value);
    }
    auto problem = problemIn(fields, &part);
    if (!problem)
        problem = order(part);
    if (problem) {
        problem->subject = fmt::format("line {}, {}", line.number, problem->subject);
        refused.push_back(std::move(*problem));
        return;
    }
    if (!part.name.empty() && !names.insert(part.name).second) {
        refused.push_back({"twice", fmt::format("line {}, name", line.number), part.name, {}});
        return;
    }
    out.push_back(std::move(part));
}

template <class T>
void readCsv(std::string_view csv, std::span<const Field> fields, std::vector<T>& out, std::vector<Error>& refused)
{
    std::vector<PartColumn> columns;
    std::unordered_set<std::string> names;
    for (const CsvLine& line : csvLines(csv)) {
        if (columns.empty()) {
            for (const std::string& head : line.cells) {
                const auto it = std::ranges::find_if(fields, [&](const Field& f) { return fileKey(f, false) == head; });
                columns.push_back({head, it == fields.end() ? nullptr : &*it});
                if (it == fields.end())
                    refused.push_back({"unknown-column", fmt::format("line 1, column {}", columns.size()), head, {}});
            }
            continue;
        }
        if (line.filled() > columns.size()) { // a number cut in two, "1,000.5" between commas
            refused.push_back({"file-damaged",
                               fmt::format("line {}", line.number),
                               fmt::format("line {}: {} columns were expected and {} are there; numbers are written "
                                           "without a separator of thousands.",
                                           line.number, columns.size(), line.filled()),
                               {}});
            continue;
        }
        readCsvRow(columns, line, fields, names, out, refused);
    }
}

/// One part a line, so that a change is one line.
template <class T>
void writeRows(std::string& out, const char* key, const std::vector<T>& parts, std::span<const Field> fields)
{
    out += fmt::format(",\n\"{}\": [", key);
    bool first = true;
    for (const T& part : parts) {
        json row = json::object();
        if constexpr (std::is_same_v<T, ServoMotor>)
            row = motorJson(part);
        else
            writeFields(row, fields, &part, false);
        out += (first ? "\n " : ",\n ") + jsonText(row);
        first = false;
    }
    out += "\n]";
}

} // namespace

Result<Catalogue> parseCatalogueCsv(std::string_view kind, std::string_view csv)
{
    Catalogue c;
    if (kind == "motors")
        readCsv(csv, motorFields(), c.motors, c.refused);
    else if (kind == "drives")
        readCsv(csv, driveFields(), c.drives, c.refused);
    else if (kind == "steppers")
        readCsv(csv, stepperMotorFields(), c.steppers, c.refused);
    else if (kind == "stepper-drives")
        readCsv(csv, stepperDriveFields(), c.stepperDrives, c.refused);
    else if (kind == "gearboxes")
        readCsv(csv, gearboxPartFields(), c.gearboxes, c.refused);
    else if (kind == "resistors")
        readCsv(csv, resistorFields(), c.resistors, c.refused);
    else if (kind == "brakes")
        readCsv(csv, brakeFields(), c.brakes, c.refused);
    else if (kind == "encoders")
        readCsv(csv, encoderFields(), c.encoders, c.refused);
    else if (kind == "supplies")
        readCsv(csv, supplyFields(), c.supplies, c.refused);
    else
        return refuse("choice", {}, std::string(kind));
    return c;
}

std::string writeCatalogue(const Catalogue& c, const std::string& note)
{
    std::string out =
        fmt::format("{{\"format\": \"vortex-ridge-catalogue\", \"version\": 1, \"note\": {}", jsonText(json(note)));
    writeRows(out, "brakeResistors", c.resistors, resistorFields()); // by name, as they always stood
    writeRows(out, "encoders", c.encoders, encoderFields());
    writeRows(out, "gearboxes", c.gearboxes, gearboxPartFields());
    writeRows(out, "holdingBrakes", c.brakes, brakeFields());
    writeRows(out, "servoDrives", c.drives, driveFields());
    writeRows(out, "servoMotors", c.motors, motorFields());
    writeRows(out, "stepperDrives", c.stepperDrives, stepperDriveFields());
    writeRows(out, "stepperMotors", c.steppers, stepperMotorFields());
    writeRows(out, "supplies", c.supplies, supplyFields());
    return out + "\n}\n";
}

namespace {
/// A part of the same name takes the place of the one before.
template <class T>
void merge(std::vector<T>& into, const std::vector<T>& from)
{
    std::unordered_map<std::string, std::size_t> places;
    places.reserve(into.size() + from.size());
    for (std::size_t k = 0; k < into.size(); ++k)
        places.emplace(into[k].name, k); // of two with one name the first
    for (const T& part : from) {
        const auto [at, fresh] = places.emplace(part.name, into.size());
        if (fresh)
            into.push_back(part);
        else
            into[at->second] = part;
    }
}
} // namespace

void mergeCatalogue(Catalogue& into, const Catalogue& from)
{
    merge(into.motors, from.motors);
    merge(into.drives, from.drives);
    merge(into.steppers, from.steppers);
    merge(into.stepperDrives, from.stepperDrives);
    merge(into.gearboxes, from.gearboxes);
    merge(into.resistors, from.resistors);
    merge(into.brakes, from.brakes);
    merge(into.encoders, from.encoders);
    merge(into.supplies, from.supplies);
    into.refused.insert(into.refused.end(), from.refused.begin(), from.refused.end());
}

const Catalogue& shippedCatalogue()
{
    static const Catalogue catalogue = [] {
        auto parsed = parseCatalogue(data::file("catalogue.json"));
        if (!parsed || !parsed->refused.empty()) // the file is part of the program: this is a broken build
            throw std::logic_error("catalogue.json: "
                                   + (parsed ? messageFor(parsed->refused.front()) + parsed->refused.front().subject
                                             : parsed.error().actual));
        return std::move(*parsed);
    }();
    return catalogue;
}

} // namespace ridge::store
