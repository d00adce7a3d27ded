#include "anglestrip.h"

#include "app/theme/theme.h"

#include <QPainter>

#include <algorithm>
#include <cmath>

namespace ridge::app {

AngleStrip::AngleStrip(QWidget* parent)
    : QWidget(parent)
{
    setObjectName(QStringLiteral("strip"));
    setMinimumHeight(70);
    setAccessibleName(tr("One turn, unrolled"));
}

void AngleStrip::setCounts(double expected, std::optional<double> counted)
{
    if (m_expected == expected && m_counted == counted)
        return;
    m_expected = expected;
    m_counted = counted;
    setAccessibleDescription(counted ? tr("%1 of %2 counts").arg(*counted, 0, 'f', 0).arg(expected, 0, 'f', 0)
                                     : tr("not counted yet"));
    update();
}

void AngleStrip::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.fillRect(rect(), theme().raised);
    const double x0 = 110, x1 = width() - 24.0, first = -0.1, last = 1.2, scale = (x1 - x0) / (last - first);
    const auto at = [&](double turns) { return x0 + (turns - first) * scale; };
    const double top = 5, bottom = height() - 26.0, half = (bottom - top) / 2;
    for (int k = 0; k <= 4; ++k) {
        p.setPen(
            QPen(k == 0 || k == 4 ? theme().soft : theme().line, 1, k == 0 || k == 4 ? Qt::SolidLine : Qt::DotLine));
        p.drawLine(QPointF(at(k / 4.0), top), QPointF(at(k / 4.0), bottom + 4));
        p.setPen(theme().soft);
        p.drawText(QRectF(at(k / 4.0) - 60, bottom + 5, 120, 16), Qt::AlignCenter,
                   k == 4 ? tr("360° = one turn") : QStringLiteral("%1°").arg(k * 90));
    }
    const auto band = [&](double y, double turns, const QColor& colour, Qt::BrushStyle style, const QString& name,
                          const QString& value) {
        p.setPen(theme().ink);
        p.drawText(QRectF(4, y, x0 - 14, half - 8), Qt::AlignRight | Qt::AlignVCenter, name);
        const double end = std::clamp(turns, first, last);
        QColor wash = colour;
        wash.setAlphaF(0.22F);
        p.setPen(Qt::NoPen);
        p.setBrush(wash);
        const QRectF bar(std::min(at(0), at(end)), y, std::abs(end) * scale, half - 8);
        p.drawRect(bar);
        p.setPen(QPen(colour, 1.4));
        p.setBrush(QBrush(colour, style));
        p.drawRect(bar);
        p.setPen(theme().ink);
        QFont bold = font();
        bold.setBold(true);
        p.setFont(bold);
        p.fillRect(QRectF(at(0) + 8, y + 5, p.fontMetrics().horizontalAdvance(value) + 10, half - 18), theme().raised);
        p.drawText(QRectF(at(0) + 13, y, scale, half - 8), Qt::AlignLeft | Qt::AlignVCenter, value);
        p.setFont(font());
    };
    band(top + 2, 1, theme().trace[0], Qt::NoBrush, tr("expected"), tr("%1 counts").arg(m_expected, 0, 'f', 0));
    if (m_counted && m_expected > 0)
        band(top + half + 2, *m_counted / m_expected, theme().trace[1], Qt::BDiagPattern, tr("counted"),
             tr("%1 counts").arg(*m_counted, 0, 'f', 0));
    else {
        p.setPen(theme().soft);
        p.drawText(QRectF(4, top + half, x0 - 14, half), Qt::AlignRight | Qt::AlignVCenter, tr("counted"));
        p.drawText(QRectF(at(0) + 13, top + half, scale, half), Qt::AlignLeft | Qt::AlignVCenter,
                   tr("nothing yet: mark the start, turn once, take the count"));
    }
}

} // namespace ridge::app
