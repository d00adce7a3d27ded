#include "app/theme/sentence.h"
#include "app/theme/theme.h"
#include "app/widgets/figures.h"
#include "app/widgets/forms.h"
#include "app/widgets/plotview.h"
#include "app/widgets/runpanel.h"
#include "core/stations/planfacts.h"
#include "core/units/print.h"

#include "station.h"

#include <QCheckBox>
#include <QHeaderView>
#include <QScrollArea>
#include <QTableWidget>
#include <QVBoxLayout>

#include <algorithm>
#include <cmath>

namespace ridge::app {

namespace {

PlotView::Curve curve(const std::vector<double>& x, const std::vector<double>& y, double scale, int pane, int colour,
                      Qt::PenStyle style, const QString& label = {})
{
    PlotView::Curve c{{}, {}, pane, colour, style};
    // a broken line is slow to paint: of each stretch its lowest and its highest point, so that no peak is lost
    const std::size_t stretch = style == Qt::SolidLine ? 1 : std::max<std::size_t>(1, x.size() / 150);
    for (std::size_t from = 0; from < x.size(); from += stretch) {
        const auto begin = y.begin() + static_cast<std::ptrdiff_t>(from);
        const auto [low, high] =
            std::minmax_element(begin, begin + static_cast<std::ptrdiff_t>(std::min(stretch, x.size() - from)));
        for (const auto at : {std::min(low, high), std::max(low, high)}) {
            c.x.append(x[static_cast<std::size_t>(at - y.begin())]);
            c.y.append(*at * scale);
            if (low == high)
                break;
        }
    }
    c.label = label;
    return c;
}

bool isGain(ObjectKey key)
{
    return (key.index >= 0x2101 && key.index <= 0x2110) || (key.index >= 0x6081 && key.index <= 0x6084);
}

class TunePage final : public StationPage {
public:
    TunePage(Document& document, Bench& bench)
        : StationPage(document, bench)
    {
        auto* layout = new QHBoxLayout(this);
        layout->setContentsMargins(0, 6, 0, 6);
        auto* left = new QVBoxLayout;
        m_plot = new PlotView({QString(), QString(), QString()}, tr("time, s"));
        m_plot->setObjectName(QStringLiteral("tune.plot"));
        m_plot->setAccessibleName(tr("Position error, speed and torque of the test move"));
        left->addWidget(m_plot, 1);
        m_cursor = quiet({});
        left->addWidget(m_cursor);
        left->addWidget(actionPanel());
        m_table = listTable("tune.measures", tr("Measures of the move: before, now, expected"),
                            {tr("Measure"), tr("Before"), tr("Now"), tr("Model\nexpects")});
        m_table->setFixedHeight(22 * 6 + 44);
        m_table->setFocusPolicy(Qt::NoFocus);
        m_table->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
        m_table->horizontalHeader()->setMinimumSectionSize(40);
        m_table->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
        m_table->horizontalHeader()->setSectionResizeMode(0, QHeaderView::Fixed);
        m_table->setColumnWidth(0, 84);
        left->addWidget(m_table);
        layout->addLayout(left, 1);
        layout->addWidget(sidePanel());
        connect(m_plot, &PlotView::markMoved, this, [this](int index, double at) {
            m_cursors[static_cast<std::size_t>(index & 1)] = at;
            cursors();
        });
        connect(&m_bench, &Bench::changed, this, &TunePage::enableButtons);
    }

    [[nodiscard]] const char* mainFigure() const override { return "tune.velocity_gain"; }
    [[nodiscard]] bool busy() const override { return m_bench.running() || m_writing; }

