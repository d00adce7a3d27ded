#pragma once
#include <QWidget>

#include <optional>

namespace ridge::app {

/// The unrolled turn: expected counts along the strip, the counted ones laid over it.
class AngleStrip : public QWidget {
    Q_OBJECT

public:
    explicit AngleStrip(QWidget* parent = nullptr);
    void setCounts(double expected, std::optional<double> counted);

protected:
    void paintEvent(QPaintEvent*) override;

private:
    double m_expected = 0;
    std::optional<double> m_counted;
};

} // namespace ridge::app
