#pragma once
#include "core/stations/evaluate.h"

#include <QRectF>
#include <QWidget>

#include <array>

namespace ridge::app {

/// What the ridge shows: per station the share of answered checks and the worst verdict.
struct RidgeState {
    std::array<StationState, stationCount> stations{};
    int current = 0;
    bool operator==(const RidgeState&) const = default;
};
[[nodiscard]] RidgeState ridgeState(const Evaluation& evaluation);

/// Draws the mountain line; the same code paints the bar and the small copies in the axis list.
void paintRidge(QPainter& painter, const QRectF& area, const RidgeState& state, bool labels);

/// The map and the progress bar across the window: one summit a station.
class RidgeBar : public QWidget {
    Q_OBJECT

public:
    explicit RidgeBar(QWidget* parent = nullptr);
    void setState(const RidgeState& state);
    [[nodiscard]] QSize sizeHint() const override { return {900, 92}; }

Q_SIGNALS:
    void stationChosen(int index);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    RidgeState m_state;
};

} // namespace ridge::app
