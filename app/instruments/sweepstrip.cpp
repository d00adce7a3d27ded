#include "sweepstrip.h"

#include "app/theme/theme.h"

#include <QPainter>
#include <QPainterPath>

#include <algorithm>
#include <cmath>

namespace ridge::app {

namespace {
constexpr double names = 74, margin = 14;
constexpr double keyed = 190; // for the key of the phases ///< px
} // namespace

SweepStrip::SweepStrip(QWidget* parent)
    : QWidget(parent)
{
    setObjectName(QStringLiteral("sweepStrip"));
    setAccessibleName(tr("Sweep of the current vector, unrolled"));
    setSizePolicy(QSizePolicy::Expanding, QSizePolicy::Expanding);
}

void SweepStrip::begin(double counts, double polePairs, double turns, bool halls)
{
    m_counts = counts;
    m_polePairs = polePairs;
    m_turns = std::max(0.5, turns);
    m_halls = halls;
    m_forward.clear();
    m_backward.clear();
    m_words.clear();
    update();
}

void SweepStrip::add(const SweepSample& sample, bool back)
{
    (back ? m_backward : m_forward).push_back(sample);
    update();
}

void SweepStrip::setWays(std::vector<SweepSample> forward, std::vector<SweepSample> backward)
{
    m_forward = std::move(forward);
    m_backward = std::move(backward);
    for (const SweepSample& s : m_forward)
        m_turns = std::max(m_turns, std::abs(s.field) / 360);
    update();
}

void SweepStrip::setWords(const QString& words)
{
    if (m_words == words)
        return;
    m_words = words;
    setAccessibleDescription(words);
    update();
}

double SweepStrip::at(double field, double left, double right) const
{
    return left + (right - left) * field / (360 * m_turns);
}

void SweepStrip::drawGrid(QPainter& p, double left, double right, const Lane& angle, const Lane& currents) const
{
    const int quarters = static_cast<int>(std::ceil(m_turns * 4));
    for (int k = 0; k <= quarters; ++k) {
        const double x = at(90 * k, left, right);
        p.setPen(QPen(k % 4 == 0 ? theme().soft : theme().line, 1, k % 4 == 0 ? Qt::SolidLine : Qt::DotLine));
        p.drawLine(QPointF(x, angle.top), QPointF(x, currents.bottom));
        if (k % 4 == 0) {
            p.setPen(theme().soft);
            p.drawText(QRectF(std::min(x - 50, width() - 104.0), currents.bottom + 2, 100, 15),
                       x + 50 > width() - 4 ? Qt::AlignRight : Qt::AlignHCenter, tr("%1 el. turns").arg(k / 4));
        }
    }
}

/// Counted minus commanded angle, so that lag and offset are seen: both ways equal behind is friction, both shifted is
/// an offset or a constant torque.
void SweepStrip::drawAngles(QPainter& p, double left, double right, const Lane& lane) const
{
    constexpr double reach = 90; // degrees up and down
    const auto draw = [&](const std::vector<SweepSample>& way, double zero, const QColor& colour, Qt::PenStyle style) {
        QPainterPath path;
        bool begun = false;
        for (const SweepSample& s : way) {
            const double off = s.field - m_polePairs * 360 * s.counts / std::max(1.0, m_counts);
            const double y = std::clamp(std::remainder(off - zero, 360), -reach, reach);
            const QPointF here(at(s.field, left, right),
                               (lane.top + lane.bottom) / 2 - y / reach * (lane.bottom - lane.top) / 2);
            begun ? path.lineTo(here) : path.moveTo(here);
            begun = true;
        }
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(colour, 1.6, style));
        p.drawPath(path);
    };
    if (m_forward.empty() || !(m_counts > 0))
        return;
    std::vector<double> angles;
    for (const auto* way : {&m_forward, &m_backward})
        for (std::size_t k = way->size() / 3; k < way->size(); ++k)
            angles.push_back((*way)[k].field - m_polePairs * 360 * (*way)[k].counts / m_counts);
    const double zero = angles.empty() ? 0 : circularMean(angles);
    p.setPen(QPen(theme().line, 1));
    p.drawLine(QPointF(left, (lane.top + lane.bottom) / 2), QPointF(right, (lane.top + lane.bottom) / 2));
    draw(m_forward, zero, theme().trace[0], Qt::SolidLine);
    draw(m_backward, zero, theme().trace[1], Qt::DashLine);
    p.setPen(theme().soft);
    p.drawText(QRectF(right - 250, lane.top, 246, 15), Qt::AlignRight,
               tr("— forward   - - back   middle %1°").arg(zero, 0, 'f', 1));
}

