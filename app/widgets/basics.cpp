#include "basics.h"

#include "app/theme/theme.h"

#include <QHeaderView>
#include <QLineEdit>
#include <QTableWidget>

namespace ridge::app {

QPushButton* button(const char* name, const QString& text)
{
    auto* b = new QPushButton(text);
    b->setObjectName(QString::fromLatin1(name));
    b->setAccessibleName(text);
    return b;
}

QLineEdit* shortEntry(const char* name, const QString& accessibleName, const QString& example)
{
    auto* edit = new QLineEdit;
    edit->setObjectName(QString::fromLatin1(name));
    edit->setAccessibleName(accessibleName);
    edit->setPlaceholderText(example);
    edit->setMaximumWidth(110);
    return edit;
}

QLabel* quiet(const QString& text)
{
    auto* l = new QLabel(text);
    l->setObjectName(QStringLiteral("quiet"));
    l->setWordWrap(true);
    return l;
}

QLabel* heading(const QString& text)
{
    auto* l = new QLabel(text);
    l->setObjectName(QStringLiteral("head"));
    return l;
}

QLabel* caution(const QString& text)
{
    auto* l = new QLabel(QStringLiteral("▲ ") + text);
    l->setObjectName(QStringLiteral("caution"));
    l->setWordWrap(true);
    return l;
}

QTableWidget* listTable(const char* name, const QString& accessibleName, const QStringList& columns)
{
    auto* t = new QTableWidget;
    t->setObjectName(QString::fromLatin1(name));
    t->setAccessibleName(accessibleName);
    t->setColumnCount(static_cast<int>(columns.size()));
    t->setHorizontalHeaderLabels(columns);
    t->setEditTriggers(QAbstractItemView::NoEditTriggers);
    t->setSelectionBehavior(QAbstractItemView::SelectRows);
    t->setSelectionMode(QAbstractItemView::SingleSelection);
    t->setTabKeyNavigation(false);
    t->verticalHeader()->hide();
    t->verticalHeader()->setDefaultSectionSize(22);
    t->horizontalHeader()->setDefaultAlignment(Qt::AlignLeft | Qt::AlignVCenter);
    t->horizontalHeader()->setHighlightSections(false);
    t->horizontalHeader()->setStretchLastSection(true);
    t->setShowGrid(false);
    t->setAlternatingRowColors(true);
    return t;
}

void setCell(QTableWidget& table, int row, int column, const QString& text, const QColor& colour, const QString& tip)
{
    QTableWidgetItem* item = table.item(row, column);
    if (!item) {
        item = new QTableWidgetItem;
        table.setItem(row, column, item);
    }
    item->setText(text);
    item->setForeground(colour.isValid() ? colour : theme().ink);
    item->setToolTip(tip.isEmpty() && text.size() > 12 ? text : tip); // what is elided can be read
}

QVector<double> evenly(double from, double to, int count)
{
    QVector<double> x(count);
    for (int k = 0; k < count; ++k)
        x[k] = from + (to - from) * k / (count - 1);
    return x;
}

void enterStays(QDialog& dialog)
{
    for (auto* b : dialog.findChildren<QPushButton*>()) {
        b->setAutoDefault(false);
        b->setDefault(false);
    }
}

} // namespace ridge::app
