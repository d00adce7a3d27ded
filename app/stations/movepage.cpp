#include "app/theme/theme.h"
#include "app/widgets/figures.h"
#include "app/widgets/forms.h"
#include "app/widgets/labels.h"
#include "app/widgets/plotview.h"
#include "core/stations/sampling.h"
#include "core/stations/timing.h"
#include "core/units/print.h"

#include "phasetable.h"
#include "recordeddialog.h"
#include "segmenttable.h"
#include "station.h"
#include "travelpanel.h"

#include <QComboBox>
#include <QFile>
#include <QFileDialog>
#include <QMenu>
#include <QScrollArea>
#include <QTabWidget>
#include <QVBoxLayout>

#include <cmath>

namespace ridge::app {

namespace {

struct CycleWanted {
    std::optional<double> time;
};
constexpr Field cycleTimeField = number<&CycleWanted::time>(
    "cycle", "Cycle time", Quantity::Time, {0, 1e5, true, "not-positive"}, "Empty: the present cycle time.");

class MovePage final : public StationPage {
public:
    MovePage(Document& document, Bench& bench)
        : StationPage(document, bench)
    {
        auto* layout = new QVBoxLayout(this);
        layout->setContentsMargins(0, 6, 0, 6);
        m_plot = new PlotView({QString(), QString(), QString(), QString()}, tr("time in the cycle, s"));
        m_plot->setObjectName(QStringLiteral("move.plot"));
        m_plot->setAccessibleName(tr("Position, speed, acceleration and torque over the cycle"));
        layout->addWidget(m_plot, 6);
        auto* row = new QHBoxLayout;
        m_figures = new Figures(4);
        row->addWidget(m_figures, 0, Qt::AlignLeft | Qt::AlignTop);
        m_readout = quiet({});
        m_readout->setAlignment(Qt::AlignRight | Qt::AlignVCenter);
        row->addWidget(m_readout);
        m_strip = new QComboBox;
        m_strip->setObjectName(QStringLiteral("move.strip"));
        m_strip->setAccessibleName(tr("Fourth strip"));
        m_strip->addItems({tr("motor torque"), tr("motor power"), tr("jerk")});
        row->addWidget(m_strip);
        layout->addLayout(row);
        m_sentence = new QLabel;
        m_sentence->setObjectName(QStringLiteral("sentence"));
        m_sentence->setWordWrap(true);
        layout->addWidget(m_sentence);
        layout->addWidget(proposalRow());
        m_table = new SegmentTable(document);
        m_phases = new PhaseTable(document);
        m_tabs = new QTabWidget;
        m_tabs->setObjectName(QStringLiteral("move.tabs"));
        m_tabs->setDocumentMode(true);
        m_tabs->addTab(m_table, tr("Segments"));
        m_tabs->addTab(m_phases, tr("Phases at the motor"));
        m_travel = new TravelPanel(document);
        m_tabs->addTab(m_travel, tr("Travel and stops"));
        m_process = new QScrollArea;
        m_process->setWidgetResizable(true);
        m_tabs->addTab(m_process, tr("Process"));
        m_homing = new QScrollArea;
        m_homing->setWidgetResizable(true);
        m_tabs->addTab(m_homing, tr("Homing"));
        connect(m_tabs, &QTabWidget::currentChanged, this, &MovePage::refresh);
        layout->addWidget(m_tabs, 4);
        auto* below = new QWidget; // belongs to the segments
        auto* rows = new QVBoxLayout(below);
        rows->setContentsMargins(0, 0, 0, 0);
        rows->addLayout(buttons());
        rows->addWidget(
            quiet(tr("On the graph: pull a segment sideways to stretch it, its speed or acceleration up and down.")));
        layout->addWidget(below);
        connect(m_tabs, &QTabWidget::currentChanged, below, [this, below, layout] {
            const bool ends = m_tabs->currentWidget() == m_travel;
            const bool process = m_tabs->currentWidget() == m_process || m_tabs->currentWidget() == m_homing;
            below->setVisible(!ends && !process); // a few entries: the picture takes the room
            layout->setStretchFactor(m_plot, ends ? 3 : process ? 8 : 6);
            layout->setStretchFactor(m_tabs, ends ? 7 : process ? 3 : 4);
        });
        connect(m_table, &SegmentTable::accepted, this, &MovePage::refresh);
        connect(m_table, &SegmentTable::refused, this, [this](const QString& sentence) {
            m_sentence->setText(sentence);
            m_sentence->show();
        });
        connect(m_figures, &Figures::chosen, this, &StationPage::resultWanted);
        connect(m_strip, &QComboBox::currentIndexChanged, this, [this] { refresh(); });
        connect(m_plot, &PlotView::hovered, this, &MovePage::readOut);
        m_plot->setDragHandler([this](const PlotView::Drag& d) { drag(d); });
    }

