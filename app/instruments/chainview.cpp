#include "chainview.h"

#include "app/theme/theme.h"

#include "chainsymbols.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

#include <algorithm>

namespace ridge::app {

ChainLayout layoutChain(const std::vector<ChainElement>& elements, const QString& chosen, QSizeF size)
{
    ChainLayout l;
    const double n = std::max<double>(1, static_cast<double>(elements.size())), gap = 22,
                 step = (size.width() - 12 + gap) / n;
    const double high = size.height() * 0.54, top = high + 30, bottom = size.height() - 40;
    for (std::size_t k = 0; k < elements.size(); ++k) {
        const QRectF r(6 + static_cast<double>(k) * step, 6, step - gap, high);
        l.blocks.push_back(r);
        const auto bar = [&](double x, std::optional<double> share) {
            const double h = std::max(1.0, share.value_or(0) * (bottom - top - 16));
            return QRectF(r.left() + x * r.width(), bottom - h, r.width() * 0.3, h);
        };
        l.inertiaBars.push_back(bar(0.14, elements[k].inertiaShare));
        l.torqueBars.push_back(bar(0.56, elements[k].torqueShare));
        if (elements[k].key == QLatin1String("mechanism"))
            l.mechanism = QRectF(r.right() - 20, r.top() + 4, 16, 16);
        if (k >= 1 && k + 1 < elements.size()) // after the mechanism and after each stage
            l.inserts.emplace_back(r.right() + gap / 2 - 8, r.center().y() - 20, 16, 16);
        if (elements[k].key == chosen && chosen.startsWith(QLatin1String("stages["))) {
            l.earlier = QRectF(r.right() - 56, r.top() + 4, 16, 16);
            l.later = QRectF(r.right() - 38, r.top() + 4, 16, 16);
            l.remove = QRectF(r.right() - 20, r.top() + 4, 16, 16);
        }
    }
    return l;
}

ChainView::ChainView(QWidget* parent)
    : QWidget(parent)
{
    setObjectName(QStringLiteral("chain"));
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setAccessibleName(tr("Chain from load to motor"));
    setToolTip(tr("Click an element to edit it. + inserts, × removes, arrows move; or Insert, Delete, Ctrl+Left and "
                  "Ctrl+Right."));
}

void ChainView::setChain(std::vector<ChainElement> elements, bool vertical, const QString& chosen, const QString& modes)
{
    if (m_elements == elements && m_vertical == vertical && m_chosen == chosen && m_modes == modes)
        return;
    m_elements = std::move(elements);
    m_vertical = vertical;
    m_chosen = chosen;
    m_modes = modes;
    QStringList words;
    for (const ChainElement& e : m_elements)
        words +=
            e.inertiaShare ? tr("%1: %2 % of the inertia").arg(e.name).arg(*e.inertiaShare * 100, 0, 'f', 0) : e.name;
    if (!modes.isEmpty())
        words += modes;
    setAccessibleDescription(words.join(QStringLiteral(", ")));
    update();
}

int ChainView::chosenIndex() const
{
    const auto it = std::ranges::find(m_elements, m_chosen, &ChainElement::key);
    return it == m_elements.end() ? 0 : static_cast<int>(it - m_elements.begin());
}

void ChainView::paintBlock(QPainter& p, const ChainLayout& l, std::size_t k) const
{
    const ChainElement& e = m_elements[k];
    const QRectF& r = l.blocks[k];
    const bool chosen = m_chosen == e.key;
    p.setPen(QPen(chosen ? theme().accent : theme().line, chosen ? 2 : 1));
    p.setBrush(theme().paper);
    p.drawRoundedRect(r, 5, 5);
    paintChainSymbol(p, r.adjusted(8, 6, -8, -56), e.type, m_vertical);
    QFont bold = font();
    bold.setBold(true);
    p.setFont(bold);
    p.setPen(theme().ink);
    p.drawText(QRectF(r.left() + 4, r.bottom() - 52, r.width() - 8, 18), Qt::AlignCenter,
               p.fontMetrics().elidedText(e.name, Qt::ElideRight, static_cast<int>(r.width()) - 8));
    p.setFont(font());
    p.setPen(theme().soft);
    p.drawText(QRectF(r.left() + 2, r.bottom() - 34, r.width() - 4, 32), Qt::AlignHCenter | Qt::AlignTop, e.figure);
    const auto bar = [&](const QRectF& where, std::optional<double> share, const QColor& colour, Qt::BrushStyle style) {
        p.setPen(QPen(colour, 1.2));
        p.setBrush(QBrush(colour, style));
        if (share)
            p.drawRect(where);
        p.setPen(theme().ink);
        p.drawText(QRectF(where.left() - 14, where.top() - 17, where.width() + 28, 16), Qt::AlignCenter,
                   share ? QStringLiteral("%1 %").arg(*share * 100, 0, 'f', *share < 0.1 ? 1 : 0)
                         : QStringLiteral("–"));
    };
    bar(l.inertiaBars[k], e.inertiaShare, theme().trace[0], Qt::SolidPattern);
    bar(l.torqueBars[k], e.torqueShare, theme().trace[1], Qt::BDiagPattern);
}

void ChainView::paintHandles(QPainter& p, const ChainLayout& l) const
{
    const auto handle = [&](const QRectF& r, const QString& sign) {
        if (r.isEmpty())
            return;
        p.setPen(QPen(theme().accent, 1));
        p.setBrush(theme().raised);
        p.drawEllipse(r);
        p.drawText(r, Qt::AlignCenter, sign);
    };
    for (const QRectF& r : l.inserts)
        handle(r, QStringLiteral("+"));
    handle(l.earlier, QStringLiteral("‹"));
    handle(l.later, QStringLiteral("›"));
    handle(l.remove, QStringLiteral("×"));
    handle(l.mechanism, QStringLiteral("⋮"));
}

void ChainView::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    p.setRenderHint(QPainter::Antialiasing);
    p.fillRect(rect(), theme().raised);
    const ChainLayout l = layout();
    p.setPen(QPen(theme().soft, 2.5));
    for (std::size_t k = 0; k + 1 < l.blocks.size(); ++k) // the shaft to the next one
        p.drawLine(QPointF(l.blocks[k].right(), l.blocks[k].center().y() - 12),
                   QPointF(l.blocks[k + 1].left(), l.blocks[k].center().y() - 12));
    for (std::size_t k = 0; k < m_elements.size(); ++k)
        paintBlock(p, l, k);
    paintHandles(p, l);
    p.setPen(theme().soft);
    const int below = moreLines();
    p.drawText(QRectF(10, height() - 37 - below, width() - 20, 18), Qt::AlignLeft,
               tr("Share at the motor shaft:  solid – inertia,  hatched – torque while accelerating in the positive "
                  "direction"));
    p.drawText(QRectF(10, height() - 20 - below, width() - 20, 18 + below), Qt::AlignLeft, m_modes);
}

