#pragma once
#include "app/document/document.h"
#include "app/instruments/ridgebar.h"

#include <QAbstractScrollArea>

namespace ridge::app {

/// The machine on top, below it its axes, each with a small copy of its own ridge. Only what is in view is evaluated.
class AxisList : public QAbstractScrollArea {
    Q_OBJECT

public:
    explicit AxisList(Document& document, QWidget* parent = nullptr);
    void refresh(bool machineShown);

Q_SIGNALS:
    void machineChosen();
    void axisChosen();

protected:
    void paintEvent(QPaintEvent*) override;
    void resizeEvent(QResizeEvent*) override;
    void scrollContentsBy(int dx, int dy) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    struct Row {
        QString name;
        RidgeState state;
        bool operator==(const Row&) const = default;
    };
    /// What is painted; the same is not painted again.
    struct Shown {
        QString machine;
        std::size_t first = 0; ///< axis of the first row
        std::vector<Row> rows;
        std::size_t axes = 0, current = 0;
        bool machineShown = false; ///< the machine itself is in view
        bool operator==(const Shown&) const = default;
    };
    [[nodiscard]] Shown inView();
    void look();
    void layOut();
    void showCurrent(); ///< the chosen axis comes into view
    Document& m_document;
    Shown m_shown;
    bool m_machineShown = false;
};

} // namespace ridge::app
