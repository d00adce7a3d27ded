#include "ladderview.h"

#include "app/theme/theme.h"

#include <QPainter>

#include <algorithm>

namespace ridge::app {

LadderView::LadderView(QWidget* parent)
    : QWidget(parent)
{
    setObjectName(QStringLiteral("ladder"));
    setAccessibleName(tr("Enable chain"));
}

void LadderView::setRungs(std::vector<Rung> rungs)
{
    if (m_rungs == rungs)
        return;
    m_rungs = std::move(rungs);
    setMinimumHeight(static_cast<int>(m_rungs.size()) * 14 + 10);
    setAccessibleDescription(isClosed() ? tr("every rung is closed") : openRung());
    update();
}

bool LadderView::isClosed() const
{
    return std::ranges::all_of(m_rungs, [](const Rung& r) { return r.closed.value_or(false); });
}

QString LadderView::openRung() const
{
    for (const Rung& r : m_rungs)
        if (!r.closed.value_or(false))
            return tr("%1 – %2").arg(r.name, r.advice);
    return {};
}

void LadderView::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.fillRect(rect(), theme().raised);
    if (m_rungs.empty())
        return;
    const double left = 20, right = 150, step = std::min(72.0, (height() - 10.0) / static_cast<double>(m_rungs.size()));
    const bool roomy = step >= 36;
    double beside = 0; // the widest name, bold as that of an open rung is
    QFont strong = font();
    strong.setBold(true);
    for (const Rung& r : m_rungs)
        beside = std::max(beside, QFontMetricsF(strong).horizontalAdvance(r.name) + 2);
    const double bottom = 6 + step * static_cast<double>(m_rungs.size());
    p.setPen(QPen(theme().soft, 2));
    p.drawLine(QPointF(left, 6), QPointF(left, bottom));
    p.drawLine(QPointF(right, 6), QPointF(right, bottom));
    bool before = true;
    for (std::size_t k = 0; k < m_rungs.size(); ++k) {
        const Rung& r = m_rungs[k];
        const double y = 6 + (static_cast<double>(k) + 0.5) * step;
        const bool closed = r.closed.value_or(false);
        const QColor colour = !before ? theme().line : closed ? theme().ok : r.closed ? theme().fail : theme().unknown;
        p.setPen(QPen(colour, 2.4));
        if (closed) {
            p.drawLine(QPointF(left, y), QPointF(right, y));
        } else { // an open contact
            p.drawLine(QPointF(left, y), QPointF(left + 44, y));
            p.drawLine(QPointF(left + 44, y), QPointF(left + 78, y - 9));
            p.drawLine(QPointF(left + 82, y), QPointF(right, y));
        }
        paintVerdict(p, QPointF(right + 18, y), 9, closed ? Verdict::Ok : r.closed ? Verdict::Fail : Verdict::Unknown);
        p.setPen(before ? theme().ink : theme().soft);
        QFont f = font();
        f.setBold(before && !closed);
        p.setFont(f);
        // what closes a rung stands under its name, or where there is no height for it beside it
        const QRectF name(right + 34, y - (roomy ? 16 : 8), roomy ? width() - right - 40 : beside, 16),
            advice = roomy ? name.translated(0, 16) : QRectF(name.right() + 12, y - 8, width() - name.right() - 18, 16);
        p.drawText(name, Qt::AlignLeft | Qt::AlignVCenter, r.name);
        p.setFont(font());
        p.setPen(before && !closed ? theme().ink : theme().soft);
        p.drawText(advice, Qt::AlignLeft | Qt::AlignVCenter,
                   p.fontMetrics().elidedText(r.advice, Qt::ElideRight, static_cast<int>(advice.width())));
        before = before && closed;
    }
}

} // namespace ridge::app
