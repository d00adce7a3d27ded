#include "plotview.h"

#include "app/theme/theme.h"

#include <QMouseEvent>
#include <QSvgGenerator>
#include <QVBoxLayout>
#include <qcustomplot.h>

namespace ridge::app {

namespace {
constexpr int iconWidth = 20, entryGap = 10, edge = 8; ///< pixels
} // namespace

struct PlotView::Parts {
    QCustomPlot* plot = nullptr;
    std::vector<QCPAxisRect*> panes;
    std::vector<QCPTextElement*> titles; ///< above each pane, the names of its curves beside them
    std::vector<QCPLegend*> legends;
    QStringList labels;
    QString horizontal;
    QVector<double> marks;
    std::vector<QCPItemLine*> lines;
    std::vector<QCPItemText*> texts;
    std::function<void(const Drag&)> drag;
    Drag pull;
    QPointF pressedPixel;
    int heldMark = -1;
    bool held = false, decided = false, zoomed = false;
    [[nodiscard]] QCPAxis* bottom(int pane = 0) const
    {
        return panes[static_cast<std::size_t>(pane)]->axis(QCPAxis::atBottom);
    }
    [[nodiscard]] QCPAxis* left(int pane) const { return panes[static_cast<std::size_t>(pane)]->axis(QCPAxis::atLeft); }
    [[nodiscard]] int paneAt(QPointF pixel) const
    {
        for (std::size_t k = 0; k < panes.size(); ++k)
            if (panes[k]->rect().top() <= pixel.y() && pixel.y() <= panes[k]->rect().bottom())
                return static_cast<int>(k);
        return 0;
    }
    [[nodiscard]] QPointF coordinates(int pane, QPointF pixel) const
    {
        return {bottom(pane)->pixelToCoord(pixel.x()), left(pane)->pixelToCoord(pixel.y())};
    }
};

PlotView::PlotView(const QStringList& panes, const QString& horizontal, QWidget* parent)
    : QWidget(parent)
    , m(std::make_unique<Parts>())
{
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 0, 0, 0);
    m->plot = new QCustomPlot;
    m->labels = panes;
    m->horizontal = horizontal;
    layout->addWidget(m->plot);
    m->plot->setAutoAddPlottableToLegend(false);
    m->plot->setPlottingHint(QCP::phFastPolylines, true);
    m->plot->setNotAntialiasedElements(QCP::aeFills | QCP::aeAxes | QCP::aeGrid
                                       | QCP::aeLegend); // straight lines gain nothing by it
    m->plot->plotLayout()->clear();
    m->plot->plotLayout()->setRowSpacing(0);
    m->plot->setFocusPolicy(Qt::NoFocus);
    auto* group = new QCPMarginGroup(m->plot);
    for (int k = 0; k < panes.size(); ++k) {
        auto* head = new QCPLayoutGrid;
        m->plot->plotLayout()->addElement(2 * k, 0, head);
        m->plot->plotLayout()->setRowStretchFactor(2 * k, 0.001);
        auto* title = new QCPTextElement(m->plot);
        title->setTextFlags(Qt::AlignLeft | Qt::AlignVCenter);
        title->setMargins(QMargins(edge, 2, edge, 0));
        head->addElement(0, 0, title);
        auto* legend = new QCPLegend;
        legend->setFillOrder(QCPLayoutGrid::foColumnsFirst);
        for (QCPLayoutElement* element :
             {static_cast<QCPLayoutElement*>(title), static_cast<QCPLayoutElement*>(legend)})
            element->setMaximumSize(5000, 5000); // as high as the higher one asks, not as low as the lower one allows
        head->addElement(0, 1, legend);
        legend->setLayer(QStringLiteral("legend"));
        head->addElement(0, 2, new QCPLayoutElement(m->plot));
        head->setColumnStretchFactors({0.001, 0.001, 1});
        m->titles.push_back(title);
        m->legends.push_back(legend);
        auto* pane = new QCPAxisRect(m->plot);
        m->plot->plotLayout()->addElement(2 * k + 1, 0, pane);
        pane->setMarginGroup(QCP::msLeft | QCP::msRight, group);
        pane->setMinimumMargins(QMargins(4, 3, edge, 0));
        pane->axis(QCPAxis::atBottom)->setTickLabels(k + 1 == panes.size());
        m->panes.push_back(pane);
        if (k > 0) {
            connect(m->bottom(), QOverload<const QCPRange&>::of(&QCPAxis::rangeChanged), m->bottom(k),
                    QOverload<const QCPRange&>::of(&QCPAxis::setRange));
            connect(m->bottom(k), QOverload<const QCPRange&>::of(&QCPAxis::rangeChanged), m->bottom(),
                    QOverload<const QCPRange&>::of(&QCPAxis::setRange));
        }
    }
    connect(m->plot, &QCustomPlot::mousePress, this, &PlotView::pressed);
    connect(m->plot, &QCustomPlot::mouseMove, this, &PlotView::moved);
    connect(m->plot, &QCustomPlot::mouseRelease, this, &PlotView::released);
    connect(m->plot, &QCustomPlot::mouseWheel, this, [this](QWheelEvent* e) {
        zoom(m->bottom()->pixelToCoord(e->position().x()), e->angleDelta().y() > 0 ? 0.8 : 1.25);
    });
    connect(m->plot, &QCustomPlot::mouseDoubleClick, this, [this] {
        m->zoomed = false;
        rescale();
        m->plot->replot(QCustomPlot::rpQueuedReplot);
    });
    restyle();
}

