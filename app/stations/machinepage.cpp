#include "app/theme/theme.h"
#include "app/widgets/forms.h"

#include "station.h"

#include <QScrollArea>
#include <QTableWidget>
#include <QVBoxLayout>

namespace ridge::app {

namespace {

/// The machine itself: its site and policies, its axes at a glance, and the logbook.
class MachinePage final : public StationPage {
public:
    MachinePage(Document& document, Bench& bench)
        : StationPage(document, bench)
    {
        auto* layout = new QVBoxLayout(this);
        layout->setContentsMargins(0, 6, 0, 6);
        m_name = heading({});
        m_note = quiet({});
        layout->addWidget(m_name);
        layout->addWidget(m_note);
        layout->addWidget(heading(tr("Site and policies")));
        m_form = new FieldForm(siteTarget(document), QStringLiteral("site"), siteFields(), 2);
        layout->addWidget(m_form);
        layout->addWidget(heading(tr("Axes")));
        m_axes = listTable("machine.axes", tr("Axes of the machine"),
                           {tr("Axis"), tr("Mechanism"), tr("Motor"), tr("Drive"), tr("Tightest check")});
        layout->addWidget(m_axes, 2);
        layout->addWidget(heading(tr("Logbook, newest first; entries are only added")));
        m_log =
            listTable("machine.logbook", tr("Logbook"), {tr("No."), tr("Time"), tr("Axis"), tr("Kind"), tr("Entry")});
        layout->addWidget(m_log, 3);
        connect(m_axes, &QTableWidget::cellActivated, this,
                [this](int row, int) { m_document.selectAxis(static_cast<std::size_t>(row)); });
    }

    void refresh() override
    {
        const Machine& m = m_document.machine();
        m_name->setText(QString::fromStdString(m.name));
        m_note->setText(QString::fromStdString(m.note));
        m_form->refresh();
        m_axes->setRowCount(static_cast<int>(m.axes.size()));
        for (std::size_t k = 0; k < m.axes.size(); ++k) {
            const Axis& a = m.axes[k];
            const Evaluation& e = m_document.evaluationOf(k);
            const int r = static_cast<int>(k);
            const QString words = e.checks.empty()
                                      ? QString()
                                      : QString::fromStdString(e.checks.front().title + ": " + e.checks.front().reason);
            setCell(*m_axes, r, 0, QString::fromStdString(a.id + "  " + a.name), {}, QString::fromStdString(a.note));
            setCell(*m_axes, r, 1, said(mechanismTitle(a.mechanism.type)), theme().soft);
            setCell(*m_axes, r, 2, a.choice.motor ? QString::fromStdString(a.choice.motor->name) : tr("not chosen"));
            setCell(*m_axes, r, 3, a.choice.drive ? QString::fromStdString(a.choice.drive->name) : tr("not chosen"));
            setCell(*m_axes, r, 4, words, e.checks.empty() ? theme().soft : theme().verdict(e.checks.front().verdict),
                    words);
        }
        const auto log = m_document.logbook(400);
        m_log->setRowCount(static_cast<int>(log.size()));
        for (std::size_t k = 0; k < log.size(); ++k) {
            const store::LogEntry& entry = log[log.size() - 1 - k];
            const int r = static_cast<int>(k);
            const QString text = QString::fromStdString(entry.text);
            setCell(*m_log, r, 0, QString::number(entry.number), theme().soft);
            setCell(*m_log, r, 1, QString::fromStdString(entry.time), theme().soft);
            setCell(*m_log, r, 2, QString::fromStdString(entry.axis));
            setCell(*m_log, r, 3, said(entry.kind), theme().soft);
            setCell(*m_log, r, 4, text, {}, text);
        }
        for (const auto& [table, widths] :
             {std::pair{m_axes, std::array{140, 120, 170, 90}}, std::pair{m_log, std::array{48, 132, 48, 96}}})
            for (int c = 0; c < 4; ++c)
                table->setColumnWidth(c, widths[static_cast<std::size_t>(c)]);
    }

private:
    QLabel *m_name, *m_note;
    FieldForm* m_form;
    QTableWidget *m_axes, *m_log;
};

} // namespace

StationPage* makeMachine(Document& d, Bench& b) { return new MachinePage(d, b); }

} // namespace ridge::app
