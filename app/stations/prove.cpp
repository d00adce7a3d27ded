#include "app/theme/theme.h"
#include "core/control/metrics.h"
#include "core/units/print.h"
#include "station.h"
#include "store/report.h"

#include <QFileDialog>
#include <QHeaderView>
#include <QProgressBar>
#include <QScrollArea>
#include <QTableWidget>
#include <QTimer>
#include <QVBoxLayout>

#include <cmath>

namespace ridge::app {

namespace {

constexpr ObjectKey errorCounts{0x2210, 1}, speedDemand{0x2210, 2}, speedActual{0x2210, 3}, torqueActual{0x2210, 4}, brakeBits{0x2210, 5};

QString shown(double si, Quantity q) { return QString::fromStdString(print(si, q, unitSystem())); }

/// Columns of the drive's trace in SI at the motor shaft.
Trace traceFrom(const std::vector<std::vector<std::int32_t>>& c, double sampleTime, double counts, bool simulated)
{
    Trace t;
    t.simulated = simulated;
    for (std::size_t k = 0; k < c[0].size(); ++k) {
        t.time.push_back(static_cast<double>(k) * sampleTime);
        t.positionError.push_back(c[0][k] * 2 * 3.14159265358979323846 / counts);
        t.speedDemand.push_back(c[1][k] * 1e-3);
        t.speed.push_back(c[2][k] * 1e-3);
        t.torque.push_back(c[3][k] * 1e-6);
    }
    return t;
}

PlotView::Curve curve(const std::vector<double>& x, const std::vector<double>& y, double scale, int pane, int colour, Qt::PenStyle style = Qt::SolidLine)
{
    PlotView::Curve c{{}, {}, pane, colour, style};
    for (std::size_t k = 0; k < x.size(); ++k) {
        c.x.append(x[k]);
        c.y.append(y[k] * scale);
    }
    return c;
}

// ---------------------------------------------------------------- Tune

class TunePage final : public StationPage {
public:
    TunePage(Document& document, Bench& bench) : StationPage(document, bench)
    {
        auto* layout = new QVBoxLayout(this);
        m_plot = new PlotView({tr("position error, µm"), tr("speed, rpm"), tr("torque, N·m")}, tr("time, s"));
        layout->addWidget(m_plot, 6);
        m_cursor = quiet({});
        layout->addWidget(m_cursor);
        m_measures = new QLabel;
        m_measures->setWordWrap(true);
        layout->addWidget(m_measures);
        auto* row = new QHBoxLayout;
        m_run = button("tune.run", tr("Hold to run the test move"));
        m_apply = button("tune.apply", tr("Write gains to drive"));
        row->addWidget(m_run);
        row->addWidget(m_apply);
        m_progress = new QProgressBar;
        m_progress->setTextVisible(false);
        m_progress->setFixedWidth(120);
        m_progress->setFixedHeight(6);
        row->addWidget(m_progress);
        m_words = quiet({});
        row->addWidget(m_words, 1);
        layout->addLayout(row);
        m_figures = new Figures;
        layout->addWidget(m_figures);
        m_scroll = new QScrollArea;
        m_scroll->setWidgetResizable(true);
        layout->addWidget(m_scroll, 3);
        connect(m_run, &QPushButton::pressed, this, &TunePage::run);
        connect(m_run, &QPushButton::released, this, [this] {
            if (m_running && !m_moved)
                abort();
            m_held = false;
        });
        connect(m_apply, &QPushButton::clicked, this, &TunePage::applyGains);
        connect(m_figures, &QLabel::linkActivated, this, [this](const QString& id) { Q_EMIT resultWanted(id.toStdString()); });
        connect(m_plot, &PlotView::markMoved, this, [this](int index, double at) {
            m_cursors[static_cast<std::size_t>(index & 1)] = at;
            cursors();
        });
        connect(&m_bench, &Bench::changed, this, &TunePage::enableButtons);
    }

