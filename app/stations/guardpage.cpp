#include "app/instruments/stopline.h"
#include "app/theme/theme.h"
#include "app/widgets/figures.h"
#include "app/widgets/forms.h"
#include "core/units/print.h"

#include "station.h"

#include <QProgressBar>
#include <QScrollArea>
#include <QTableWidget>
#include <QVBoxLayout>

namespace ridge::app {

namespace {

class GuardPage final : public StationPage {
public:
    GuardPage(Document& document, Bench& bench)
        : StationPage(document, bench)
    {
        auto* layout = new QVBoxLayout(this);
        layout->setContentsMargins(0, 6, 0, 6);
        layout->addWidget(
            caution(tr("Removing torque does not isolate from the supply. Whether this stop is enough follows from the "
                       "machine's risk assessment and a competent person, never from this program.")));
        m_line = new StopLine;
        layout->addWidget(m_line, 5);
        layout->addLayout(actionRow());
        m_words = quiet({});
        layout->addWidget(m_words);
        auto* below = new QHBoxLayout;
        auto* left = new QVBoxLayout;
        left->addWidget(heading(tr("Tests and their results")));
        m_table = listTable("tests", tr("Tests of the stop functions"),
                            {tr("Test"), tr("When"), tr("Result"), tr("Standstill"), tr("Torque off"), tr("Drop")});
        m_table->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff); // the last column takes what is left
        left->addWidget(m_table, 1);
        below->addLayout(left, 1);
        auto* right = new QVBoxLayout;
        right->addWidget(heading(tr("Stop function")));
        m_figures = new Figures;
        right->addWidget(m_figures, 0, Qt::AlignLeft | Qt::AlignTop);
        m_scroll = new QScrollArea;
        m_scroll->setWidgetResizable(true);
        m_scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
        m_scroll->setFixedWidth(300);
        right->addWidget(m_scroll, 1);
        below->addLayout(right);
        layout->addLayout(below, 5);
        connect(m_figures, &Figures::chosen, this, &StationPage::resultWanted);
        connect(&m_bench, &Bench::changed, this, &GuardPage::enableButtons);
    }

    [[nodiscard]] const char* mainFigure() const override { return "guard.delay_needed"; }
    [[nodiscard]] bool busy() const override { return m_bench.procedures().running(); }

    void refresh() override
    {
        const Evaluation& e = m_document.evaluation();
        m_figures->show(e, {"guard.expected_stop", "guard.delay_needed", "guard.drop"});
        if (m_built != axisKey()) {
            m_built = axisKey();
            m_form = new FieldForm(axisTarget(m_document, [](Axis& a) -> void* { return &a.guard; }),
                                   QStringLiteral("guard"), guardFields());
            m_form->setContentsMargins(0, 2, 10, 2);
            m_scroll->setWidget(m_form);
        }
        m_form->refresh();
        fill();
        draw(e);
        enableButtons();
    }

private:
    QHBoxLayout* actionRow()
    {
        auto* row = new QHBoxLayout;
        m_trip = button("guard.trip", tr("Hold to move, then trip SS1"));
        m_take = button("guard.take", tr("Set the computed delay"));
        m_a = button("guard.channelA", tr("Open channel A"));
        m_b = button("guard.channelB", tr("Open channel B"));
        m_restart = button("guard.restart", tr("Prove no restart"));
        for (QPushButton* b : {m_trip, m_take, m_a, m_b, m_restart})
            row->addWidget(b);
        m_progress = new QProgressBar;
        m_progress->setTextVisible(false);
        m_progress->setFixedSize(80, 6);
        row->addWidget(m_progress);
        row->addStretch();
        connect(m_trip, &QPushButton::pressed, this, &GuardPage::trip);
        connect(m_trip, &QPushButton::released, this, [this] { m_bench.procedures().release(); });
        connect(m_a, &QPushButton::clicked, this, [this] { channel(link::Procedures::Channel::A, "channel A"); });
        connect(m_b, &QPushButton::clicked, this, [this] { channel(link::Procedures::Channel::B, "channel B"); });
        connect(m_restart, &QPushButton::clicked, this, &GuardPage::restart);
        connect(m_take, &QPushButton::clicked, this, [this] {
            if (const ResultValue* r = m_document.evaluation().result("guard.delay_needed"))
                m_document.edit(tr("Set the stop delay"), {}, [&](Axis& a) { a.guard.delay = r->value; });
        });
        return row;
    }

