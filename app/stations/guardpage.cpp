#include "app/instruments/stopline.h"
#include "app/theme/sentence.h"
#include "app/theme/theme.h"
#include "app/widgets/figures.h"
#include "app/widgets/forms.h"
#include "app/widgets/runpanel.h"
#include "core/stations/planfacts.h"
#include "core/units/print.h"

#include "station.h"

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
        layout->addWidget(actionPanel());
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
        m_scroll->setFixedWidth(312);
        right->addWidget(m_scroll, 1);
        below->addLayout(right);
        layout->addLayout(below, 5);
        connect(m_figures, &Figures::chosen, this, &StationPage::resultWanted);
        connect(&m_bench, &Bench::changed, this, &GuardPage::enableButtons);
    }

    [[nodiscard]] const char* mainFigure() const override { return "guard.delay_needed"; }
    [[nodiscard]] bool busy() const override { return m_bench.running(); }

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
    RunPanel* actionPanel()
    {
        m_panel = new RunPanel;
        m_trip = m_panel->addHold("guard.trip", tr("Hold to move, then trip SS1"));
        m_a = m_panel->add("guard.channelA", tr("Open channel A"));
        m_b = m_panel->add("guard.channelB", tr("Open channel B"));
        m_restart = m_panel->add("guard.restart", tr("Prove no restart"));
        m_take = button("guard.take", tr("Set the computed delay"));
        QPushButton* reset = resetButton("guard.reset", [this](const QString& words) { say(words); });
        m_panel->addWidget(m_take);
        m_panel->addWidget(reset);
        runWhileHeld(*m_trip, [this] { trip(); });
        connect(m_a, &QPushButton::clicked, this, [this] { channel(link::Runs::Channel::A, "channel A"); });
        connect(m_b, &QPushButton::clicked, this, [this] { channel(link::Runs::Channel::B, "channel B"); });
        connect(m_restart, &QPushButton::clicked, this, &GuardPage::restart);
        connect(m_take, &QPushButton::clicked, this, [this] {
            if (const ResultValue* r = m_document.evaluation().result("guard.delay_needed"))
                m_document.edit(tr("Set the stop delay"), {}, [&](Axis& a) { a.guard.delay = r->value; });
        });
        connect(m_panel, &RunPanel::leadWanted, this, &StationPage::nextWanted);
        return m_panel;
    }

    [[nodiscard]] Quantity travelQuantity() const
    {
        return resolve(Quantity::Travel, m_document.axis().mechanism.rotary());
    }

    void enableButtons()
    {
        if (!m_document.hasAxis())
            return;
        const LinkState link = m_bench.linkState();
        if (!busy())
            m_panel->setRefusal(m_bench.refusal(Act::StopTest));
        const bool channels = m_bench.refusal(Act::ChannelTest).isEmpty() && link.identity.simulated && !busy();
        for (QPushButton* b :
             {m_a, m_b, m_restart}) // on a real drive the channels are opened at their terminals, and typed
            b->setEnabled(channels);
        m_take->setEnabled(m_document.evaluation().result("guard.delay_needed") != nullptr);
        const Axis& a = m_document.axis();
        m_panel->setMoves(
            tr("%1 runs at %2 while the button is held; then the stop is requested and recorded. Letting go stops it.")
                .arg(QString::fromStdString(a.name),
                     shown(a.tune.testSpeed, resolve(Quantity::TravelSpeed, a.mechanism.rotary()))));
    }
    void say(const QString& words)
    {
        m_panel->say(words);
        enableButtons();
    }

    void fill()
    {
        const auto tests = m_document.evidence().every<StopTested>();
        m_table->setRowCount(static_cast<int>(tests.size()));
        for (int r = 0; r < m_table->rowCount(); ++r) { // newest first
            const Fact& f = *tests[tests.size() - 1 - static_cast<std::size_t>(r)];
            const StopTested& t = *f.as<StopTested>();
            const QString when = localTime(f.time);
            setCell(*m_table, r, 0,
                    QString::fromStdString(t.kind)
                        + (f.origin == Origin::Simulated ? tr(" (simulated)")
                           : f.origin == Origin::Typed   ? tr(" (typed)")
                                                         : QString()));
            setCell(*m_table, r, 1, when.mid(5), theme().soft,
                    tr("%1, %2").arg(when, QString::fromStdString(f.person.name)));
            setCell(*m_table, r, 2,
                    t.passed ? (f.origin == Origin::Simulated ? tr("◎ practised") : tr("● passed")) : tr("■ failed"),
                    !t.passed                       ? theme().fail
                    : f.origin == Origin::Simulated ? theme().accent
                                                    : theme().ok,
                    QString::fromStdString(t.note));
            setCell(*m_table, r, 3, t.stopTime > 0 ? shown(t.stopTime, Quantity::Time, 3) : QString());
            setCell(*m_table, r, 4, t.offTime > 0 ? shown(t.offTime, Quantity::Time, 3) : QString());
            setCell(*m_table, r, 5, t.kind == "SS1" ? shown(t.drop, travelQuantity(), 3) : QString());
        }
        const int widths[] = {134, 82, 82, 66, 78};
        for (int c = 0; c < 5; ++c)
            m_table->setColumnWidth(c, widths[c]);
    }

    void draw(const Evaluation& e)
    {
        StopLineState s;
        const GuardPlan& g = m_document.axis().guard;
        if (const ResultValue* r = e.result("guard.delay_needed"))
            s.delayNeeded = r->value;
        s.delaySet = g.delay;
        s.delayPermitted = g.permitted;
        s.speedUnit = QStringLiteral("rpm");
        s.travelUnit = QString::fromStdString(prettyUnit(displayUnit(travelQuantity(), unitSystem())));
        if (const Fact* f =
                m_document.evidence().newest<StopTested>([](const StopTested& t) { return t.kind == "SS1"; })) {
            const StopTested& last = *f->as<StopTested>();
            s.ramp = last.rampTime;
            s.standstill = last.stopTime;
            s.brakeClosed = last.brakeTime;
            s.torqueOff = last.offTime;
            s.caption =
                tr("%1 stop of %2 from %3; stopped after %4.")
                    .arg(f->origin == Origin::Simulated ? tr("Simulated")
                         : f->origin == Origin::Typed   ? tr("Typed")
                                                        : tr("Measured"),
                         localTime(f->time),
                         shown(last.speed, resolve(Quantity::TravelSpeed, m_document.axis().mechanism.rotary())),
                         shown(last.travel, travelQuantity(), 3));
            if (const auto trace = m_document.trace(last.trace)) {
                s.time = QVector<double>(trace->time.begin(), trace->time.end());
                for (const double v : trace->speed)
                    s.speed.append(toDisplay(v, Quantity::AngularSpeed));
                for (const double x : trace->position)
                    s.travel.append(toDisplay(x - trace->position.front(), travelQuantity(), unitSystem()));
            }
        }
        m_line->setState(s);
    }

    void record(const FactSource& source, const StopTested& t, std::optional<std::pair<std::string, Trace>> trace = {})
    {
        m_document.append(source, t, std::move(trace));
        say(tr("%1: %2%3")
                .arg(QString::fromStdString(t.kind), t.passed ? tr("passed") : tr("failed"),
                     source.origin == Origin::Simulated ? tr(" (simulated)") : QString()));
    }
    template <class T>
    [[nodiscard]] bool refused(const Result<T>& result)
    {
        m_panel->rest();
        if (!result)
            say(QString::fromStdString(messageFor(result.error())));
        return !result;
    }

    /// Runs at working speed, requests SS1 and measures what the drive does.
    void trip()
    {
        if (const QString no = m_bench.refusal(Act::StopTest); busy() || !no.isEmpty()) {
            say(no);
            return;
        }
        const Axis& a = m_document.axis();
        link::Runs::StopOrder order;
        order.speed = a.tune.testSpeed * unitsPerTravel(a);
        order.delay = a.guard.delay.value_or(0.6);
        order.scale = m_bench.scale();
        const FactSource source = m_bench.source();
        say(source.origin == Origin::Simulated
                ? tr("Running the SIMULATED axis to working speed, then tripping; let go to stop.")
                : tr("Running to working speed, then tripping; let go to stop."));
        m_bench.runs().stop(
            order,
            [this, source, speed = a.tune.testSpeed, brake = brakeFitted(a)](const Result<StopSamples>& samples) {
                if (!samples)
                    noteInterrupted(source, "S27", samples.error());
                if (refused(samples))
                    return;
                const auto m = measureStop(*samples);
                if (refused(m))
                    return;
                keep(source, speed, brake, *samples, *m);
            },
            [this](int done, int total) { m_panel->progress(done, total); });
    }

    void keep(const FactSource& source, double speed, bool brake, const StopSamples& samples, const StopInstants& m)
    {
        Trace trace;
        trace.simulated = samples.simulated;
        trace.time = samples.time;
        trace.positionError.assign(samples.time.size(), 0);
        trace.speedDemand = samples.speedDemand;
        trace.speed = samples.speed;
        trace.torque = samples.torque;
        trace.position = samples.travel;
        StopTested t;
        t.kind = "SS1";
        t.trace = m_document.freshTraceId(source.axis);
        t.speed = speed;
        t.rampTime = m.ramp;
        t.stopTime = m.standstill;
        t.brakeTime = m.brakeClosed;
        t.offTime = m.torqueOff;
        t.travel = m.stopTravel;
        t.drop = m.drop;
        t.passed = stoppedInTime(m, brake);
        t.note =
            brake ? "Standstill before torque off, brake closed before torque off." : "Standstill before torque off.";
        record(source, t, std::pair{t.trace, trace});
    }

    void channel(link::Runs::Channel which, const char* kind)
    {
        if (const QString no = m_bench.refusal(Act::ChannelTest); !no.isEmpty()) {
            say(no);
            return;
        }
        const FactSource source = m_bench.source();
        m_bench.runs().openChannel(which, [this, source, name = std::string(kind)](const Result<bool>& gone) {
            if (refused(gone))
                return;
            StopTested t;
            t.kind = name;
            t.passed = *gone;
            t.note = "This channel alone removes the torque.";
            record(source, t);
        });
        enableButtons();
    }

    void restart()
    {
        if (const QString no = m_bench.refusal(Act::ChannelTest); !no.isEmpty()) {
            say(no);
            return;
        }
        const FactSource source = m_bench.source();
        m_bench.runs().proveNoRestart([this, source](const Result<bool>& stayed) {
            if (refused(stayed))
                return;
            StopTested t;
            t.kind = "restart";
            t.passed = *stayed;
            t.note = "Both channels closed again with the enable command standing: no torque.";
            record(source, t);
        });
        enableButtons();
    }

    StopLine* m_line;
    RunPanel* m_panel;
    HoldButton* m_trip;
    QPushButton *m_a, *m_b, *m_restart, *m_take;
    Figures* m_figures;
    QTableWidget* m_table;
    QScrollArea* m_scroll;
    FieldForm* m_form = nullptr;
    std::string m_built;
};

} // namespace

StationPage* makeGuard(Document& d, Bench& b) { return new GuardPage(d, b); }

} // namespace ridge::app