    void refresh() override
    {
        const Evaluation& e = m_document.evaluation();
        m_figures->show(e, {"tune.inertia", "tune.velocity_gain", "tune.integral_time", "tune.position_gain", "tune.phase_margin"});
        if (m_built != m_document.axis().id) {
            m_built = m_document.axis().id;
            m_form = new FieldForm(m_document, QStringLiteral("tune"), tuneFields(), [](Axis& a) -> void* { return &a.tune; });
            m_form->setContentsMargins(6, 6, 6, 6);
            m_scroll->setWidget(m_form);
        }
        m_form->refresh();
        draw(e);
        enableButtons();
    }

private:
    void enableButtons()
    {
        const bool ready = m_bench.session().connected() && m_document.evaluation().tune && m_document.axis().parameters.verified;
        m_run->setEnabled(ready);
        m_apply->setEnabled(ready);
        if (!m_running)
            m_words->setText(ready ? m_bench.words() : tr("Connect and write the parameters in Set first. The dashed line is the model's prediction."));
    }
    void draw(const Evaluation& e)
    {
        std::vector<PlotView::Curve> curves;
        m_last.reset();
        if (e.tune) {
            const double um = e.tune->travelPerRadian * 1e6, rpm = 30 / 3.14159265358979;
            const Trace model = predictMove(e.tune->gains, e.tune->plant, e.tune->timing, e.tune->move, 0.25, 16);
            const auto& captures = m_document.axis().tune.captures;
            if (captures.size() > 1)
                if (const auto before = m_document.capture(captures[captures.size() - 2].id))
                    curves.push_back(curve(before->time, before->positionError, um, 0, -1, Qt::DotLine));
            for (const auto& c : {curve(model.time, model.positionError, um, 0, 2, Qt::DashLine), curve(model.time, model.speed, rpm, 1, 2, Qt::DashLine), curve(model.time, model.torque, 1, 2, 2, Qt::DashLine)})
                curves.push_back(c);
            if (!captures.empty())
                m_last = m_document.capture(captures.back().id);
            if (m_last) {
                curves.push_back(curve(m_last->time, m_last->positionError, um, 0, 0));
                curves.push_back(curve(m_last->time, m_last->speedDemand, rpm, 1, 3));
                curves.push_back(curve(m_last->time, m_last->speed, rpm, 1, 0));
                curves.push_back(curve(m_last->time, m_last->torque, 1, 2, 1));
            }
        }
        m_plot->setCurves(curves);
        if (m_last && m_cursors[1] > m_last->time.back())
            m_cursors = {m_last->time.back() * 0.25, m_last->time.back() * 0.7};
        cursors();
        measures(e);
    }
    void measures(const Evaluation& e)
    {
        const auto& captures = m_document.axis().tune.captures;
        if (captures.empty() || !e.tune || !m_document.axis().choice.motor) {
            m_measures->setText(tr("No move captured yet. Dashed: what the model expects."));
            return;
        }
        const CaptureRef& c = captures.back();
        const double perCount = 2 * 3.14159265358979 / m_document.axis().choice.motor->countsPerTurn, scale = e.tune->travelPerRadian;
        const auto both = [&](double rad) { return tr("%1 counts = %2").arg(rad / perCount, 0, 'f', 0).arg(shown(rad * scale, resolve(Quantity::Travel, m_document.axis().mechanism.rotary()))); };
        m_measures->setText(tr("<b>%1</b> %2: following error peak %3, steady %4 · overshoot %5 · settling %6 · peak torque %7")
                                .arg(c.simulated ? tr("Simulated move") : tr("Measured move"), QString::fromStdString(c.time), both(c.peakError), both(c.steadyError), both(c.overshoot), c.settled ? shown(c.settling, Quantity::Time) : tr("not settled"), shown(c.peakTorque, Quantity::Torque)));
    }
    void cursors()
    {
        m_plot->setMarks({m_cursors[0], m_cursors[1]}, {QStringLiteral("a"), QStringLiteral("b")});
        if (!m_last || m_last->empty()) {
            m_cursor->setText({});
            return;
        }
        const auto at = [&](double t) { return std::min(m_last->time.size() - 1, static_cast<std::size_t>(std::max(0.0, t / m_last->sampleTime()))); };
        const double um = m_document.evaluation().tune ? m_document.evaluation().tune->travelPerRadian * 1e6 : 1;
        const std::size_t a = at(m_cursors[0]), b = at(m_cursors[1]);
        m_cursor->setText(tr("a %1 s: %2 µm, %3 N·m    b %4 s: %5 µm, %6 N·m    b − a: %7 s, %8 µm")
                              .arg(m_last->time[a], 0, 'f', 3).arg(m_last->positionError[a] * um, 0, 'f', 1).arg(m_last->torque[a], 0, 'f', 3).arg(m_last->time[b], 0, 'f', 3)
                              .arg(m_last->positionError[b] * um, 0, 'f', 1).arg(m_last->torque[b], 0, 'f', 3).arg(m_last->time[b] - m_last->time[a], 0, 'f', 3).arg((m_last->positionError[b] - m_last->positionError[a]) * um, 0, 'f', 1));
    }
    void applyGains()
    {
        link::Values gains;
        for (const PlannedParameter& p : m_document.evaluation().parameters)
            if ((p.key.index >= 0x2101 && p.key.index <= 0x2110) || (p.key.index >= 0x6081 && p.key.index <= 0x6084))
                gains[p.key] = p.value;
        setProperty("busy", true);
        m_bench.session().writeVerified(gains, [this](const Result<link::Values>& back) {
            setProperty("busy", false);
            if (!back) {
                m_words->setText(QString::fromStdString(messageFor(back.error())));
                return;
            }
            m_document.edit(tr("Write gains to drive"), {}, [&](Axis& a) {
                for (const auto& [key, value] : *back)
                    a.parameters.inDrive.values[key] = value;
                a.parameters.powerCycled = false;
            });
            m_document.log(QStringLiteral("drive"), tr("Gains written and read back"));
        });
    }
    void abort()
    {
        m_bench.session().cancelCapture();
        m_bench.disable();
        finish(tr("Stopped: the button was let go."));
    }
    void finish(const QString& words)
    {
        m_running = false;
        setProperty("busy", false);
        m_progress->setValue(0);
        enableButtons();
        m_words->setText(words);
    }
    void run()
    {
        const Evaluation& e = m_document.evaluation();
        if (!e.tune || m_running)
            return;
        m_running = m_held = true;
        m_moved = false;
        setProperty("busy", true);
        const double length = e.tune->move.time + 0.35;
        link::Session::CaptureSettings settings{{errorCounts, speedDemand, speedActual, torqueActual}, 8, static_cast<int>(length * 2000), true, 10000};
        const double counts = m_document.axis().choice.motor->countsPerTurn, limit = e.tune->gains.torqueLimit;
        m_words->setText(tr("Enabling …"));
        m_bench.enable(1, [this, settings, counts, limit](bool on) {
            if (!on || !m_held) {
                m_bench.disable();
                finish(on ? tr("Stopped: the button was let go.") : tr("The drive does not enable; see the ladder in Turn."));
                return;
            }
            m_bench.session().capture(
                settings, [this](const Result<void>& armed) { armed ? move() : finish(QString::fromStdString(messageFor(armed.error()))); },
                [this, counts, limit](const Result<std::vector<std::vector<std::int32_t>>>& columns) {
                    m_bench.disable();
                    if (!columns)
                        return finish(QString::fromStdString(messageFor(columns.error())));
                    keep(traceFrom(*columns, 8 / 16000.0, counts, m_bench.session().simulated()), limit);
                },
                [this](int done, int total) {
                    m_progress->setMaximum(total);
                    m_progress->setValue(done);
                });
        });
    }
    /// The set-point: relative, there or back so that the axis stays inside its travel.
    void move()
    {
        const double u = unitsPerTravel(m_document.axis());
        QTimer::singleShot(250, this, [this, u] { // the brake has lifted by then
            if (!m_held)
                return abort();
            m_moved = true;
            const double way = m_forward ? 1 : -1;
            m_forward = !m_forward;
            m_bench.session().write({0x607A, 0}, static_cast<std::int64_t>(way * m_document.axis().tune.testDistance * u));
            m_bench.session().control(0x4F);
            m_bench.session().control(0x5F);
        });
    }
    void keep(const Trace& trace, double torqueLimit)
    {
        const Evaluation& e = m_document.evaluation();
        const auto m = moveMetrics(trace, e.tune ? e.tune->band : 1e-3, torqueLimit);
        if (!m)
            return finish(QString::fromStdString(messageFor(m.error())));
        const QString id = QStringLiteral("%1-%2").arg(QString::fromStdString(m_document.axis().id)).arg(m_document.axis().tune.captures.size() + 1);
        m_document.keepCapture(id, trace);
        m_document.edit(tr("Capture a move"), {}, [&](Axis& a) {
            CaptureRef c;
            c.id = id.toStdString();
            c.title = "Test move";
            c.time = now().toStdString();
            c.simulated = trace.simulated;
            c.gains = e.tune->gains;
            c.band = e.tune->band;
            c.overshoot = m->overshoot;
            c.settling = m->settling;
            c.settled = m->settled;
            c.peakError = m->peakError;
            c.steadyError = std::abs(m->steadyError);
            c.peakTorque = m->peakTorque;
            a.tune.captures.push_back(c);
        });
        m_document.log(QStringLiteral("measurement"), tr("Captured a %1 move: peak error %2").arg(trace.simulated ? tr("simulated") : tr("measured"), shown(m->peakError * e.tune->travelPerRadian, Quantity::Length)));
        finish(trace.simulated ? tr("Captured from the SIMULATED drive.") : tr("Captured."));
    }
    PlotView* m_plot;
    QLabel *m_cursor, *m_measures, *m_words;
    QPushButton *m_run, *m_apply;
    QProgressBar* m_progress;
    Figures* m_figures;
    QScrollArea* m_scroll;
    FieldForm* m_form = nullptr;
    std::string m_built;
    std::optional<Trace> m_last;
    std::array<double, 2> m_cursors{0.1, 10};
    bool m_running = false, m_held = false, m_moved = false, m_forward = true;
};

// ---------------------------------------------------------------- Guard

class GuardPage final : public StationPage {
public:
    GuardPage(Document& document, Bench& bench) : StationPage(document, bench)
    {
        auto* layout = new QVBoxLayout(this);
        layout->addWidget(caution(tr("Removing torque does not isolate from the supply. Whether this stop is enough follows from the machine's risk assessment and a competent person, never from this program.")));
        m_plot = new PlotView({tr("speed, rpm"), tr("torque, N·m")}, tr("time after the request, s"));
        layout->addWidget(m_plot, 5);
        auto* row = new QHBoxLayout;
        m_trip = button("guard.trip", tr("Hold to move, then trip SS1"));
        m_a = button("guard.channelA", tr("Open channel A"));
        m_b = button("guard.channelB", tr("Open channel B"));
        m_restart = button("guard.restart", tr("Prove no restart"));
        m_take = button("guard.take", tr("Set the computed delay"));
        for (QPushButton* b : {m_trip, m_a, m_b, m_restart, m_take})
            row->addWidget(b);
        row->addStretch();
        layout->addLayout(row);
        m_words = quiet({});
        layout->addWidget(m_words);
        m_figures = new Figures;
        layout->addWidget(m_figures);
        m_table = new QTableWidget;
        m_table->setObjectName(QStringLiteral("tests"));
        m_table->setEditTriggers(QAbstractItemView::NoEditTriggers);
        layout->addWidget(m_table, 2);
        m_scroll = new QScrollArea;
        m_scroll->setWidgetResizable(true);
        layout->addWidget(m_scroll, 3);
        connect(m_trip, &QPushButton::pressed, this, &GuardPage::trip);
        connect(m_trip, &QPushButton::released, this, [this] { m_held = false; });
        connect(m_a, &QPushButton::clicked, this, [this] { channel(2, "channel A"); });
        connect(m_b, &QPushButton::clicked, this, [this] { channel(1, "channel B"); });
        connect(m_restart, &QPushButton::clicked, this, &GuardPage::restart);
        connect(m_take, &QPushButton::clicked, this, [this] {
            if (const ResultValue* r = m_document.evaluation().result("guard.delay_needed"))
                m_document.edit(tr("Set the stop delay"), {}, [&](Axis& a) { a.guard.delay = r->value; });
        });
        connect(m_figures, &QLabel::linkActivated, this, [this](const QString& id) { Q_EMIT resultWanted(id.toStdString()); });
        connect(&m_bench, &Bench::changed, this, &GuardPage::enableButtons);
    }