    [[nodiscard]] const char* mainFigure() const override { return "move.peak_speed"; }

    void refresh() override
    {
        const Evaluation& e = m_document.evaluation();
        const bool rotary = m_document.axis().mechanism.rotary();
        m_figures->show(e, {"move.cycle_time", "move.peak_speed", "move.peak_acceleration", "move.stroke"});
        QString sentence;
        const bool begun = !m_document.axis().cycle.segments.empty(); // an empty cycle is no mistake
        for (const Error& p : e.problems)
            if (begun && (p.subject.starts_with("segment") || p.subject == "move"))
                sentence = said(fieldWords(m_document.axis(), p.subject)) + QStringLiteral(": ")
                           + QString::fromStdString(messageFor(p, rotary, unitSystem()));
        setLabel(*m_sentence, sentence.isEmpty() ? QString() : sentence + tr("  The graph shows the last good cycle."));
        m_sentence->setVisible(!sentence.isEmpty());
        if (m_proposal && (m_proposedFor != m_document.axis() || m_proposedSite != m_document.machine().site))
            forget(); // an answer to a question that is no longer asked
        if (e.move.motion)
            draw(sampleCycle(m_document.axis(), e, 320), rotary);
        m_table->fill();
        if (m_tabs->currentWidget() == m_phases)
            m_phases->fill();
        if (m_tabs->currentWidget() == m_process)
            fillProcess();
        if (m_tabs->currentWidget() == m_homing)
            fillHoming();
        if (m_tabs->currentWidget() == m_travel)
            m_travel->fill();
    }

    bool takeFile(const QString& path) override
    {
        if (!path.endsWith(QLatin1String(".csv"), Qt::CaseInsensitive)
            && !path.endsWith(QLatin1String(".txt"), Qt::CaseInsensitive))
            return false;
        import(path);
        return true;
    }

private:
    QHBoxLayout* buttons()
    {
        auto* row = new QHBoxLayout;
        m_add = button("move.add", tr("Add ▾"));
        m_add->setToolTip(
            tr("A move, a dwell or any other segment behind the chosen one, or a recorded motion from a file."));
        auto* up = button("move.up", tr("Earlier"));
        auto* down = button("move.down", tr("Later"));
        auto* remove = button("move.remove", tr("Remove"));
        auto* quick = button("move.fastest", tr("Fastest"));
        quick->setToolTip(tr("What is the fastest this axis can do the cycle with its motor?"));
        auto* soft = button("move.gentlest", tr("Gentlest in"));
        soft->setToolTip(tr("The least torque that still makes this cycle time."));
        m_cycle = new QuantityEdit(cycleTimeField, false);
        m_cycle->line().setObjectName(QStringLiteral("move.cycle"));
        m_cycle->line().setAccessibleName(tr("Cycle time that is wanted"));
        m_cycle->setFixedWidth(84);
        m_cycle->line().setPlaceholderText(tr("as now"));
        for (QPushButton* b : {m_add, up, down, remove})
            row->addWidget(b);
        row->addStretch();
        row->addWidget(quick);
        row->addWidget(soft);
        row->addWidget(m_cycle);
        connect(m_add, &QPushButton::clicked, this, [this] { offerKinds(); });
        connect(remove, &QPushButton::clicked, this, [this] {
            m_table->change(tr("Remove segment %1"), [](auto& list, std::size_t k) {
                list.erase(list.begin() + static_cast<std::ptrdiff_t>(k));
            });
        });
        connect(up, &QPushButton::clicked, this, [this] { m_table->shift(-1); });
        connect(down, &QPushButton::clicked, this, [this] { m_table->shift(1); });
        connect(quick, &QPushButton::clicked, this,
                [this] { propose(tr("Fastest"), fastest(m_document.machine(), m_document.axis(), std::nullopt)); });
        connect(m_cycle, &QuantityEdit::entered, this, [this](std::optional<double> value) {
            m_wanted = value;
            m_cycle->setValue(value);
        });
        connect(soft, &QPushButton::clicked, this, [this] {
            const auto& motion = m_document.evaluation().move.motion;
            propose(tr("Gentlest"), gentlest(m_document.machine(), m_document.axis(),
                                             m_wanted.value_or(motion ? motion->duration : 0)));
        });
        return row;
    }

