#pragma once
#include <QString>
#include <QWidget>

#include <optional>
#include <vector>

namespace ridge::app {

/// One block of the chain picture.
struct ChainElement {
    QString key, type, name,
        figure; ///< key of its fields; type decides the symbol; figure under the name, two lines at most
    std::optional<double> inertiaShare, torqueShare; ///< 0..1 at the motor shaft; empty: not computed
    bool operator==(const ChainElement&) const = default;
};

/// Where everything stands; the only geometry. Painting and hit-testing both use it.
struct ChainLayout {
    std::vector<QRectF> blocks, inertiaBars, torqueBars;
    std::vector<QRectF> inserts;   ///< "+" between mechanism and motor; index = position among the stages
    QRectF earlier, remove, later; ///< on the chosen stage; empty when none is chosen
    QRectF mechanism;              ///< changes the mechanism
};
[[nodiscard]] ChainLayout layoutChain(const std::vector<ChainElement>& elements, const QString& chosen, QSizeF size);

/// The chain from the load to the motor as it is in the model, with the share of inertia and torque of each element at
/// the motor shaft below it. Click an element to edit it; insert, remove and move elements on the picture.
class ChainView : public QWidget {
    Q_OBJECT

public:
    explicit ChainView(QWidget* parent = nullptr);
    /// @param modes  the resonances of the whole chain in words; empty when they are not known
    void setChain(std::vector<ChainElement> elements, bool vertical, const QString& chosen, const QString& modes);
    [[nodiscard]] const std::vector<ChainElement>& elements() const { return m_elements; }
    [[nodiscard]] QSize minimumSizeHint() const override { return {500, 250}; }

Q_SIGNALS:
    void elementChosen(const QString& key);
    void insertWanted(int position, const QPoint& globalPosition);
    void removeWanted(const QString& key);
    void moveWanted(const QString& key, int step);
    void mechanismWanted(const QPoint& globalPosition);

protected:
    void paintEvent(QPaintEvent*) override;
    void mousePressEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    [[nodiscard]] ChainLayout layout() const
    {
        return layoutChain(m_elements, m_chosen, QSizeF(width(), height() - moreLines()));
    }
    /// Height of the lines of the modes behind the first.
    [[nodiscard]] int moreLines() const { return 17 * static_cast<int>(m_modes.count(QLatin1Char('\n'))); }
    [[nodiscard]] int chosenIndex() const;
    void paintBlock(QPainter& p, const ChainLayout& l, std::size_t index) const;
    void paintHandles(QPainter& p, const ChainLayout& l) const;
    std::vector<ChainElement> m_elements;
    bool m_vertical = false;
    QString m_chosen, m_modes;
};

} // namespace ridge::app