    void refresh() override
    {
        const Evaluation& e = m_document.evaluation();
        m_figures->show(e, {"tune.inertia", "tune.velocity_gain", "tune.integral_time", "tune.position_gain",
                            "tune.phase_margin", "tune.following_predicted"});
        if (m_built != axisKey()) {
            m_built = axisKey();
            m_lastGains = e.tune ? e.tune->gains : LoopGains{};
            m_form = new FieldForm(axisTarget(m_document, [](Axis& a) -> void* { return &a.tune; }),
                                   QStringLiteral("tune"), tuneFieldsOf(m_document.axis()));
            m_form->setContentsMargins(0, 2, 10, 2);
            m_scroll->setWidget(m_form);
        }
        m_form->refresh();
        const auto captures = m_document.evidence().every<MoveCaptured>();
        if (const Drawn now{axisKey(), e.tune, captures.empty() ? 0 : captures.back()->number, captures.size(),
                            unitSystem(), theme().dark, roomForCounts()};
            !(m_drawn == now)) {
            const bool sameLoop = m_drawn && m_drawn->plan && now.plan && m_drawn->axis == now.axis
                                  && m_drawn->plan->loop == now.plan->loop && m_drawn->dark == now.dark;
            m_drawn = now;
            draw(e);
            if (!sameLoop)
                drawLoop(e);
        }
        enableButtons();
        if (m_live->isChecked() && m_liveOn != drive())
            m_live->setChecked(
                false); // what is live belongs to the axis, the drive and the connection it was ticked on
        if (m_live->isChecked() && e.tune && !(e.tune->gains == m_lastGains) && canWrite())
            applyGains();
        if (e.tune)
            m_lastGains = e.tune->gains;
    }

protected:
    /// What is changed on another page does not reach the drive when this one comes up again.
    void hideEvent(QHideEvent* event) override
    {
        m_live->setChecked(false);
        StationPage::hideEvent(event);
    }
    void resizeEvent(QResizeEvent* event) override
    {
        StationPage::resizeEvent(event);
        // once the columns have their new width
        QMetaObject::invokeMethod(
            this,
            [this] {
                if (m_drawn && m_drawn->roomy != roomForCounts() && m_document.hasAxis())
                    refresh();
            },
            Qt::QueuedConnection);
    }

private:
    /// What the pictures were drawn from; a picture of the same is not drawn again.
    struct Drawn {
        std::string axis;
        std::optional<TunePlan> plan;
        std::int64_t lastCapture = 0;
        std::size_t captures = 0;
        UnitSystem units = UnitSystem::Metric;
        bool dark = false;
        bool roomy = true;
        bool operator==(const Drawn&) const = default;
    };

    RunPanel* actionPanel()
    {
        m_panel = new RunPanel;
        m_run = m_panel->addHold("tune.run", tr("Hold to run move"));
        m_apply = button("tune.apply", tr("Write gains"));
        m_live = new QCheckBox(tr("live"));
        m_live->setObjectName(QStringLiteral("tune.live"));
        m_live->setToolTip(tr("Writes each change of a gain to the drive at once."));
        m_panel->addWidget(m_apply);
        m_panel->addWidget(m_live);
        m_panel->addWidget(resetButton("tune.reset", [this](const QString& words) { say(words); }));
        runWhileHeld(*m_run, [this] { run(); });
        connect(m_apply, &QPushButton::clicked, this, &TunePage::applyGains);
        connect(m_live, &QCheckBox::toggled, this, [this](bool on) { m_liveOn = on ? drive() : std::string{}; });
        connect(m_panel, &RunPanel::leadWanted, this, &StationPage::nextWanted);
        return m_panel;
    }

    QWidget* sidePanel()
    {
        auto* side = new QWidget;
        side->setFixedWidth(304);
        auto* column = new QVBoxLayout(side);
        column->setContentsMargins(6, 0, 0, 0);
        column->addWidget(heading(tr("Open loop at the torque break, model")));
        m_loop = new PlotView({tr("gain, dB"), tr("phase, °")}, tr("frequency, Hz"));
        m_loop->setLogarithmic(true);
        m_loop->setFixedHeight(210);
        m_loop->setAccessibleName(tr("Open-loop gain and phase of the model"));
        column->addWidget(m_loop);
        m_figures = new Figures;
        column->addWidget(m_figures, 0, Qt::AlignLeft | Qt::AlignTop);
        column->addWidget(heading(tr("Gains and test move")));
        m_scroll = new QScrollArea;
        m_scroll->setWidgetResizable(true);
        m_scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
        column->addWidget(m_scroll, 1);
        connect(m_figures, &Figures::chosen, this, &StationPage::resultWanted);
        return side;
    }

    [[nodiscard]] bool canWrite() { return m_bench.refusal(Act::Write).isEmpty() && !busy(); }

    void enableButtons()
    {
        if (!m_document.hasAxis())
            return;
        const Evaluation& e = m_document.evaluation();
        const Axis& a = m_document.axis();
        const QString refused =
            !e.tune ? tr("The gains are not planned: complete Load, Move and Match.") : m_bench.refusal(Act::Move);
        if (!busy())
            m_panel->setRefusal(refused);
        m_apply->setEnabled(e.tune && canWrite());
        const Quantity q = resolve(Quantity::Travel, a.mechanism.rotary());
        m_panel->setMoves(tr("%1 moves %2 there and back at %3 while the button is held; letting go stops it.")
                              .arg(QString::fromStdString(a.name), shown(a.tune.testDistance, q),
                                   shown(a.tune.testSpeed, resolve(Quantity::TravelSpeed, a.mechanism.rotary()))));
    }
    void say(const QString& words) { m_panel->say(words); }
    [[nodiscard]] static QString torqueUnit()
    {
        return QString::fromStdString(prettyUnit(displayUnit(Quantity::Torque, unitSystem())));
    }

