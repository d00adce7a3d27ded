#pragma once
#include "core/stations/evaluate.h"

#include <span>
#include <string>
#include <vector>

namespace ridge::store {

/// A photo of the record, to be printed; PNG or JPEG.
struct ReportPhoto {
    const Fact* fact = nullptr;
    std::vector<char> data;
};

/// The hand-over report of one axis as one HTML document (a subset that QTextDocument prints too).
/// @param evaluation  made with workings; simulated results are marked as simulated throughout
/// @param facts  the whole record; that of this axis and of the machine is printed
[[nodiscard]] std::string reportHtml(const Machine& machine, const Axis& axis, const Evaluation& evaluation,
                                     const Evidence& evidence, const Facts& facts,
                                     std::span<const ReportPhoto> photos = {});

/// The wiring of one axis to take along: conductors by cable, readings, questions, safety circuit. @param blank  with
/// nothing ticked and room to write; else as the record stands
[[nodiscard]] std::string wireSheetHtml(const Machine& machine, const Axis& axis, const Evaluation& evaluation,
                                        const Evidence& evidence, bool blank);

/// Writes text by way of a temporary file: a full disk leaves the old one whole. @error file-write
[[nodiscard]] Result<void> writeText(const std::string& path, const std::string& text);

/// Prints a report as PDF (A4). Needs a running QGuiApplication. @error file-write
[[nodiscard]] Result<void> writePdf(const std::string& path, const std::string& html);

} // namespace ridge::store