    void refresh() override
    {
        const Evaluation& e = m_document.evaluation();
        m_figures->show(e, {"guard.expected_stop", "guard.delay_needed", "guard.drop"});
        if (m_built != m_document.axis().id) {
            m_built = m_document.axis().id;
            m_form = new FieldForm(m_document, QStringLiteral("guard"), guardFields(), [](Axis& a) -> void* { return &a.guard; });
            m_form->setContentsMargins(6, 6, 6, 6);
            m_scroll->setWidget(m_form);
            m_stop.reset();
        }
        m_form->refresh();
        const auto& tests = m_document.axis().guard.tests;
        m_table->setColumnCount(6);
        m_table->setHorizontalHeaderLabels({tr("Test"), tr("When"), tr("Result"), tr("Stop"), tr("Torque off after"), tr("Drop")});
        m_table->setRowCount(static_cast<int>(tests.size()));
        m_table->verticalHeader()->setDefaultSectionSize(21);
        m_table->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
        for (int r = 0; r < m_table->rowCount(); ++r) {
            const StopTest& t = tests[static_cast<std::size_t>(r)];
            const QString cells[] = {QString::fromStdString(t.kind) + (t.simulated ? tr(" (simulated)") : QString()), QString::fromStdString(t.time), t.passed ? tr("● passed") : tr("■ failed"),
                                     t.stopTime > 0 ? shown(t.stopTime, Quantity::Time) : QString(), t.offTime > 0 ? shown(t.offTime, Quantity::Time) : QString(), t.kind == "SS1" ? shown(t.drop, Quantity::Length) : QString()};
            for (int c = 0; c < 6; ++c)
                m_table->setItem(r, c, new QTableWidgetItem(cells[c]));
        }
        draw();
        enableButtons();
    }

private:
    struct Stop {
        Trace trace;
        double standstill = 0, brake = 0, off = 0;
    };
    void enableButtons()
    {
        const bool ready = m_bench.session().connected() && m_document.axis().parameters.verified && !m_busy;
        for (QPushButton* b : {m_trip, m_a, m_b, m_restart})
            b->setEnabled(ready && m_bench.session().simulated());
        m_trip->setEnabled(ready);
        m_take->setEnabled(m_document.evaluation().result("guard.delay_needed") != nullptr);
        if (!m_busy)
            m_words->setText(ready ? m_bench.words() : tr("Connect and write the parameters in Set first."));
    }
    void busy(bool on)
    {
        m_busy = on;
        setProperty("busy", on);
        enableButtons();
    }
    void draw()
    {
        if (!m_stop) {
            const auto& tests = m_document.axis().guard.tests;
            if (!tests.empty())
                if (const auto t = m_document.capture(m_document.axis().id + "-stop"))
                    m_stop = Stop{*t, 0, 0, 0};
        }
        if (!m_stop) {
            m_plot->setCurves({});
            m_plot->setMarks({}, {});
            return;
        }
        const double rpm = 30 / 3.14159265358979;
        m_plot->setCurves({curve(m_stop->trace.time, m_stop->trace.speedDemand, rpm, 0, 3, Qt::DashLine), curve(m_stop->trace.time, m_stop->trace.speed, rpm, 0, 0), curve(m_stop->trace.time, m_stop->trace.torque, 1, 1, 1)});
        if (m_stop->off > 0)
            m_plot->setMarks({0, m_stop->standstill, m_stop->brake, m_stop->off}, {tr("request"), tr("standstill"), tr("brake closed"), tr("torque off")});
    }
    void record(StopTest t)
    {
        t.time = now().toStdString();
        t.simulated = m_bench.session().simulated();
        const QString words = tr("%1: %2%3").arg(QString::fromStdString(t.kind), t.passed ? tr("passed") : tr("failed"), t.simulated ? tr(" (simulated)") : QString());
        m_document.edit(tr("Record test %1").arg(QString::fromStdString(t.kind)), {}, [&](Axis& a) { a.guard.tests.push_back(t); });
        m_document.log(QStringLiteral("measurement"), words);
        busy(false);
        m_words->setText(words);
    }
    void problem(const QString& words)
    {
        m_bench.disable();
        busy(false);
        m_words->setText(words);
    }
    /// Runs at working speed in velocity mode, requests SS1 and measures what the drive does.
    void trip()
    {
        if (m_busy)
            return;
        m_held = true;
        busy(true);
        m_words->setText(tr("Enabling …"));
        const double u = unitsPerTravel(m_document.axis()), v = m_document.axis().tune.testSpeed;
        const double delay = m_document.axis().guard.delay.value_or(0.6);
        m_bench.session().write({0x2301, 1}, static_cast<std::int64_t>(delay * 1000));
        m_bench.session().write({0x60FF, 0}, 0);
        m_bench.enable(3, [this, u, v, delay](bool on) {
            if (!on || !m_held)
                return problem(on ? tr("Stopped: the button was let go.") : tr("The drive does not enable; see the ladder in Turn."));
            link::Session::CaptureSettings settings{{brakeBits, speedDemand, speedActual, torqueActual, {0x6064, 0}}, 16, static_cast<int>((delay + 0.3) * 1000), true, 12000};
            m_bench.session().capture(
                settings,
                [this, u, v](const Result<void>& armed) {
                    if (!armed)
                        return problem(QString::fromStdString(messageFor(armed.error())));
                    m_bench.session().write({0x60FF, 0}, static_cast<std::int64_t>(v * u));
                    QTimer::singleShot(450, this, [this] {
                        m_bench.session().write({0x2301, 2}, 0x5AFE);
                        m_words->setText(tr("Tripped; measuring …"));
                    });
                },
                [this, u](const Result<std::vector<std::vector<std::int32_t>>>& columns) {
                    if (!columns)
                        return problem(QString::fromStdString(messageFor(columns.error())));
                    m_bench.disable();
                    measure(*columns, u);
                });
        });
    }
    void measure(const std::vector<std::vector<std::int32_t>>& c, double unitsPerMetre)
    {
        Stop s;
        s.trace = traceFrom({c[0], c[1], c[2], c[3]}, 1e-3, 1e9, m_bench.session().simulated());
        double peak = 0, drop = 0;
        for (const double v : s.trace.speed)
            peak = std::max(peak, std::abs(v));
        for (std::size_t k = 0; k < c[0].size(); ++k) {
            const double t = s.trace.time[k];
            if (std::abs(s.trace.speed[k]) > 0.01 * peak && s.off == 0)
                s.standstill = t;
            if ((c[0][k] & 4) && s.brake == 0)
                s.brake = t;
            if (!(c[0][k] & 2) && s.off == 0)
                s.off = t;
        }
        const auto off = std::min(c[4].size() - 1, static_cast<std::size_t>(s.off * 1000));
        for (std::size_t k = off; k < c[4].size(); ++k)
            drop = std::max(drop, std::abs(static_cast<double>(c[4][k] - c[4][off])) / unitsPerMetre);
        m_stop = s;
        m_document.keepCapture(QString::fromStdString(m_document.axis().id) + QStringLiteral("-stop"), s.trace);
        StopTest t;
        t.kind = "SS1";
        t.speed = m_document.axis().tune.testSpeed;
        t.stopTime = s.standstill;
        t.offTime = s.off;
        t.drop = drop;
        t.passed = s.off > 0 && s.standstill < s.off;
        t.note = "request, ramp, standstill, brake, torque off";
        record(t);
    }
    /// One channel opened while torque is on: the torque has to go.
    void channel(int inputs, const char* kind)
    {
        busy(true);
        const std::string name = kind;
        m_bench.session().write({0x60FF, 0}, 0);
        m_bench.enable(3, [this, inputs, name](bool on) {
            if (!on)
                return problem(tr("The drive does not enable; see the ladder in Turn."));
            m_bench.session().write({0x2F00, 8}, inputs);
            QTimer::singleShot(120, this, [this, name] {
                m_bench.session().read({{0x6041, 0}, {0x2210, 5}}, [this, name](const Result<link::Values>& v) {
                    m_bench.session().write({0x2F00, 8}, 3);
                    m_bench.disable();
                    if (!v)
                        return problem(QString::fromStdString(messageFor(v.error())));
                    StopTest t;
                    t.kind = name;
                    t.passed = !(v->at({0x2210, 5}) & 2) && driveState(static_cast<std::uint16_t>(v->at({0x6041, 0}))) != DriveState::OperationEnabled;
                    record(t);
                });
            });
        });
    }
    /// Both channels open and close again with the enable command standing: nothing may start.
    void restart()
    {
        busy(true);
        m_bench.session().write({0x60FF, 0}, 0);
        m_bench.enable(3, [this](bool on) {
            if (!on)
                return problem(tr("The drive does not enable; see the ladder in Turn."));
            m_bench.session().write({0x2F00, 8}, 0);
            QTimer::singleShot(100, this, [this] { m_bench.session().write({0x2F00, 8}, 3); });
            QTimer::singleShot(400, this, [this] {
                m_bench.session().read({{0x6041, 0}}, [this](const Result<link::Values>& v) {
                    m_bench.disable();
                    if (!v)
                        return problem(QString::fromStdString(messageFor(v.error())));
                    StopTest t;
                    t.kind = "restart";
                    t.passed = driveState(static_cast<std::uint16_t>(v->at({0x6041, 0}))) == DriveState::SwitchOnDisabled;
                    record(t);
                });
            });
        });
    }
    PlotView* m_plot;
    QPushButton *m_trip, *m_a, *m_b, *m_restart, *m_take;
    QLabel* m_words;
    Figures* m_figures;
    QTableWidget* m_table;
    QScrollArea* m_scroll;
    FieldForm* m_form = nullptr;
    std::string m_built;
    std::optional<Stop> m_stop;
    bool m_busy = false, m_held = false;
};

// ---------------------------------------------------------------- Sign

class SignPage final : public StationPage {
public:
    SignPage(Document& document, Bench& bench) : StationPage(document, bench)
    {
        auto* layout = new QVBoxLayout(this);
        m_head = new QLabel;
        m_head->setObjectName(QStringLiteral("head"));
        layout->addWidget(m_head);
        m_table = new QTableWidget;
        m_table->setObjectName(QStringLiteral("open"));
        m_table->setAccessibleName(tr("What is open over all stations"));
        m_table->setEditTriggers(QAbstractItemView::NoEditTriggers);
        layout->addWidget(m_table, 1);
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
        connect(sign, &QPushButton::clicked, this, [this] {
            if (m_document.axis().sign.name.empty()) {
                m_words->setText(tr("Enter the name of the person who signs."));
                return;
            }
            m_document.edit(tr("Sign the hand-over"), {}, [](Axis& a) { a.sign.time = now().toStdString(); });
            m_document.log(QStringLiteral("decision"), tr("Signed by %1").arg(QString::fromStdString(m_document.axis().sign.name)));
        });
        connect(pdf, &QPushButton::clicked, this, [this] { write(QStringLiteral("pdf")); });
        connect(html, &QPushButton::clicked, this, [this] { write(QStringLiteral("html")); });
    }

