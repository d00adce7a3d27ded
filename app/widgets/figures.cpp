#include "figures.h"

#include "app/theme/theme.h"
#include "core/units/print.h"

#include "forms.h"

#include <QFontMetricsF>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

#include <algorithm>
#include <cmath>

namespace ridge::app {

namespace {
constexpr double rowHeight = 18, gap = 8, between = 16;

QFont bold(const QFont& font)
{
    QFont f = font;
    f.setBold(true);
    return f;
}
} // namespace

QString shown(double si, Quantity quantity, int digits)
{
    return QString::fromStdString(print(si, quantity, unitSystem(), digits));
}

Figures::Figures(int columns, QWidget* parent)
    : QWidget(parent)
    , m_columns(columns)
{
    setFocusPolicy(Qt::StrongFocus);
    setMouseTracking(true);
    setSizePolicy(QSizePolicy::Preferred, QSizePolicy::Fixed);
    setAccessibleName(tr("Figures; a value opens its working"));
}

void Figures::show(const Evaluation& e, std::initializer_list<const char*> ids)
{
    show(e, std::vector<std::string>(ids.begin(), ids.end()));
}

void Figures::show(const Evaluation& e, const std::vector<std::string>& ids)
{
    std::vector<Entry> entries;
    QStringList words;
    for (const std::string& id : ids)
        if (const ResultValue* r = e.result(id)) {
            entries.push_back({id, said(r->label), shown(r->value, r->quantity)});
            words << entries.back().label + QLatin1Char(' ') + entries.back().value;
        }
    if (entries == m_entries)
        return;
    m_entries = std::move(entries);
    m_current = std::min(m_current, m_entries.empty() ? 0 : m_entries.size() - 1);
    setAccessibleDescription(words.join(QStringLiteral(", ")));
    measure();
    update();
}

Figures::Laid Figures::laidOut(int columns) const
{
    const QFontMetricsF plain(font()), strong(bold(font()));
    Laid laid{std::vector<Column>(static_cast<std::size_t>(columns)), 0, 0};
    for (std::size_t k = 0; k < m_entries.size(); ++k) {
        Column& c = laid.columns[k % laid.columns.size()];
        c.label = std::max(c.label, plain.horizontalAdvance(m_entries[k].label));
        c.value = std::max(c.value, strong.horizontalAdvance(m_entries[k].value));
    }
    const std::size_t rows = (m_entries.size() + laid.columns.size() - 1) / laid.columns.size();
    laid.height = static_cast<int>(static_cast<double>(rows) * rowHeight) + 2;
    // the table only grows while it shows the same rows, so that a pull does not make it breathe
    for (std::size_t c = 0; c < laid.columns.size(); ++c)
        if (laid.columns.size() == m_widths.size() && laid.height == minimumHeight()
            && laid.columns[c].label <= m_widths[c].label)
            laid.columns[c].value = std::max(laid.columns[c].value, m_widths[c].value);
    double left = 0;
    for (Column& c : laid.columns) {
        c.left = left;
        left += c.label + gap + c.value + between;
    }
    laid.width = static_cast<int>(left - between) + 4;
    return laid;
}

/// As many columns as were asked for and have room.
void Figures::measure()
{
    const Laid wanted = laidOut(m_columns);
    int columns = m_columns;
    Laid laid = wanted;
    while (columns > 1 && laid.width > width())
        laid = laidOut(--columns);
    if (laid.columns.size() == 1) // no room even for one: the name gives way, the value never
        laid.columns[0].label =
            std::max(40.0, std::min(laid.columns[0].label, width() - 4 - gap - laid.columns[0].value));
    m_widths = std::move(laid.columns);
    setFixedHeight(laid.height);
    if (m_wanted != wanted.width) {
        m_wanted = wanted.width;
        updateGeometry();
    }
}

QSize Figures::sizeHint() const { return {m_wanted, minimumHeight()}; }
QSize Figures::minimumSizeHint() const { return {std::min(m_wanted, 120), minimumHeight()}; }

void Figures::resizeEvent(QResizeEvent* event)
{
    QWidget::resizeEvent(event);
    if (event->size().width() != event->oldSize().width())
        measure();
}

QRectF Figures::cell(std::size_t entry) const
{
    const Column& c = m_widths[entry % m_widths.size()];
    const std::size_t row = entry / m_widths.size();
    return {c.left + 1, static_cast<double>(row) * rowHeight + 1, c.label + gap + c.value, rowHeight};
}

int Figures::entryAt(QPointF where) const
{
    for (std::size_t k = 0; k < m_entries.size(); ++k)
        if (cell(k).contains(where))
            return static_cast<int>(k);
    return -1;
}

void Figures::paintEvent(QPaintEvent*)
{
    QPainter p(this);
    for (std::size_t k = 0; k < m_entries.size(); ++k) {
        const QRectF r = cell(k);
        p.setFont(font());
        p.setPen(theme().soft);
        const Column& c = m_widths[k % m_widths.size()];
        p.drawText(
            r, Qt::AlignLeft | Qt::AlignVCenter,
            p.fontMetrics().elidedText(m_entries[k].label, Qt::ElideRight, static_cast<int>(std::ceil(c.label)) + 1));
        p.setFont(bold(font()));
        p.setPen(theme().accent);
        p.drawText(r, Qt::AlignRight | Qt::AlignVCenter, m_entries[k].value);
        if (hasFocus() && k == m_current) {
            p.setPen(QPen(theme().accent, 1));
            p.drawRoundedRect(r.adjusted(-1, 0.5, 1, -0.5), 3, 3);
        }
    }
}

void Figures::mousePressEvent(QMouseEvent* event)
{
    if (const int k = entryAt(event->position()); k >= 0) {
        m_current = static_cast<std::size_t>(k);
        update();
        Q_EMIT chosen(m_entries[m_current].id);
    }
}

void Figures::mouseMoveEvent(QMouseEvent* event)
{
    const int k = entryAt(event->position());
    setCursor(k >= 0 ? Qt::PointingHandCursor : Qt::ArrowCursor);
    setToolTip(k >= 0 ? m_entries[static_cast<std::size_t>(k)].label : QString());
}

void Figures::keyPressEvent(QKeyEvent* event)
{
    const int columns = std::max(1, static_cast<int>(m_widths.size()));
    const int step = event->key() == Qt::Key_Right  ? 1
                     : event->key() == Qt::Key_Left ? -1
                     : event->key() == Qt::Key_Down ? columns
                     : event->key() == Qt::Key_Up   ? -columns
                                                    : 0;
    const int to = static_cast<int>(m_current) + step;
    if (step != 0 && to >= 0 && to < static_cast<int>(m_entries.size())) {
        m_current = static_cast<std::size_t>(to);
        update();
    } else if ((event->key() == Qt::Key_Return || event->key() == Qt::Key_Enter || event->key() == Qt::Key_Space)
               && m_current < m_entries.size()) {
        Q_EMIT chosen(m_entries[m_current].id);
    } else {
        QWidget::keyPressEvent(event);
    }
}

} // namespace ridge::app
