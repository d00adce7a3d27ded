#include "wiringmap.h"

#include "app/theme/sentence.h"
#include "app/theme/theme.h"
#include "core/wiring/rules.h"

#include <QHelpEvent>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QPainterPath>
#include <QPainterPathStroker>
#include <QToolTip>

#include <algorithm>
#include <array>
#include <set>

namespace ridge::app {

namespace {

constexpr int columns = 5;
constexpr double boxHeight = 30, rowGap = 8, border = 6;

/// From the supply at the left to the load at the right.
int columnOf(const std::string& kind)
{
    constexpr std::array<std::pair<std::string_view, int>, 13> places{{{"mains_source", 0},
                                                                       {"earth_bar", 0},
                                                                       {"estop", 0},
                                                                       {"guard_switch", 0},
                                                                       {"disconnector", 1},
                                                                       {"fuse", 1},
                                                                       {"contactor", 1},
                                                                       {"rcd", 1},
                                                                       {"filter", 1},
                                                                       {"psu24", 2},
                                                                       {"dc_supply", 2},
                                                                       {"safety_logic", 2},
                                                                       {"controller", 2}}};
    const auto it = std::ranges::find(places, std::string_view(kind), &std::pair<std::string_view, int>::first);
    return it != places.end() ? it->second : kind == "drive" || kind == "relay" ? 3 : 4;
}

/// A small drawing of the kind, as it is known from circuit diagrams.
void paintGlyph(QPainter& p, const std::string& kind, const QRectF& r)
{
    const QPointF c = r.center();
    const double w = r.width(), h = r.height();
    p.setBrush(Qt::NoBrush);
    if (kind == "mains_source") {
        QPainterPath wave(QPointF(r.left(), c.y()));
        wave.cubicTo(r.left() + w / 4, r.top() - h / 3, r.left() + w / 4, r.top() - h / 3, c.x(), c.y());
        wave.cubicTo(c.x() + w / 4, r.bottom() + h / 3, c.x() + w / 4, r.bottom() + h / 3, r.right(), c.y());
        p.drawPath(wave);
    } else if (kind == "disconnector" || kind == "contactor" || kind == "switch" || kind == "relay"
               || kind == "estop") {
        p.drawLine(QPointF(r.left(), c.y()), QPointF(r.left() + w * 0.3, c.y()));
        p.drawLine(QPointF(r.left() + w * 0.3, c.y()), QPointF(r.left() + w * 0.72, r.top() + 2));
        p.drawLine(QPointF(r.left() + w * 0.72, c.y()), QPointF(r.right(), c.y()));
        if (kind == "estop")
            p.drawLine(QPointF(r.left() + w * 0.4, r.top()), QPointF(r.left() + w * 0.72, r.top()));
    } else if (kind == "fuse" || kind == "brake_resistor" || kind == "resistor") {
        p.drawLine(QPointF(r.left(), c.y()), QPointF(r.right(), c.y()));
        if (kind == "fuse")
            p.drawRect(QRectF(r.left() + w * 0.2, c.y() - h * 0.22, w * 0.6, h * 0.44));
        else
            p.fillRect(QRectF(r.left() + w * 0.2, c.y() - h * 0.22, w * 0.6, h * 0.44), p.pen().color());
    } else if (kind == "psu24" || kind == "dc_supply") {
        p.drawRect(r.adjusted(1, 1, -1, -1));
        p.drawLine(r.bottomLeft() + QPointF(1, -1), r.topRight() + QPointF(-1, 1));
    } else if (kind == "drive") {
        p.drawRect(r.adjusted(2, 0, -2, 0));
        for (int k = 1; k < 4; ++k)
            p.drawLine(QPointF(r.left() + 2, r.top() + h * k / 4), QPointF(r.right() - 2, r.top() + h * k / 4));
    } else if (kind == "motor") {
        p.drawEllipse(c, h / 2, h / 2);
        p.drawLine(QPointF(c.x() + h / 2, c.y()), QPointF(r.right() + 2, c.y()));
    } else if (kind == "encoder") {
        p.drawEllipse(c, h / 2, h / 2);
        for (int k = 0; k < 4; ++k)
            p.drawLine(c, c + QPointF(k < 2 ? h / 2 : -h / 2, k % 2 == 0 ? h / 4 : -h / 4));
    } else {
        p.drawRoundedRect(r.adjusted(1, 1, -1, -1), 3, 3);
    }
}

} // namespace

WiringMap::WiringMap(QWidget* parent)
    : QWidget(parent)
{
    setObjectName(QStringLiteral("wiringMap"));
    setFocusPolicy(Qt::StrongFocus);
    setAccessibleName(tr("Devices and cables of the connection plan"));
}

QSize WiringMap::minimumSizeHint() const
{
    std::array<int, columns> rows{};
    for (const Box& b : m_boxes)
        ++rows.at(static_cast<std::size_t>(b.column));
    const int most = std::max(3, *std::ranges::max_element(rows));
    return {420, static_cast<int>(2 * border + most * (boxHeight + rowGap))};
}

void WiringMap::setPlan(const WirePlan& plan, const std::map<std::string, ConductorSeen>& seen,
                        const std::vector<Finding>& findings)
{
    if (m_plan == plan && m_seen == seen && m_findings == findings)
        return;
    m_plan = plan;
    m_seen = seen;
    m_findings = findings;
    m_boxes.clear();
    m_strands.clear();
    std::map<std::string, std::size_t> number;
    for (const WireDevice& d : m_plan.devices) {
        number[d.id] = m_boxes.size();
        Box box;
        box.device = &d;
        box.column = columnOf(d.kind);
        for (const Finding& f : m_findings)
            if (const WireRule* rule = wireRule(f.rule); rule && ownerOf(f.subject) == d.id)
                box.verdict = rule->severity <= Severity::Error ? Verdict::Fail
                              : box.verdict == Verdict::Fail    ? Verdict::Fail
                                                                : Verdict::Watch;
        m_boxes.push_back(box);
    }
    for (const Conductor& c : m_plan.conductors) {
        const auto a = number.find(ownerOf(c.a)), b = number.find(ownerOf(c.b));
        if (a == number.end() || b == number.end() || a->second == b->second)
            continue;
        const std::size_t from = std::min(a->second, b->second), to = std::max(a->second, b->second);
        auto it = std::ranges::find_if(
            m_strands, [&](const Strand& s) { return s.from == from && s.to == to && s.cable == c.cable; });
        if (it == m_strands.end())
            it = m_strands.insert(m_strands.end(), Strand{from, to, c.cable});
        const auto tick = m_seen.find(c.id);
        ++it->total;
        it->ticked += tick != m_seen.end() && tick->second.ticked;
        it->doubted += tick != m_seen.end() && tick->second.doubted;
        it->found = it->found || std::ranges::any_of(m_findings, [&](const Finding& f) { return concerns(f, c); });
    }
    place();
    updateGeometry();
    update();
}

void WiringMap::place()
{
    std::array<int, columns> rows{}, at{};
    for (const Box& b : m_boxes)
        ++rows.at(static_cast<std::size_t>(b.column));
    const double wide = (width() - 2 * border) / columns, box = wide - 16;
    for (Box& b : m_boxes) {
        const auto column = static_cast<std::size_t>(b.column);
        const double pitch = (height() - 2 * border) / rows.at(column),
                     y = border + pitch * at.at(column) + (pitch - boxHeight) / 2;
        ++at.at(column);
        b.where = {border + wide * b.column + 8, y, box, boxHeight};
    }
    update();
}

QRectF WiringMap::boxOf(const std::string& device) const
{
    const auto it = std::ranges::find_if(m_boxes, [&](const Box& b) { return b.device->id == device; });
    return it == m_boxes.end() ? QRectF() : it->where;
}

QPainterPath WiringMap::pathOf(const Strand& s) const
{
    const QRectF *a = &m_boxes[s.from].where, *b = &m_boxes[s.to].where;
    if (a->left() > b->left())
        std::swap(a, b);
    // strands between the same two boxes run beside each other
    int beside = 0, mine = 0;
    for (const Strand& other : m_strands) {
        if (other.from != s.from || other.to != s.to)
            continue;
        if (&other == &s)
            mine = beside;
        ++beside;
    }
    const double shift = (mine - (beside - 1) / 2.0) * 6;
    QPainterPath path;
    if (a->left() == b->left()) { // one above the other
        const bool down = a->top() < b->top();
        const QPointF from(a->center().x() + shift, down ? a->bottom() : a->top()),
            to(b->center().x() + shift, down ? b->top() : b->bottom());
        path.moveTo(from);
        path.lineTo(to);
        return path;
    }
    const QPointF from(a->right(), a->center().y() + shift), to(b->left(), b->center().y() + shift);
    const double half = (to.x() - from.x()) / 2;
    path.moveTo(from);
    path.cubicTo(from + QPointF(half, 0), to - QPointF(half, 0), to);
    return path;
}

void WiringMap::paintStrand(QPainter& p, const Strand& s) const
{
    const bool chosen = !m_cable.isEmpty() && m_cable == QString::fromStdString(s.cable);
    QPen pen(s.found               ? theme().fail
             : s.doubted > 0       ? theme().watch
             : s.ticked == s.total ? theme().ok
             : chosen              ? theme().accent
                                   : theme().soft,
             chosen                ? 3.2
             : s.ticked == s.total ? 2.2
                                   : 1.4);
    if (s.doubted > 0)
        pen.setStyle(Qt::DotLine);
    p.setPen(pen);
    p.setBrush(Qt::NoBrush);
    const QPainterPath path = pathOf(s);
    p.drawPath(path);
    if (s.found || s.doubted > 0)
        paintVerdict(p, path.pointAtPercent(0.5), 9, s.found ? Verdict::Fail : Verdict::Watch);
}

void WiringMap::paintBox(QPainter& p, const Box& b) const
{
    p.setPen(QPen(b.verdict == Verdict::Fail    ? theme().fail
                  : b.verdict == Verdict::Watch ? theme().watch
                                                : theme().soft,
                  b.verdict == Verdict::Unknown ? 1 : 2));
    p.setBrush(theme().panel);
    p.drawRoundedRect(b.where, 4, 4);
    p.setPen(QPen(theme().ink, 1.3));
    paintGlyph(p, b.device->kind, QRectF(b.where.left() + 6, b.where.center().y() - 7, 18, 14));
    p.setPen(theme().ink);
    const QRectF text = b.where.adjusted(29, 0, -2, 0);
    p.drawText(text, Qt::AlignVCenter | Qt::AlignLeft,
               p.fontMetrics().elidedText(said(nameOf(*b.device)), Qt::ElideRight, static_cast<int>(text.width())));
    if (b.verdict == Verdict::Fail || b.verdict == Verdict::Watch)
        paintVerdict(p, b.where.topRight(), 9, b.verdict);
}

void WiringMap::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.fillRect(rect(), theme().raised);
    if (m_boxes.empty()) {
        p.setPen(theme().soft);
        p.drawText(rect(), Qt::AlignCenter, tr("The plan follows from motor and drive: choose them in Match."));
        return;
    }
    for (const Strand& s : m_strands)
        if (m_cable != QString::fromStdString(s.cable))
            paintStrand(p, s);
    for (const Strand& s : m_strands)
        if (m_cable == QString::fromStdString(s.cable))
            paintStrand(p, s);
    for (const Box& b : m_boxes)
        paintBox(p, b);
    if (hasFocus()) {
        p.setPen(QPen(theme().accent, 1, Qt::DashLine));
        p.setBrush(Qt::NoBrush);
        p.drawRect(rect().adjusted(1, 1, -2, -2));
    }
}

