#include "app/theme/sentence.h"
#include "app/theme/theme.h"
#include "app/widgets/forms.h"
#include "app/widgets/photos.h"
#include "app/widgets/stepspanel.h"
#include "core/stations/gates.h"
#include "core/stations/staleness.h"
#include "store/report.h"

#include "station.h"

#include <QCheckBox>
#include <QFileDialog>
#include <QHeaderView>
#include <QLineEdit>
#include <QTableWidget>
#include <QVBoxLayout>

namespace ridge::app {

namespace {

QLineEdit* line(const char* name, const QString& label)
{
    auto* edit = new QLineEdit;
    edit->setObjectName(QString::fromLatin1(name));
    edit->setAccessibleName(label);
    edit->setPlaceholderText(label);
    return edit;
}

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
                            {tr("Station"), tr("Check or step"), tr("State"), tr("Reason and what would help")});
        layout->addWidget(m_table, 1);
        layout->addWidget(heading(tr("Defeated protections and bridges")));
        m_none = quiet({});
        m_none->setObjectName(QStringLiteral("sign.defeatedWords"));
        layout->addWidget(m_none);
        m_defeats = listTable("defeated", tr("Protections that are off, weakened, forced or bridged"),
                              {tr("Protection"), tr("Found"), tr("Wanted"), tr("Why it stays, by name")});
        m_defeats->setMaximumHeight(112);
        layout->addWidget(m_defeats);
        layout->addLayout(defeatRow());
        layout->addLayout(bridgeRow());
        layout->addWidget(heading(tr("Hand-over")));
        m_signed = quiet({});
        m_signed->setObjectName(QStringLiteral("sign.signed"));
        layout->addWidget(m_signed);
        layout->addLayout(signRow());
        m_words = quiet({});
        m_words->setObjectName(QStringLiteral("sign.words"));
        layout->addWidget(m_words);
        connect(m_table->horizontalHeader(), &QHeaderView::sectionResized, this, [this](int column) {
            for (int r = 0; column == 3 && r < m_table->rowCount(); ++r)
                wrapRow(r);
        });
        connect(m_table, &QTableWidget::cellActivated, this, [this](int row, int) {
            if (row < static_cast<int>(m_stations.size()))
                Q_EMIT stationWanted(m_stations[static_cast<std::size_t>(row)]);
        });
    }

    void refresh() override
    {
        const Evaluation& e = m_document.evaluation();
        const Evidence& evidence = m_document.evidence();
        fillOpen(e);
        fillDefeats(e.defeats);
        const auto bridges = openBridges(evidence);
        m_strike->setEnabled(!bridges.empty());
        m_photos->setVisible(!bridges.empty());
        if (!bridges.empty())
            m_photos->setOf(tr("bridge %1").arg(QString::fromStdString(bridges.back()->as<BridgeIn>()->bridge)));
        QStringList signatures;
        for (const Fact* f : evidence.every<Signed>()) {
            const Message fell = signatureFell(*f, evidence);
            signatures += tr("%1 %2: %3, %4, %5. %6")
                              .arg(fell.empty() ? QStringLiteral("●") : QStringLiteral("▲"), sentence(lineOf(*f)),
                                   QString::fromStdString(f->person.name), QString::fromStdString(f->person.role),
                                   localTime(f->time), sentence(fell));
        }
        m_signed->setText(signatures.isEmpty() ? tr("Nobody has signed.") : signatures.join(QLatin1Char('\n')));
    }

