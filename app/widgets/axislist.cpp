#include "axislist.h"

#include "app/theme/theme.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>
#include <QScrollBar>

#include <algorithm>

namespace ridge::app {

namespace {
constexpr int axisRow = 62, firstRow = 50;
}

AxisList::AxisList(Document& document, QWidget* parent)
    : QAbstractScrollArea(parent)
    , m_document(document)
{
    setObjectName(QStringLiteral("axes"));
    setFocusPolicy(Qt::StrongFocus);
    setFixedWidth(168);
    setFrameShape(QFrame::NoFrame);
    setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
    setAccessibleName(tr("Axes of the machine"));
}

void AxisList::refresh(bool machineShown)
{
    m_machineShown = machineShown;
    const bool another = m_shown.current != m_document.axisIndex();
    layOut();
    if (another)
        showCurrent();
    look();
}

void AxisList::showCurrent()
{
    const int current = static_cast<int>(m_document.axisIndex()) * axisRow, room = viewport()->height() - firstRow;
    if (room > axisRow)
        verticalScrollBar()->setValue(
            std::clamp(verticalScrollBar()->value(), std::max(0, current + axisRow - room), current));
}

/// The machine stays on top; the axes scroll below it.
void AxisList::layOut()
{
    const int room = std::max(axisRow, viewport()->height() - firstRow),
              all = static_cast<int>(m_document.machine().axes.size()) * axisRow;
    verticalScrollBar()->setPageStep(room);
    verticalScrollBar()->setSingleStep(axisRow);
    verticalScrollBar()->setRange(0, std::max(0, all - room));
}

AxisList::Shown AxisList::inView()
{
    const Machine& m = m_document.machine();
    Shown now{QString::fromStdString(m.name),
              static_cast<std::size_t>(verticalScrollBar()->value() / axisRow),
              {},
              m.axes.size(),
              m_document.axisIndex(),
              m_machineShown};
    const auto many = static_cast<std::size_t>(std::max(0, viewport()->height() - firstRow) / axisRow + 2);
    for (std::size_t k = now.first; k < std::min(m.axes.size(), now.first + many); ++k)
        now.rows.push_back(
            {QString::fromStdString(m.axes[k].id + "  " + m.axes[k].name), ridgeState(m_document.evaluationOf(k))});
    return now;
}

void AxisList::look()
{
    Shown now = inView();
    if (now == m_shown)
        return;
    m_shown = std::move(now);
    viewport()->update();
}

void AxisList::resizeEvent(QResizeEvent*)
{
    layOut();
    showCurrent();
    look();
}

void AxisList::scrollContentsBy(int, int)
{
    look();
    viewport()->update();
}

void AxisList::paintEvent(QPaintEvent*)
{
    QPainter p(viewport());
    const int width = viewport()->width();
    p.fillRect(viewport()->rect(), theme().panel);
    const auto highlight = [&](const QRectF& row) {
        p.fillRect(row, theme().raised);
        p.fillRect(QRectF(row.left(), row.top(), 3, row.height()), theme().accent);
    };
    if (m_shown.machineShown)
        highlight(QRectF(0, 6, width, firstRow - 10));
    p.setPen(m_shown.machineShown ? theme().accent : theme().soft);
    p.drawText(QRectF(12, 6, width - 20, firstRow - 10), Qt::AlignLeft | Qt::AlignVCenter | Qt::TextWordWrap,
               m_shown.machine);
    p.setClipRect(0, firstRow, width, viewport()->height() - firstRow);
    QFont bold = font();
    bold.setBold(true);
    for (std::size_t k = 0; k < m_shown.rows.size(); ++k) {
        const QRectF row(0, firstRow + static_cast<double>(m_shown.first + k) * axisRow - verticalScrollBar()->value(),
                         width, axisRow);
        if (m_shown.first + k == m_shown.current && !m_shown.machineShown)
            highlight(row);
        p.setFont(bold);
        p.setPen(theme().ink);
        p.drawText(row.adjusted(12, 6, -6, -36), Qt::AlignLeft | Qt::AlignVCenter, m_shown.rows[k].name);
        p.setFont(font());
        paintRidge(p, row.adjusted(14, 28, -14, -8), m_shown.rows[k].state, false);
    }
}

void AxisList::mousePressEvent(QMouseEvent* event)
{
    const int y = static_cast<int>(event->position().y()), k = (y - firstRow + verticalScrollBar()->value()) / axisRow;
    if (y < firstRow)
        Q_EMIT machineChosen();
    else if (static_cast<std::size_t>(k) < m_document.machine().axes.size()) {
        m_document.selectAxis(static_cast<std::size_t>(k));
        Q_EMIT axisChosen();
    }
}

void AxisList::keyPressEvent(QKeyEvent* event)
{
    if (event->key() == Qt::Key_Down)
        m_document.selectAxis(m_document.axisIndex() + 1);
    else if (event->key() == Qt::Key_Up && m_document.axisIndex() > 0)
        m_document.selectAxis(m_document.axisIndex() - 1);
    else
        QAbstractScrollArea::keyPressEvent(event);
}

} // namespace ridge::app