QString WiringMap::wordsOf(const Strand& s) const
{
    const Cable* cable = m_plan.cable(s.cable);
    QString words = tr("%1: %2 to %3, %4 of %5 followed")
                        .arg(s.cable.empty() ? tr("link") : said(s.cable), said(nameOf(*m_boxes[s.from].device)),
                             said(nameOf(*m_boxes[s.to].device)))
                        .arg(s.ticked)
                        .arg(s.total);
    if (cable && cable->length > 0)
        words += tr(", %1 m").arg(cable->length);
    if (s.doubted > 0)
        words += tr(", %n in doubt", nullptr, s.doubted);
    if (s.found)
        words += tr(", a rule speaks of it");
    return words;
}

void WiringMap::setCable(const QString& cable)
{
    if (m_cable == cable)
        return;
    m_cable = cable;
    setAccessibleDescription(cable.isEmpty() ? tr("all cables") : tr("cable %1").arg(cable));
    update();
}

void WiringMap::step(int by)
{
    QStringList cables{QString()}; // all of them, then one after the other
    for (const Conductor& c : m_plan.conductors)
        if (const QString name = QString::fromStdString(c.cable); !cables.contains(name))
            cables += name;
    const auto at = std::max<qsizetype>(0, cables.indexOf(m_cable));
    setCable(cables[(at + by + cables.size()) % cables.size()]);
    Q_EMIT cableChosen(m_cable);
}

