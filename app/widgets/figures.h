#pragma once
#include "core/machine/evaluate.h"

#include <QLabel>

#include <initializer_list>

namespace ridge::app {

/// Figures of a station as a small aligned table; a click or Enter on a value asks for its working.
class Figures : public QLabel {
    Q_OBJECT

public:
    /// @param columns  pairs of name and value beside each other
    explicit Figures(int columns = 1, QWidget* parent = nullptr);
    void show(const Evaluation& evaluation, std::initializer_list<const char*> ids);
    void show(const Evaluation& evaluation, const std::vector<std::string>& ids);

private:
    int m_columns;
};

/// A value in the reader's unit, as text of the interface.
[[nodiscard]] QString shown(double si, Quantity quantity, int digits = 4);

} // namespace ridge::app
