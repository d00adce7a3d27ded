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
    Document& m_document;
    std::vector<RidgeState> m_states;
    bool m_machine = false; ///< the machine itself is shown
};

} // namespace ridge::app
