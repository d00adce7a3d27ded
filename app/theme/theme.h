#pragma once
#include "core/working/check.h"

#include <QColor>
#include <QFont>
#include <QString>

class QApplication;
class QPainter;
class QPointF;

namespace ridge::app {

/// Roles, not colours; one set for paper and ink, one for dim shops. State is always told by a shape too.
struct Theme {
    bool dark = false;
    QColor paper, panel, raised, ink, soft, line, accent, accentSoft, ok, watch, fail, unknown, trace[4];
    [[nodiscard]] QColor verdict(Verdict v) const;
};

[[nodiscard]] const Theme& theme();
/// Sets palette, style sheet and fonts of the whole application.
void applyTheme(QApplication& app, bool dark);
void loadFonts();

[[nodiscard]] QFont monoFont(double points);

/// Shape of a verdict: ring unknown, disc ok, triangle watch, square fail.
void paintVerdict(QPainter& painter, const QPointF& centre, double size, Verdict verdict);
/// The same shape as a character; hollow with a dot: practised.
[[nodiscard]] QString verdictMark(Verdict verdict);

} // namespace ridge::app
