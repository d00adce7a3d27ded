#include "plotview.h"

#include "app/theme/theme.h"

#include <QMouseEvent>
#include <QVBoxLayout>
#include <qcustomplot.h>

namespace ridge::app {

struct PlotView::Parts {
    QCustomPlot* plot = nullptr;
    std::vector<QCPAxisRect*> panes;
    QStringList labels;
    QString horizontal;
    QVector<double> marks;
    std::vector<QCPItemLine*> lines;
    std::vector<QCPItemText*> texts;
    std::function<void(double, double, bool)> drag;
    double pressed = 0;
    int heldMark = -1;
    bool held = false;
};

PlotView::PlotView(const QStringList& panes, const QString& horizontal, QWidget* parent) : QWidget(parent), m(std::make_unique<Parts>())
{
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    m->plot = new QCustomPlot;
    m->labels = panes;
    m->horizontal = horizontal;
    layout->addWidget(m->plot);
    m->plot->plotLayout()->clear();
    m->plot->plotLayout()->setRowSpacing(2);
    auto* group = new QCPMarginGroup(m->plot);
    for (int k = 0; k < panes.size(); ++k) {
        auto* pane = new QCPAxisRect(m->plot);
        m->plot->plotLayout()->addElement(k, 0, pane);
        pane->setMarginGroup(QCP::msLeft | QCP::msRight, group);
        pane->axis(QCPAxis::atBottom)->setTickLabels(k + 1 == panes.size());
        m->panes.push_back(pane);
        if (k > 0) {
            connect(m->panes[0]->axis(QCPAxis::atBottom), QOverload<const QCPRange&>::of(&QCPAxis::rangeChanged), pane->axis(QCPAxis::atBottom), QOverload<const QCPRange&>::of(&QCPAxis::setRange));
            connect(pane->axis(QCPAxis::atBottom), QOverload<const QCPRange&>::of(&QCPAxis::rangeChanged), m->panes[0]->axis(QCPAxis::atBottom), QOverload<const QCPRange&>::of(&QCPAxis::setRange));
        }
    }
    connect(m->plot, &QCustomPlot::mousePress, this, [this](QMouseEvent* e) {
        const double at = m->panes[0]->axis(QCPAxis::atBottom)->pixelToCoord(e->position().x());
        m->heldMark = -1;
        for (int k = 0; k < m->marks.size(); ++k)
            if (std::abs(m->panes[0]->axis(QCPAxis::atBottom)->coordToPixel(m->marks[k]) - e->position().x()) < 7)
                m->heldMark = k;
        m->pressed = at;
        m->held = true;
    });
    connect(m->plot, &QCustomPlot::mouseMove, this, [this](QMouseEvent* e) {
        if (!m->held)
            return;
        const double at = m->panes[0]->axis(QCPAxis::atBottom)->pixelToCoord(e->position().x());
        if (m->heldMark >= 0)
            Q_EMIT markMoved(m->heldMark, at);
        else if (m->drag)
            m->drag(m->pressed, at, false);
    });
    connect(m->plot, &QCustomPlot::mouseRelease, this, [this](QMouseEvent* e) {
        const double at = m->panes[0]->axis(QCPAxis::atBottom)->pixelToCoord(e->position().x());
        if (m->held && m->heldMark < 0 && m->drag && std::abs(at - m->pressed) > 0)
            m->drag(m->pressed, at, true);
        m->held = false;
    });
    restyle();
}

PlotView::~PlotView() = default;

void PlotView::setDragHandler(std::function<void(double, double, bool)> handler) { m->drag = std::move(handler); }

void PlotView::setPaneLabel(int pane, const QString& label)
{
    m->labels[pane] = label;
    restyle();
}

void PlotView::restyle()
{
    const Theme& t = theme();
    m->plot->setBackground(t.raised);
    for (std::size_t k = 0; k < m->panes.size(); ++k) {
        QCPAxisRect* pane = m->panes[k];
        for (QCPAxis* axis : pane->axes()) {
            axis->setBasePen(QPen(t.line));
            axis->setTickPen(QPen(t.line));
            axis->setSubTickPen(Qt::NoPen);
            axis->setTickLabelColor(t.soft);
            axis->setLabelColor(t.soft);
            QFont small = font();
            small.setPointSizeF(8);
            axis->setTickLabelFont(small);
            axis->setLabelFont(small);
            axis->grid()->setPen(QPen(t.line, 0.6, Qt::DotLine));
            axis->grid()->setZeroLinePen(QPen(t.line, 1));
        }
        pane->axis(QCPAxis::atLeft)->setLabel(m->labels.value(static_cast<int>(k)));
        pane->axis(QCPAxis::atLeft)->ticker()->setTickCount(4);
        pane->axis(QCPAxis::atBottom)->setLabel(k + 1 == m->panes.size() ? m->horizontal : QString());
    }
}

void PlotView::setCurves(const std::vector<Curve>& curves)
{
    m->plot->clearPlottables();
    for (const Curve& c : curves) {
        QCPAxisRect* pane = m->panes.at(static_cast<std::size_t>(c.pane));
        const QColor colour = c.colour < 0 ? theme().soft : theme().trace[c.colour % 4];
        QCPAbstractPlottable* made = nullptr;
        if (c.ordered) {
            auto* g = new QCPGraph(pane->axis(QCPAxis::atBottom), pane->axis(QCPAxis::atLeft));
            g->setData(c.x, c.y, true);
            made = g;
        } else {
            auto* g = new QCPCurve(pane->axis(QCPAxis::atBottom), pane->axis(QCPAxis::atLeft));
            g->setData(c.x, c.y);
            made = g;
        }
        made->setPen(QPen(colour, c.width, c.style));
        if (c.fill) {
            QColor soft = colour;
            soft.setAlphaF(0.16F);
            made->setBrush(soft);
        }
        made->setName(c.label);
    }
    for (QCPAxisRect* pane : m->panes) {
        for (QCPAxis* axis : pane->axes({QCPAxis::atLeft}))
            axis->rescale();
        const QCPRange r = pane->axis(QCPAxis::atLeft)->range();
        const double pad = r.size() > 0 ? r.size() * 0.08 : 1;
        pane->axis(QCPAxis::atLeft)->setRange(r.lower - pad, r.upper + pad);
        pane->axis(QCPAxis::atBottom)->rescale();
    }
    restyle();
    m->plot->replot(QCustomPlot::rpQueuedReplot);
}

void PlotView::setMarks(const QVector<double>& at, const QStringList& labels)
{
    for (auto* l : m->lines)
        m->plot->removeItem(l);
    for (auto* t : m->texts)
        m->plot->removeItem(t);
    m->lines.clear();
    m->texts.clear();
    m->marks = at;
    for (int k = 0; k < at.size(); ++k) {
        for (QCPAxisRect* pane : m->panes) {
            auto* line = new QCPItemLine(m->plot);
            for (QCPItemPosition* p : line->positions()) {
                p->setTypeX(QCPItemPosition::ptPlotCoords);
                p->setTypeY(QCPItemPosition::ptAxisRectRatio);
                p->setAxes(pane->axis(QCPAxis::atBottom), pane->axis(QCPAxis::atLeft));
                p->setAxisRect(pane);
            }
            line->start->setCoords(at[k], 0);
            line->end->setCoords(at[k], 1);
            line->setPen(QPen(theme().accent, 1, Qt::DashLine));
            m->lines.push_back(line);
        }
        auto* text = new QCPItemText(m->plot);
        text->position->setTypeX(QCPItemPosition::ptPlotCoords);
        text->position->setTypeY(QCPItemPosition::ptAxisRectRatio);
        text->position->setAxes(m->panes[0]->axis(QCPAxis::atBottom), m->panes[0]->axis(QCPAxis::atLeft));
        text->position->setAxisRect(m->panes[0]);
        text->position->setCoords(at[k], 0.02 + 0.1 * (k % 5));
        text->setPositionAlignment(Qt::AlignLeft | Qt::AlignTop);
        text->setText(QStringLiteral(" ") + labels.value(k));
        text->setColor(theme().accent);
        m->texts.push_back(text);
    }
    m->plot->replot(QCustomPlot::rpQueuedReplot);
}

QPixmap PlotView::picture(int width, int height) { return m->plot->toPixmap(width, height); }

void PlotView::changeEvent(QEvent* event)
{
    if (event->type() == QEvent::PaletteChange) {
        restyle();
        m->plot->replot(QCustomPlot::rpQueuedReplot);
    }
    QWidget::changeEvent(event);
}

} // namespace ridge::app
