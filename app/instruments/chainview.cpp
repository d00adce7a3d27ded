#include "chainview.h"

#include "app/theme/theme.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>

#include <cmath>

namespace ridge::app {

ChainView::ChainView(QWidget* parent) : QWidget(parent)
{
    setObjectName(QStringLiteral("chain"));
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Chain from load to motor"));
}

void ChainView::setChain(std::vector<ElementShare> shares, const QStringList& figures, bool vertical, const QString& chosen)
{
    m_shares = std::move(shares);
    m_figures = figures;
    m_vertical = vertical;
    m_chosen = chosen;
    update();
}

QRectF ChainView::block(int index) const
{
    const double n = std::max<double>(1, static_cast<double>(m_shares.size())), step = width() / n;
    return {index * step + 8, 8, step - 16, height() * 0.52};
}

void ChainView::paintSymbol(QPainter& p, const QRectF& r, const ElementShare& e) const
{
    const QPointF c = r.center();
    const double s = std::min(r.width(), r.height()) * 0.42;
    p.setPen(QPen(theme().ink, 1.5));
    p.setBrush(theme().accentSoft);
    const QString key = QString::fromStdString(e.key);
    if (key == QLatin1String("load")) {
        p.drawRect(QRectF(c.x() - s, c.y() - s * 0.55, s * 2, s * 1.1));
        p.drawLine(c + QPointF(0, s * 0.9), c + QPointF(0, s * 0.55)); // weight arrow where it hangs
        if (m_vertical)
            p.drawPolygon(QPolygonF({c + QPointF(0, s * 1.25), c + QPointF(-5, s * 0.9), c + QPointF(5, s * 0.9)}));
    } else if (key == QLatin1String("mechanism") && e.name == "ball-screw") {
        const QRectF shaft(c.x() - s * 1.3, c.y() - s * 0.18, s * 2.6, s * 0.36);
        p.drawRect(shaft);
        for (double x = shaft.left() + 4; x < shaft.right() - 4; x += 7)
            p.drawLine(QPointF(x, shaft.bottom()), QPointF(x + 5, shaft.top()));
        p.setBrush(theme().raised);
        p.drawRect(QRectF(c.x() - s * 0.32, c.y() - s * 0.5, s * 0.64, s));
    } else if (key == QLatin1String("mechanism") && e.name == "belt") {
        p.drawEllipse(c - QPointF(s * 0.9, 0), s * 0.4, s * 0.4);
        p.drawEllipse(c + QPointF(s * 0.9, 0), s * 0.4, s * 0.4);
        p.drawLine(c + QPointF(-s * 0.9, -s * 0.4), c + QPointF(s * 0.9, -s * 0.4));
        p.drawLine(c + QPointF(-s * 0.9, s * 0.4), c + QPointF(s * 0.9, s * 0.4));
    } else if (key == QLatin1String("mechanism")) {
        p.drawEllipse(c, s * 0.8, s * 0.8);
        p.drawEllipse(c, s * 0.2, s * 0.2);
    } else if (key == QLatin1String("motor")) {
        p.drawRoundedRect(QRectF(c.x() - s * 0.9, c.y() - s * 0.6, s * 1.8, s * 1.2), 4, 4);
        p.drawRect(QRectF(c.x() - s * 1.35, c.y() - s * 0.13, s * 0.45, s * 0.26));
    } else {
        p.drawRect(QRectF(c.x() - s * 0.55, c.y() - s * 0.45, s * 0.5, s * 0.9));
        p.drawRect(QRectF(c.x() + s * 0.05, c.y() - s * 0.45, s * 0.5, s * 0.9));
    }
}

void ChainView::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.fillRect(rect(), theme().raised);
    double inertia = 0, torque = 0;
    for (const ElementShare& e : m_shares) {
        inertia += e.inertia;
        torque += e.torque;
    }
    for (int k = 0; k < static_cast<int>(m_shares.size()); ++k) {
        const ElementShare& e = m_shares[static_cast<std::size_t>(k)];
        const QRectF r = block(k);
        const bool chosen = m_chosen == QString::fromStdString(e.key);
        if (k + 1 < static_cast<int>(m_shares.size())) { // the shaft to the next one
            p.setPen(QPen(theme().soft, 2.5));
            p.drawLine(QPointF(r.right(), r.center().y() - 12), QPointF(block(k + 1).left(), r.center().y() - 12));
        }
        p.setPen(QPen(chosen ? theme().accent : theme().line, chosen ? 2 : 1));
        p.setBrush(theme().paper);
        p.drawRoundedRect(r, 5, 5);
        paintSymbol(p, r.adjusted(6, 4, -6, -52), e);
        p.setPen(theme().ink);
        QFont bold = font();
        bold.setBold(true);
        p.setFont(bold);
        p.drawText(QRectF(r.left() + 4, r.bottom() - 50, r.width() - 8, 18), Qt::AlignCenter, p.fontMetrics().elidedText(said(e.name), Qt::ElideRight, static_cast<int>(r.width()) - 8));
        p.setFont(font());
        p.setPen(theme().soft);
        p.drawText(QRectF(r.left() + 2, r.bottom() - 33, r.width() - 4, 32), Qt::AlignCenter | Qt::TextWordWrap, m_figures.value(k));
        // shares at the motor shaft
        const double top = height() * 0.52 + 26, high = height() - top - 26;
        const double wi = r.width() * 0.3;
        const auto bar = [&](double x, double share, const QColor& colour, Qt::BrushStyle style) {
            p.setPen(QPen(colour, 1.2));
            p.setBrush(QBrush(colour, style));
            const double h = std::max(1.0, share * high);
            p.drawRect(QRectF(x, top + high - h, wi, h));
            p.setPen(theme().ink);
            p.drawText(QRectF(x - 14, top + high - h - 17, wi + 28, 16), Qt::AlignCenter, QStringLiteral("%1 %").arg(share * 100, 0, 'f', share < 0.1 ? 1 : 0));
        };
        bar(r.left() + r.width() * 0.14, inertia > 0 ? e.inertia / inertia : 0, theme().trace[0], Qt::SolidPattern);
        bar(r.left() + r.width() * 0.56, torque > 0 ? e.torque / torque : 0, theme().trace[1], Qt::BDiagPattern);
    }
    p.setPen(theme().soft);
    p.drawText(QRectF(10, height() - 22, width() - 20, 18), Qt::AlignLeft, tr("Share at the motor shaft:  solid – inertia,  hatched – torque while accelerating in the positive direction"));
}

