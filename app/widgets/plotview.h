#pragma once
#include <QPointF>
#include <QString>
#include <QVector>
#include <QWidget>

#include <functional>
#include <memory>
#include <vector>

class QMouseEvent;

namespace ridge::app {

/// A stack of graphs on one horizontal axis. Keeps the plotting library behind our own type. Wheel zooms the horizontal
/// axis, a double click shows all of it again.
class PlotView : public QWidget {
    Q_OBJECT

public:
    struct Curve {
        QVector<double> x = {}, y = {};
        int pane = 0;
        int colour = 0; ///< role of the theme, 0..3; -1 soft
        Qt::PenStyle style = Qt::SolidLine;
        double width = 1.6;
        bool fill = false;
        QString label = {};  ///< in the legend of the pane; empty: not there
        bool ordered = true; ///< false: a path that may run back
    };
    /// A pull with the mouse, in the units of the pane where it began.
    struct Drag {
        int pane = 0;
        QPointF from, to;
        bool sideways = true; ///< decided by the first pixels
        bool released = false;
    };

    /// @param panes  what each graph shows and its unit, top to bottom; it stands above the graph
    PlotView(const QStringList& panes, const QString& horizontal, QWidget* parent = nullptr);
    ~PlotView() override;
    void setCurves(const std::vector<Curve>& curves);
    void setPaneLabel(int pane, const QString& label);
    void setHorizontalLabel(const QString& label);
    void setLogarithmic(bool on); ///< horizontal axis
    /// Vertical lines over all panes, e.g. cursors or instants; draggable.
    void setMarks(const QVector<double>& at, const QStringList& labels);
    void setDragHandler(std::function<void(const Drag&)> handler);
    [[nodiscard]] double shownFrom() const;
    [[nodiscard]] double shownTo() const;
    /// Pixel of a point, for tests that drag with the mouse.
    [[nodiscard]] QPoint pixelOf(int pane, QPointF point) const;
    /// The picture as a file by its ending: .png or .svg. False when it cannot be written.
    bool saveAs(const QString& path);

Q_SIGNALS:
    void markMoved(int index, double at);
    void hovered(double at);

protected:
    void changeEvent(QEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;

private:
    void restyle();
    void pressed(QMouseEvent* event);
    void moved(QMouseEvent* event);
    void released(QMouseEvent* event);
    void zoom(double at, double factor);
    void rescale();
    void fit();
    struct Parts;
    std::unique_ptr<Parts> m;
};

} // namespace ridge::app
