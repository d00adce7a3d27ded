#pragma once
#include <QString>
#include <QVector>
#include <QWidget>

#include <optional>

namespace ridge::app {

/// What the time line of a stop shows; times in seconds after the request.
struct StopLineState {
    double ramp = 0, standstill = 0, brakeClosed = 0, torqueOff = 0; ///< 0: not seen
    std::optional<double> delayNeeded, delaySet, delayPermitted;
    QVector<double> time, speed, travel; ///< speed in rpm, travel in the reader's unit, both signed
    QString speedUnit, travelUnit, caption;
    bool operator==(const StopLineState&) const = default;
};

/// All geometry: where each instant stands, the phase bars and the two curve areas.
struct StopLineLayout {
    QRectF phases, delays, speed, travel;
    double from = 0, perSecond = 1; ///< x = from + t·perSecond
    [[nodiscard]] double x(double t) const { return from + t * perSecond; }
};
[[nodiscard]] StopLineLayout layoutStopLine(const StopLineState& state, QSizeF size);

/// Time line of a stop: request, reaction, braking, standstill, brake closed, torque off, over speed and travel, with
/// the delay that is needed, set and permitted.
class StopLine : public QWidget {
    Q_OBJECT

public:
    explicit StopLine(QWidget* parent = nullptr);
    void setState(const StopLineState& state);
    [[nodiscard]] QSize minimumSizeHint() const override { return {480, 260}; }

protected:
    void paintEvent(QPaintEvent*) override;

private:
    void paintPhases(QPainter& p, const StopLineLayout& l) const;
    void paintDelays(QPainter& p, const StopLineLayout& l) const;
    void paintCurve(QPainter& p, const StopLineLayout& l, const QRectF& area, const QVector<double>& y,
                    const QColor& colour, const QString& name) const;
    void paintInstants(QPainter& p, const StopLineLayout& l) const;
    StopLineState m_state;
};

} // namespace ridge::app