    // ------------------------------------------------------------ answers about time

    QWidget* proposalRow()
    {
        m_offer = new QWidget;
        auto* row = new QHBoxLayout(m_offer);
        row->setContentsMargins(0, 0, 0, 0);
        m_offerWords = new QLabel;
        m_offerWords->setObjectName(QStringLiteral("move.proposal"));
        m_offerWords->setWordWrap(true);
        row->addWidget(m_offerWords, 1);
        m_apply = button("move.apply", tr("Apply"));
        auto* drop = button("move.forget", tr("Forget"));
        row->addWidget(m_apply);
        row->addWidget(drop);
        m_offer->hide();
        connect(m_apply, &QPushButton::clicked, this, [this] {
            if (!m_proposal)
                return;
            const std::vector<Segment> segments = m_proposal->segments;
            const QString text = m_proposalName;
            forget();
            m_document.edit(tr("%1 cycle").arg(text), {}, [&](Axis& a) { a.cycle.segments = segments; });
        });
        connect(drop, &QPushButton::clicked, this, [this] {
            forget();
            refresh();
        });
        return m_offer;
    }

    void propose(const QString& name, const Result<Timing>& answer)
    {
        m_offer->show();
        m_apply->setVisible(answer.has_value());
        m_proposal.reset();
        if (!answer) {
            m_offerWords->setText(
                QStringLiteral("■ %1: %2")
                    .arg(name, answer.error().subject == "motor"
                                   ? tr("Choose a motor and drive in Match first.")
                                   : QString::fromStdString(messageFor(
                                       answer.error(), m_document.axis().mechanism.rotary(), unitSystem()))));
            return;
        }
        m_proposal = *answer;
        m_proposalName = name;
        m_proposedFor = m_document.axis();
        m_proposedSite = m_document.machine().site;
        const Quantity q = m_document.axis().mechanism.is<LinearDrive>() ? Quantity::Force : Quantity::Torque;
        QString words =
            tr("%1: cycle %2, now %3; rms %4, now %5; peak %6, now %7.")
                .arg(name, shown(answer->cycleAfter, Quantity::Time), shown(answer->cycleBefore, Quantity::Time),
                     shown(answer->rmsAfter, q, 3), shown(answer->rmsBefore, q, 3), shown(answer->peakAfter, q, 3),
                     shown(answer->peakBefore, q, 3));
        if (!answer->limit.empty())
            words += tr(" %1 binds: %2").arg(said(answer->limit), sentence(answer->limitReason));
        if (!answer->standing.empty())
            words += tr(" Left aside, because it fails at any speed: %1.").arg(said(answer->standing.front()));
        m_offerWords->setText(words);
        refresh();
    }

    void forget()
    {
        m_proposal.reset();
        m_offer->hide();
    }

    // ------------------------------------------------------------ what the process permits

    void fillProcess()
    {
        static const std::vector<Field> fields = [] {
            std::vector<Field> out;
            for (const char* key :
                 {"followLimit", "worksMoving", "band", "settleLimit", "repeatability", "slowSpeed", "evenness"})
                out.push_back(*std::ranges::find(tuneFields(), key, &Field::key));
            return out;
        }();
        if (!m_processForm || m_processOf != axisKey()) {
            m_processForm = new FieldForm(axisTarget(m_document, [](Axis& a) -> void* { return &a.tune; }),
                                          QStringLiteral("process"), fields, 3);
            m_process->setWidget(m_processForm); // the one before goes with it
            m_processOf = axisKey();
        }
        m_processForm->refresh();
    }

