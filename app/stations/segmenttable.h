#pragma once
#include "app/document/document.h"

#include <QTableWidget>

#include <functional>
#include <string_view>

namespace ridge::app {

/// A field of a segment by its key.
[[nodiscard]] const Field& segmentField(std::string_view key);

/// The segments of the selected axis as a table to type in: what was entered in ink, what follows from it quieter.
/// Columns that no segment uses take no room.
class SegmentTable : public QTableWidget {
    Q_OBJECT

public:
    explicit SegmentTable(Document& document, QWidget* parent = nullptr);
    void fill();
    /// A segment of a kind that can be laid as it is.
    [[nodiscard]] Segment fresh(SegmentKind kind) const;
    void insertSegment(const QString& text, const Segment& segment); ///< behind the chosen one
    /// Changes the list at the chosen segment. @param text  with %1 for its number
    void change(const QString& text, const std::function<void(std::vector<Segment>&, std::size_t)>& f);
    void shift(int step);

Q_SIGNALS:
    void accepted();
    void refused(const QString& sentence); ///< a text that is no value; it stays in its cell

private:
    void typed(int row, int column);
    [[nodiscard]] std::pair<QString, bool> cellText(const Field& field, const Segment& segment, const Trapezoid* solved,
                                                    bool rotary) const;
    Document& m_document;
    bool m_filling = false;
};

} // namespace ridge::app
