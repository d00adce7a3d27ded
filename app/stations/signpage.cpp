#include "app/theme/theme.h"
#include "app/widgets/forms.h"
#include "store/report.h"

#include "station.h"

#include <QFileDialog>
#include <QLineEdit>
#include <QTableWidget>
#include <QVBoxLayout>

namespace ridge::app {

namespace {

class SignPage final : public StationPage {
public:
    SignPage(Document& document, Bench& bench)
        : StationPage(document, bench)
    {
        auto* layout = new QVBoxLayout(this);
        layout->setContentsMargins(0, 6, 0, 6);
        m_head = heading({});
        layout->addWidget(m_head);
        m_table = listTable("open", tr("What is open over all stations"),
                            {tr("Station"), tr("Check"), tr("Verdict"), tr("Reason and what would help")});
        layout->addWidget(m_table, 1);
        layout->addWidget(heading(tr("Temporary bridges in safety circuits")));
        m_bridges = quiet({});
        layout->addWidget(m_bridges);
        layout->addLayout(bridgeRow());
        layout->addWidget(heading(tr("Hand-over")));
        m_holder = new QVBoxLayout;
        layout->addLayout(m_holder);
        auto* row = new QHBoxLayout;
        auto* sign = button("sign.sign", tr("Sign"));
        auto* pdf = button("sign.pdf", tr("Report as PDF …"));
        auto* html = button("sign.html", tr("Report as HTML …"));
        for (QPushButton* b : {sign, pdf, html})
            row->addWidget(b);
        m_words = quiet({});
        row->addWidget(m_words, 1);
        layout->addLayout(row);
        connect(sign, &QPushButton::clicked, this, &SignPage::sign);
        connect(pdf, &QPushButton::clicked, this, [this] { write(QStringLiteral("pdf")); });
        connect(html, &QPushButton::clicked, this, [this] { write(QStringLiteral("html")); });
        connect(m_table, &QTableWidget::cellActivated, this, [this](int line, int) {
            if (line < static_cast<int>(m_stations.size()))
                Q_EMIT stationWanted(m_stations[static_cast<std::size_t>(line)]);
        });
    }

