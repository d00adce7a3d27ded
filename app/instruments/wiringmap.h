#pragma once
#include "core/record/payload.h"
#include "core/stations/evaluate.h"

#include <QWidget>

#include <map>
#include <string>
#include <vector>

namespace ridge::app {

/// The devices of a connection plan from the supply to the load, and the cables between them with their state. A click
/// or the arrow keys choose a cable.
class WiringMap : public QWidget {
    Q_OBJECT

public:
    explicit WiringMap(QWidget* parent = nullptr);
    void setPlan(const WirePlan& plan, const std::map<std::string, ConductorSeen>& seen,
                 const std::vector<Finding>& findings);
    void setCable(const QString& cable); ///< empty: none is chosen
    [[nodiscard]] QString cable() const { return m_cable; }
    [[nodiscard]] QSize minimumSizeHint() const override;
    /// Where a device is drawn; null: it is not in the plan.
    [[nodiscard]] QRectF boxOf(const std::string& device) const;

Q_SIGNALS:
    void cableChosen(const QString& cable);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void resizeEvent(QResizeEvent*) override { place(); }
    bool event(QEvent* event) override;

private:
    struct Box {
        const WireDevice* device = nullptr;
        int column = 0;
        QRectF where;
        Verdict verdict = Verdict::Unknown; ///< of what the rules find on it
    };
    /// All conductors of a cable between two devices.
    struct Strand {
        std::size_t from = 0, to = 0; ///< boxes
        std::string cable;
        int total = 0, ticked = 0, doubted = 0;
        bool found = false; ///< a rule speaks of one of them
    };
    void place();
    [[nodiscard]] QPainterPath pathOf(const Strand& strand) const;
    void paintBox(QPainter& p, const Box& box) const;
    void paintStrand(QPainter& p, const Strand& strand) const;
    [[nodiscard]] QString wordsOf(const Strand& strand) const;
    void step(int by);

    WirePlan m_plan;
    std::map<std::string, ConductorSeen> m_seen;
    std::vector<Finding> m_findings;
    std::vector<Box> m_boxes;
    std::vector<Strand> m_strands;
    QString m_cable;
};

} // namespace ridge::app