    void draw(const Evaluation& e)
    {
        std::vector<PlotView::Curve> curves;
        m_last.reset();
        const Quantity q = resolve(Quantity::Travel, m_document.axis().mechanism.rotary());
        const std::string_view small =
            q == Quantity::Length && unitSystem() == UnitSystem::Metric ? "um" : displayUnit(q, unitSystem());
        m_errorUnit = QString::fromStdString(prettyUnit(small));
        m_errorDecimals = small == "um" ? 1 : 5;
        m_plot->setPaneLabel(0, tr("error, %1").arg(m_errorUnit));
        m_plot->setPaneLabel(1, tr("speed, rpm"));
        const double torque = toDisplay(1, Quantity::Torque, unitSystem());
        m_plot->setPaneLabel(2, tr("torque, %1").arg(torqueUnit()));
        if (e.tune) {
            m_scale = e.tune->travelPerRadian * (small == "um" ? 1e6 : toDisplay(1, q, unitSystem()));
            const double rpm = toDisplay(1, Quantity::AngularSpeed);
            const Prediction expected = predictTestMove(*e.tune);
            const auto captures = m_document.evidence().every<MoveCaptured>();
            if (captures.size() > 1)
                if (const auto before = m_document.trace(captures[captures.size() - 2]->as<MoveCaptured>()->trace))
                    curves.push_back(
                        curve(before->time, before->positionError, m_scale, 0, -1, Qt::DotLine, tr("before")));
            curves.push_back(
                curve(expected.trace.time, expected.trace.positionError, m_scale, 0, 2, Qt::DashLine, tr("model")));
            curves.push_back(curve(expected.trace.time, expected.trace.speed, rpm, 1, 2, Qt::DashLine, tr("model")));
            curves.push_back(
                curve(expected.trace.time, expected.trace.torque, torque, 2, 2, Qt::DashLine, tr("model")));
            if (!captures.empty())
                m_last = m_document.trace(captures.back()->as<MoveCaptured>()->trace);
            if (m_last) {
                const QString kind = m_last->simulated ? tr("simulated") : tr("measured");
                curves.push_back(curve(m_last->time, m_last->positionError, m_scale, 0, 0, Qt::SolidLine, kind));
                curves.push_back(curve(m_last->time, m_last->speedDemand, rpm, 1, 3, Qt::DotLine, tr("demand")));
                curves.push_back(curve(m_last->time, m_last->speed, rpm, 1, 0, Qt::SolidLine, kind));
                curves.push_back(curve(m_last->time, m_last->torque, torque, 2, 1, Qt::SolidLine, kind));
            }
            measures(e, expected);
        } else {
            m_table->setRowCount(0);
        }
        m_plot->setCurves(curves);
        if (m_last && m_cursors[1] > m_last->time.back())
            m_cursors = {m_last->time.back() * 0.25, m_last->time.back() * 0.7};
        cursors();
    }

    void drawLoop(const Evaluation& e)
    {
        if (!e.tune) {
            m_loop->setCurves({});
            return;
        }
        const LoopCurve c = sampleLoop(e.tune->loop, LoopBreak::Torque, 0.5, 2000, 160);
        m_loop->setCurves(
            {curve(c.frequency, c.gain, 1, 0, 0, Qt::SolidLine), curve(c.frequency, c.phase, 1, 1, 2, Qt::SolidLine)});
        m_loop->setMarks({toDisplay(e.tune->margins.crossover, Quantity::Revolutions)}, {tr("crossover")});
    }

    /// Whether a column has room for a length and its counts beside each other.
    [[nodiscard]] bool roomForCounts() const
    {
        return m_table->columnWidth(1)
               > m_table->fontMetrics().horizontalAdvance(QStringLiteral("0.796 mm, 54321 cts  "));
    }

    /// At the load and, where there is room, in counts.
    [[nodiscard]] QString both(double rad, const Evaluation& e) const
    {
        const double counts = toDisplay(rad, Quantity::Revolutions) * m_document.axis().actuator.motor()->countsPerTurn;
        if (std::abs(counts) < 0.5)
            return roomForCounts() ? tr("under 1 count") : tr("< 1 count");
        const QString length =
            shown(rad * e.tune->travelPerRadian, resolve(Quantity::Travel, m_document.axis().mechanism.rotary()), 3);
        return roomForCounts() ? tr("%1, %2 cts").arg(length).arg(counts, 0, 'f', 0) : length;
    }

