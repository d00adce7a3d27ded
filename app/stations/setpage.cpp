#include "app/theme/sentence.h"
#include "app/theme/theme.h"
#include "app/widgets/labels.h"

#include "station.h"

#include <QHeaderView>
#include <QLineEdit>
#include <QProgressBar>
#include <QTableWidget>
#include <QTimer>
#include <QVBoxLayout>

namespace ridge::app {

namespace {

class SetPage final : public StationPage {
public:
    SetPage(Document& document, Bench& bench)
        : StationPage(document, bench)
    {
        auto* layout = new QVBoxLayout(this);
        layout->setContentsMargins(0, 6, 0, 6);
        layout->addLayout(identityRow());
        layout->addLayout(actionRow());
        m_words = quiet({});
        m_words->setProperty("station", QStringLiteral("set"));
        layout->addWidget(m_words);
        m_table = listTable(
            "parameters", tr("Parameters: planned, in the drive, last saved"),
            {tr("Object"), tr("Name"), tr("Planned"), tr("That is"), tr("In the drive"), tr("Last saved"), tr("Why")});
        layout->addWidget(m_table, 1);
        connect(&m_bench, &Bench::changed, this, &SetPage::enableButtons);
    }

    [[nodiscard]] const char* mainFigure() const override { return "tune.velocity_gain"; }
    [[nodiscard]] bool busy() const override { return m_busy; }

    void refresh() override
    {
        const Evaluation& e = m_document.evaluation();
        m_table->setRowCount(static_cast<int>(e.set.parameters.size()));
        int row = 0;
        for (const PlannedParameter& planned : e.set.parameters)
            showRow(row++, planned, e.set.memory);
        const int widths[] = {58, 176, 76, 120, 84, 84};
        for (int c = 0; c < 6; ++c)
            m_table->setColumnWidth(c, widths[c]);
        enableButtons();
    }

private:
    /// Who answers, and whether it is the drive of this axis.
    QHBoxLayout* identityRow()
    {
        auto* row = new QHBoxLayout;
        m_identity = new QLabel;
        m_identity->setObjectName(QStringLiteral("set.identity"));
        m_reason = new QLineEdit;
        m_reason->setObjectName(QStringLiteral("set.replaceReason"));
        m_reason->setAccessibleName(tr("Why the drive was replaced"));
        m_reason->setPlaceholderText(tr("why it was replaced"));
        m_reason->setMaximumWidth(220);
        m_bind = button("set.bind", tr("This is the drive of this axis"));
        row->addWidget(m_identity);
        row->addWidget(m_reason);
        row->addWidget(m_bind);
        row->addStretch();
        m_progress = new QProgressBar;
        m_progress->setTextVisible(false);
        m_progress->setFixedSize(140, 6);
        m_progress->hide(); // only while something is under way
        row->addWidget(m_progress);
        connect(m_bind, &QPushButton::clicked, this, [this] {
            const DriveIdentity bound = m_bench.linkState().bound;
            if (bound.known() && m_reason->text().trimmed().isEmpty()) {
                say(tr("Say why the drive was replaced; what was proved on %1 falls.")
                        .arg(QString::fromStdString(bound.serial)));
                return;
            }
            m_bench.bind(bound.serial, m_reason->text().trimmed());
            m_reason->clear();
        });
        return row;
    }

    QHBoxLayout* actionRow()
    {
        auto* row = new QHBoxLayout;
        m_read = button("set.read", tr("Read from drive"));
        m_write = button("set.write", tr("Write differences to drive"));
        m_save = button("set.save", tr("Save in drive"));
        m_cycle = button("set.cycle", tr("Power-cycle (simulated)"));
        m_cycled = button("set.cycled", tr("The supply was off and on"));
        m_saw = new QLineEdit;
        m_saw->setObjectName(QStringLiteral("set.saw"));
        m_saw->setAccessibleName(tr("Who saw the control supply off, and when"));
        m_saw->setPlaceholderText(tr("who saw it off, and when"));
        m_saw->setMaximumWidth(180);
        m_accept = button("set.acceptLimits", tr("Accept the raised limits"));
        QPushButton* reset = resetButton("set.reset", [this](const QString& words) { say(words); });
        for (QWidget* w :
             std::initializer_list<QWidget*>{m_read, m_write, m_accept, m_save, m_cycle, m_saw, m_cycled, reset})
            row->addWidget(w);
        row->addStretch();
        connect(m_read, &QPushButton::clicked, this, &SetPage::readDrive);
        connect(m_write, &QPushButton::clicked, this, &SetPage::writeDrive);
        connect(m_accept, &QPushButton::clicked, this, [this] {
            const auto raised = m_document.evaluation().set.raised; // each by itself: the list changes with the entries
            for (const RaisedLimit& r : raised)
                m_document.append(m_document.typedSource(), Acknowledged{r.what, plain(r.words)});
        });
        connect(m_save, &QPushButton::clicked, this, &SetPage::save);
        connect(m_cycle, &QPushButton::clicked, this, &SetPage::cycle);
        connect(m_cycled, &QPushButton::clicked, this, &SetPage::wasCycled);
        return row;
    }