    [[nodiscard]] Quantity travelQuantity() const
    {
        return resolve(Quantity::Travel, m_document.axis().mechanism.rotary());
    }

    void enableButtons()
    {
        if (!m_document.hasAxis())
            return;
        const bool ready = m_bench.session().connected() && m_document.axis().parameters.verified,
                   idle = ready && !busy();
        for (QPushButton* b : {m_a, m_b, m_restart}) // on a real drive the channels are opened at their terminals
            b->setEnabled(idle && m_bench.session().simulated());
        m_trip->setEnabled(ready);
        m_take->setEnabled(m_document.evaluation().result("guard.delay_needed") != nullptr);
        if (!busy() && !m_said)
            m_words->setText(ready ? m_bench.words() : tr("Connect and write the parameters in Set first."));
    }
    void say(const QString& words)
    {
        m_said = true;
        m_words->setText(words);
        enableButtons();
    }

    void fill()
    {
        const auto& tests = m_document.axis().guard.tests;
        m_table->setRowCount(static_cast<int>(tests.size()));
        for (int r = 0; r < m_table->rowCount(); ++r) { // newest first
            const StopTest& t = tests[tests.size() - 1 - static_cast<std::size_t>(r)];
            setCell(*m_table, r, 0, QString::fromStdString(t.kind) + (t.simulated ? tr(" (simulated)") : QString()));
            setCell(*m_table, r, 1, QString::fromStdString(t.time).mid(5, 11), theme().soft,
                    QString::fromStdString(t.time));
            setCell(*m_table, r, 2, t.passed ? tr("● passed") : tr("■ failed"), t.passed ? theme().ok : theme().fail,
                    QString::fromStdString(t.note));
            setCell(*m_table, r, 3, t.stopTime > 0 ? shown(t.stopTime, Quantity::Time, 3) : QString());
            setCell(*m_table, r, 4, t.offTime > 0 ? shown(t.offTime, Quantity::Time, 3) : QString());
            setCell(*m_table, r, 5, t.kind == "SS1" ? shown(t.drop, travelQuantity(), 3) : QString());
        }
        const int widths[] = {144, 82, 66, 70, 76};
        for (int c = 0; c < 5; ++c)
            m_table->setColumnWidth(c, widths[c]);
    }

    void draw(const Evaluation& e)
    {
        StopLineState s;
        const GuardRecord& g = m_document.axis().guard;
        if (const ResultValue* r = e.result("guard.delay_needed"))
            s.delayNeeded = r->value;
        s.delaySet = g.delay;
        s.delayPermitted = g.permitted;
        s.speedUnit = QStringLiteral("rpm");
        s.travelUnit = QString::fromStdString(prettyUnit(displayUnit(travelQuantity(), unitSystem())));
        const auto last =
            std::find_if(g.tests.rbegin(), g.tests.rend(), [](const StopTest& t) { return t.kind == "SS1"; });
        if (last != g.tests.rend()) {
            s.ramp = last->rampTime;
            s.standstill = last->stopTime;
            s.brakeClosed = last->brakeTime;
            s.torqueOff = last->offTime;
            s.caption =
                tr("%1 stop of %2 from %3; stopped after %4.")
                    .arg(last->simulated ? tr("Simulated") : tr("Measured"), QString::fromStdString(last->time),
                         shown(last->speed, resolve(Quantity::TravelSpeed, m_document.axis().mechanism.rotary())),
                         shown(last->travel, travelQuantity(), 3));
            if (const auto trace = m_document.capture(m_document.axis().id + "-stop")) {
                s.time = QVector<double>(trace->time.begin(), trace->time.end());
                for (const double v : trace->speed)
                    s.speed.append(toDisplay(v, Quantity::AngularSpeed));
                for (const double x : trace->position)
                    s.travel.append(toDisplay(x - trace->position.front(), travelQuantity(), unitSystem()));
            }
        }
        m_line->setState(s);
    }

