#include "chainsymbols.h"

#include "app/theme/theme.h"

#include <QPainter>
#include <QPainterPath>

#include <array>
#include <cmath>
#include <utility>

namespace ridge::app {

namespace {

/// What the symbols are drawn with: a centre, a unit of length, and the painter.
struct Pen {
    QPainter& p;
    QPointF c;
    double s;
    [[nodiscard]] QPointF at(double x, double y) const { return c + QPointF(x * s, y * s); }
    void box(double x, double y, double w, double h, double round = 0) const
    {
        p.drawRoundedRect(QRectF(at(x, y), QSizeF(w * s, h * s)), round * s, round * s);
    }
    void circle(double x, double y, double r) const { p.drawEllipse(at(x, y), r * s, r * s); }
    void line(double x0, double y0, double x1, double y1) const { p.drawLine(at(x0, y0), at(x1, y1)); }
    void paper() const { p.setBrush(theme().raised); }
    void tint() const { p.setBrush(theme().accentSoft); }
};

void load(const Pen& d, bool vertical)
{
    d.box(-1, -0.55, 2, 1.1, 0.06);
    if (vertical) { // the weight that pulls it down
        d.line(0, 0.55, 0, 0.95);
        d.p.drawPolygon(QPolygonF({d.at(0, 1.25), d.at(-0.13, 0.92), d.at(0.13, 0.92)}));
    } else {
        d.line(-1.25, 0.68, 1.25, 0.68);
        for (double x = -1.2; x < 1.2; x += 0.3)
            d.line(x, 0.68, x - 0.14, 0.86);
    }
}

void screw(const Pen& d, bool ball)
{
    d.box(-1.35, -0.18, 2.7, 0.36);
    for (double x = -1.25; x < 1.2; x += 0.2)
        d.line(x, 0.18, x + 0.12, -0.18);
    d.paper();
    d.box(-0.36, -0.5, 0.72, 1.0, 0.06);
    if (ball)
        for (const double x : {-0.2, 0.0, 0.2}) {
            d.circle(x, -0.33, 0.07);
            d.circle(x, 0.33, 0.07);
        }
    else
        d.line(-0.36, 0, 0.36, 0);
}

void belt(const Pen& d)
{
    d.circle(-0.95, 0.08, 0.42);
    d.circle(0.95, 0.08, 0.42);
    d.line(-0.95, -0.34, 0.95, -0.34);
    d.line(-0.95, 0.5, 0.95, 0.5);
    for (double x = -0.9; x < 0.95; x += 0.19)
        d.line(x, -0.34, x, -0.25);
    d.paper();
    d.box(-0.35, -0.66, 0.7, 0.32, 0.05);
}

void rack(const Pen& d)
{
    d.circle(0, -0.28, 0.5);
    d.circle(0, -0.28, 0.12);
    for (int k = 0; k < 12; ++k) {
        const double a = k * 3.14159265 / 6;
        d.line(0.5 * std::cos(a), -0.28 + 0.5 * std::sin(a), 0.6 * std::cos(a), -0.28 + 0.6 * std::sin(a));
    }
    d.box(-1.3, 0.42, 2.6, 0.3);
    for (double x = -1.2; x < 1.25; x += 0.24)
        d.line(x, 0.42, x + 0.07, 0.32);
}

void table(const Pen& d, int stations)
{
    d.circle(0, 0, 0.85);
    d.paper();
    for (int k = 0; k < stations; ++k) {
        const double a = k * 2 * 3.14159265 / stations;
        d.circle(0.6 * std::cos(a), 0.6 * std::sin(a), 0.13);
    }
    d.circle(0, 0, 0.2);
}

void conveyor(const Pen& d)
{
    belt(d);
    for (const double x : {-0.45, 0.0, 0.45})
        d.circle(x, 0.08, 0.12);
    d.tint();
    d.box(-0.2, -0.98, 0.4, 0.34);
}

void nip(const Pen& d)
{
    d.circle(-0.1, 0.42, 0.44);
    d.circle(-0.1, -0.36, 0.34);
    d.line(-1.3, 0, 1.3, 0);
    d.line(-0.1, -0.75, -0.1, -0.98);
    d.p.drawPolygon(QPolygonF({d.at(-0.1, -0.7), d.at(-0.2, -0.9), d.at(0, -0.9)}));
}

void winder(const Pen& d)
{
    for (const double r : {0.85, 0.65, 0.45})
        d.circle(-0.2, 0.05, r);
    d.paper();
    d.circle(-0.2, 0.05, 0.24);
    d.line(-0.2, -0.8, 1.35, -0.8);
}

void crank(const Pen& d)
{
    d.circle(-0.75, 0, 0.5);
    d.circle(-0.75, 0, 0.09);
    d.line(-0.5, -0.4, 0.75, 0);
    d.paper();
    d.circle(-0.5, -0.4, 0.1);
    d.box(0.45, -0.28, 0.75, 0.56, 0.05);
    d.line(0.3, 0.36, 1.35, 0.36);
}

void hoist(const Pen& d)
{
    d.circle(-0.15, -0.45, 0.5);
    d.circle(-0.15, -0.45, 0.1);
    d.line(0.35, -0.45, 0.35, 0.5);
    d.paper();
    d.box(0.1, 0.5, 0.5, 0.45, 0.04);
}

void linear(const Pen& d)
{
    d.box(-1.35, 0.2, 2.7, 0.34);
    for (int k = 0; k < 9; k += 2)
        d.p.fillRect(QRectF(d.at(-1.35 + k * 0.3, 0.2), QSizeF(0.3 * d.s, 0.34 * d.s)), theme().line);
    d.paper();
    d.box(-0.6, -0.34, 1.2, 0.44, 0.05);
    for (double x = -0.45; x < 0.5; x += 0.3)
        d.line(x, -0.26, x, 0.02);
}

void frameless(const Pen& d)
{
    d.circle(0, 0, 0.9);
    d.paper();
    d.circle(0, 0, 0.62);
    d.tint();
    d.circle(0, 0, 0.56);
    d.paper();
    d.circle(0, 0, 0.34);
}

void gearbox(const Pen& d)
{
    d.box(-0.75, -0.55, 1.5, 1.1, 0.08);
    d.paper();
    d.circle(-0.24, 0.02, 0.3);
    d.circle(0.3, 0.02, 0.17);
    d.line(-1.1, 0.02, -0.75, 0.02);
    d.line(0.75, 0.02, 1.1, 0.02);
}

void coupling(const Pen& d)
{
    d.box(-0.56, -0.46, 0.44, 0.92);
    d.box(0.12, -0.46, 0.44, 0.92);
    d.line(-0.12, -0.2, 0.12, 0.2);
    d.line(-0.12, 0.2, 0.12, -0.2);
}

void motor(const Pen& d)
{
    d.box(-0.8, -0.6, 1.75, 1.2, 0.1);
    d.box(-1.25, -0.13, 0.45, 0.26);
    for (double y = -0.38; y < 0.5; y += 0.19)
        d.line(-0.35, y, 0.75, y);
}

} // namespace

void paintChainSymbol(QPainter& p, const QRectF& area, const QString& type, bool vertical)
{
    p.setPen(QPen(theme().ink, 1.4));
    p.setBrush(theme().accentSoft);
    const Pen d{p, area.center(), std::min(area.width() / 3.0, area.height() / 2.4)};
    const std::string t = type.toStdString();
    if (t == "load")
        return load(d, vertical);
    if (t == "ball-screw" || t == "lead-screw")
        return screw(d, t == "ball-screw");
    if (t == "rotary-table" || t == "index-dial")
        return table(d, t == "index-dial" ? 8 : 3);
    using Draw = void (*)(const Pen&);
    static constexpr std::array<std::pair<std::string_view, Draw>, 11> symbols{{{"belt", belt},
                                                                                {"rack", rack},
                                                                                {"conveyor", conveyor},
                                                                                {"nip-roll", nip},
                                                                                {"winder", winder},
                                                                                {"crank", crank},
                                                                                {"hoist", hoist},
                                                                                {"linear-motor", linear},
                                                                                {"direct", frameless},
                                                                                {"gearbox", gearbox},
                                                                                {"motor", motor}}};
    for (const auto& [name, draw] : symbols)
        if (t == name)
            return draw(d);
    if (t == "coupling")
        return coupling(d);
    d.box(-1.1, -0.12, 2.2, 0.24);
}

} // namespace ridge::app
