#pragma once
#include <QString>

class QPainter;
class QRectF;

namespace ridge::app {

/// Draws an element of the chain as what it is, inside a rectangle. Unknown types give a plain shaft.
void paintChainSymbol(QPainter& painter, const QRectF& area, const QString& type, bool vertical);

} // namespace ridge::app
