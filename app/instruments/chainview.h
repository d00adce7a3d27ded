#pragma once
#include "core/machine/evaluate.h"

#include <QWidget>

namespace ridge::app {

/// The chain from the load to the motor as it is in the model, with the share of inertia and torque of each element
/// at the motor shaft below it. Click an element to edit it.
class ChainView : public QWidget {
    Q_OBJECT

public:
    explicit ChainView(QWidget* parent = nullptr);
    void setChain(std::vector<ElementShare> shares, const QStringList& figures, bool vertical, const QString& chosen);
    [[nodiscard]] QSize minimumSizeHint() const override { return {500, 250}; }

Q_SIGNALS:
    void elementChosen(const QString& key);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    [[nodiscard]] QRectF block(int index) const;
    void paintSymbol(QPainter& p, const QRectF& r, const ElementShare& e) const;
    std::vector<ElementShare> m_shares;
    QStringList m_figures;
    bool m_vertical = false;
    QString m_chosen;
};

/// Two terminal faces, drive and the rest, with the conductors between them grouped by cable.
class ConnectionView : public QWidget {
    Q_OBJECT

public:
    explicit ConnectionView(QWidget* parent = nullptr);
    void setPlan(const WirePlan& plan, const WiringRecord& record, const std::vector<Finding>& findings);
    [[nodiscard]] QString chosen() const;

Q_SIGNALS:
    void conductorChosen(const QString& id);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    struct Wire {
        const Conductor* conductor;
        double y;
        QString group;
    };
    WirePlan m_plan;
    WiringRecord m_record;
    std::vector<Finding> m_findings;
    std::vector<Wire> m_wires;
    int m_current = 0;
};

/// The enable chain as a ladder: rungs in order, the first open one named.
class LadderView : public QWidget {
    Q_OBJECT

public:
    struct Rung {
        QString name;
        std::optional<bool> closed;
        QString advice;
    };
    explicit LadderView(QWidget* parent = nullptr);
    void setRungs(std::vector<Rung> rungs);
    [[nodiscard]] QString openRung() const;

protected:
    void paintEvent(QPaintEvent*) override;

private:
    std::vector<Rung> m_rungs;
};

/// The unrolled turn: expected counts along the strip, the counted ones laid over it.
class AngleStrip : public QWidget {
    Q_OBJECT

public:
    explicit AngleStrip(QWidget* parent = nullptr);
    void setCounts(double expected, std::optional<double> counted, double angleNow);

protected:
    void paintEvent(QPaintEvent*) override;

private:
    double m_expected = 0, m_now = 0;
    std::optional<double> m_counted;
};

} // namespace ridge::app
