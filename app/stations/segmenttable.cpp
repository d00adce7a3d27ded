#include "segmenttable.h"

#include "app/theme/theme.h"
#include "app/widgets/choicedelegate.h"
#include "app/widgets/figures.h"
#include "app/widgets/forms.h"
#include "core/units/print.h"

#include "station.h"

#include <QHeaderView>

#include <algorithm>
#include <array>

namespace ridge::app {

namespace {

constexpr std::array<std::string_view, 13> columns{"kind",         "distance", "time",    "speed",       "acceleration",
                                                   "deceleration", "endSpeed", "jerk",    "brakingJerk", "law",
                                                   "payload",      "force",    "forceEnd"};

QString shortHead(std::string_view key)
{
    if (key == "speed")
        return QObject::tr("Speed");
    if (key == "acceleration")
        return QObject::tr("Accel.");
    if (key == "deceleration")
        return QObject::tr("Decel.");
    if (key == "brakingJerk")
        return QObject::tr("Jerk, br.");
    if (key == "law")
        return QObject::tr("Law");
    if (key == "force")
        return QObject::tr("Force");
    if (key == "forceEnd")
        return QObject::tr("Force, end");
    return said(segmentField(key).label);
}

} // namespace

const Field& segmentField(std::string_view key) { return *std::ranges::find(segmentFields(), key, &Field::key); }

SegmentTable::SegmentTable(Document& document, QWidget* parent)
    : QTableWidget(parent)
    , m_document(document)
{
    setObjectName(QStringLiteral("segments"));
    setAccessibleName(tr("Segments of the cycle"));
    setItemDelegate(new ChoiceDelegate(
        [](const QModelIndex& index) {
            const Field& f = segmentField(columns[static_cast<std::size_t>(index.column())]);
            return f.kind == FieldKind::Choice ? std::span<const std::string_view>(f.choices)
                                               : std::span<const std::string_view>{};
        },
        this));
    setColumnCount(static_cast<int>(columns.size()));
    verticalHeader()->setDefaultSectionSize(24);
    horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
    horizontalHeader()->setSectionResizeMode(0, QHeaderView::Fixed);
    setColumnWidth(0, 92);
    connect(this, &QTableWidget::cellChanged, this, &SegmentTable::typed);
}

/// What the cell shows: what was entered, or in quiet ink what followed from the others.
std::pair<QString, bool> SegmentTable::cellText(const Field& f, const Segment& s, const Trapezoid* solved,
                                                bool rotary) const
{
    if (f.kind == FieldKind::Choice)
        return {f.key == "law" && s.kind != SegmentKind::Cam ? QString() : said(f.getText(&s)), false};
    const auto value = f.get(&s);
    if (value && (f.optional || *value != 0))
        return {shown(*value, resolve(f.quantity, rotary), 5), false};
    if (!solved || s.standing() || f.key == "endSpeed")
        return {{}, false};
    const double v = f.key == "time"           ? solved->time
                     : f.key == "speed"        ? solved->peakSpeed
                     : f.key == "acceleration" ? solved->acceleration
                     : f.key == "deceleration" ? solved->deceleration
                     : f.key == "distance"     ? solved->distance
                                               : 0;
    return {v != 0 ? shown(v, resolve(f.quantity, rotary)) : QString(), true};
}

void SegmentTable::fill()
{
    const bool rotary = m_document.axis().mechanism.rotary();
    m_filling = true;
    const auto& segments = m_document.axis().cycle.segments;
    setRowCount(static_cast<int>(segments.size()));
    // what no segment uses takes no room
    const auto any = [&](SegmentKind kind) {
        return std::ranges::any_of(segments, [kind](const Segment& s) { return s.kind == kind; });
    };
    const bool pressed =
        std::ranges::any_of(segments, [](const Segment& s) { return s.force != 0 || s.forceEnd.has_value(); });
    for (int c = 0; c < columnCount(); ++c) {
        const std::string_view key = columns[static_cast<std::size_t>(c)];
        setColumnHidden(c, (key == "endSpeed" && !any(SegmentKind::Jog) && !any(SegmentKind::Blend))
                               || ((key == "jerk" || key == "brakingJerk") && !any(SegmentKind::JerkLimited))
                               || (key == "law" && !any(SegmentKind::Cam)) || (key == "forceEnd" && !pressed));
        if (!horizontalHeaderItem(c)) {
            auto* head = new QTableWidgetItem(shortHead(key));
            head->setToolTip(said(segmentField(key).label));
            setHorizontalHeaderItem(c, head);
        }
    }
    const auto& motion = m_document.evaluation().move.motion;
    for (int r = 0; r < rowCount(); ++r)
        for (int c = 0; c < columnCount(); ++c) {
            const auto n = static_cast<std::size_t>(r);
            const Field& f = segmentField(columns[static_cast<std::size_t>(c)]);
            const auto [text, found] =
                cellText(f, segments[n], motion && n < motion->solved.size() ? &motion->solved[n] : nullptr, rotary);
            setCell(*this, r, c, text, found ? theme().soft : QColor(), said(f.help));
            item(r, c)->setData(Qt::UserRole, text);
        }
    m_filling = false;
}

void SegmentTable::typed(int row, int column)
{
    if (m_filling)
        return;
    const Field& f = segmentField(columns[static_cast<std::size_t>(column)]);
    const QString text = item(row, column)->text().trimmed();
    if (text == item(row, column)->data(Qt::UserRole).toString())
        return;
    const bool rotary = m_document.axis().mechanism.rotary();
    std::optional<double> value;
    if (f.kind == FieldKind::Number) {
        const auto entry = readEntry(text, f, rotary);
        if (!entry) {
            Q_EMIT refused(
                tr("Segment %1, %2: %3")
                    .arg(row + 1)
                    .arg(said(f.label), QString::fromStdString(messageFor(entry.error(), rotary, unitSystem()))));
            return; // the text stays in the cell, the last good value stays in the document
        }
        value = *entry;
    } else if (std::ranges::find(f.choices, text.toStdString()) == f.choices.end()) {
        Q_EMIT refused(tr("Segment %1: “%2” is not one of the choices of %3.").arg(row + 1).arg(text, said(f.label)));
        return;
    }
    m_document.edit(tr("Change %1 of segment %2").arg(said(f.label)).arg(row + 1), {}, [&](Axis& a) {
        Segment& s = a.cycle.segments[static_cast<std::size_t>(row)];
        f.kind == FieldKind::Choice ? f.setText(&s, text.toStdString()) : f.set(&s, value);
        if (f.key == "kind") // what another kind has no use for does not stay behind unseen
            for (const std::string_view unused : unusedValues(s))
                if (unused != "recorded")
                    segmentField(unused).set(&s, std::nullopt);
    });
    Q_EMIT accepted(); // also when the value is the old one in another unit
}

void SegmentTable::insertSegment(const QString& text, const Segment& s)
{
    const int at = currentRow() < 0 ? rowCount() : currentRow() + 1;
    m_document.edit(text, {}, [&](Axis& a) {
        a.cycle.segments.insert(
            a.cycle.segments.begin()
                + std::min<std::ptrdiff_t>(at, static_cast<std::ptrdiff_t>(a.cycle.segments.size())),
            s);
    });
}

void SegmentTable::change(const QString& text, const std::function<void(std::vector<Segment>&, std::size_t)>& f)
{
    const int k = currentRow();
    if (k >= 0 && k < static_cast<int>(m_document.axis().cycle.segments.size()))
        m_document.edit(text.arg(k + 1), {}, [&](Axis& a) { f(a.cycle.segments, static_cast<std::size_t>(k)); });
}

void SegmentTable::shift(int step)
{
    const int to = currentRow() + step;
    if (to < 0 || to >= rowCount())
        return;
    change(tr("Move segment %1"),
           [&](auto& list, std::size_t k) { std::swap(list[k], list[static_cast<std::size_t>(to)]); });
    setCurrentCell(to, std::max(0, currentColumn()));
}

/// A segment of a kind that can be laid as it is.
Segment SegmentTable::fresh(SegmentKind kind) const
{
    const bool r = m_document.axis().mechanism.rotary();
    Segment s;
    s.kind = kind;
    if (s.standing()) {
        s.time = 0.5;
        s.force = kind == SegmentKind::Press ? (r ? 1 : 50) : 0;
        return s;
    }
    if (kind == SegmentKind::Cam || kind == SegmentKind::Thirds || kind == SegmentKind::Triangle
        || kind == SegmentKind::Jog)
        s.time = 0.5;
    if (kind != SegmentKind::Jog)
        s.distance = r ? 0.5 : 0.05;
    if (kind != SegmentKind::Cam && kind != SegmentKind::Thirds && kind != SegmentKind::Triangle) {
        s.speed = r ? 2.0 : 0.2;
        s.acceleration = r ? 10.0 : 2.0;
    }
    if (kind == SegmentKind::JerkLimited)
        s.jerk = r ? 200.0 : 40.0;
    return s;
}

} // namespace ridge::app