    void showRow(int r, const PlannedParameter& row, const DriveMemory& m)
    {
        const auto value = [&](const DriveValues& values) {
            const auto it = values.find(row.key);
            return it == values.end() ? QStringLiteral("–") : QString::number(it->second);
        };
        const auto differs = [&](const DriveValues& values) {
            const auto it = values.find(row.key);
            return it != values.end() && !sameWithinRounding(row.key, row.value, it->second);
        };
        const ObjectEntry* entry = ObjectDictionary::shipped().find(row.key);
        const bool byHand = m_bench.session().identified() && !m_bench.session().has(row.key);
        const QString name = entry ? QString::fromStdString(entry->name) : QString(), why = sentence(row.why),
                      physical = sentence(row.physical);
        setCell(*m_table, r, 0, QString::fromStdString(keyText(row.key)), theme().soft);
        setCell(*m_table, r, 1, name, {}, name);
        setCell(*m_table, r, 2, QString::number(row.value));
        setCell(*m_table, r, 3, physical, {}, physical);
        for (const auto& [column, values] :
             {std::pair{4, &m.held}, std::pair{5, &m.saved}}) // only differences stand out
            setCell(*m_table, r, column,
                    byHand ? tr("by hand") : (differs(*values) ? QStringLiteral("■ ") : QString()) + value(*values),
                    differs(*values) ? theme().fail : theme().soft);
        setCell(*m_table, r, 6, why, theme().soft, why);
        for (const int c : {2, 4, 5})
            m_table->item(r, c)->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
    }

    void enableButtons()
    {
        if (!m_document.hasAxis())
            return;
        const LinkState link = m_bench.linkState();
        const bool idle = link.identified && !m_bench.runs().running() && !m_busy;
        const QString refused = m_bench.refusal(Act::Write);
        m_read->setEnabled(idle);
        m_write->setEnabled(idle && refused.isEmpty() && !m_document.evaluation().set.parameters.empty());
        const auto& raised = m_document.evaluation().set.raised;
        m_accept->setVisible(idle && !link.identity.simulated && !raised.empty());
        m_accept->setEnabled(m_document.person().named());
        QStringList limits;
        for (const RaisedLimit& r : raised)
            limits += sentence(r.words);
        m_accept->setToolTip(limits.join(QLatin1Char('\n')));
        m_save->setEnabled(idle && m_bench.refusal(Act::Save).isEmpty());
        m_cycle->setEnabled(idle && link.identity.simulated);
        m_cycle->setVisible(!link.identified || link.identity.simulated);
        const bool real = link.identified && !link.identity.simulated;
        m_cycled->setVisible(real);
        m_cycled->setEnabled(idle && m_document.person().named());
        m_saw->setVisible(real && !link.restarts);
        showIdentity(link);
        if (m_busy || m_said)
            return;
        setLabel(*m_words, link.identified && !refused.isEmpty()
                               ? QStringLiteral("%1. %2").arg(m_bench.words(), refused)
                               : m_bench.words());
    }

    void showIdentity(const LinkState& link)
    {
        const bool real = link.identified && !link.identity.simulated;
        const bool same = real && link.identity.sameDevice(link.bound);
        QString text;
        if (link.identified)
            text =
                tr("%1 %2, serial number %3, firmware %4%5")
                    .arg(QString::fromStdString(link.identity.maker), QString::fromStdString(link.identity.type),
                         QString::fromStdString(link.identity.serial), QString::fromStdString(link.identity.firmware),
                         link.identity.simulated ? tr(" – practice, proves nothing about a real drive") : QString());
        else if (link.bound.known())
            text = tr("The drive of this axis: %1, serial number %2")
                       .arg(QString::fromStdString(link.bound.type), QString::fromStdString(link.bound.serial));
        else
            text = tr("No drive belongs to this axis yet.");
        setLabel(*m_identity, text);
        const link::Session& session = m_bench.session();
        m_identity->setToolTip(
            !link.identified
                ? QString()
                : tr("Safety part %1\nName in the drive: %2\nRunning time %3 h, %4 restarts")
                      .arg(link.identity.safety.empty() ? tr("not told") : QString::fromStdString(link.identity.safety),
                           session.name().empty() ? tr("none") : QString::fromStdString(session.name()))
                      .arg(session.runningTime() / 3600)
                      .arg(session.restarts() ? QString::number(*session.restarts()) : tr("not counted")));
        m_bind->setVisible(real && !same && link.identity.known());
        m_reason->setVisible(real && !same && link.bound.known());
        m_bind->setText(link.bound.known() ? tr("It replaces %1").arg(QString::fromStdString(link.bound.serial))
                                           : tr("This is the drive of this axis"));
        m_bind->setEnabled(m_document.person().named());
    }