    void measures(const Evaluation& e, const Prediction& expected)
    {
        const auto captures = m_document.evidence().every<MoveCaptured>();
        const MoveCaptured* now = captures.empty() ? nullptr : captures.back()->as<MoveCaptured>();
        const MoveCaptured* before = captures.size() > 1 ? captures[captures.size() - 2]->as<MoveCaptured>() : nullptr;
        const bool simulated = !captures.empty() && captures.back()->origin == Origin::Simulated;
        m_table->setHorizontalHeaderItem(2, new QTableWidgetItem(!now        ? tr("Now")
                                                                 : simulated ? tr("Now,\nsimulated")
                                                                             : tr("Now,\nmeasured")));
        const auto& m = expected.metrics;
        const auto angle = [&](double MoveCaptured::*member, double MoveMetrics::*model, int row, const QString& name) {
            setCell(*m_table, row, 0, name, theme().soft);
            setCell(*m_table, row, 1, before ? both(before->*member, e) : QStringLiteral("–"));
            setCell(*m_table, row, 2, now ? both(now->*member, e) : QStringLiteral("–"));
            setCell(*m_table, row, 3, m ? both(std::abs((*m).*model), e) : QStringLiteral("–"), theme().soft);
        };
        m_table->setRowCount(6);
        angle(&MoveCaptured::peakError, &MoveMetrics::peakError, 0, tr("Error, peak"));
        angle(&MoveCaptured::steadyError, &MoveMetrics::steadyError, 1, tr("Error, steady"));
        angle(&MoveCaptured::overshoot, &MoveMetrics::overshoot, 2, tr("Overshoot"));
        const auto settle = [](bool settled, double time) {
            return settled ? shown(time, Quantity::Time, 3) : tr("not settled");
        };
        setCell(*m_table, 3, 0, tr("Settling"), theme().soft);
        setCell(*m_table, 3, 1, before ? settle(before->settled, before->settling) : QStringLiteral("–"));
        setCell(*m_table, 3, 2, now ? settle(now->settled, now->settling) : QStringLiteral("–"));
        setCell(*m_table, 3, 3, m ? settle(m->settled, m->settling) : QStringLiteral("–"), theme().soft);
        setCell(*m_table, 4, 0, tr("Peak torque"), theme().soft);
        setCell(*m_table, 4, 1, before ? shown(before->peakTorque, Quantity::Torque, 3) : QStringLiteral("–"));
        setCell(*m_table, 4, 2, now ? shown(now->peakTorque, Quantity::Torque, 3) : QStringLiteral("–"));
        setCell(*m_table, 4, 3, m ? shown(m->peakTorque, Quantity::Torque, 3) : QStringLiteral("–"), theme().soft);
        const bool wide = m_table->columnWidth(1) > 200; // for four gains in one line
        const auto gains = [wide](const LoopGains& g) {
            return (wide ? tr("%1 · %2 · %3 · %4 %") : tr("%1 · %2\n%3 · %4 %"))
                .arg(g.velocityGain, 0, 'g', 3)
                .arg(wide ? shown(g.integralTime, Quantity::Time, 3) : QString::number(g.integralTime * 1e3, 'g', 3))
                .arg(g.positionGain, 0, 'f', 0)
                .arg(g.speedFeedforward * 100, 0, 'f', 0);
        };
        setCell(*m_table, 5, 0, tr("Kv·Ti·Kp·ff"), theme().soft,
                tr("Velocity gain in N·m·s/rad, integral time in ms, position gain in 1/s, speed feedforward"));
        setCell(*m_table, 5, 1, before ? gains(before->gains) : QStringLiteral("–"), theme().soft);
        setCell(*m_table, 5, 2, now ? gains(now->gains) : QStringLiteral("–"), theme().soft);
        setCell(*m_table, 5, 3, gains(e.tune->gains), theme().soft);
        m_table->setRowHeight(5, wide ? 22 : 36);
        m_table->setFixedHeight(22 * 5 + m_table->rowHeight(5) + 44);
    }

