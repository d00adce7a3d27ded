#pragma once
#include "app/document/document.h"
#include "app/instruments/ridgebar.h"

#include <QWidget>

namespace ridge::app {

/// The machine on top, below it its axes, each with a small copy of its own ridge.
class AxisList : public QWidget {
    Q_OBJECT

public:
    explicit AxisList(Document& document, QWidget* parent = nullptr);
    void refresh(bool machineShown);

Q_SIGNALS:
    void machineChosen();
    void axisChosen();

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    /// What is painted; the same is not painted again.
    struct Shown {
        QString machine;
        QStringList axes;
        std::vector<RidgeState> states;
        std::size_t current = 0;
        bool machineShown = false; ///< the machine itself is in view
        bool operator==(const Shown&) const = default;
    };
    Document& m_document;
    Shown m_shown;
};

} // namespace ridge::app