PlotView::~PlotView() = default;

void PlotView::setDragHandler(std::function<void(const Drag&)> handler) { m->drag = std::move(handler); }

void PlotView::pressed(QMouseEvent* e)
{
    m->heldMark = -1;
    for (int k = 0; k < m->marks.size(); ++k)
        if (std::abs(m->bottom()->coordToPixel(m->marks[k]) - e->position().x()) < 7)
            m->heldMark = k;
    m->pull = {};
    m->pull.pane = m->paneAt(e->position());
    m->pull.from = m->coordinates(m->pull.pane, e->position());
    m->pressedPixel = e->position();
    m->held = true;
    m->decided = false;
}

void PlotView::moved(QMouseEvent* e)
{
    const QPointF here = m->coordinates(m->pull.pane, e->position());
    if (!m->held) {
        Q_EMIT hovered(here.x());
        return;
    }
    if (m->heldMark >= 0) {
        Q_EMIT markMoved(m->heldMark, here.x());
        return;
    }
    const QPointF way = e->position() - m->pressedPixel;
    if (!m->decided && std::max(std::abs(way.x()), std::abs(way.y())) < 4)
        return;
    if (!m->decided)
        m->pull.sideways = std::abs(way.x()) >= std::abs(way.y());
    m->decided = true;
    m->pull.to = here;
    if (m->drag)
        m->drag(m->pull);
}

void PlotView::released(QMouseEvent* e)
{
    if (m->held && m->decided && m->heldMark < 0 && m->drag) {
        m->pull.to = m->coordinates(m->pull.pane, e->position());
        m->pull.released = true;
        m->drag(m->pull);
    }
    m->held = false;
}

void PlotView::zoom(double at, double factor)
{
    const QCPRange r = m->bottom()->range();
    m->zoomed = true;
    m->bottom()->setRange(at - (at - r.lower) * factor, at + (r.upper - at) * factor);
    m->plot->replot(QCustomPlot::rpQueuedReplot);
}

void PlotView::setPaneLabel(int pane, const QString& label)
{
    if (m->labels[pane] == label)
        return;
    m->labels[pane] = label;
    restyle();
}

void PlotView::setHorizontalLabel(const QString& label)
{
    if (m->horizontal == label)
        return;
    m->horizontal = label;
    m->zoomed = false; // another axis, another range
    restyle();
}

void PlotView::setLogarithmic(bool on)
{
    for (QCPAxisRect* pane : m->panes) {
        auto* axis = pane->axis(QCPAxis::atBottom);
        axis->setScaleType(on ? QCPAxis::stLogarithmic : QCPAxis::stLinear);
        axis->setTicker(on ? QSharedPointer<QCPAxisTicker>(new QCPAxisTickerLog)
                           : QSharedPointer<QCPAxisTicker>(new QCPAxisTicker));
    }
}

double PlotView::shownFrom() const { return m->bottom()->range().lower; }
double PlotView::shownTo() const { return m->bottom()->range().upper; }

QPoint PlotView::pixelOf(int pane, QPointF point) const
{
    return m->plot->mapTo(
        this, QPointF(m->bottom(pane)->coordToPixel(point.x()), m->left(pane)->coordToPixel(point.y())).toPoint());
}

void PlotView::restyle()
{
    const Theme& t = theme();
    m->plot->setBackground(t.raised);
    QFont small = font();
    small.setPointSizeF(8);
    for (std::size_t k = 0; k < m->panes.size(); ++k) {
        QCPAxisRect* pane = m->panes[k];
        for (QCPAxis* axis : pane->axes()) {
            axis->setBasePen(QPen(t.line));
            axis->setTickPen(QPen(t.line));
            axis->setSubTickPen(Qt::NoPen);
            axis->setTickLabelColor(t.soft);
            axis->setLabelColor(t.soft);
            axis->setTickLabelFont(small);
            axis->setLabelFont(small);
            axis->grid()->setPen(QPen(t.line, 0.6, Qt::DotLine));
            axis->grid()->setZeroLinePen(QPen(t.line, 1));
        }
        m->titles[k]->setText(m->labels.value(static_cast<int>(k)));
        m->titles[k]->setFont(small);
        m->titles[k]->setTextColor(t.soft);
        pane->axis(QCPAxis::atBottom)->setLabel(k + 1 == m->panes.size() ? m->horizontal : QString());
        QCPLegend* legend = m->legends[k];
        legend->setBrush(Qt::NoBrush);
        legend->setBorderPen(Qt::NoPen);
        legend->setFont(small);
        legend->setTextColor(t.ink);
        legend->setIconSize(iconWidth, 11);
        legend->setRowSpacing(0);
        legend->setColumnSpacing(entryGap);
        legend->setMargins(QMargins(0, 2, edge, 0));
    }
    fit();
}

