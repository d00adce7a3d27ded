#pragma once
#include "core/wiring/plan.h"

#include <QWidget>

namespace ridge::app {

/// The jumpers, trimmers and switches of the boards as they stood and as they are to stand, drawn as they look: pins
/// with their bridge, a dial with its slot, a slider.
class BoardView : public QWidget {
    Q_OBJECT

public:
    explicit BoardView(QWidget* parent = nullptr);
    void setPlan(const WirePlan& plan);
    [[nodiscard]] bool empty() const { return m_rows.empty(); }
    [[nodiscard]] QSize minimumSizeHint() const override;

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    struct Row {
        QString device;
        BoardSetting setting;
    };
    std::vector<Row> m_rows;
};

} // namespace ridge::app
