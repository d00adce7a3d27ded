#pragma once
#include "core/stations/evaluate.h"

#include <QString>
#include <QWidget>

#include <initializer_list>
#include <vector>

namespace ridge::app {

/// Figures of a station as a small aligned table, painted by itself: a change of values lays nothing out. A click on a
/// value, or the arrows and Enter, ask for its working.
class Figures : public QWidget {
    Q_OBJECT

public:
    /// @param columns  pairs of name and value beside each other, where there is room
    explicit Figures(int columns = 1, QWidget* parent = nullptr);
    void show(const Evaluation& evaluation, std::initializer_list<const char*> ids);
    void show(const Evaluation& evaluation, const std::vector<std::string>& ids);
    [[nodiscard]] QSize sizeHint() const override;
    [[nodiscard]] QSize minimumSizeHint() const override;

Q_SIGNALS:
    void chosen(const std::string& id);

protected:
    void paintEvent(QPaintEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;

private:
    struct Entry {
        std::string id;
        QString label, value;
        bool operator==(const Entry&) const = default;
    };
    struct Column {
        double left = 0, label = 0, value = 0; ///< widths [px]
    };
    struct Laid {
        std::vector<Column> columns;
        int width = 0, height = 0;
    };
    [[nodiscard]] Laid laidOut(int columns) const;
    void measure();
    [[nodiscard]] QRectF cell(std::size_t entry) const;
    [[nodiscard]] int entryAt(QPointF where) const; ///< -1: none
    int m_columns, m_wanted = 0;                    ///< width with all columns
    std::size_t m_current = 0;
    std::vector<Entry> m_entries;
    std::vector<Column> m_widths;
};

/// A value in the reader's unit, as text of the interface.
[[nodiscard]] QString shown(double si, Quantity quantity, int digits = 4);

} // namespace ridge::app