private:
    /// A reason is read whole.
    void wrapRow(int row)
    {
        m_table->resizeRowToContents(row);
        m_table->setRowHeight(row, m_table->rowHeight(row) + 6);
    }

    void fillOpen(const Evaluation& e)
    {
        struct Open {
            int station;
            QString what, state, reason;
            QColor colour;
        };
        std::vector<Open> open;
        for (const Check& c : e.checks)
            if (c.verdict != Verdict::Ok && c.station != Station::Sign)
                open.push_back(
                    {static_cast<int>(c.station), said(c.title),
                     verdictMark(c.verdict) + QLatin1Char(' ') + said(verdictWord(c.verdict)),
                     sentence(c.reason) + (c.help.empty() ? QString() : QStringLiteral("  ") + sentence(c.help)),
                     theme().verdict(c.verdict)});
        int steps = 0;
        for (const StepStatus& s : e.steps) {
            if (s.done() && !s.practised)
                continue;
            ++steps;
            open.push_back({static_cast<int>(s.step->station),
                            said(s.step->id) + QLatin1Char(' ') + said(s.step->title),
                            stepMark(s) + QLatin1Char(' ') + stepWord(s),
                            s.reason.empty() ? said(s.step->work) : sentence(s.reason),
                            s.state == StepState::Failed  ? theme().fail
                            : s.state == StepState::Stale ? theme().watch
                                                          : theme().soft});
        }
        m_head->setText(open.empty() ? tr("● Nothing is open.")
                                     : tr("%1 checks and %2 steps are open; Enter goes to the station")
                                           .arg(open.size() - static_cast<std::size_t>(steps))
                                           .arg(steps));
        m_table->setRowCount(static_cast<int>(open.size()));
        m_stations.clear();
        m_table->setColumnWidth(0, 60);
        m_table->setColumnWidth(1, 220);
        m_table->setColumnWidth(2, 96);
        for (int r = 0; r < m_table->rowCount(); ++r) {
            const Open& o = open[static_cast<std::size_t>(r)];
            m_stations.push_back(o.station);
            setCell(*m_table, r, 0, said(stationName(static_cast<Station>(o.station))), theme().soft);
            setCell(*m_table, r, 1, o.what, {}, o.what);
            setCell(*m_table, r, 2, o.state, o.colour);
            const bool other = !m_table->item(r, 3) || m_table->item(r, 3)->text() != o.reason;
            setCell(*m_table, r, 3, o.reason, {}, o.reason);
            if (other)
                wrapRow(r);
        }
    }

    void fillDefeats(const Defeats& defeats)
    {
        m_none->setVisible(defeats.all.empty());
        m_none->setText(defeats.known
                            ? tr("● None: no monitor is off, no input forced, no limit weaker than planned, no bridge "
                                 "in. A bridge in a safety chain is dangerous; better fit the real contact.")
                            : tr("○ Nobody has looked: read the drive in Set, or write down below what is off."));
        m_defeats->setVisible(!defeats.all.empty());
        m_defeats->setRowCount(static_cast<int>(defeats.all.size()));
        m_what.clear();
        int row = 0;
        for (const Defeat& d : defeats.all) {
            const Fact* by = d.justified ? d.justified : d.source;
            const QString who =
                by ? tr("%1, %2").arg(QString::fromStdString(by->person.name), localTime(by->time)) : QString();
            const QString why =
                d.justified ? tr("● %1 (%2)").arg(QString::fromStdString(d.justified->as<Justified>()->reason), who)
                : d.mayStay ? tr("■ open")
                            : tr("■ open: it is taken out (%1)").arg(who);
            m_what.push_back(d.what);
            const QString cells[] = {sentence(d.protection), sentence(d.found), sentence(d.wanted), why};
            for (int c = 0; c < 4; ++c)
                setCell(*m_defeats, row, c, cells[c], c == 3 && d.open() ? theme().fail : QColor(), cells[c]);
            ++row;
        }
        m_defeats->setColumnWidth(0, 184);
        m_defeats->setColumnWidth(1, 120);
        m_defeats->setColumnWidth(2, 120);
        m_justify->setEnabled(std::ranges::any_of(defeats.all, &Defeat::mayStay));
    }

    QHBoxLayout* defeatRow()
    {
        auto* row = new QHBoxLayout;
        m_off = line("sign.off", tr("protection"));
        m_found = line("sign.found", tr("found"));
        m_stays = line("sign.stays", tr("why it stays"));
        auto* off = button("sign.isOff", tr("It is off"));
        off->setToolTip(tr("For a drive that is not read, and for bypass plugs."));
        auto* none = button("sign.noneOff", tr("None is off"));
        none->setToolTip(tr("You have looked at the drive by hand and found no protection off."));
        m_justify = button("sign.justify", tr("Justify the selected"));
        for (QWidget* w :
             {static_cast<QWidget*>(m_off), static_cast<QWidget*>(m_found), static_cast<QWidget*>(off),
              static_cast<QWidget*>(none), static_cast<QWidget*>(m_stays), static_cast<QWidget*>(m_justify)})
            row->addWidget(w, w == m_stays ? 2 : w == m_off || w == m_found ? 1 : 0);
        connect(off, &QPushButton::clicked, this, [this] {
            ProtectionsSeen seen;
            if (const Fact* before = m_document.evidence().newest<ProtectionsSeen>())
                seen = *before->as<ProtectionsSeen>();
            seen.off[m_off->text().trimmed().toStdString()] = m_found->text().trimmed().toStdString();
            if (record(seen))
                for (QLineEdit* edit : {m_off, m_found})
                    edit->clear();
        });
        connect(none, &QPushButton::clicked, this, [this] { record(ProtectionsSeen{}); });
        connect(m_justify, &QPushButton::clicked, this, [this] {
            const auto at = static_cast<std::size_t>(m_defeats->currentRow());
            if (m_defeats->currentRow() < 0 || at >= m_what.size())
                m_words->setText(tr("Choose in the list what stays defeated."));
            else if (record(Justified{m_what[at], m_stays->text().trimmed().toStdString()}))
                m_stays->clear();
        });
        return row;
    }

    QHBoxLayout* bridgeRow()
    {
        auto* row = new QHBoxLayout;
        m_from = line("sign.bridgeFrom", tr("from terminal"));
        m_to = line("sign.bridgeTo", tr("to terminal"));
        m_why = line("sign.bridgeWhy", tr("why"));
        auto* add = button("sign.addBridge", tr("Register a bridge"));
        add->setToolTip(said(cautionText("C-16")));
        m_strike = button("sign.strikeBridge", tr("Newest is out again"));
        m_photos = new PhotoRow(m_document);
        for (QWidget* w : {static_cast<QWidget*>(m_from), static_cast<QWidget*>(m_to), static_cast<QWidget*>(m_why),
                           static_cast<QWidget*>(add), static_cast<QWidget*>(m_strike)})
            row->addWidget(w, w == m_why ? 2 : 0);
        row->addWidget(m_photos);
        connect(add, &QPushButton::clicked, this, [this] {
            const BridgeIn in{"B" + std::to_string(m_document.facts().size() + 1),
                              m_from->text().trimmed().toStdString(), m_to->text().trimmed().toStdString(),
                              m_why->text().trimmed().toStdString()};
            if (record(in) && record(Acknowledged{"C-16", std::string(cautionText("C-16"))}))
                for (QLineEdit* edit : {m_from, m_to, m_why})
                    edit->clear();
        });
        connect(m_strike, &QPushButton::clicked, this, [this] {
            if (const auto in = openBridges(m_document.evidence()); !in.empty())
                record(BridgeOut{in.back()->as<BridgeIn>()->bridge});
        });
        return row;
    }

    QVBoxLayout* signRow()
    {
        auto* rows = new QVBoxLayout;
        auto* row = new QHBoxLayout;
        auto* acts = new QHBoxLayout;
        m_name = line("sign.name", tr("name"));
        m_role = line("sign.role", tr("role"));
        m_remarks = line("sign.remarks", tr("remarks"));
        m_caution = new QCheckBox(tr("C-25"));
        m_caution->setObjectName(QStringLiteral("sign.caution"));
        m_caution->setToolTip(said(cautionText("C-25")));
        m_caution->setAccessibleName(said(cautionText("C-25")));
        auto* gives = button("sign.gives", tr("Hand over"));
        auto* takes = button("sign.takes", tr("Take over"));
        auto* pdf = button("sign.pdf", tr("Report as PDF …"));
        auto* html = button("sign.html", tr("Report as HTML …"));
        for (QWidget* w : {static_cast<QWidget*>(m_name), static_cast<QWidget*>(m_role),
                           static_cast<QWidget*>(m_remarks), static_cast<QWidget*>(m_caution)})
            row->addWidget(w, w == m_remarks ? 2 : 0);
        for (QPushButton* b : {gives, takes, pdf, html})
            acts->addWidget(b);
        m_pictures = new QCheckBox(tr("with photos"));
        m_pictures->setObjectName(QStringLiteral("sign.photos"));
        m_pictures->setAccessibleName(tr("Print the photos in the report"));
        acts->addWidget(m_pictures);
        acts->addStretch();
        rows->addLayout(row);
        rows->addLayout(acts);
        connect(gives, &QPushButton::clicked, this, [this] { sign("gives"); });
        connect(takes, &QPushButton::clicked, this, [this] { sign("takes"); });
        connect(pdf, &QPushButton::clicked, this, [this] { write(QStringLiteral("pdf")); });
        connect(html, &QPushButton::clicked, this, [this] { write(QStringLiteral("html")); });
        return rows;
    }

    /// A typed fact, or the sentence why not.
    bool record(Payload payload)
    {
        Fact fact;
        fact.axis = m_document.axis().id;
        fact.person = m_document.person();
        fact.payload = payload;
        const Message no = refusalToRecord(fact, m_document.machine(), m_document.axis(), m_document.evaluation(),
                                           m_document.evidence());
        m_words->setText(sentence(no));
        return no.empty() && m_document.append(m_document.typedSource(), std::move(payload));
    }

    void sign(const char* side)
    {
        const Evaluation& e = m_document.evaluation();
        const auto against = refusalsToSign(e, m_document.evidence());
        if (!against.empty()) {
            m_words->setText(tr("Not signed, %1 things stand against it. First: %2")
                                 .arg(against.size())
                                 .arg(sentence(against.front())));
            return;
        }
        const std::string name = m_name->text().trimmed().toStdString(), role = m_role->text().trimmed().toStdString();
        if (name.empty() || role.empty()) {
            m_words->setText(tr("Enter name and role of the person who signs."));
            return;
        }
        if (!m_caution->isChecked()) {
            m_words->setText(tr("Acknowledge first: %1").arg(said(cautionText("C-25"))));
            return;
        }
        FactSource source = m_document.typedSource();
        source.person = Person{name, role};
        m_document.append(source, Acknowledged{"C-25", std::string(cautionText("C-25"))});
        const bool rehearsal = m_document.evidence().view().practice();
        if (m_document.append(source, Signed{side, m_remarks->text().trimmed().toStdString(), rehearsal}))
            m_words->setText(
                rehearsal
                    ? tr("Signed as a REHEARSAL: it rests on a simulated drive and proves nothing about the machine.")
                    : tr("Signed."));
        m_caution->setChecked(false);
    }

    void write(const QString& kind)
    {
        QString path = property("reportPath").toString(); // set by scripts and tests; a person is asked
        if (path.isEmpty())
            path = QFileDialog::getSaveFileName(
                this, tr("Write the report"),
                QStringLiteral("%1-%2.%3")
                    .arg(QString::fromStdString(m_document.axis().id),
                         m_document.axis().turn.bench ? QStringLiteral("bench") : QStringLiteral("handover"), kind));
        else
            path += QLatin1Char('.') + kind;
        if (path.isEmpty())
            return;
        std::vector<store::ReportPhoto> photos;
        if (m_pictures->isChecked())
            for (const Fact* f : m_document.evidence().all())
                if (const auto* kept = f->as<PhotoKept>())
                    photos.push_back({f, m_document.photo(kept->blob)});
        const std::string html = store::reportHtml(m_document.machine(), m_document.axis(), m_document.evaluation(),
                                                   m_document.evidence(), m_document.facts(), photos);
        const auto done = kind == QLatin1String("pdf") ? store::writePdf(path.toStdString(), html)
                                                       : store::writeText(path.toStdString(), html);
        m_words->setText(done ? tr("Written: %1").arg(path) : QString::fromStdString(messageFor(done.error())));
        if (done)
            m_document.note(tr("Report written as %1").arg(kind));
    }

    QLabel *m_head, *m_none, *m_words, *m_signed;
    QLineEdit *m_off, *m_found, *m_stays, *m_from, *m_to, *m_why, *m_name, *m_role, *m_remarks;
    QCheckBox *m_caution, *m_pictures;
    PhotoRow* m_photos;
    QPushButton *m_strike, *m_justify;
    QTableWidget *m_table, *m_defeats;
    std::vector<std::string> m_what; ///< of the rows of defeated protections
    std::vector<int> m_stations;
};

} // namespace

StationPage* makeSign(Document& d, Bench& b) { return new SignPage(d, b); }

} // namespace ridge::app