    void say(const QString& words)
    {
        m_said = true;
        setLabel(*m_words, words);
        QTimer::singleShot(6000, this, [this] {
            m_said = false;
            enableButtons();
        });
    }
    void busyNow(bool on)
    {
        m_busy = on;
        m_progress->setValue(0);
        m_progress->setVisible(on);
        enableButtons();
    }
    void failed(const Error& e)
    {
        busyNow(false);
        say(QString::fromStdString(messageFor(e)));
    }
    auto progress()
    {
        return [this](int done, int total) {
            m_progress->setMaximum(total);
            m_progress->setValue(done);
        };
    }
    /// Why a page does nothing; the same sentence for button, key and script.
    [[nodiscard]] bool refused(Act act)
    {
        const QString why = m_bench.refusal(act);
        if (!why.isEmpty())
            say(why);
        return !why.isEmpty();
    }

    void readDrive()
    {
        if (!m_document.person().named()) {
            say(QString::fromStdString(messageFor({"no-person", {}, {}, {}})));
            return;
        }
        busyNow(true);
        AxisLink* link = &m_bench.here(); // the values belong to this axis, whatever is looked at when they arrive
        const FactSource source = m_bench.source();
        link->session.readAll(
            [this, link, source](const Result<link::Values>& v) {
                if (!v)
                    return failed(v.error());
                link->valuesKnown = true;
                m_document.append(source, DriveRead{*v});
                busyNow(false);
            },
            progress());
    }

    void writeDrive()
    {
        if (refused(Act::Write))
            return;
        link::Values differing;
        const auto& held = m_document.evaluation().set.memory.held;
        for (const PlannedParameter& row : m_document.evaluation().set.parameters) {
            if (!m_bench.session().has(row.key))
                continue; // its map lacks it: by hand, as the table says
            const auto it = held.find(row.key);
            if (it == held.end() || !sameWithinRounding(row.key, row.value, it->second))
                differing[row.key] = row.value;
        }
        busyNow(true);
        const FactSource source = m_bench.source();
        m_bench.session().writeVerified(
            differing,
            [this, source, differing](const Result<link::Values>& back) {
                if (!back)
                    return failed(back.error());
                m_document.append(source, DriveWritten{differing, *back});
                busyNow(false);
            },
            progress());
    }

    void save()
    {
        if (refused(Act::Save))
            return;
        busyNow(true);
        const FactSource source = m_bench.source();
        const DriveValues held = m_document.evaluation().set.memory.held;
        m_bench.session().writeToSame({0x2300, 1}, 0x5AFE, [this, source, held](const Result<void>& r) {
            if (!r)
                return failed(r.error());
            m_document.append(source, DriveSaved{held, m_bench.linkState().restarts.value_or(0)});
            busyNow(false);
        });
    }

    void cycle()
    {
        busyNow(true);
        AxisLink* link = &m_bench.here();
        const FactSource source = m_bench.source();
        link->runs.forgetStart(); // the scale may be another after it
        link->session.write({0x2F00, 7}, 0x5AFE, [this, link, source](const Result<void>& r) {
            if (!r)
                return failed(r.error());
            QTimer::singleShot(150, this, [this, link, source] {
                link->session.readAll(
                    [this, link, source](const Result<link::Values>& v) {
                        if (!v)
                            return failed(v.error());
                        link->valuesKnown = true;
                        m_document.append(source, PowerCycled{*v, 0, {}});
                        busyNow(false);
                    },
                    progress());
            });
        });
    }

    /// Of a real drive: by its identity and restart counter, or by the words of who saw it; then all is read back.
    void wasCycled()
    {
        const std::string words = m_saw->text().trimmed().toStdString();
        const LinkState state = m_bench.linkState();
        if (const QString no = sentence(refusalOfCycle(m_document.evidence(), state, words)); !no.isEmpty()) {
            say(no);
            return;
        }
        busyNow(true);
        AxisLink* link = &m_bench.here();
        const FactSource source = m_bench.source();
        link->runs.forgetStart();
        link->session.readAll(
            [this, link, source, words, restarts = state.restarts.value_or(0)](const Result<link::Values>& v) {
                if (!v)
                    return failed(v.error());
                link->valuesKnown = true;
                m_document.append(source, PowerCycled{*v, restarts, words});
                m_saw->clear();
                busyNow(false);
            },
            progress());
    }

    QPushButton *m_read, *m_write, *m_accept, *m_save, *m_cycle, *m_cycled, *m_bind;
    QLineEdit *m_reason, *m_saw;
    QLabel* m_identity;
    QProgressBar* m_progress;
    QLabel* m_words;
    QTableWidget* m_table;
    bool m_busy = false, m_said = false;
};

} // namespace

StationPage* makeSet(Document& d, Bench& b) { return new SetPage(d, b); }

} // namespace ridge::app
