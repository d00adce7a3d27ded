#pragma once
#include <QColor>
#include <QLabel>
#include <QPushButton>
#include <QVector>

class QTableWidget;

namespace ridge::app {

/// A button with an object name for keyboard, tests and scripts.
[[nodiscard]] QPushButton* button(const char* name, const QString& text);
[[nodiscard]] QLabel* quiet(const QString& text);
[[nodiscard]] QLabel* heading(const QString& text);
[[nodiscard]] QLabel* caution(const QString& text);
/// A read-only table in the application's row height; whole rows are chosen.
[[nodiscard]] QTableWidget* listTable(const char* name, const QString& accessibleName, const QStringList& columns);
/// Sets a cell; keeps the item when the text is the same.
void setCell(QTableWidget& table, int row, int column, const QString& text, const QColor& colour = {},
             const QString& tip = {});
/// Samples at an even step over a span.
[[nodiscard]] QVector<double> evenly(double from, double to, int count);

} // namespace ridge::app