void SweepStrip::drawHalls(QPainter& p, double left, double right, const Lane& lane) const
{
    const double height = (lane.bottom - lane.top) / 3;
    for (int k = 0; k < 3; ++k) {
        const double top = lane.top + k * height;
        p.setPen(QPen(theme().line, 1));
        p.drawLine(QPointF(left, top + height - 2), QPointF(right, top + height - 2));
        std::optional<double> from;
        QColor wash = theme().trace[2];
        wash.setAlphaF(0.45F);
        for (const SweepSample& s : m_forward) {
            const double x = at(s.field, left, right);
            const bool high = s.halls >> k & 1;
            if (high && !from)
                from = x;
            if (!high && from) {
                p.fillRect(QRectF(*from, top + 2, x - *from, height - 4), wash);
                from.reset();
            }
        }
        if (from && !m_forward.empty())
            p.fillRect(QRectF(*from, top + 2, at(m_forward.back().field, left, right) - *from, height - 4), wash);
    }
}

void SweepStrip::drawCurrents(QPainter& p, double left, double right, const Lane& lane) const
{
    double most = 0.01;
    for (const auto* way : {&m_forward, &m_backward})
        for (const SweepSample& s : *way)
            most = std::max({most, std::abs(s.u), std::abs(s.v), std::abs(s.w)});
    const double middle = (lane.top + lane.bottom) / 2, half = (lane.bottom - lane.top) / 2 - 2;
    p.setPen(QPen(theme().line, 1));
    p.drawLine(QPointF(left, middle), QPointF(right, middle));
    constexpr std::array<double SweepSample::*, 3> phases{&SweepSample::u, &SweepSample::v, &SweepSample::w};
    constexpr std::array<Qt::PenStyle, 3> styles{Qt::SolidLine, Qt::DashLine, Qt::DotLine};
    for (std::size_t k = 0; k < 3; ++k) {
        QPainterPath path;
        bool begun = false;
        for (const SweepSample& s : m_forward) {
            const QPointF here(at(s.field, left, right), middle - s.*phases[k] / most * half);
            begun ? path.lineTo(here) : path.moveTo(here);
            begun = true;
        }
        p.setBrush(Qt::NoBrush);
        p.setPen(QPen(theme().trace[k], 1.3, styles[k]));
        p.drawPath(path);
    }
    p.setPen(theme().soft);
    p.drawText(QRectF(right - keyed, height() - 19, keyed, 17), Qt::AlignRight | Qt::AlignVCenter,
               tr("— U   - - V   ·· W   ±%1 A").arg(most, 0, 'g', 3));
}

void SweepStrip::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.fillRect(rect(), theme().raised);
    const double left = names + 6, right = width() - margin, foot = 36, all = height() - foot - 6;
    const Lane angle{6, 6 + all * (m_halls ? 0.46 : 0.58)};
    const Lane halls{angle.bottom + 4, m_halls ? angle.bottom + all * 0.24 : angle.bottom + 4};
    const Lane currents{halls.bottom + 4, 6 + all};
    drawGrid(p, left, right, angle, currents);
    const auto name = [&](const Lane& lane, const QString& text) {
        p.setPen(theme().ink);
        p.drawText(QRectF(2, lane.top, names, lane.bottom - lane.top),
                   Qt::AlignRight | Qt::AlignVCenter | Qt::TextWordWrap, text);
    };
    name(angle, tr("counted −\ncommanded\n±90° el."));
    if (m_halls)
        name(halls, tr("halls\nU V W"));
    name(currents, tr("phase\ncurrents"));
    drawAngles(p, left, right, angle);
    if (m_halls)
        drawHalls(p, left, right, halls);
    drawCurrents(p, left, right, currents);
    p.setPen(m_forward.empty() ? theme().soft : theme().ink);
    p.drawText(QRectF(left, height() - 19, right - left - keyed, 17), Qt::AlignLeft | Qt::AlignVCenter,
               m_forward.empty() && m_words.isEmpty()
                   ? tr("hold the button: the vector turns forward, then back")
                   : p.fontMetrics().elidedText(m_words, Qt::ElideRight, static_cast<int>(right - left - keyed)));
}

} // namespace ridge::app
