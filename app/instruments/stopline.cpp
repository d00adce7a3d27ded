#include "stopline.h"

#include "app/theme/theme.h"

#include <QPainter>
#include <QPainterPath>

#include <algorithm>
#include <array>
#include <cmath>

namespace ridge::app {

StopLineLayout layoutStopLine(const StopLineState& s, QSizeF size)
{
    StopLineLayout l;
    const double left = 104, right = size.width() - 16;
    double last = std::max({s.torqueOff, s.standstill, s.delaySet.value_or(0), s.delayPermitted.value_or(0),
                            s.delayNeeded.value_or(0), 0.1})
                  * 1.12;
    if (!s.time.isEmpty())
        last = std::max(last, std::min(s.time.back(), last * 1.2));
    l.perSecond = (right - left) / (last * 1.04);
    l.from = left + 0.03 * last * l.perSecond;
    l.phases = QRectF(left, 30, right - left, 26);
    l.delays = QRectF(left, 66, right - left, 48);
    const double top = l.delays.bottom() + 12, bottom = size.height() - 26, half = (bottom - top) / 2;
    l.speed = QRectF(left, top, right - left, half - 8);
    l.travel = QRectF(left, top + half, right - left, half - 2);
    return l;
}

StopLine::StopLine(QWidget* parent)
    : QWidget(parent)
{
    setObjectName(QStringLiteral("stopline"));
    setAccessibleName(tr("Time line of the stop"));
}

void StopLine::setState(const StopLineState& state)
{
    if (m_state == state)
        return;
    m_state = state;
    setAccessibleDescription(state.torqueOff > 0 ? tr("standstill after %1 s, torque off after %2 s")
                                                       .arg(state.standstill, 0, 'f', 3)
                                                       .arg(state.torqueOff, 0, 'f', 3)
                                                 : tr("no stop captured yet"));
    update();
}

void StopLine::paintPhases(QPainter& p, const StopLineLayout& l) const
{
    struct Part {
        double from, to;
        QString name;
        QColor colour;
        Qt::BrushStyle style;
    };
    const double still = m_state.standstill, off = m_state.torqueOff > 0 ? m_state.torqueOff : still,
                 closed = m_state.brakeClosed > 0 ? std::clamp(m_state.brakeClosed, still, off) : off;
    const std::array parts{
        Part{0, m_state.ramp, tr("reaction"), theme().watch, Qt::Dense4Pattern},
        Part{m_state.ramp, still, tr("braking"), theme().trace[1], Qt::BDiagPattern},
        Part{still, closed, tr("brake closes"), theme().trace[2], Qt::FDiagPattern},
        Part{closed, off, tr("held by both"), theme().trace[0], Qt::Dense6Pattern},
        Part{off, (l.phases.right() - l.from) / l.perSecond, tr("no torque"), theme().unknown, Qt::NoBrush}};
    p.setPen(theme().soft);
    p.drawText(QRectF(4, l.phases.top(), l.phases.left() - 12, l.phases.height()), Qt::AlignRight | Qt::AlignVCenter,
               tr("the stop"));
    for (const Part& part : parts) {
        if (!(part.to > part.from))
            continue;
        const QRectF r(l.x(part.from), l.phases.top(), (part.to - part.from) * l.perSecond, l.phases.height());
        p.setPen(QPen(part.colour, 1.2));
        p.setBrush(QBrush(part.colour, part.style));
        p.drawRect(r);
        const double w = p.fontMetrics().horizontalAdvance(part.name) + 8;
        if (w > r.width() - 4)
            continue;
        const QRectF plate(r.center().x() - w / 2, r.top() + 5, w, 16);
        p.fillRect(plate, theme().raised);
        p.setPen(theme().ink);
        p.drawText(plate, Qt::AlignCenter, part.name);
    }
}

void StopLine::paintDelays(QPainter& p, const StopLineLayout& l) const
{
    const std::array rows{std::pair{tr("delay needed"), m_state.delayNeeded},
                          std::pair{tr("delay set"), m_state.delaySet},
                          std::pair{tr("permitted"), m_state.delayPermitted}};
    for (std::size_t k = 0; k < rows.size(); ++k) {
        const double y = l.delays.top() + 8 + static_cast<double>(k) * 16;
        p.setPen(theme().soft);
        p.drawText(QRectF(4, y - 8, l.delays.left() - 12, 16), Qt::AlignRight | Qt::AlignVCenter, rows[k].first);
        if (!rows[k].second) {
            p.drawText(QRectF(l.from + 4, y - 8, 200, 16), Qt::AlignLeft | Qt::AlignVCenter,
                       k == 0 ? tr("from captured stops") : tr("not entered"));
            continue;
        }
        const double end = l.x(*rows[k].second);
        p.setPen(
            QPen(k == 0 ? theme().accent : theme().ink, k == 2 ? 1.2 : 2.4, k == 2 ? Qt::DashLine : Qt::SolidLine));
        p.drawLine(QPointF(l.from, y), QPointF(end, y));
        p.drawLine(QPointF(end, y - 5), QPointF(end, y + 5));
        const QString text = QStringLiteral(" %1 ms").arg(*rows[k].second * 1000, 0, 'f', 0);
        const double w = p.fontMetrics().horizontalAdvance(text) + 4;
        p.setPen(theme().ink);
        const bool fits = end + w < l.delays.right();
        p.fillRect(QRectF(fits ? end + 4 : end - w - 2, y - 7, w - 4, 14), theme().raised);
        p.drawText(QRectF(fits ? end + 2 : end - w - 4, y - 8, w, 16), Qt::AlignLeft | Qt::AlignVCenter, text);
    }
}

void StopLine::paintCurve(QPainter& p, const StopLineLayout& l, const QRectF& area, const QVector<double>& y,
                          const QColor& colour, const QString& name) const
{
    p.setPen(QPen(theme().line, 1));
    p.setBrush(Qt::NoBrush);
    p.drawRect(area);
    p.setPen(theme().soft);
    p.drawText(QRectF(4, area.top(), area.left() - 12, area.height()),
               Qt::AlignRight | Qt::AlignVCenter | Qt::TextWordWrap, name);
    if (y.isEmpty())
        return;
    const auto [low, high] = std::ranges::minmax(y);
    const double span = std::max(high - low, 1e-9), scale = (area.height() - 14) / span;
    const auto at = [&, low = low](qsizetype k) {
        return QPointF(l.x(m_state.time[k]), area.bottom() - 7 - (y[k] - low) * scale);
    };
    QPainterPath path(at(0));
    for (qsizetype k = 1; k < y.size() && l.x(m_state.time[k]) <= area.right(); ++k)
        path.lineTo(at(k));
    p.setPen(QPen(colour, 1.8));
    p.drawPath(path);
    p.setPen(theme().soft);
    p.drawText(QRectF(area.right() - 90, area.top() + 1, 86, 14), Qt::AlignRight, QString::number(high, 'g', 4));
    p.drawText(QRectF(area.right() - 90, area.bottom() - 15, 86, 14), Qt::AlignRight, QString::number(low, 'g', 3));
}

void StopLine::paintInstants(QPainter& p, const StopLineLayout& l) const
{
    struct Instant {
        double at;
        QString name;
    };
    std::array all{Instant{0, tr("request")}, Instant{m_state.standstill, tr("standstill")},
                   Instant{m_state.brakeClosed, tr("brake closed")}, Instant{m_state.torqueOff, tr("torque off")}};
    std::ranges::sort(all.begin() + 1, all.end(), {}, &Instant::at);
    double freeFrom = 0; // labels give way to the right
    for (std::size_t k = 0; k < all.size(); ++k) {
        if (k > 0 && all[k].at <= 0)
            continue;
        const double x = l.x(all[k].at);
        p.setPen(QPen(theme().accent, 1, Qt::DashLine));
        p.drawLine(QPointF(x, l.phases.top() - 4), QPointF(x, l.travel.bottom()));
        const QString text =
            k == 0 ? all[k].name : QStringLiteral("%1 %2 ms").arg(all[k].name).arg(all[k].at * 1000, 0, 'f', 0);
        const double w = p.fontMetrics().horizontalAdvance(text) + 8, start = std::max(x - w / 2, freeFrom);
        p.setPen(theme().accent);
        p.drawText(QRectF(start, l.phases.top() - 24, w, 18), Qt::AlignCenter, text);
        freeFrom = start + w;
    }
    p.setPen(theme().soft);
    p.drawText(QRectF(l.travel.left(), l.travel.bottom() + 4, l.travel.width(), 18), Qt::AlignLeft | Qt::AlignVCenter,
               m_state.caption);
}

void StopLine::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.fillRect(rect(), theme().raised);
    const StopLineLayout l = layoutStopLine(m_state, size());
    paintCurve(p, l, l.speed, m_state.speed, theme().trace[0], tr("speed\n%1").arg(m_state.speedUnit));
    paintCurve(p, l, l.travel, m_state.travel, theme().trace[1], tr("travel of the load\n%1").arg(m_state.travelUnit));
    if (m_state.torqueOff > 0 || m_state.standstill > 0) {
        paintPhases(p, l);
        paintInstants(p, l);
        paintDelays(p, l);
        return;
    }
    paintDelays(p, l);
    p.setPen(theme().soft);
    p.drawText(l.phases, Qt::AlignCenter,
               tr("No stop captured yet: hold the button to run at working speed and trip."));
}

} // namespace ridge::app