void ChainView::mousePressEvent(QMouseEvent* event)
{
    const ChainLayout l = layout();
    const QPointF at = event->position();
    for (std::size_t k = 0; k < l.inserts.size(); ++k)
        if (l.inserts[k].contains(at)) {
            Q_EMIT insertWanted(static_cast<int>(k), event->globalPosition().toPoint());
            return;
        }
    if (l.mechanism.contains(at))
        Q_EMIT mechanismWanted(event->globalPosition().toPoint());
    else if (l.remove.contains(at))
        Q_EMIT removeWanted(m_chosen);
    else if (l.earlier.contains(at))
        Q_EMIT moveWanted(m_chosen, -1);
    else if (l.later.contains(at))
        Q_EMIT moveWanted(m_chosen, 1);
    else
        for (std::size_t k = 0; k < l.blocks.size(); ++k)
            if (l.blocks[k].contains(at))
                Q_EMIT elementChosen(m_elements[k].key);
}

void ChainView::keyPressEvent(QKeyEvent* event)
{
    const int at = chosenIndex(), step = event->key() == Qt::Key_Right ? 1 : event->key() == Qt::Key_Left ? -1 : 0;
    const QPoint here = mapToGlobal(
        layout().blocks.empty() ? QPoint() : layout().blocks[static_cast<std::size_t>(at)].center().toPoint());
    if (step != 0 && (event->modifiers() & Qt::ControlModifier))
        Q_EMIT moveWanted(m_chosen, step);
    else if (step != 0 && at + step >= 0 && at + step < static_cast<int>(m_elements.size()))
        Q_EMIT elementChosen(m_elements[static_cast<std::size_t>(at + step)].key);
    else if (event->key() == Qt::Key_Delete)
        Q_EMIT removeWanted(m_chosen);
    else if (event->key() == Qt::Key_Insert)
        Q_EMIT insertWanted(std::clamp(at - 1, 0, static_cast<int>(m_elements.size()) - 3), here);
    else if ((event->key() == Qt::Key_Return || event->key() == Qt::Key_Space)
             && m_chosen == QLatin1String("mechanism"))
        Q_EMIT mechanismWanted(here);
    else
        QWidget::keyPressEvent(event);
}

} // namespace ridge::app
