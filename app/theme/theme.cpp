#include "theme.h"

#include "plaintext.h"

#include <QApplication>
#include <QCoreApplication>
#include <QFontDatabase>
#include <QPainter>
#include <QPainterPath>
#include <QPalette>

namespace ridge::app {

namespace {
Theme current;

Theme lightTheme()
{
    Theme t;
    t.paper = QColor(0xF4, 0xF0, 0xE6);
    t.panel = QColor(0xEC, 0xE6, 0xD8);
    t.raised = QColor(0xFB, 0xF9, 0xF3);
    t.ink = QColor(0x25, 0x23, 0x1E);
    t.soft = QColor(0x6B, 0x66, 0x59);
    t.line = QColor(0xCC, 0xC4, 0xB2);
    t.accent = QColor(0x1D, 0x5B, 0x63);
    t.accentSoft = QColor(0xCF, 0xDE, 0xDC);
    t.ok = QColor(0x3C, 0x7A, 0x4E);
    t.watch = QColor(0xB0, 0x74, 0x12);
    t.fail = QColor(0xA8, 0x33, 0x2B);
    t.unknown = QColor(0x8B, 0x86, 0x79);
    t.trace[0] = QColor(0x1D, 0x5B, 0x63);
    t.trace[1] = QColor(0xA4, 0x55, 0x2C);
    t.trace[2] = QColor(0x6A, 0x4C, 0x86);
    t.trace[3] = QColor(0x59, 0x6B, 0x2A);
    return t;
}

Theme darkTheme()
{
    Theme t;
    t.dark = true;
    t.paper = QColor(0x1C, 0x1F, 0x21);
    t.panel = QColor(0x24, 0x28, 0x2A);
    t.raised = QColor(0x2B, 0x30, 0x32);
    t.ink = QColor(0xE6, 0xE0, 0xD2);
    t.soft = QColor(0x9D, 0x98, 0x8A);
    t.line = QColor(0x42, 0x47, 0x48);
    t.accent = QColor(0x6F, 0xB3, 0xB4);
    t.accentSoft = QColor(0x2C, 0x45, 0x48);
    t.ok = QColor(0x77, 0xB5, 0x86);
    t.watch = QColor(0xDB, 0xA8, 0x4B);
    t.fail = QColor(0xE0, 0x7A, 0x6B);
    t.unknown = QColor(0x8F, 0x8C, 0x82);
    t.trace[0] = QColor(0x6F, 0xB3, 0xB4);
    t.trace[1] = QColor(0xDB, 0x92, 0x63);
    t.trace[2] = QColor(0xB5, 0x98, 0xD2);
    t.trace[3] = QColor(0xAE, 0xBE, 0x70);
    return t;
}
} // namespace

QColor Theme::verdict(Verdict v) const
{
    switch (v) {
    case Verdict::Ok: return ok;
    case Verdict::Watch: return watch;
    case Verdict::Fail: return fail;
    case Verdict::Practised: return accent;
    case Verdict::Unknown: break;
    }
    return unknown;
}

const Theme& theme() { return current; }

void loadFonts()
{
    for (const char* name : {":/fonts/Lato-Regular.ttf", ":/fonts/Lato-Bold.ttf", ":/fonts/Lato-Italic.ttf",
                             ":/fonts/NotoSansMono-Regular.ttf"})
        QFontDatabase::addApplicationFont(QString::fromLatin1(name));
}

QFont monoFont(double points)
{
    QFont f(QStringLiteral("Noto Sans Mono"));
    f.setPointSizeF(points);
    return f;
}

void applyTheme(QApplication& app, bool dark)
{
    PlainText::rule(app);
    current = dark ? darkTheme() : lightTheme();
    const Theme& t = current;
    QFont font(QStringLiteral("Lato"));
    font.setPointSizeF(9.5);
    QApplication::setFont(font);
    QPalette p;
    p.setColor(QPalette::Window, t.paper);
    p.setColor(QPalette::WindowText, t.ink);
    p.setColor(QPalette::Base, t.raised);
    p.setColor(QPalette::AlternateBase, t.panel);
    p.setColor(QPalette::Text, t.ink);
    p.setColor(QPalette::Button, t.panel);
    p.setColor(QPalette::ButtonText, t.ink);
    p.setColor(QPalette::Highlight, t.accent);
    p.setColor(QPalette::HighlightedText, t.raised);
    p.setColor(QPalette::ToolTipBase, t.raised);
    p.setColor(QPalette::ToolTipText, t.ink);
    p.setColor(QPalette::PlaceholderText, t.soft);
    p.setColor(QPalette::Link, t.accent);
    p.setColor(QPalette::Disabled, QPalette::Text, t.soft);
    p.setColor(QPalette::Disabled, QPalette::ButtonText, t.soft);
    app.setPalette(p);
    app.setStyleSheet(
        QStringLiteral(
            "QLineEdit,QComboBox{background:%1;border:1px solid %2;border-radius:2px;padding:1px "
            "5px;min-height:20px;color:%3}"
            "QLineEdit:focus,QComboBox:focus{border:1px solid %4}"
            "QLineEdit[wrong=\"true\"]{border:1px solid %5}"
            "QDialogButtonBox{dialogbuttonbox-buttons-have-icons:0}"
            "QPushButton{background:%6;border:1px solid %2;border-radius:3px;padding:3px 12px;color:%3}"
            "QPushButton:hover{border-color:%4} QPushButton:focus{border:1px solid %4} "
            "QPushButton:pressed{background:%7}"
            "QPushButton:disabled{color:%8}"
            "QLabel#sentence{color:%5} QLabel#quiet{color:%8} QLabel#caution{color:%9} "
            "QLabel#head{font-weight:bold;color:%4}"
            "QTableWidget,QTableView{background:%1;gridline-color:%2;border:1px solid "
            "%2;selection-background-color:%7;selection-color:%3}"
            "QHeaderView::section{background:%6;border:0;border-bottom:1px solid %2;border-right:1px solid "
            "%2;padding:2px 6px;color:%8}"
            "QComboBox::drop-down{border:0;width:16px} "
            "QComboBox::down-arrow{image:url(:/icons/down-%10.svg);width:10px;height:10px}"
            "QFrame#finder{background:%6;border:1px solid %4}"
            "QProgressBar{border:1px solid %2;border-radius:2px;background:%1} QProgressBar::chunk{background:%4}"
            "QScrollArea,QStackedWidget{border:0} QTextBrowser{background:%1;border:1px solid %2}"
            "QSplitter::handle{background:%2} QToolTip{background:%1;color:%3;border:1px solid %2}")
            .arg(t.raised.name(), t.line.name(), t.ink.name(), t.accent.name(), t.fail.name(), t.panel.name(),
                 t.accentSoft.name(), t.soft.name(), t.watch.name(),
                 t.dark ? QStringLiteral("dark") : QStringLiteral("light")));
}

void paintVerdict(QPainter& painter, const QPointF& c, double s, Verdict verdict)
{
    painter.save();
    painter.setRenderHint(QPainter::Antialiasing);
    const QColor colour = theme().verdict(verdict);
    painter.setPen(QPen(colour, 1.6));
    painter.setBrush(verdict == Verdict::Unknown || verdict == Verdict::Practised ? QBrush(Qt::NoBrush)
                                                                                  : QBrush(colour));
    const double r = s / 2;
    switch (verdict) {
    case Verdict::Unknown:
    case Verdict::Ok: painter.drawEllipse(c, r * 0.85, r * 0.85); break;
    case Verdict::Watch:
        painter.drawPolygon(QPolygonF({c + QPointF(0, -r), c + QPointF(r, r * 0.8), c + QPointF(-r, r * 0.8)}));
        break;
    case Verdict::Practised: // hollow, with a point in it: done, and proves nothing
        painter.drawEllipse(c, r * 0.85, r * 0.85);
        painter.setBrush(colour);
        painter.drawEllipse(c, r * 0.25, r * 0.25);
        break;
    case Verdict::Fail: painter.drawRect(QRectF(c.x() - r * 0.8, c.y() - r * 0.8, r * 1.6, r * 1.6)); break;
    }
    painter.restore();
}

QString verdictMark(Verdict verdict)
{
    constexpr const char* marks[] = {"○", "●", "▲", "■", "◎"};
    return QString::fromUtf8(marks[static_cast<int>(verdict)]);
}

} // namespace ridge::app
