#include "figures.h"

#include "app/theme/theme.h"
#include "core/units/print.h"

#include "forms.h"

#include <QFontMetricsF>
#include <QKeyEvent>
#include <QMouseEvent>
#include <QPainter>

#include <algorithm>

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

/// The table only grows while it shows the same rows, so that a pull does not make it breathe.
void Figures::measure()
{
    const QFontMetricsF plain(font()), strong(bold(font()));
    std::vector<Column> widths(static_cast<std::size_t>(m_columns));
    for (std::size_t k = 0; k < m_entries.size(); ++k) {
        Column& c = widths[k % widths.size()];
        c.label = std::max(c.label, plain.horizontalAdvance(m_entries[k].label));
        c.value = std::max(c.value, strong.horizontalAdvance(m_entries[k].value));
    }
    const std::size_t rows = (m_entries.size() + widths.size() - 1) / widths.size();
    const int high = static_cast<int>(static_cast<double>(rows) * rowHeight) + 2;
    double left = 0;
    for (std::size_t c = 0; c < widths.size(); ++c) {
        if (c < m_widths.size() && high == minimumHeight() && widths[c].label <= m_widths[c].label)
            widths[c].value = std::max(widths[c].value, m_widths[c].value);
        widths[c].left = left;
        left += widths[c].label + gap + widths[c].value + (c + 1 < widths.size() ? between : 0);
    }
    m_widths = std::move(widths);
    setFixedSize(static_cast<int>(left) + 4, high);
}

QRectF Figures::cell(std::size_t k) const
{
    const Column& c = m_widths[k % m_widths.size()];
    return {c.left + 1, static_cast<double>(k / m_widths.size()) * rowHeight + 1, c.label + gap + c.value, rowHeight};
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
        p.drawText(r, Qt::AlignLeft | Qt::AlignVCenter, m_entries[k].label);
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
    setCursor(entryAt(event->position()) >= 0 ? Qt::PointingHandCursor : Qt::ArrowCursor);
}

void Figures::keyPressEvent(QKeyEvent* event)
{
    const int step = event->key() == Qt::Key_Right  ? 1
                     : event->key() == Qt::Key_Left ? -1
                     : event->key() == Qt::Key_Down ? m_columns
                     : event->key() == Qt::Key_Up   ? -m_columns
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