    void fillHoming()
    {
        if (!m_homingForm || m_homingOf != axisKey()) {
            auto* inner = new QWidget;
            auto* layout = new QVBoxLayout(inner);
            m_homingForm = new FieldForm(axisTarget(m_document, [](Axis& a) -> void* { return &a.homing; }),
                                         QStringLiteral("homing"), homingFields(), 3);
            m_homingWords = quiet({});
            m_homingWords->setObjectName(QStringLiteral("homing.words"));
            layout->addWidget(m_homingForm);
            layout->addWidget(m_homingWords);
            layout->addStretch();
            m_homing->setWidget(inner); // the one before goes with it
            m_homingOf = axisKey();
        }
        m_homingForm->refresh();
        const Check* c = m_document.evaluation().check("move.homing");
        setLabel(*m_homingWords, c ? verdictMark(c->verdict) + QLatin1Char(' ') + app::sentence(c->reason)
                                         + QLatin1Char(' ') + app::sentence(c->help)
                                   : QString());
    }

    // ------------------------------------------------------------ segments

    void offerKinds()
    {
        QMenu menu;
        const auto add = [&](const QString& name, SegmentKind kind) {
            menu.addAction(name, this, [this, name, kind] {
                m_table->insertSegment(tr("Add: %1").arg(name), m_table->fresh(kind));
            });
        };
        add(tr("Move, any three of its values"), SegmentKind::Trapezoid);
        add(tr("Triangle"), SegmentKind::Triangle);
        add(tr("Thirds"), SegmentKind::Thirds);
        add(tr("Jerk-limited move"), SegmentKind::JerkLimited);
        add(tr("Cam law"), SegmentKind::Cam);
        menu.addSeparator();
        add(tr("Jog: a speed for a time"), SegmentKind::Jog);
        add(tr("Blend: start and end at speed"), SegmentKind::Blend);
        menu.addSeparator();
        add(tr("Dwell"), SegmentKind::Dwell);
        add(tr("Press: a force at standstill"), SegmentKind::Press);
        menu.addSeparator();
        menu.addAction(tr("Recorded motion from a file …"), this, [this] {
            const QString path =
                QFileDialog::getOpenFileName(this, tr("Time and position"), {}, tr("Tables (*.csv *.txt)"));
            if (!path.isEmpty())
                import(path);
        });
        menu.exec(m_add->mapToGlobal(QPoint(0, m_add->height())));
    }

    void import(const QString& path)
    {
        QFile file(path);
        if (!file.open(QIODevice::ReadOnly) || file.size() > 64 * 1024 * 1024) {
            refuseFile(tr("The file %1 cannot be read.").arg(path));
            return;
        }
        const bool rotary = m_document.axis().mechanism.rotary();
        auto recorded = store::parseRecorded(file.readAll().toStdString(), rotary);
        if (!recorded) {
            refuseFile(QString::fromStdString(
                (recorded.error().subject.empty() ? std::string() : recorded.error().subject + ": ")
                + messageFor(recorded.error(), rotary)));
            return;
        }
        RecordedDialog dialog(std::move(*recorded), rotary, this);
        if (dialog.exec() == QDialog::Accepted)
            if (const auto segment = dialog.segment())
                m_table->insertSegment(tr("Add a recorded motion"), *segment);
    }

    void refuseFile(const QString& sentence)
    {
        m_sentence->setText(QStringLiteral("■ ") + sentence);
        m_sentence->show();
    }