void ChainView::mousePressEvent(QMouseEvent* event)
{
    for (int k = 0; k < static_cast<int>(m_shares.size()); ++k)
        if (block(k).contains(event->position()))
            Q_EMIT elementChosen(QString::fromStdString(m_shares[static_cast<std::size_t>(k)].key));
}

void ChainView::keyPressEvent(QKeyEvent* event)
{
    int at = 0;
    for (int k = 0; k < static_cast<int>(m_shares.size()); ++k)
        if (QString::fromStdString(m_shares[static_cast<std::size_t>(k)].key) == m_chosen)
            at = k;
    const int step = event->key() == Qt::Key_Right ? 1 : event->key() == Qt::Key_Left ? -1 : 0;
    if (step != 0 && at + step >= 0 && at + step < static_cast<int>(m_shares.size()))
        Q_EMIT elementChosen(QString::fromStdString(m_shares[static_cast<std::size_t>(at + step)].key));
    else
        QWidget::keyPressEvent(event);
}

ConnectionView::ConnectionView(QWidget* parent) : QWidget(parent)
{
    setObjectName(QStringLiteral("connections"));
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Connections between drive and machine"));
}

void ConnectionView::setPlan(const WirePlan& plan, const WiringRecord& record, const std::vector<Finding>& findings)
{
    m_plan = plan;
    m_record = record;
    m_findings = findings;
    m_wires.clear();
    double y = 30;
    QString last;
    // grouped by cable, in the order of the plan
    QStringList cables;
    for (const Conductor& c : m_plan.conductors)
        if (const QString cable = QString::fromStdString(c.cable); !cables.contains(cable))
            cables += cable;
    for (const QString& cable : cables)
        for (const Conductor& c : m_plan.conductors) {
            if (QString::fromStdString(c.cable) != cable)
                continue;
            if (cable != last)
                y += 22;
            last = cable;
            m_wires.push_back({&c, y, cable});
            y += 19;
        }
    setMinimumHeight(static_cast<int>(y) + 16);
    m_current = std::clamp(m_current, 0, std::max(0, static_cast<int>(m_wires.size()) - 1));
    update();
}