    void refresh() override
    {
        const Evaluation& e = m_document.evaluation();
        std::vector<const Check*> open;
        for (const Check& c : e.checks)
            if (c.verdict != Verdict::Ok && c.station != Station::Sign)
                open.push_back(&c);
        m_head->setText(open.empty() ? tr("Nothing is open.") : tr("%n point(s) open over all stations", nullptr, static_cast<int>(open.size())));
        m_table->setColumnCount(4);
        m_table->setHorizontalHeaderLabels({tr("Station"), tr("Check"), tr("Verdict"), tr("Reason and what would help")});
        m_table->setRowCount(static_cast<int>(open.size()));
        m_table->verticalHeader()->hide();
        m_table->verticalHeader()->setDefaultSectionSize(22);
        constexpr const char* marks[] = {"○ unknown", "● ok", "▲ watch", "■ fail"};
        for (int r = 0; r < m_table->rowCount(); ++r) {
            const Check& c = *open[static_cast<std::size_t>(r)];
            const QString cells[] = {said(stationName(c.station)), said(c.title), QString::fromUtf8(marks[static_cast<int>(c.verdict)]), QString::fromStdString(c.reason + (c.help.empty() ? "" : "  " + c.help))};
            for (int k = 0; k < 4; ++k) {
                auto* item = new QTableWidgetItem(cells[k]);
                item->setToolTip(cells[3]);
                if (k == 2)
                    item->setForeground(theme().verdict(c.verdict));
                m_table->setItem(r, k, item);
            }
        }
        m_table->setColumnWidth(0, 60);
        m_table->setColumnWidth(1, 220);
        m_table->setColumnWidth(2, 84);
        m_table->horizontalHeader()->setStretchLastSection(true);
        if (m_built != m_document.axis().id) {
            m_built = m_document.axis().id;
            delete m_form;
            m_form = new FieldForm(m_document, QStringLiteral("sign"), signFields(), [](Axis& a) -> void* { return &a.sign; });
            m_holder->addWidget(m_form);
        }
        m_form->refresh();
    }

private:
    void write(const QString& kind)
    {
        QString path = property("reportPath").toString(); // set by scripts and tests; a person is asked
        if (path.isEmpty())
            path = QFileDialog::getSaveFileName(this, tr("Write the report"), QStringLiteral("%1-handover.%2").arg(QString::fromStdString(m_document.axis().id), kind));
        else
            path += QLatin1Char('.') + kind;
        if (path.isEmpty())
            return;
        const std::string html = store::reportHtml(m_document.machine(), m_document.axis(), m_document.evaluation(), m_document.logbook());
        const auto done = kind == QLatin1String("pdf") ? store::writePdf(path.toStdString(), html) : store::writeText(path.toStdString(), html);
        m_words->setText(done ? tr("Written: %1").arg(path) : QString::fromStdString(messageFor(done.error())));
        if (done)
            m_document.log(QStringLiteral("decision"), tr("Report written as %1").arg(kind));
    }
    QLabel *m_head, *m_words;
    QTableWidget* m_table;
    QVBoxLayout* m_holder;
    FieldForm* m_form = nullptr;
    std::string m_built;
};

} // namespace

StationPage* makeTune(Document& d, Bench& b) { return new TunePage(d, b); }
StationPage* makeGuard(Document& d, Bench& b) { return new GuardPage(d, b); }
StationPage* makeSign(Document& d, Bench& b) { return new SignPage(d, b); }

} // namespace ridge::app
