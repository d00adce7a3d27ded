#include "connectionview.h"

#include "app/theme/sentence.h"
#include "app/theme/theme.h"
#include "core/wiring/rules.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QScrollArea>

#include <algorithm>
#include <cmath>

namespace ridge::app {

namespace {
constexpr double wireHeight = 19, groupGap = 30, widest = 132, narrow = 120;
}

/// Room for the names at either side: a third of the width, as far as they need it.
double ConnectionView::side() const { return std::min(widest, width() * 0.36); }

ConnectionView::ConnectionView(QWidget* parent)
    : QWidget(parent)
{
    setObjectName(QStringLiteral("connections"));
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Connections between drive and machine"));
}

void ConnectionView::setPlan(const WirePlan& plan, const std::map<std::string, ConductorSeen>& seen,
                             const std::vector<Finding>& findings)
{
    if (m_plan == plan && m_seen == seen && m_findings == findings)
        return;
    m_plan = plan;
    m_seen = seen;
    m_findings = findings;
    lay();
}

void ConnectionView::setCable(const QString& cable)
{
    if (m_cable == cable)
        return;
    m_cable = cable;
    lay();
    choose(0);
}

void ConnectionView::lay()
{
    m_wires.clear();
    m_groups.clear();
    double y = 0;
    std::vector<std::string> cables; // in the order of the plan
    for (const Conductor& c : m_plan.conductors)
        if (std::ranges::find(cables, c.cable) == cables.end()
            && (m_cable.isEmpty() || m_cable == QString::fromStdString(c.cable)))
            cables.push_back(c.cable);
    for (const std::string& name : cables) {
        const Cable* cable = m_plan.cable(name);
        Group g;
        g.cable =
            name.empty() ? tr("links inside the drive") : tr("%1, %2 m").arg(said(name)).arg(cable ? cable->length : 0);
        g.shielded = cable && !cable->shields.empty();
        if (g.shielded) {
            QStringList bonds;
            for (const std::string& bond : cable->shields.front().bonds)
                bonds += said(endWords(m_plan, bond));
            g.shield = bonds.isEmpty() ? tr("shield on nothing") : tr("shield on %1").arg(bonds.join(tr(" and ")));
        }
        if (cable && !g.shielded)
            g.cable += tr(", no shield");
        y += groupGap;
        g.top = y;
        for (std::size_t k = 0; k < m_plan.conductors.size(); ++k) {
            const Conductor& c = m_plan.conductors[k];
            if (c.cable != name)
                continue;
            const auto it = m_seen.find(c.id);
            g.ticked += it != m_seen.end() && it->second.ticked;
            ++g.total;
            m_wires.push_back({k, y});
            y += wireHeight;
        }
        g.bottom = y - wireHeight;
        if (g.shielded)
            y += 12; // what its shield is clamped to
        m_groups.push_back(g);
    }
    setMinimumHeight(static_cast<int>(y) + 12);
    m_current = std::clamp(m_current, 0, std::max(0, static_cast<int>(m_wires.size()) - 1));
    int ticked = 0;
    for (const Group& g : m_groups)
        ticked += g.ticked;
    setAccessibleDescription(tr("%1 of %2 conductors ticked").arg(ticked).arg(m_wires.size()));
    update();
}

void ConnectionView::setBridges(std::vector<BridgeIn> bridges)
{
    if (m_bridges == bridges)
        return;
    m_bridges = std::move(bridges);
    update();
}

std::optional<QPointF> ConnectionView::terminal(const std::string& name) const
{
    for (const Wire& w : m_wires) {
        const Conductor& c = m_plan.conductors[w.conductor];
        if (meansTerminal(name, c.a))
            return QPointF(side(), w.y);
        if (meansTerminal(name, c.b))
            return QPointF(width() - side(), w.y);
    }
    return {};
}

int ConnectionView::bridgesDrawn() const
{
    return static_cast<int>(
        std::ranges::count_if(m_bridges, [this](const BridgeIn& b) { return terminal(b.from) && terminal(b.to); }));
}

void ConnectionView::paintBridge(QPainter& p, const BridgeIn& bridge) const
{
    const auto from = terminal(bridge.from), to = terminal(bridge.to);
    if (!from || !to)
        return;
    // a thick bow outside the row of wires, with its word: shape before colour
    const double out = from->x() < width() / 2.0 ? 26 : -26;
    QPainterPath bow(*from);
    bow.cubicTo(QPointF(from->x() + out, from->y()), QPointF(to->x() + out, to->y()), *to);
    p.setBrush(Qt::NoBrush);
    p.setPen(QPen(theme().fail, 4, Qt::SolidLine, Qt::RoundCap));
    p.drawPath(bow);
    QFont bold = font();
    bold.setBold(true);
    p.setFont(bold);
    const QString word = tr("BRIDGE %1").arg(QString::fromStdString(bridge.bridge));
    const QPointF middle = bow.pointAtPercent(0.5);
    const double wide = QFontMetricsF(bold).horizontalAdvance(word) + 8;
    const QRectF plate(out > 0 ? middle.x() + 6 : middle.x() - 6 - wide, middle.y() - 9, wide, 18);
    p.fillRect(plate, theme().fail);
    p.setPen(theme().raised);
    p.drawText(plate, Qt::AlignCenter, word);
    p.setFont(font());
}

QString ConnectionView::chosen() const
{
    return m_wires.empty()
               ? QString()
               : QString::fromStdString(m_plan.conductors[m_wires[static_cast<std::size_t>(m_current)].conductor].id);
}

void ConnectionView::paintGroup(QPainter& p, const Group& g, double left, double right) const
{
    p.setPen(theme().accent);
    QFont bold = font();
    bold.setBold(true);
    p.setFont(bold);
    p.drawText(QRectF(12, g.top - 25, right - 24, 16), Qt::AlignLeft | Qt::AlignVCenter, g.cable);
    p.setFont(font());
    p.setPen(g.ticked == g.total ? theme().ok : theme().soft);
    p.drawText(QRectF(right, g.top - 25, side() - 12, 16), Qt::AlignRight | Qt::AlignVCenter,
               tr("%1 / %2").arg(g.ticked).arg(g.total));
    if (!g.shielded)
        return;
    QColor wash = theme().accentSoft;
    wash.setAlphaF(0.45F);
    p.setPen(QPen(theme().soft, 1, Qt::DashLine)); // the shield around its conductors
    p.setBrush(wash);
    p.drawRoundedRect(QRectF(left + 30, g.top - 9, right - left - 60, g.bottom - g.top + 18), 8, 8);
    p.setPen(theme().soft);
    p.drawText(QRectF(8, g.bottom + 9, left + right - 16, 15), Qt::AlignCenter, g.shield);
}

void ConnectionView::paintWire(QPainter& p, int index, double left, double right) const
{
    const Wire& w = m_wires[static_cast<std::size_t>(index)];
    const Conductor& c = m_plan.conductors[w.conductor];
    const auto it = m_seen.find(c.id);
    const ConductorSeen tick = it == m_seen.end() ? ConductorSeen{} : it->second;
    if (index == m_current) {
        p.setPen(Qt::NoPen);
        p.setBrush(theme().accentSoft);
        p.drawRect(QRectF(0, w.y - 9, width(), 18));
    }
    const bool earth = c.colour == "gnye";
    p.setPen(QPen(earth         ? theme().trace[3]
                  : tick.ticked ? theme().ok
                                : theme().ink,
                  tick.ticked ? 2.2 : 1.2, tick.doubted ? Qt::DotLine : Qt::SolidLine));
    p.drawLine(QPointF(left, w.y), QPointF(right, w.y));
    p.setBrush(theme().raised);
    p.drawEllipse(QPointF(left, w.y), 3.5, 3.5);
    p.drawEllipse(QPointF(right, w.y), 3.5, 3.5);
    const auto endText = [&](const std::string& end) {
        return p.fontMetrics().elidedText(said(endWords(m_plan, end)), Qt::ElideLeft, static_cast<int>(side()) - 14);
    };
    const bool found = std::ranges::any_of(m_findings, [&](const Finding& f) { return concerns(f, c); });
    p.setPen(found ? theme().fail : theme().ink);
    p.drawText(QRectF(2, w.y - 9, left - 12, 18), Qt::AlignRight | Qt::AlignVCenter, endText(c.a));
    p.drawText(QRectF(right + 10, w.y - 9, side() - 12, 18), Qt::AlignLeft | Qt::AlignVCenter, endText(c.b));
    const double mark = right - 18;
    paintVerdict(p, QPointF(mark, w.y), 9,
                 tick.doubted  ? Verdict::Watch
                 : tick.ticked ? Verdict::Ok
                               : Verdict::Unknown);
    p.setPen(theme().soft);
    const auto plate = [&](double x, const QString& text) { // text on the wire, with the wire taken away behind it
        const QRectF r(x, w.y - 8, p.fontMetrics().horizontalAdvance(text) + 8, 16);
        p.fillRect(r, index == m_current ? theme().accentSoft : theme().raised);
        p.drawText(r, Qt::AlignCenter, text);
    };
    QString core = c.mm2 > 0 ? tr("%1 mm²").arg(c.mm2) : QString();
    if (!c.colour.empty() && !earth)
        core += (core.isEmpty() ? QString() : QStringLiteral(" ")) + said(c.colour);
    if (!core.isEmpty() && right - left > narrow) // else the wire alone
        plate(left + 30, core);
    if (found)
        paintVerdict(p, QPointF(left + 18, w.y), 9, Verdict::Fail);
    p.setPen(theme().ink);
    if (!tick.reading.empty())
        plate(mark - 16 - p.fontMetrics().horizontalAdvance(said(tick.reading)), said(tick.reading));
}

void ConnectionView::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.fillRect(rect(), theme().raised);
    const double left = side(), right = width() - side();
    for (const Group& g : m_groups)
        paintGroup(p, g, left, right);
    for (int k = 0; k < static_cast<int>(m_wires.size()); ++k)
        paintWire(p, k, left, right);
    for (const BridgeIn& b : m_bridges)
        paintBridge(p, b);
}