    void refresh() override
    {
        const Evaluation& e = m_document.evaluation();
        std::vector<const Check*> open;
        for (const Check& c : e.checks)
            if (c.verdict != Verdict::Ok && c.station != Station::Sign)
                open.push_back(&c);
        m_head->setText(open.empty() ? tr("● Nothing is open.")
                                     : tr("%n point(s) open over all stations; Enter goes to the station", nullptr,
                                          static_cast<int>(open.size())));
        m_table->setRowCount(static_cast<int>(open.size()));
        m_stations.clear();
        constexpr const char* marks[] = {"○ %1", "● %1", "▲ %1", "■ %1"};
        for (int r = 0; r < m_table->rowCount(); ++r) {
            const Check& c = *open[static_cast<std::size_t>(r)];
            m_stations.push_back(static_cast<int>(c.station));
            const QString reason = QString::fromStdString(c.reason + (c.help.empty() ? "" : "  " + c.help));
            setCell(*m_table, r, 0, said(stationName(c.station)), theme().soft);
            setCell(*m_table, r, 1, said(c.title), {}, said(c.title));
            setCell(*m_table, r, 2,
                    QString::fromUtf8(marks[static_cast<int>(c.verdict)]).arg(said(verdictWord(c.verdict))),
                    theme().verdict(c.verdict));
            setCell(*m_table, r, 3, reason, {}, reason);
        }
        m_table->setColumnWidth(0, 60);
        m_table->setColumnWidth(1, 220);
        m_table->setColumnWidth(2, 84);
        m_table->resizeRowsToContents(); // a reason is read whole
        for (int r = 0; r < m_table->rowCount(); ++r)
            m_table->setRowHeight(r, m_table->rowHeight(r) + 8);
        const auto& bridges = m_document.axis().wiring.bridges;
        QStringList names;
        for (const std::string& b : bridges)
            names += QString::fromStdString(b);
        m_bridges->setText(names.isEmpty() ? tr("None is registered. A bridge in a safety chain is dangerous; if one "
                                                "must be in for a moment, write it down here and take it out.")
                                           : tr("■ Still in: %1").arg(names.join(QStringLiteral("; "))));
        m_strike->setEnabled(!bridges.empty());
        if (m_built != axisKey()) {
            m_built = axisKey();
            delete m_form;
            m_form = new FieldForm(axisTarget(m_document, [](Axis& a) -> void* { return &a.sign; }),
                                   QStringLiteral("sign"), signFields(), 2);
            m_holder->addWidget(m_form);
        }
        m_form->refresh();
    }

private:
    QHBoxLayout* bridgeRow()
    {
        auto* row = new QHBoxLayout;
        m_bridge = new QLineEdit;
        m_bridge->setObjectName(QStringLiteral("sign.bridge"));
        m_bridge->setAccessibleName(tr("Temporary bridge: where, by whom"));
        m_bridge->setPlaceholderText(tr("from terminal to terminal, why, put in by whom"));
        auto* add = button("sign.addBridge", tr("Register a bridge"));
        m_strike = button("sign.strikeBridge", tr("Newest is out again"));
        row->addWidget(m_bridge, 1);
        row->addWidget(add);
        row->addWidget(m_strike);
        connect(add, &QPushButton::clicked, this, [this] {
            const QString text = m_bridge->text().trimmed();
            if (text.isEmpty()) {
                m_words->setText(tr("Write where the bridge is and who put it in."));
                return;
            }
            m_document.edit(tr("Register a bridge"), {}, [&](Axis& a) {
                a.wiring.bridges.push_back((now() + QStringLiteral(" ") + text).toStdString());
            });
            m_bridge->clear();
        });
        connect(m_strike, &QPushButton::clicked, this, [this] {
            m_document.edit(tr("Strike off the newest bridge"), {}, [](Axis& a) {
                if (!a.wiring.bridges.empty())
                    a.wiring.bridges.pop_back();
            });
        });
        return row;
    }

    void sign()
    {
        if (m_document.axis().sign.name.empty()) {
            m_words->setText(tr("Enter the name of the person who signs."));
            return;
        }
        m_document.edit(tr("Sign the hand-over"), {}, [](Axis& a) { a.sign.time = now().toStdString(); });
        m_document.log(QStringLiteral("decision"),
                       tr("Signed by %1").arg(QString::fromStdString(m_document.axis().sign.name)));
    }

    void write(const QString& kind)
    {
        QString path = property("reportPath").toString(); // set by scripts and tests; a person is asked
        if (path.isEmpty())
            path = QFileDialog::getSaveFileName(
                this, tr("Write the report"),
                QStringLiteral("%1-handover.%2").arg(QString::fromStdString(m_document.axis().id), kind));
        else
            path += QLatin1Char('.') + kind;
        if (path.isEmpty())
            return;
        const std::string html =
            store::reportHtml(m_document.machine(), m_document.axis(), m_document.evaluation(), m_document.logbook());
        const auto done = kind == QLatin1String("pdf") ? store::writePdf(path.toStdString(), html)
                                                       : store::writeText(path.toStdString(), html);
        m_words->setText(done ? tr("Written: %1").arg(path) : QString::fromStdString(messageFor(done.error())));
        if (done)
            m_document.log(QStringLiteral("decision"), tr("Report written as %1").arg(kind));
    }

    QLabel *m_head, *m_bridges, *m_words;
    QLineEdit* m_bridge;
    QPushButton* m_strike;
    QTableWidget* m_table;
    QVBoxLayout* m_holder;
    FieldForm* m_form = nullptr;
    std::string m_built;
    std::vector<int> m_stations;
};

} // namespace

StationPage* makeSign(Document& d, Bench& b) { return new SignPage(d, b); }

} // namespace ridge::app
