#include "boardview.h"

#include "app/theme/theme.h"
#include "app/widgets/figures.h"

#include <QPainter>
#include <QRegularExpression>

#include <cmath>

namespace ridge::app {

namespace {

constexpr int rowHeight = 44, left = 150, symbol = 110;

/// "2-3": pins with a bridge over those two.
void drawPins(QPainter& p, const QRectF& in, int from, int to)
{
    const int pins = std::max({3, from, to});
    for (int k = 1; k <= pins; ++k) {
        const QPointF at(in.left() + 14 + 22 * (k - 1), in.center().y());
        p.setBrush(Qt::NoBrush);
        p.drawEllipse(at, 4, 4);
        p.drawText(QRectF(at.x() - 10, at.y() + 6, 20, 14), Qt::AlignCenter, QString::number(k));
    }
    const double a = in.left() + 14 + 22 * (std::min(from, to) - 1), b = in.left() + 14 + 22 * (std::max(from, to) - 1);
    p.setBrush(theme().ink);
    p.setOpacity(0.55);
    p.drawRoundedRect(QRectF(a - 7, in.center().y() - 7, b - a + 14, 14), 3, 3);
    p.setOpacity(1);
}

/// "3/10": a dial from seven o'clock round to five.
void drawDial(QPainter& p, const QRectF& in, double share)
{
    const QPointF middle(in.left() + 26, in.center().y());
    p.setBrush(Qt::NoBrush);
    p.drawEllipse(middle, 14, 14);
    const double angle = (225 - 270 * std::clamp(share, 0.0, 1.0)) * M_PI / 180;
    p.drawLine(middle, middle + QPointF(13 * std::cos(angle), -13 * std::sin(angle)));
}

void drawSlider(QPainter& p, const QRectF& in, bool on)
{
    const QRectF body(in.left() + 10, in.center().y() - 7, 36, 14);
    p.setBrush(Qt::NoBrush);
    p.drawRect(body);
    p.setBrush(theme().ink);
    p.drawRect(QRectF(on ? body.right() - 16 : body.left() + 2, body.top() + 2, 14, 10));
}

void drawSetting(QPainter& p, const QRectF& in, const QString& text)
{
    static const QRegularExpression pins(QStringLiteral("^\\s*(\\d{1,2})\\s*-\\s*(\\d{1,2})\\s*$")),
        dial(QStringLiteral("^\\s*(\\d+(?:[.,]\\d+)?)\\s*/\\s*(\\d+)\\s*$"));
    p.setPen(QPen(theme().ink, 1.4));
    if (const auto m = pins.match(text); m.hasMatch())
        drawPins(p, in, std::clamp(m.captured(1).toInt(), 1, 4), std::clamp(m.captured(2).toInt(), 1, 4));
    else if (const auto d = dial.match(text); d.hasMatch() && d.captured(2).toInt() > 0)
        drawDial(p, in, d.captured(1).replace(QLatin1Char(','), QLatin1Char('.')).toDouble() / d.captured(2).toInt());
    else if (text.compare(QStringLiteral("on"), Qt::CaseInsensitive) == 0
             || text.compare(QStringLiteral("off"), Qt::CaseInsensitive) == 0)
        drawSlider(p, in, text.compare(QStringLiteral("on"), Qt::CaseInsensitive) == 0);
    p.setPen(theme().soft);
    p.drawText(in.adjusted(symbol - 14, 0, 60, 0), Qt::AlignVCenter | Qt::AlignLeft, text);
}

} // namespace

BoardView::BoardView(QWidget* parent)
    : QWidget(parent)
{
    setObjectName(QStringLiteral("boards"));
    setAccessibleName(tr("Jumpers and trimmers, before and after"));
}

void BoardView::setPlan(const WirePlan& plan)
{
    m_rows.clear();
    QStringList words;
    for (const WireDevice& d : plan.devices)
        for (const BoardSetting& s : d.settings) {
            m_rows.push_back({said(nameOf(d)), s});
            words += tr("%1 %2: before %3, after %4").arg(said(nameOf(d)), said(s.name), said(s.before), said(s.after));
        }
    setAccessibleDescription(words.join(QLatin1Char('\n')));
    updateGeometry();
    update();
}

QSize BoardView::minimumSizeHint() const { return {560, 30 + rowHeight * static_cast<int>(m_rows.size())}; }

void BoardView::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.setPen(theme().soft);
    const int column = (width() - left) / 2;
    p.drawText(QRect(left, 4, column, 20), Qt::AlignLeft, tr("Before"));
    p.drawText(QRect(left + column, 4, column, 20), Qt::AlignLeft, tr("After"));
    int y = 26;
    for (const Row& row : m_rows) {
        p.setPen(theme().ink);
        p.drawText(QRect(10, y, left - 16, rowHeight - 8), Qt::AlignVCenter | Qt::TextWordWrap,
                   QStringLiteral("%1 %2").arg(row.device, said(row.setting.name)));
        drawSetting(p, QRectF(left, y, symbol, rowHeight - 8), said(row.setting.before));
        drawSetting(p, QRectF(left + column, y, symbol, rowHeight - 8), said(row.setting.after));
        if (row.setting.before != row.setting.after) {
            p.setPen(theme().watch);
            p.drawText(QRectF(left + column - 30, y, 24, rowHeight - 8), Qt::AlignCenter, QStringLiteral("→"));
        }
        y += rowHeight;
    }
}

} // namespace ridge::app
