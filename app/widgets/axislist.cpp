#include "axislist.h"

#include "app/theme/theme.h"

#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

namespace ridge::app {

namespace {
constexpr int axisRow = 62, firstRow = 50;
}

AxisList::AxisList(Document& document, QWidget* parent)
    : QWidget(parent)
    , m_document(document)
{
    setObjectName(QStringLiteral("axes"));
    setFocusPolicy(Qt::StrongFocus);
    setFixedWidth(168);
    setAccessibleName(tr("Axes of the machine"));
}

void AxisList::refresh(bool machineShown)
{
    const Machine& m = m_document.machine();
    Shown now{QString::fromStdString(m.name), {}, {}, m_document.axisIndex(), machineShown};
    for (std::size_t k = 0; k < m.axes.size(); ++k) {
        now.axes += QString::fromStdString(m.axes[k].id + "  " + m.axes[k].name);
        now.states.push_back(ridgeState(m_document.evaluationOf(k)));
    }
    if (now == m_shown)
        return;
    m_shown = std::move(now);
    update();
}

void AxisList::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    p.fillRect(rect(), theme().panel);
    const auto highlight = [&](const QRectF& row) {
        p.fillRect(row, theme().raised);
        p.fillRect(QRectF(row.left(), row.top(), 3, row.height()), theme().accent);
    };
    if (m_shown.machineShown)
        highlight(QRectF(0, 6, width(), firstRow - 10));
    p.setPen(m_shown.machineShown ? theme().accent : theme().soft);
    p.drawText(QRectF(12, 6, width() - 20, firstRow - 10), Qt::AlignLeft | Qt::AlignVCenter | Qt::TextWordWrap,
               m_shown.machine);
    for (std::size_t k = 0; k < m_shown.states.size(); ++k) {
        const QRectF row(0, firstRow + static_cast<double>(k) * axisRow, width(), axisRow);
        if (k == m_shown.current && !m_shown.machineShown)
            highlight(row);
        QFont bold = font();
        bold.setBold(true);
        p.setFont(bold);
        p.setPen(theme().ink);
        p.drawText(row.adjusted(12, 6, -6, -36), Qt::AlignLeft | Qt::AlignVCenter,
                   m_shown.axes[static_cast<qsizetype>(k)]);
        p.setFont(font());
        paintRidge(p, row.adjusted(14, 28, -14, -8), m_shown.states[k], false);
    }
}

void AxisList::mousePressEvent(QMouseEvent* event)
{
    const int y = static_cast<int>(event->position().y()), k = (y - firstRow) / axisRow;
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
        QWidget::keyPressEvent(event);
}

} // namespace ridge::app