/// As many names beside each other as the width has room for, at least one; fewer ticks on a low graph.
void PlotView::fit()
{
    const int each = height() / std::max(1, static_cast<int>(m->panes.size())) - 20;
    for (QCPAxisRect* pane : m->panes)
        pane->axis(QCPAxis::atLeft)->ticker()->setTickCount(each < 60 ? 2 : 4);
    for (std::size_t k = 0; k < m->legends.size(); ++k) {
        QCPLegend* legend = m->legends[k];
        legend->setVisible(legend->itemCount() > 0);
        const QFontMetrics metrics(legend->font());
        int widest = 0, all = 0;
        for (int n = 0; n < legend->itemCount(); ++n)
            if (auto* item = qobject_cast<QCPPlottableLegendItem*>(legend->item(n))) {
                const int wide = metrics.horizontalAdvance(item->plottable()->name()) + iconWidth + 6 + entryGap;
                widest = std::max(widest, wide);
                all += wide;
            }
        const int room = width() - metrics.horizontalAdvance(m->labels.value(static_cast<int>(k))) - 3 * edge;
        legend->setWrap(all <= room || widest == 0 ? std::max(1, legend->itemCount()) : std::max(1, room / widest));
        legend->setFillOrder(QCPLayoutGrid::foColumnsFirst, true); // those already there as well
    }
}

void PlotView::resizeEvent(QResizeEvent* event)
{
    QWidget::resizeEvent(event);
    fit();
}

void PlotView::setCurves(const std::vector<Curve>& curves)
{
    m->plot->clearPlottables();
    for (QCPLegend* legend : m->legends)
        legend->clearItems();
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
        if (!c.label.isEmpty())
            made->addToLegend(m->legends[static_cast<std::size_t>(c.pane)]);
    }
    fit();
    rescale();
    m->plot->replot(QCustomPlot::rpQueuedReplot);
}

void PlotView::rescale()
{
    for (const QCPAxisRect* pane : m->panes) {
        QCPAxis* up = pane->axis(QCPAxis::atLeft);
        up->rescale();
        const QCPRange r = up->range();
        const double pad = r.size() > 0 ? r.size() * 0.08 : 1;
        up->setRange(r.lower - pad, r.upper + pad);
    }
    if (m->zoomed)
        return;
    bool any = false;
    QCPRange all;
    for (int k = 0; k < m->plot->plottableCount(); ++k) {
        bool found = false;
        const QCPRange r = m->plot->plottable(k)->getKeyRange(found);
        if (!found)
            continue;
        all = any ? all.expanded(r) : r;
        any = true;
    }
    if (any && all.size() > 0)
        m->bottom()->setRange(all);
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
        text->position->setAxes(m->bottom(), m->left(0));
        text->position->setAxisRect(m->panes[0]);
        text->position->setCoords(at[k], 0.02 + 0.12 * (k % 5));
        text->setPositionAlignment(Qt::AlignLeft | Qt::AlignTop);
        text->setText(QStringLiteral(" ") + labels.value(k));
        text->setColor(theme().accent);
        m->texts.push_back(text);
    }
    m->plot->replot(QCustomPlot::rpQueuedReplot);
}

bool PlotView::saveAs(const QString& path)
{
    if (path.endsWith(QLatin1String(".png")))
        return m->plot->savePng(path, 0, 0, 2.0);
    QSvgGenerator svg;
    svg.setFileName(path);
    svg.setSize(m->plot->size());
    svg.setViewBox(m->plot->rect());
    svg.setTitle(m->labels.join(QStringLiteral(", ")));
    QCPPainter painter;
    if (!painter.begin(&svg))
        return false;
    m->plot->toPainter(&painter, m->plot->width(), m->plot->height());
    return painter.end();
}

void PlotView::changeEvent(QEvent* event)
{
    if (event->type() == QEvent::PaletteChange) {
        restyle();
        m->plot->replot(QCustomPlot::rpQueuedReplot);
    }
    QWidget::changeEvent(event);
}

} // namespace ridge::app