    void draw(const CycleCurves& c, bool rotary)
    {
        const QVector<double> t(c.time.begin(), c.time.end());
        const auto curve = [&](const std::vector<double>& y, Quantity q, int pane, bool fill) {
            PlotView::Curve out{t, {}, pane, pane};
            out.fill = fill;
            for (const double v : y)
                out.y.append(toDisplay(v, q, unitSystem()));
            return out;
        };
        const auto label = [&](int pane, const QString& name, Quantity q) {
            m_plot->setPaneLabel(pane, QStringLiteral("%1, %2").arg(
                                           name, QString::fromStdString(prettyUnit(displayUnit(q, unitSystem())))));
        };
        const auto qx = resolve(Quantity::Travel, rotary), qv = resolve(Quantity::TravelSpeed, rotary),
                   qa = resolve(Quantity::TravelAcceleration, rotary), qj = resolve(Quantity::TravelJerk, rotary);
        label(0, tr("position"), qx);
        label(1, tr("speed"), qv);
        label(2, tr("accel."), qa);
        std::vector<PlotView::Curve> curves{curve(c.position, qx, 0, false), curve(c.speed, qv, 1, true),
                                            curve(c.acceleration, qa, 2, true)};
        if (m_strip->currentIndex() == 2) {
            label(3, tr("jerk"), qj);
            curves.push_back(curve(c.jerk, qj, 3, true));
        } else {
            const bool power = m_strip->currentIndex() == 1;
            label(3, power ? tr("power") : tr("torque"), power ? Quantity::Power : Quantity::Torque);
            const auto& y = power ? c.power : c.torque;
            if (y.size() == c.time.size())
                curves.push_back(curve(y, power ? Quantity::Power : Quantity::Torque, 3, true));
        }
        addLimits(curves, c, qv, m_strip->currentIndex() != 0);
        if (m_proposal)
            addProposal(curves, rotary);
        m_plot->setCurves(curves);
    }

    /// What the chosen motor can do at most, where the cycle comes near it: seen while a segment is pulled.
    static void addLimits(std::vector<PlotView::Curve>& curves, const CycleCurves& c, Quantity speed, bool otherStrip)
    {
        const auto line = [&](double limit, const std::vector<double>& used, Quantity q, int pane,
                              const QString& label) {
            const auto most = std::ranges::max_element(used, {}, [](double v) { return std::abs(v); });
            if (limit <= 0 || used.empty() || limit > 1.8 * std::abs(*most))
                return;
            for (const double way : {1.0, -1.0}) {
                PlotView::Curve out{{c.time.front(), c.time.back()}, {}, pane, -1, Qt::DotLine, 1.2};
                out.y << toDisplay(way * limit, q, unitSystem()) << toDisplay(way * limit, q, unitSystem());
                out.label = way > 0 ? label : QString();
                curves.push_back(std::move(out));
            }
        };
        line(c.speedLimit, c.speed, speed, 1, tr("top speed of the motor"));
        if (!otherStrip && c.torque.size() == c.time.size())
            line(c.torqueLimit, c.torque, Quantity::Torque, 3, tr("short-time torque at standstill"));
    }

    /// The cycle as it would be, dashed over the present one.
    void addProposal(std::vector<PlotView::Curve>& curves, bool rotary) const
    {
        const auto motion = layMotion(m_proposal->segments, m_document.axis().cycle.start);
        if (!motion)
            return;
        PlotView::Curve x{{}, {}, 0, -1, Qt::DashLine}, v{{}, {}, 1, -1, Qt::DashLine}, a{{}, {}, 2, -1, Qt::DashLine};
        for (const Phase& phase : motion->phases)
            for (const double t : evenly(0, phase.duration, phase.cam ? 12 : 4)) {
                const MotionPoint p = motionAt(phase, t);
                for (const auto& [curve, value, q] :
                     {std::tuple(&x, p.position, Quantity::Travel), std::tuple(&v, p.speed, Quantity::TravelSpeed),
                      std::tuple(&a, p.acceleration, Quantity::TravelAcceleration)}) {
                    curve->x.append(phase.start + t);
                    curve->y.append(toDisplay(value, resolve(q, rotary), unitSystem()));
                }
            }
        v.label = tr("proposed, dashed");
        curves.insert(curves.end(), {x, v, a});
    }

    void readOut(double at)
    {
        const auto& motion = m_document.evaluation().move.motion;
        if (!motion || at < 0 || at > motion->duration) {
            m_readout->clear();
            return;
        }
        const bool rotary = m_document.axis().mechanism.rotary();
        const MotionPoint p = motion->at(at);
        m_readout->setText(tr("%1: %2  %3  %4")
                               .arg(shown(at, Quantity::Time), shown(p.position, resolve(Quantity::Travel, rotary)),
                                    shown(p.speed, resolve(Quantity::TravelSpeed, rotary)),
                                    shown(p.acceleration, resolve(Quantity::TravelAcceleration, rotary))));
    }

