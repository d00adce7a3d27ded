#include "sheetpanel.h"

#include "app/theme/sentence.h"
#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "app/widgets/labels.h"
#include "store/report.h"
#include "store/sheets.h"

#include <QFileDialog>
#include <QHeaderView>
#include <QLabel>
#include <QTableWidget>
#include <QVBoxLayout>

namespace ridge::app {

SheetPanel::SheetPanel(Document& document, QWidget* parent)
    : QWidget(parent)
    , m_document(document)
{
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(8, 6, 8, 4);
    layout->setSpacing(4);
    m_table = listTable("controller", tr("Sheet for the controller"),
                        {tr("Group"), tr("What"), tr("Value"), tr("As a number"), tr("Unit")});
    m_table->setWordWrap(false);
    m_table->setColumnWidth(0, 90);
    m_table->setColumnWidth(1, 250);
    m_table->setColumnWidth(2, 330);
    m_table->setColumnWidth(3, 150);
    layout->addWidget(m_table, 1);
    auto* row = new QHBoxLayout;
    m_save = button("sheet.save", tr("Take along …"));
    m_save->setToolTip(tr("As PDF, HTML, JSON or CSV, by the ending of the name."));
    m_tick = button("sheet.tick", tr("A commanded move was right"));
    row->addWidget(m_save);
    row->addWidget(m_tick);
    m_words = quiet({});
    m_words->setObjectName(QStringLiteral("sheet.words"));
    row->addWidget(m_words, 1);
    layout->addLayout(row);
    connect(m_save, &QPushButton::clicked, this, &SheetPanel::save);
    connect(m_tick, &QPushButton::clicked, this, &SheetPanel::tick);
}

void SheetPanel::refresh()
{
    if (!m_document.hasAxis())
        return;
    m_sheet = controllerSheet(m_document.axis(), m_document.evaluation());
    m_table->setRowCount(static_cast<int>(m_sheet.size()));
    int row = 0;
    const char* group = "";
    for (const SheetRow& r : m_sheet) {
        setCell(*m_table, row, 0, std::string_view(group) == r.group ? QString() : said(r.group), theme().soft);
        group = r.group;
        setCell(*m_table, row, 1, sentence(r.name));
        setCell(*m_table, row, 2, sentence(r.value), r.plain.empty() ? theme().watch : theme().ink);
        setCell(*m_table, row, 3, QString::fromStdString(r.plain), theme().soft);
        setCell(*m_table, row, 4, r.unit == "1" ? QString() : QString::fromStdString(r.unit), theme().soft);
        ++row;
    }
    m_save->setEnabled(!m_sheet.empty());
    const Fact* ticked = sheetTicked(m_sheet, m_document.evidence());
    m_tick->setEnabled(!m_sheet.empty() && !ticked && m_document.person().named());
    setLabel(*m_words, m_sheet.empty() ? tr("The sheet follows from load, motion and motor.")
                       : ticked
                           ? tr("● Checked by a commanded move: %1, %2")
                                 .arg(QString::fromStdString(ticked->person.name), localTime(ticked->time))
                           : tr("○ Not checked: command a move in Turn, compare it with a mark, then tick it here."));
}

void SheetPanel::save()
{
    const QString path =
        QFileDialog::getSaveFileName(this, tr("The sheet for the controller"),
                                     QString::fromStdString(m_document.axis().id) + QStringLiteral("-controller.pdf"),
                                     tr("Sheets (*.pdf *.html *.json *.csv)"));
    if (path.isEmpty())
        return;
    const Machine& machine = m_document.machine();
    const Axis& axis = m_document.axis();
    const Fact* ticked = sheetTicked(m_sheet, m_document.evidence());
    const std::string target = path.toStdString();
    const auto ends = [&](const char* what) { return path.endsWith(QLatin1String(what), Qt::CaseInsensitive); };
    const auto written = ends(".json") ? store::writeText(target, store::controllerJson(machine, axis, m_sheet, ticked))
                         : ends(".csv") ? store::writeText(target, store::controllerCsv(m_sheet))
                         : ends(".html")
                             ? store::writeText(target, store::controllerHtml(machine, axis, m_sheet, ticked))
                             : store::writePdf(target, store::controllerHtml(machine, axis, m_sheet, ticked));
    setLabel(*m_words, written ? tr("Written to %1.").arg(path) : QString::fromStdString(messageFor(written.error())));
}

void SheetPanel::tick()
{
    const Fact* seen = m_document.evidence().newest<ScaleSeen>();
    if (!seen) {
        setLabel(*m_words, tr("No commanded move has been compared with a mark yet (Turn, “A commanded way”)."));
        return;
    }
    m_document.append(m_document.typedSource(), Acknowledged{std::string(sheetAcknowledged) + sheetMark(m_sheet),
                                                             "The controller's sheet agrees with the axis"});
    refresh();
    if (!sheetTicked(m_sheet, m_document.evidence()))
        setLabel(*m_words,
                 tr("■ The commanded move that was compared does not agree within 2 %: correct the scale first."));
}

} // namespace ridge::app