    void cursors()
    {
        m_plot->setMarks({m_cursors[0], m_cursors[1]}, {QStringLiteral("a"), QStringLiteral("b")});
        if (!m_last || m_last->empty()) {
            m_cursor->setText(tr("No move captured yet. Cursors a and b are pulled with the mouse."));
            return;
        }
        const auto at = [&](double t) {
            return std::min(m_last->time.size() - 1, static_cast<std::size_t>(std::max(0.0, t / m_last->sampleTime())));
        };
        const std::size_t a = at(m_cursors[0]), b = at(m_cursors[1]);
        const auto one = [&](std::size_t k) {
            return tr("%1: %2 %3, %4")
                .arg(shown(m_last->time[k], Quantity::Time, 3))
                .arg(m_last->positionError[k] * m_scale, 0, 'f', m_errorDecimals)
                .arg(m_errorUnit, shown(m_last->torque[k], Quantity::Torque, 3));
        };
        m_cursor->setText(
            tr("a %1     b %2     b − a %3, %4 %5")
                .arg(one(a), one(b), shown(m_last->time[b] - m_last->time[a], Quantity::Time, 3))
                .arg((m_last->positionError[b] - m_last->positionError[a]) * m_scale, 0, 'f', m_errorDecimals)
                .arg(m_errorUnit));
    }

    void applyGains()
    {
        if (const QString no = m_bench.refusal(Act::Write); !no.isEmpty())
            return say(no);
        link::Values gains;
        for (const PlannedParameter& p : m_document.evaluation().set.parameters)
            if (isGain(p.key))
                gains[p.key] = p.value;
        m_writing = true;
        enableButtons();
        const FactSource source = m_bench.source();
        m_bench.session().writeVerified(gains, [this, source, gains](const Result<link::Values>& back) {
            m_writing = false;
            if (!back)
                return say(QString::fromStdString(messageFor(back.error())));
            m_document.append(source, DriveWritten{gains, *back});
            say(tr("Gains written and read back. Save in Set when they are right."));
            enableButtons();
        });
    }

    void run()
    {
        const Evaluation& e = m_document.evaluation();
        if (const QString no = m_bench.refusal(Act::Move); !no.isEmpty() || !e.tune)
            return say(no);
        const Axis& a = m_document.axis();
        link::Runs::MoveOrder order;
        order.distance = a.tune.testDistance * unitsPerTravel(a);
        order.seconds = e.tune->move.time + 0.35;
        order.scale = m_bench.scale();
        const FactSource source = m_bench.source();
        say(source.origin == Origin::Simulated ? tr("Running the SIMULATED axis; let go to stop.")
                                               : tr("Running; let go to stop."));
        m_bench.runs().move(
            order,
            [this, source, plan = *e.tune, rotary = a.mechanism.rotary()](const Result<Trace>& trace) {
                m_panel->rest();
                if (!trace) {
                    noteInterrupted(source, "S23", trace.error());
                    say(QString::fromStdString(messageFor(trace.error())));
                } else {
                    keep(source, plan, rotary, *trace);
                }
                enableButtons();
            },
            [this](int done, int total) { m_panel->progress(done, total); });
    }

    /// With the plan of the moment the run began: what was changed meanwhile is not what moved.
    void keep(const FactSource& source, const TunePlan& plan, bool rotary, const Trace& trace)
    {
        const auto m = moveMetrics(trace, plan.band, plan.gains.torqueLimit);
        if (!m)
            return say(QString::fromStdString(messageFor(m.error())));
        MoveCaptured c;
        c.trace = m_document.freshTraceId(source.axis);
        c.title = "Test move";
        c.gains = plan.gains;
        c.band = plan.band;
        c.overshoot = m->overshoot;
        c.settling = m->settling;
        c.settled = m->settled;
        c.peakError = m->peakError;
        c.steadyError = std::abs(m->steadyError);
        c.peakTorque = m->peakTorque;
        const QString error = shown(m->peakError * plan.travelPerRadian, resolve(Quantity::Travel, rotary), 3);
        m_document.append(source, c, std::pair{c.trace, trace});
        say(source.origin == Origin::Simulated
                ? tr("Captured from the SIMULATED drive: peak following error %1.").arg(error)
                : tr("Captured: peak following error %1.").arg(error));
    }

    PlotView *m_plot, *m_loop;
    QLabel* m_cursor;
    RunPanel* m_panel;
    HoldButton* m_run;
    QPushButton* m_apply;
    QCheckBox* m_live;
    QTableWidget* m_table;
    Figures* m_figures;
    QScrollArea* m_scroll;
    FieldForm* m_form = nullptr;
    std::string m_built, m_liveOn;
    std::optional<Drawn> m_drawn;
    std::optional<Trace> m_last;
    LoopGains m_lastGains;
    QString m_errorUnit;
    int m_errorDecimals = 1;
    double m_scale = 1; ///< shown error per radian of the motor
    std::array<double, 2> m_cursors{0.1, 10};
    bool m_writing = false;
};

} // namespace

StationPage* makeTune(Document& d, Bench& b) { return new TunePage(d, b); }

} // namespace ridge::app
