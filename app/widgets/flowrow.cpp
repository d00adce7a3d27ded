#include "flowrow.h"

#include <algorithm>

namespace ridge::app {

namespace {

constexpr int gap = 6;

} // namespace

FlowRow::~FlowRow() { qDeleteAll(m_items); }

QLayoutItem* FlowRow::takeAt(int index)
{
    return index >= 0 && index < m_items.size() ? m_items.takeAt(index) : nullptr;
}

QSize FlowRow::sizeHint() const
{
    QSize all(0, 0);
    for (const QLayoutItem* item : m_items)
        if (!item->isEmpty())
            all =
                QSize(all.width() + item->sizeHint().width() + gap, std::max(all.height(), item->sizeHint().height()));
    return all;
}

QSize FlowRow::minimumSize() const
{
    QSize widest(0, 0);
    for (const QLayoutItem* item : m_items)
        if (!item->isEmpty())
            widest = widest.expandedTo(item->minimumSize());
    return widest;
}

void FlowRow::setGeometry(const QRect& area)
{
    QLayout::setGeometry(area);
    place(area, true);
}

/// Items of a line stand on its middle.
int FlowRow::place(const QRect& area, bool move) const
{
    int x = area.x(), y = area.y(), line = 0;
    QList<std::pair<QLayoutItem*, int>> row; // with their left edges
    const auto end = [&] {
        for (const auto& [item, left] : row) {
            const QSize size = item->sizeHint();
            if (move)
                item->setGeometry(
                    {left, y + (line - size.height()) / 2, std::min(size.width(), area.width()), size.height()});
        }
        row.clear();
    };
    for (QLayoutItem* item : m_items) {
        if (item->isEmpty())
            continue;
        const QSize size = item->sizeHint();
        if (x > area.x() && x + size.width() > area.x() + area.width()) {
            end();
            x = area.x();
            y += line + gap;
            line = 0;
        }
        line = std::max(line, size.height());
        row.emplaceBack(item, x);
        x += size.width() + gap;
    }
    end();
    return y + line - area.y();
}

} // namespace ridge::app
