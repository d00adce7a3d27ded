#pragma once
#include <QPointF>
#include <QString>
#include <QVector>
#include <QWidget>

#include <functional>
#include <memory>
#include <vector>

class QCustomPlot;

namespace ridge::app {

/// A stack of graphs on one horizontal axis. Keeps the plotting library behind our own type.
class PlotView : public QWidget {
    Q_OBJECT

public:
    struct Curve {
        QVector<double> x = {}, y = {};
        int pane = 0;
        int colour = 0;        ///< role of the theme, 0..3; -1 soft
        Qt::PenStyle style = Qt::SolidLine;
        double width = 1.6;
        bool fill = false;
        QString label = {};
        bool ordered = true;   ///< false: a path that may run back
    };
    /// @param panes  labels of the vertical axes, top to bottom
    PlotView(const QStringList& panes, const QString& horizontal, QWidget* parent = nullptr);
    ~PlotView() override;
    void setCurves(const std::vector<Curve>& curves);
    void setPaneLabel(int pane, const QString& label);
    /// Vertical lines over all panes, e.g. cursors or instants; draggable when `moved` is given.
    void setMarks(const QVector<double>& at, const QStringList& labels);
    void setDragHandler(std::function<void(double from, double to, bool released)> handler);
    [[nodiscard]] QPixmap picture(int width, int height);

Q_SIGNALS:
    void markMoved(int index, double at);

protected:
    void changeEvent(QEvent* event) override;

private:
    void restyle();
    struct Parts;
    std::unique_ptr<Parts> m;
};

} // namespace ridge::app
