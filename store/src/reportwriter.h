#pragma once
#include "store/report.h"

#include <fmt/core.h>

#include <array>

namespace ridge::store {

inline std::string escaped(std::string_view text)
{
    std::string out;
    for (const char c : text) {
        switch (c) {
        case '&': out += "&amp;"; break;
        case '<': out += "&lt;"; break;
        case '>': out += "&gt;"; break;
        case '"': out += "&quot;"; break;
        default: out += c;
        }
    }
    return out;
}

inline std::string mark(Verdict v)
{
    constexpr std::array<std::string_view, verdictCount> shapes{"? unknown", "&#9679; ok", "&#9650; watch",
                                                                "&#9632; fail", "&#9675; practised (simulated)"};
    return std::string(shapes.at(static_cast<std::size_t>(v)));
}

/// Collects the document piece by piece.
class Writer {
public:
    void begin(const std::string& title)
    {
        raw("<!DOCTYPE html>\n<html><head><meta charset=\"utf-8\"><title>" + escaped(title)
            + "</title>\n"
              "<style>body{font-family:Lato,sans-serif;font-size:9pt;color:#26241f} h1{font-size:17pt} "
              "h2{font-size:12pt;color:#1f5a57} h3{font-size:9.5pt} th{border-bottom:1px solid #8a8577;font-size:8pt} "
              "td{border-bottom:1px solid #dcd7c9;font-size:8pt;vertical-align:top} "
              "small{color:#6a6558}</style></head><body>\n");
    }
    [[nodiscard]] std::string end()
    {
        raw("</body></html>\n");
        return std::move(m_out);
    }
    void heading(std::string_view text) { m_out += fmt::format("<h2>{}</h2>\n", escaped(text)); }
    void paragraph(std::string_view text) { m_out += fmt::format("<p>{}</p>\n", escaped(text)); }
    void raw(std::string_view html) { m_out += html; }
    /// @param widths  of the columns in percent; as wide as their text where there are none
    void open(std::initializer_list<const char*> columns, std::initializer_list<int> widths = {})
    {
        m_out += "<table cellspacing=\"0\" cellpadding=\"3\" width=\"100%\">\n<tr>";
        const int* width = widths.begin();
        for (const char* c : columns)
            m_out += width != widths.end() ? fmt::format("<th align=\"left\" width=\"{}%\">{}</th>", *width++, c)
                                           : fmt::format("<th align=\"left\">{}</th>", c);
        m_out += "</tr>\n";
    }
    void row(std::initializer_list<std::string> cells)
    {
        m_out += "<tr>";
        for (const std::string& c : cells)
            m_out += "<td>" + c + "</td>";
        m_out += "</tr>\n";
    }
    void close() { m_out += "</table>\n"; }

private:
    std::string m_out;
};

/// Where an answer comes from, always said.
inline std::string source(const Fact& f)
{
    return std::string(originWord(f.origin)) + (f.origin == Origin::Simulated ? " (practice)" : "");
}

/// Whose results they are: the drive, or that it is a rehearsal.
inline void whichDrive(Writer& w, const Evidence& evidence)
{
    const DriveIdentity& d = evidence.view().identity;
    if (evidence.view().practice())
        w.raw("<h2>REHEARSAL: rests on a simulated drive or on none, and proves nothing about the machine</h2>\n");
    else
        w.paragraph("Drive: " + d.maker + " " + d.type + ", serial number " + d.serial + ", firmware " + d.firmware
                    + (d.safety.empty() ? "" : ", safety part " + d.safety));
}

/// Conductors, readings, answers and safety circuit.
void wiringInto(Writer& writer, const Evaluation& evaluation, const Evidence& evidence, bool blank);

/// The result sheet of a bench test: identity, readings, run, bus before and after, verdict.
[[nodiscard]] std::string benchSheet(const Machine& machine, const Axis& axis, const Evaluation& evaluation,
                                     const Evidence& evidence);

} // namespace ridge::store