    /// Sideways: the segment under the pointer is stretched in time and its speed limit gives way. Up and down on speed
    /// or acceleration: that limit follows the pointer and the time gives way.
    void drag(const PlotView::Drag& d)
    {
        const auto& motion = m_document.evaluation().move.motion;
        if (!motion)
            return;
        if (m_dragged < 0) {
            for (const Phase& p : motion->phases)
                if (d.from.x() >= p.start && d.from.x() < p.start + p.duration)
                    m_dragged = p.segment;
            m_dragTime = m_dragged >= 0 ? motion->solved[static_cast<std::size_t>(m_dragged)].time : 0;
            ++m_dragRun;
        }
        if (m_dragged < 0)
            return;
        const int k = m_dragged;
        const bool rotary = m_document.axis().mechanism.rotary();
        if (d.sideways) {
            const double time =
                std::round(std::max(0.02, m_dragTime + d.to.x() - d.from.x()) * 100) / 100; // snaps to hundredths
            m_document.edit(tr("Stretch segment %1").arg(k + 1), QStringLiteral("stretch%1").arg(m_dragRun),
                            [&](Axis& a) {
                                Segment& s = a.cycle.segments[static_cast<std::size_t>(k)];
                                s.time = time;
                                if (s.kind == SegmentKind::Trapezoid || s.kind == SegmentKind::Thirds
                                    || s.kind == SegmentKind::Triangle)
                                    s.speed.reset();
                                if (s.kind == SegmentKind::Thirds || s.kind == SegmentKind::Triangle)
                                    s.acceleration.reset();
                            });
        } else if (d.pane == 1 || d.pane == 2) {
            pullLimit(k, d.pane == 1 ? "speed" : "acceleration", d.to.y(), rotary);
        }
        if (d.released)
            m_dragged = -1;
    }

    void pullLimit(int k, std::string_view key, double pulled, bool rotary)
    {
        const Field& f = segmentField(key);
        const Quantity q = resolve(f.quantity, rotary);
        const double zero = toDisplay(0, q, unitSystem()), one = toDisplay(1, q, unitSystem()) - zero;
        const double size = std::abs((pulled - zero) / one),
                     step = std::pow(10, std::floor(std::log10(std::max(size, 1e-9))) - 1);
        const double value = std::max(step, std::round(size / step) * step); // two digits
        m_document.edit(tr("Pull %1 of segment %2").arg(said(f.label)).arg(k + 1),
                        QStringLiteral("pull%1").arg(m_dragRun), [&](Axis& a) {
                            Segment& s = a.cycle.segments[static_cast<std::size_t>(k)];
                            if (s.standing() || s.kind == SegmentKind::Cam || s.kind == SegmentKind::Recorded)
                                return;
                            f.set(&s, value);
                            if (s.distance
                                && (s.kind == SegmentKind::Trapezoid || s.kind == SegmentKind::Thirds
                                    || s.kind == SegmentKind::Triangle)) // distance stands; time follows
                                s.time.reset();
                        });
    }

    PlotView* m_plot;
    Figures* m_figures;
    QPushButton *m_add, *m_apply;
    QWidget* m_offer;
    QLabel* m_offerWords;
    QuantityEdit* m_cycle;
    std::optional<double> m_wanted; ///< cycle time for the gentlest; empty: as it is now
    std::optional<Timing> m_proposal;
    QString m_proposalName;
    Axis m_proposedFor;
    Site m_proposedSite;
    QLabel *m_readout, *m_sentence;
    QComboBox* m_strip;
    TravelPanel* m_travel = nullptr;
    QScrollArea *m_process, *m_homing;
    FieldForm* m_homingForm = nullptr;
    QLabel* m_homingWords = nullptr;
    std::string m_homingOf;
    FieldForm* m_processForm = nullptr;
    std::string m_processOf;
    PhaseTable* m_phases;
    QTabWidget* m_tabs;
    SegmentTable* m_table;
    int m_dragged = -1, m_dragRun = 0;
    double m_dragTime = 0;
};

} // namespace

StationPage* makeMove(Document& d, Bench& b) { return new MovePage(d, b); }

} // namespace ridge::app
