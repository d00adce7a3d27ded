#pragma once
#include <QWidget>

#include <optional>
#include <vector>

namespace ridge::app {

/// The enable chain as a ladder: rungs in order, the first open one named.
class LadderView : public QWidget {
    Q_OBJECT

public:
    struct Rung {
        QString name;
        std::optional<bool> closed; ///< empty: not known
        QString advice;
        bool operator==(const Rung&) const = default;
    };
    explicit LadderView(QWidget* parent = nullptr);
    void setRungs(std::vector<Rung> rungs);
    [[nodiscard]] bool isClosed() const;
    [[nodiscard]] QString openRung() const; ///< the first open one with its advice; empty when all are closed

protected:
    void paintEvent(QPaintEvent*) override;

private:
    std::vector<Rung> m_rungs;
};

} // namespace ridge::app
