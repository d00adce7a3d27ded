#include "travelruler.h"

#include "app/theme/theme.h"

#include <QFontMetricsF>
#include <QPainter>

#include <algorithm>
#include <cmath>

namespace ridge::app {

RulerLayout layoutRuler(const RulerState& s, QSizeF size, const QFontMetricsF& font)
{
    RulerLayout l;
    l.left = 24;
    double low = 1e300, high = -1e300;
    const auto take = [&](double at) {
        low = std::min(low, at);
        high = std::max(high, at);
    };
    for (const RulerPlace& p : s.places)
        take(p.at);
    for (const auto& at : {s.cycleLow, s.cycleHigh})
        if (at)
            take(*at);
    if (low > high)
        take(0), take(1);
    const double span = std::max(high - low, 1e-9), margin = 0.04 * span;
    l.low = low - margin;
    l.perUnit = (size.width() - 2 * l.left) / (span + 2 * margin);
    l.line = size.height() - 52;
    // labels above the line, each in the lowest row where it has room
    std::vector<std::size_t> order(s.places.size());
    for (std::size_t k = 0; k < order.size(); ++k)
        order[k] = k;
    std::ranges::sort(order, {}, [&](std::size_t k) { return s.places[k].at; });
    l.labels.resize(s.places.size());
    const double row = font.height() + 1;
    std::vector<double> freeFrom;
    for (const std::size_t k : order) {
        const RulerPlace& p = s.places[k];
        const double w = font.horizontalAdvance(p.name + QStringLiteral(" ") + p.value) + 6;
        const double x = std::clamp(l.x(p.at) - w / 2, 2.0, std::max(2.0, size.width() - w - 2));
        std::size_t r = 0;
        while (r < freeFrom.size() && freeFrom[r] > x)
            ++r;
        if (r == freeFrom.size())
            freeFrom.push_back(0);
        freeFrom[r] = x + w + 4;
        l.labels[k] = QRectF(x, l.line - 30 - static_cast<double>(r + 1) * row, w, row);
    }
    return l;
}

TravelRuler::TravelRuler(QWidget* parent)
    : QWidget(parent)
{
    setObjectName(QStringLiteral("travelruler"));
    setAccessibleName(tr("Ruler of the travel"));
}

void TravelRuler::setState(const RulerState& state)
{
    if (m_state == state)
        return;
    m_state = state;
    QStringList words;
    for (const RulerPlace& p : m_state.places)
        words += QStringLiteral("%1 %2").arg(p.name, p.value);
    setAccessibleDescription(words.isEmpty() ? tr("no stops or limits entered yet") : words.join(QStringLiteral(", ")));
    update();
}

const RulerPlace* TravelRuler::placed(RulerPlace::Kind kind, int side) const
{
    const auto it =
        std::ranges::find_if(m_state.places, [&](const RulerPlace& p) { return p.kind == kind && p.side == side; });
    return it == m_state.places.end() ? nullptr : &*it;
}

void TravelRuler::paintPlace(QPainter& p, const RulerLayout& l, std::size_t k) const
{
    const RulerPlace& place = m_state.places[k];
    const double x = l.x(place.at), y = l.line;
    const QRectF& label = l.labels[k];
    p.setPen(QPen(theme().line, 1));
    p.drawLine(QPointF(x, label.bottom()), QPointF(x, y - 24));
    p.fillRect(label, theme().raised); // another's line may pass behind it
    p.setPen(theme().ink);
    p.drawText(label, Qt::AlignCenter, place.name + QStringLiteral(" ") + place.value);
    switch (place.kind) {
    case RulerPlace::Kind::HardStop: {
        const QRectF block(place.side < 0 ? x - 12 : x, y - 22, 12, 44);
        p.setPen(QPen(theme().ink, 1.4));
        p.setBrush(QBrush(theme().ink, Qt::BDiagPattern));
        p.drawRect(block);
        break;
    }
    case RulerPlace::Kind::Switch: {
        p.setPen(QPen(theme().accent, 1.6));
        p.setBrush(Qt::NoBrush);
        p.drawLine(QPointF(x, y - 24), QPointF(x, y));
        p.drawEllipse(QPointF(x, y - 20), 3.5, 3.5);
        break;
    }
    case RulerPlace::Kind::Soft:
        p.setPen(QPen(theme().ink, 1.2, Qt::DashLine));
        p.drawLine(QPointF(x, y - 24), QPointF(x, y + 18));
        break;
    case RulerPlace::Kind::Safe:
        p.setPen(QPen(theme().watch, 2.2, Qt::DotLine));
        p.drawLine(QPointF(x, y - 24), QPointF(x, y + 18));
        break;
    case RulerPlace::Kind::Home: {
        p.setPen(QPen(theme().ink, 1.4));
        p.setBrush(theme().ink);
        const QPointF tip[3]{{x, y - 2}, {x - 5, y - 14}, {x + 5, y - 14}};
        p.drawPolygon(tip, 3);
        break;
    }
    }
}

/// The way of the quick stop from the switch outwards.
void TravelRuler::paintStop(QPainter& p, const RulerLayout& l, int side) const
{
    const auto way = side < 0 ? m_state.stopLow : m_state.stopHigh;
    const RulerPlace* from = placed(RulerPlace::Kind::Switch, side);
    if (!way || !from)
        return;
    const RulerPlace* hard = placed(RulerPlace::Kind::HardStop, side);
    const double end = from->at + side * *way;
    const bool beyond = hard && side * (end - hard->at) > 0;
    const double x0 = l.x(from->at), x1 = l.x(beyond ? hard->at : end), y = l.line + 28;
    p.setPen(QPen(beyond ? theme().fail : theme().ok, 2.4));
    p.drawLine(QPointF(x0, y), QPointF(x1, y));
    p.drawLine(QPointF(x0, y - 4), QPointF(x0, y + 4));
    p.drawLine(QPointF(x1, y), QPointF(x1 - side * 6, y - 4));
    p.drawLine(QPointF(x1, y), QPointF(x1 - side * 6, y + 4));
    if (beyond) {
        const double m = (x0 + x1) / 2;
        p.drawLine(QPointF(m - 5, y - 5), QPointF(m + 5, y + 5));
        p.drawLine(QPointF(m - 5, y + 5), QPointF(m + 5, y - 5));
    }
    p.setPen(theme().soft);
    const QString text = beyond ? tr("quick stop ends in the stop") : tr("quick stop");
    const double w = p.fontMetrics().horizontalAdvance(text) + 4;
    const double at = side < 0 ? std::min(x0, x1) : std::max(x0, x1) - w;
    p.drawText(QRectF(std::clamp(at, 2.0, width() - w - 2), y + 5, w, 16), Qt::AlignCenter, text);
}

void TravelRuler::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.fillRect(rect(), theme().raised);
    const RulerLayout l = layoutRuler(m_state, size(), QFontMetricsF(font()));
    p.setPen(QPen(theme().soft, 1.4));
    p.drawLine(QPointF(8, l.line), QPointF(width() - 8, l.line));
    if (m_state.cycleLow && m_state.cycleHigh) {
        const QRectF bar(l.x(*m_state.cycleLow), l.line - 5, (*m_state.cycleHigh - *m_state.cycleLow) * l.perUnit, 10);
        p.setPen(QPen(theme().accent, 1.2));
        p.setBrush(theme().accentSoft);
        p.drawRect(bar);
        p.setPen(theme().soft);
        p.drawText(QRectF(bar.left(), l.line + 8, std::max(bar.width(), 220.0), 16), Qt::AlignLeft, m_state.cycleName);
    }
    for (std::size_t k = 0; k < m_state.places.size(); ++k)
        paintPlace(p, l, k);
    paintStop(p, l, -1);
    paintStop(p, l, 1);
    if (m_state.places.empty()) {
        p.setPen(theme().soft);
        p.drawText(QRectF(0, 12, width(), 18), Qt::AlignCenter,
                   tr("Enter stops, switches and limits below: they are drawn here to scale."));
    }
}

} // namespace ridge::app