QString ConnectionView::chosen() const { return m_wires.empty() ? QString() : QString::fromStdString(m_wires[static_cast<std::size_t>(m_current)].conductor->id); }

void ConnectionView::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.fillRect(rect(), theme().raised);
    const double left = 150, right = width() - 150.0;
    p.setPen(theme().soft);
    p.drawText(QRectF(8, 4, left, 20), Qt::AlignLeft | Qt::AlignVCenter, tr("from"));
    p.drawText(QRectF(right + 8, 4, 140, 20), Qt::AlignLeft | Qt::AlignVCenter, tr("to"));
    QString last;
    for (std::size_t k = 0; k < m_wires.size(); ++k) {
        const Wire& w = m_wires[k];
        const Conductor& c = *w.conductor;
        if (w.group != last) {
            const Cable* cable = m_plan.cable(c.cable);
            const QString title = w.group.isEmpty() ? tr("link in the drive") : cable ? tr("%1, %2 m%3").arg(said(c.cable)).arg(cable->length).arg(cable->shields.empty() ? tr(", no shield") : tr(", shielded")) : said(c.cable);
            p.setPen(theme().accent);
            p.drawText(QRectF(left, w.y - 19, right - left, 16), Qt::AlignCenter, title);
            if (cable && !cable->shields.empty()) { // the shield around the group
                double end = w.y;
                for (const Wire& other : m_wires)
                    if (other.group == w.group)
                        end = other.y;
                p.setPen(QPen(theme().soft, 1, Qt::DashLine));
                p.setBrush(Qt::NoBrush);
                p.drawRoundedRect(QRectF(left + 40, w.y - 8, right - left - 80, end - w.y + 17), 8, 8);
            }
            last = w.group;
        }
        const auto it = m_record.ticks.find(c.id);
        const Tick tick = it == m_record.ticks.end() ? Tick{} : it->second;
        if (static_cast<int>(k) == m_current)
            p.fillRect(QRectF(0, w.y - 9, width(), 18), theme().accentSoft);
        const bool earth = c.colour == "gnye";
        p.setPen(QPen(earth ? theme().trace[3] : tick.ticked ? theme().ok : theme().ink, tick.ticked ? 2.2 : 1.2, tick.doubted ? Qt::DotLine : Qt::SolidLine));
        p.drawLine(QPointF(left, w.y), QPointF(right, w.y));
        p.setBrush(theme().raised);
        p.drawEllipse(QPointF(left, w.y), 3.5, 3.5);
        p.drawEllipse(QPointF(right, w.y), 3.5, 3.5);
        p.setPen(theme().ink);
        p.drawText(QRectF(8, w.y - 9, left - 18, 18), Qt::AlignRight | Qt::AlignVCenter, said(c.a));
        p.drawText(QRectF(right + 10, w.y - 9, 138, 18), Qt::AlignLeft | Qt::AlignVCenter, said(c.b));
        paintVerdict(p, QPointF((left + right) / 2, w.y), 9, tick.doubted ? Verdict::Watch : tick.ticked ? Verdict::Ok : Verdict::Unknown);
        if (!tick.reading.empty())
            p.drawText(QRectF((left + right) / 2 + 12, w.y - 9, 150, 18), Qt::AlignLeft | Qt::AlignVCenter, QString::fromStdString(tick.reading));
    }
}

void ConnectionView::mousePressEvent(QMouseEvent* event)
{
    for (std::size_t k = 0; k < m_wires.size(); ++k)
        if (std::abs(m_wires[k].y - event->position().y()) < 10) {
            m_current = static_cast<int>(k);
            update();
            Q_EMIT conductorChosen(chosen());
        }
}

void ConnectionView::keyPressEvent(QKeyEvent* event)
{
    const int step = event->key() == Qt::Key_Down ? 1 : event->key() == Qt::Key_Up ? -1 : 0;
    if (step == 0) {
        QWidget::keyPressEvent(event);
        return;
    }
    m_current = std::clamp(m_current + step, 0, std::max(0, static_cast<int>(m_wires.size()) - 1));
    update();
    Q_EMIT conductorChosen(chosen());
}

LadderView::LadderView(QWidget* parent) : QWidget(parent)
{
    setObjectName(QStringLiteral("ladder"));
    setAccessibleName(tr("Enable chain"));
}

