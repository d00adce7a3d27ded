#pragma once
#include <QLayout>
#include <QList>

namespace ridge::app {

/// Items side by side at their own width, on as many lines as the width at hand needs.
class FlowRow final : public QLayout {
public:
    FlowRow() { setContentsMargins(0, 0, 0, 0); }
    ~FlowRow() override;
    void addItem(QLayoutItem* item) override { m_items.append(item); }
    [[nodiscard]] int count() const override { return static_cast<int>(m_items.size()); }
    [[nodiscard]] QLayoutItem* itemAt(int index) const override { return m_items.value(index); }
    QLayoutItem* takeAt(int index) override;
    [[nodiscard]] Qt::Orientations expandingDirections() const override { return {}; }
    [[nodiscard]] bool hasHeightForWidth() const override { return true; }
    [[nodiscard]] int heightForWidth(int width) const override { return place({0, 0, width, 0}, false); }
    [[nodiscard]] QSize sizeHint() const override;
    [[nodiscard]] QSize minimumSize() const override; ///< the widest item on a line of its own
    void setGeometry(const QRect& area) override;

private:
    int place(const QRect& area, bool move) const; ///< height that was needed
    QList<QLayoutItem*> m_items;
};

} // namespace ridge::app
