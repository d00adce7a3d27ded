#pragma once
#include <QColor>
#include <QDialog>
#include <QLabel>
#include <QPushButton>
#include <QVector>

class QLineEdit;
class QTableWidget;

namespace ridge::app {

/// Enter in an entry takes the entry; it presses no button of the dialog. After all buttons are there.
void enterStays(QDialog& dialog);

/// A button with an object name for keyboard, tests and scripts.
[[nodiscard]] QPushButton* button(const char* name, const QString& text);
/// A short line that is typed into, with a name for keyboard, tests and readers.
[[nodiscard]] QLineEdit* shortEntry(const char* name, const QString& accessibleName, const QString& example);
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