void LadderView::setRungs(std::vector<Rung> rungs)
{
    m_rungs = std::move(rungs);
    setMinimumHeight(static_cast<int>(m_rungs.size()) * 28 + 34);
    setAccessibleDescription(openRung());
    update();
}

QString LadderView::openRung() const
{
    for (const Rung& r : m_rungs)
        if (!r.closed || !*r.closed)
            return r.name + QStringLiteral(": ") + r.advice;
    return tr("every rung is closed");
}

void LadderView::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.fillRect(rect(), theme().raised);
    const double left = 18, right = 112;
    bool before = true;
    p.setPen(QPen(theme().soft, 2));
    p.drawLine(QPointF(left, 10), QPointF(left, height() - 24.0));
    p.drawLine(QPointF(right, 10), QPointF(right, height() - 24.0));
    for (std::size_t k = 0; k < m_rungs.size(); ++k) {
        const Rung& r = m_rungs[k];
        const double y = 24 + static_cast<double>(k) * 28;
        const bool closed = r.closed.value_or(false);
        const QColor colour = !before ? theme().line : closed ? theme().ok : r.closed ? theme().fail : theme().unknown;
        p.setPen(QPen(colour, 2.4));
        if (closed) {
            p.drawLine(QPointF(left, y), QPointF(right, y));
        } else { // an open contact
            p.drawLine(QPointF(left, y), QPointF(left + 34, y));
            p.drawLine(QPointF(left + 34, y), QPointF(left + 58, y - 11));
            p.drawLine(QPointF(left + 60, y), QPointF(right, y));
        }
        p.setPen(before ? theme().ink : theme().soft);
        QFont f = font();
        f.setBold(before && !closed);
        p.setFont(f);
        p.drawText(QRectF(right + 14, y - 10, width() - right - 20, 20), Qt::AlignLeft | Qt::AlignVCenter, before && !closed ? r.name + QStringLiteral(" – ") + r.advice : r.name);
        before = before && closed;
    }
}

AngleStrip::AngleStrip(QWidget* parent) : QWidget(parent)
{
    setObjectName(QStringLiteral("strip"));
    setMinimumHeight(96);
    setAccessibleName(tr("One turn, unrolled"));
}

void AngleStrip::setCounts(double expected, std::optional<double> counted, double now)
{
    m_expected = expected;
    m_counted = counted;
    m_now = now;
    update();
}

void AngleStrip::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.fillRect(rect(), theme().raised);
    const double x0 = 90, x1 = width() - 30.0, span = (x1 - x0) / 1.15;
    const auto at = [&](double turns) { return x0 + turns * span; };
    p.setPen(theme().soft);
    for (int k = 0; k <= 4; ++k) {
        p.drawLine(QPointF(at(k / 4.0), 18), QPointF(at(k / 4.0), height() - 22.0));
        p.drawText(QRectF(at(k / 4.0) - 30, height() - 20.0, 60, 16), Qt::AlignCenter, QStringLiteral("%1°").arg(k * 90));
    }
    const auto band = [&](double y, double turns, const QColor& colour, const QString& name, const QString& value) {
        p.setPen(theme().ink);
        p.drawText(QRectF(4, y - 9, x0 - 10, 18), Qt::AlignRight | Qt::AlignVCenter, name);
        p.setPen(Qt::NoPen);
        p.setBrush(colour);
        const double end = std::clamp(turns, -0.1, 1.15);
        p.drawRect(QRectF(std::min(at(0), at(end)), y - 6, std::abs(end) * span, 12));
        p.setPen(theme().raised);
        p.drawText(QRectF(at(0) + 6, y - 8, span, 16), Qt::AlignLeft | Qt::AlignVCenter, value);
    };
    band(32, 1, theme().trace[0], tr("one turn"), tr("%1 counts").arg(m_expected, 0, 'f', 0));
    if (m_counted && m_expected > 0)
        band(56, *m_counted / m_expected, theme().trace[1], tr("counted"), tr("%1 counts").arg(*m_counted, 0, 'f', 0));
    const double inTurn = m_now - std::floor(m_now);
    p.setPen(QPen(theme().accent, 2));
    p.drawLine(QPointF(at(inTurn), 14), QPointF(at(inTurn), height() - 24.0));
}

} // namespace ridge::app