void ConnectionView::choose(int wire)
{
    m_current = std::clamp(wire, 0, std::max(0, static_cast<int>(m_wires.size()) - 1));
    update();
    for (QWidget* w = parentWidget(); w; w = w->parentWidget())
        if (auto* area = qobject_cast<QScrollArea*>(w); area && !m_wires.empty()) {
            area->ensureVisible(width() / 2, static_cast<int>(m_wires[static_cast<std::size_t>(m_current)].y), 10, 30);
            break;
        }
    Q_EMIT conductorChosen(chosen());
}

void ConnectionView::mousePressEvent(QMouseEvent* event)
{
    for (std::size_t k = 0; k < m_wires.size(); ++k)
        if (std::abs(m_wires[k].y - event->position().y()) < wireHeight / 2)
            choose(static_cast<int>(k));
}

void ConnectionView::keyPressEvent(QKeyEvent* event)
{
    switch (event->key()) {
    case Qt::Key_Down: choose(m_current + 1); break;
    case Qt::Key_Up: choose(m_current - 1); break;
    case Qt::Key_Home: choose(0); break;
    case Qt::Key_End: choose(static_cast<int>(m_wires.size()) - 1); break;
    case Qt::Key_Space: Q_EMIT tickWanted(); break;
    case Qt::Key_D: Q_EMIT doubtWanted(); break;
    case Qt::Key_Return:
    case Qt::Key_Enter: Q_EMIT readingWanted(); break;
    default: QWidget::keyPressEvent(event);
    }
}

} // namespace ridge::app