    void record(StopTest t)
    {
        t.time = now().toStdString();
        t.simulated = m_bench.session().simulated();
        const QString words = tr("%1: %2%3")
                                  .arg(QString::fromStdString(t.kind), t.passed ? tr("passed") : tr("failed"),
                                       t.simulated ? tr(" (simulated)") : QString());
        m_document.edit(tr("Record test %1").arg(QString::fromStdString(t.kind)), {},
                        [&](Axis& a) { a.guard.tests.push_back(t); });
        m_document.log(QStringLiteral("measurement"), words);
        say(words);
    }
    template <class T>
    [[nodiscard]] bool refused(const Result<T>& result)
    {
        m_progress->setValue(0);
        if (!result)
            say(QString::fromStdString(messageFor(result.error())));
        return !result;
    }

    /// Runs at working speed, requests SS1 and measures what the drive does.
    void trip()
    {
        if (busy())
            return;
        const Axis& a = m_document.axis();
        link::Procedures::StopOrder order;
        order.speed = a.tune.testSpeed * unitsPerTravel(a);
        order.delay = a.guard.delay.value_or(0.6);
        order.scale = m_bench.scale();
        say(m_bench.session().simulated()
                ? tr("Running the SIMULATED axis to working speed, then tripping; let go to stop.")
                : tr("Running to working speed, then tripping; let go to stop."));
        m_bench.procedures().stop(
            order,
            [this](const Result<StopSamples>& samples) {
                if (refused(samples))
                    return;
                const auto m = measureStop(*samples);
                if (refused(m))
                    return;
                keep(*samples, *m);
            },
            [this](int done, int total) {
                m_progress->setMaximum(total);
                m_progress->setValue(done);
            });
    }

    void keep(const StopSamples& samples, const StopInstants& m)
    {
        Trace trace;
        trace.simulated = samples.simulated;
        trace.time = samples.time;
        trace.positionError.assign(samples.time.size(), 0);
        trace.speedDemand = samples.speedDemand;
        trace.speed = samples.speed;
        trace.torque = samples.torque;
        trace.position = samples.travel;
        m_document.keepCapture(QString::fromStdString(m_document.axis().id) + QStringLiteral("-stop"), trace);
        StopTest t;
        t.kind = "SS1";
        t.speed = m_document.axis().tune.testSpeed;
        t.rampTime = m.ramp;
        t.stopTime = m.standstill;
        t.brakeTime = m.brakeClosed;
        t.offTime = m.torqueOff;
        t.travel = m.stopTravel;
        t.drop = m.drop;
        t.passed = stoppedInTime(m, brakeFitted(m_document.axis()));
        t.note = "Standstill before torque off"
                 + std::string(brakeFitted(m_document.axis()) ? ", brake closed before torque off." : ".");
        record(t);
    }

    void channel(link::Procedures::Channel which, const char* kind)
    {
        m_bench.procedures().openChannel(which, [this, name = std::string(kind)](const Result<bool>& gone) {
            if (refused(gone))
                return;
            StopTest t;
            t.kind = name;
            t.passed = *gone;
            t.note = "This channel alone removes the torque.";
            record(t);
        });
        enableButtons();
    }

    void restart()
    {
        m_bench.procedures().proveNoRestart([this](const Result<bool>& stayed) {
            if (refused(stayed))
                return;
            StopTest t;
            t.kind = "restart";
            t.passed = *stayed;
            t.note = "Both channels closed again with the enable command standing: no torque.";
            record(t);
        });
        enableButtons();
    }

    StopLine* m_line;
    QPushButton *m_trip, *m_a, *m_b, *m_restart, *m_take;
    QProgressBar* m_progress;
    QLabel* m_words;
    Figures* m_figures;
    QTableWidget* m_table;
    QScrollArea* m_scroll;
    FieldForm* m_form = nullptr;
    std::string m_built;
    bool m_said = false;
};

} // namespace

StationPage* makeGuard(Document& d, Bench& b) { return new GuardPage(d, b); }

} // namespace ridge::app
