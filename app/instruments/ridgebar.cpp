#include "ridgebar.h"

#include "app/theme/sentence.h"
#include "app/theme/theme.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>

namespace ridge::app {

RidgeState ridgeState(const Evaluation& e)
{
    RidgeState s;
    for (int k = 0; k < stationCount; ++k)
        s.stations[static_cast<std::size_t>(k)] = stationState(e, static_cast<Station>(k));
    return s;
}

void paintRidge(QPainter& p, const QRectF& area, const RidgeState& state, bool labels)
{
    p.setRenderHint(QPainter::Antialiasing);
    const double step = area.width() / stationCount, foot = area.bottom() - (labels ? 21 : 1), least = labels ? 10 : 3;
    const double tall = foot - area.top() - (labels ? 14 : 2);
    for (int k = 0; k < stationCount; ++k) {
        const StationState& s = state.stations[static_cast<std::size_t>(k)];
        const double x0 = area.left() + k * step, top = foot - least - s.share() * (tall - least);
        const QPointF peak(x0 + step * 0.52, top);
        // the flanks overlap their neighbours a little, so that the row reads as one ridge
        QPainterPath mountain(QPointF(x0 - step * 0.16, foot));
        mountain.quadTo(x0 + step * 0.26, foot - (foot - top) * 0.42, peak.x(), peak.y());
        mountain.quadTo(x0 + step * 0.8, foot - (foot - top) * 0.34, x0 + step * 1.16, foot);
        QColor fill = theme().verdict(s.worst);
        fill.setAlphaF(k == state.current && labels ? 0.55F : 0.26F);
        p.setPen(QPen(theme().verdict(s.worst), labels ? 1.5 : 1.0));
        p.setBrush(fill);
        p.drawPath(mountain);
        if (!labels)
            continue;
        paintVerdict(p, peak - QPointF(0, 8), 9, s.worst);
        QFont f = p.font();
        f.setBold(k == state.current);
        p.setFont(f);
        p.setPen(k == state.current ? theme().accent : theme().ink);
        p.drawText(
            QRectF(x0, foot + 2, step, 18), Qt::AlignCenter,
            QStringLiteral("%1  %2/%3").arg(said(stationName(static_cast<Station>(k)))).arg(s.answered).arg(s.total));
    }
    p.setPen(QPen(theme().line, 1));
    p.drawLine(QPointF(area.left(), foot), QPointF(area.right(), foot));
}

RidgeBar::RidgeBar(QWidget* parent)
    : QWidget(parent)
{
    setObjectName(QStringLiteral("ridge"));
    setFixedHeight(92);
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Stations"));
    setCursor(Qt::PointingHandCursor);
}

void RidgeBar::setState(const RidgeState& state)
{
    if (m_state == state && !accessibleDescription().isEmpty())
        return;
    m_state = state;
    QStringList words;
    for (int k = 0; k < stationCount; ++k)
        words += QStringLiteral("%1 %2").arg(said(stationName(static_cast<Station>(k))),
                                             said(verdictWord(state.stations[static_cast<std::size_t>(k)].worst)));
    setAccessibleDescription(words.join(QStringLiteral(", ")));
    update();
}

void RidgeBar::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    p.fillRect(rect(), theme().panel);
    paintRidge(p, QRectF(rect()).adjusted(14, 6, -14, -2), m_state, true);
}

void RidgeBar::mousePressEvent(QMouseEvent* event)
{
    Q_EMIT stationChosen(std::clamp(static_cast<int>((event->position().x() - 14) / (width() - 28.0) * stationCount), 0,
                                    stationCount - 1));
}

void RidgeBar::keyPressEvent(QKeyEvent* event)
{
    if (event->key() == Qt::Key_Left || event->key() == Qt::Key_Right)
        Q_EMIT stationChosen(
            std::clamp(m_state.current + (event->key() == Qt::Key_Left ? -1 : 1), 0, stationCount - 1));
    else
        QWidget::keyPressEvent(event);
}

} // namespace ridge::app
