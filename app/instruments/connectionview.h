#pragma once
#include "core/record/payload.h"
#include "core/stations/evaluate.h"

#include <QWidget>

namespace ridge::app {

/// Two terminal faces, drive and the rest, with the conductors between them grouped by cable and its shield.
class ConnectionView : public QWidget {
    Q_OBJECT

public:
    explicit ConnectionView(QWidget* parent = nullptr);
    void setPlan(const WirePlan& plan, const std::map<std::string, ConductorSeen>& seen,
                 const std::vector<Finding>& findings);
    /// Temporary bridges that are in: drawn over the terminals they join.
    void setBridges(std::vector<BridgeIn> bridges);
    [[nodiscard]] int bridgesDrawn() const; ///< of those, how many join terminals of the plan
    /// Shows the conductors of one cable; empty: of all.
    void setCable(const QString& cable);
    [[nodiscard]] QString chosen() const;

Q_SIGNALS:
    void conductorChosen(const QString& id);
    void tickWanted();
    void doubtWanted();
    void readingWanted();

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    struct Wire {
        std::size_t conductor = 0; ///< in the plan
        double y = 0;
    };
    struct Group {
        QString cable, shield;
        double top = 0, bottom = 0; ///< of its conductors
        int ticked = 0, total = 0;
        bool shielded = false;
    };
    void lay();
    [[nodiscard]] double side() const;
    void choose(int wire);
    void paintGroup(QPainter& p, const Group& group, double left, double right) const;
    void paintWire(QPainter& p, int index, double left, double right) const;
    WirePlan m_plan;
    std::map<std::string, ConductorSeen> m_seen;
    std::vector<Finding> m_findings;
    std::vector<Wire> m_wires;
    std::vector<Group> m_groups;
    /// Height and side of the terminal a person wrote; nothing when the plan has none of that name.
    [[nodiscard]] std::optional<QPointF> terminal(const std::string& name) const;
    void paintBridge(QPainter& p, const BridgeIn& bridge) const;
    std::vector<BridgeIn> m_bridges;
    QString m_cable;
    int m_current = 0;
};

} // namespace ridge::app
