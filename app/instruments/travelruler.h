#pragma once
#include <QString>
#include <QWidget>

#include <optional>
#include <vector>

namespace ridge::app {

/// A place on the ruler and how it is drawn.
struct RulerPlace {
    enum class Kind { HardStop, Switch, Soft, Safe, Home };
    Kind kind = Kind::HardStop;
    double at = 0; ///< [m] or [rad]
    QString name, value;
    int side = 0; ///< -1 low end, +1 high end, 0 neither
    bool operator==(const RulerPlace&) const = default;
};

struct RulerState {
    std::vector<RulerPlace> places;
    std::optional<double> cycleLow, cycleHigh; ///< where the cycle runs
    std::optional<double> stopLow, stopHigh;   ///< way of the quick stop beyond each switch
    QString cycleName;
    bool operator==(const RulerState&) const = default;
};

/// All geometry: from a position to pixels, and the row of each label so that none covers another.
struct RulerLayout {
    double low = 0, perUnit = 1, left = 0, line = 0;
    std::vector<QRectF> labels; ///< of the places, in their order
    [[nodiscard]] double x(double at) const { return left + (at - low) * perUnit; }
};
[[nodiscard]] RulerLayout layoutRuler(const RulerState& state, QSizeF size, const QFontMetricsF& font);

/// Hard stops, switches, soft and safe limits, home, the cycle, and the way of a quick stop behind each switch, on one
/// ruler. A stop that does not end before the hard stop is crossed out.
class TravelRuler : public QWidget {
    Q_OBJECT

public:
    explicit TravelRuler(QWidget* parent = nullptr);
    void setState(const RulerState& state);
    [[nodiscard]] QSize minimumSizeHint() const override { return {480, 150}; }

protected:
    void paintEvent(QPaintEvent*) override;

private:
    void paintPlace(QPainter& p, const RulerLayout& l, std::size_t k) const;
    void paintStop(QPainter& p, const RulerLayout& l, int side) const;
    [[nodiscard]] const RulerPlace* placed(RulerPlace::Kind kind, int side) const;
    RulerState m_state;
};

} // namespace ridge::app
