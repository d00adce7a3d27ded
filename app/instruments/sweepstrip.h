#pragma once
#include "core/commutation/sweepreport.h"

#include <QWidget>

#include <vector>

namespace ridge::app {

/// The electrical turns of a sweep, unrolled: the commanded angle along the strip, the counted angle against it forward
/// and back, the halls as bars, the three phase currents below. Drawn on while the button is held.
class SweepStrip : public QWidget {
    Q_OBJECT

public:
    explicit SweepStrip(QWidget* parent = nullptr);
    /// @param counts  a turn, @param polePairs  of it, @param turns  electrical, each way
    void begin(double counts, double polePairs, double turns, bool halls);
    void add(const SweepSample& sample, bool back);
    void setWays(std::vector<SweepSample> forward, std::vector<SweepSample> backward);
    void setWords(const QString& words); ///< what it found, in the strip
    [[nodiscard]] bool empty() const { return m_forward.empty(); }
    [[nodiscard]] QSize minimumSizeHint() const override { return {360, 190}; }

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    struct Lane {
        double top = 0, bottom = 0;
    };
    void drawGrid(QPainter& p, double left, double right, const Lane& angle, const Lane& currents) const;
    void drawAngles(QPainter& p, double left, double right, const Lane& lane) const;
    void drawHalls(QPainter& p, double left, double right, const Lane& lane) const;
    void drawCurrents(QPainter& p, double left, double right, const Lane& lane) const;
    [[nodiscard]] double at(double field, double left, double right) const;
    double m_counts = 0, m_polePairs = 1, m_turns = 3;
    bool m_halls = false;
    QString m_words;
    std::vector<SweepSample> m_forward, m_backward;
};

} // namespace ridge::app