void WiringMap::mousePressEvent(QMouseEvent* event)
{
    const QPointF at = event->position();
    QString chosen;
    QPainterPathStroker wide;
    wide.setWidth(10);
    for (const Strand& s : m_strands)
        if (wide.createStroke(pathOf(s)).contains(at))
            chosen = QString::fromStdString(s.cable);
    for (std::size_t k = 0; k < m_boxes.size(); ++k) // a box: the next of its cables at each click
        if (m_boxes[k].where.contains(at)) {
            QStringList own;
            for (const Strand& s : m_strands)
                if (const QString name = QString::fromStdString(s.cable);
                    (s.from == k || s.to == k) && !own.contains(name))
                    own += name;
            if (!own.isEmpty())
                chosen = own[(own.indexOf(m_cable) + 1) % own.size()];
        }
    setCable(chosen);
    Q_EMIT cableChosen(m_cable);
}

void WiringMap::keyPressEvent(QKeyEvent* event)
{
    switch (event->key()) {
    case Qt::Key_Right:
    case Qt::Key_Down: step(1); break;
    case Qt::Key_Left:
    case Qt::Key_Up: step(-1); break;
    case Qt::Key_Home:
        setCable({});
        Q_EMIT cableChosen(m_cable);
        break;
    default: QWidget::keyPressEvent(event);
    }
}

bool WiringMap::event(QEvent* e)
{
    if (e->type() == QEvent::ToolTip) {
        const auto* help = static_cast<QHelpEvent*>(e);
        QPainterPathStroker wide;
        wide.setWidth(10);
        for (const Box& b : m_boxes)
            if (b.where.contains(help->pos())) {
                QToolTip::showText(help->globalPos(), said(b.device->id + ": " + nameOf(*b.device)), this);
                return true;
            }
        for (const Strand& s : m_strands)
            if (wide.createStroke(pathOf(s)).contains(help->pos())) {
                QToolTip::showText(help->globalPos(), wordsOf(s), this);
                return true;
            }
        QToolTip::hideText();
        return true;
    }
    return QWidget::event(e);
}

} // namespace ridge::app
