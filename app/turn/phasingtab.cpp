// Poles, phases and halls by a current vector that a person turns while he holds the button.
#include "app/instruments/sweepstrip.h"
#include "app/theme/sentence.h"
#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "app/widgets/figures.h"
#include "app/widgets/flowrow.h"
#include "app/widgets/labels.h"
#include "core/mechanics/stage.h"
#include "core/objects/mapneeds.h"
#include "core/stations/axisplant.h"
#include "core/stations/planfacts.h"
#include "core/stations/turn.h"

#include "turntab.h"

#include <QCheckBox>
#include <QPointer>
#include <QVBoxLayout>

#include <cmath>

namespace ridge::app {

namespace {
constexpr double sweepTurns = 3; ///< electrical, each way; common practice

class PhasingTab final : public TurnTab {
public:
    PhasingTab(Document& document, Bench& bench)
        : TurnTab(document, bench)
    {
        auto* layout = new QVBoxLayout(this);
        layout->setContentsMargins(8, 6, 8, 4);
        auto* row = new FlowRow;
        m_current = shortEntry("phase.current", tr("Current of the vector, of rated"), tr("10 %"));
        m_current->setText(QStringLiteral("10 %"));
        m_loadOff = new QCheckBox(tr("Load, belt or rope is off"));
        m_loadOff->setObjectName(QStringLiteral("phase.loadOff"));
        m_propped = new QCheckBox(tr("The load is propped"));
        m_propped->setObjectName(QStringLiteral("phase.propped"));
        row->addWidget(heading(tr("Current vector, forward and back")));
        row->addWidget(new QLabel(tr("from")));
        row->addWidget(m_current);
        row->addWidget(m_propped);
        row->addWidget(m_loadOff);
        layout->addLayout(row);
        m_strip = new SweepStrip;
        layout->addWidget(m_strip, 1);
        m_run = runPanel();
        m_sweep = m_run->addHold("phase.sweep", tr("Hold to sweep"));
        m_keep = button("phase.keep", tr("Keep poles and halls"));
        m_keep->setToolTip(tr("Into the plan: angle of the poles and form of the halls, written with the next write."));
        m_run->addWidget(m_keep);
        layout->addWidget(m_run);
        m_words = quiet({});
        m_words->setObjectName(QStringLiteral("phase.words"));
        layout->addWidget(m_words);
        connectHeld(*m_sweep, m_bench, [this] { sweep(); });
        connect(m_keep, &QPushButton::clicked, this, &PhasingTab::keep);
        for (QCheckBox* b : {m_loadOff, m_propped})
            connect(b, &QCheckBox::toggled, this, [this] { live(m_bench.linkState(), !m_bench.running()); });
    }

    [[nodiscard]] bool applies() const override { return motor() != nullptr; }

    void refresh() override
    {
        const Fact* f = m_document.evidence().newest<Swept>();
        m_last = f && stillTold(*f, m_document.evidence()) ? f : nullptr;
        m_keep->setEnabled(m_last && m_last->as<Swept>()->word.empty() && m_last->as<Swept>()->offset);
        if (!m_bench.running()) {
            const SweepExpected e = sweepExpected(m_document.axis(), 0.1);
            m_strip->begin(e.counts, e.polePairs, sweepTurns, e.halls);
            if (m_last) {
                const SweepWays ways = readSweep(m_last->as<Swept>()->samples);
                m_strip->setWays(ways.forward, ways.backward);
                m_strip->setWords(wordsOf(*m_last->as<Swept>()));
            }
        }
        QStringList words;
        for (const char* id : {"turn.phased", "turn.phase_repeat"})
            if (const Check* c = m_document.evaluation().check(id))
                words +=
                    QStringLiteral("%1 %2 %3").arg(verdictMark(c->verdict), sentence(c->reason), sentence(c->help));
        setLabel(*m_words, words.join(QLatin1Char('\n')));
        m_propped->setVisible(loadHangs(m_document.axis()));
    }

    void live(const LinkState&, bool idle) override
    {
        if (m_bench.running())
            return;
        const SearchRoom r = room();
        QString refused = m_bench.refusal(Act::Phase);
        if (refused.isEmpty() && !m_bench.session().has({0x2036, 7}))
            refused =
                tr("This drive cannot turn a vector by itself: feed the phases from a bench supply and enter what was "
                   "read at step S18.");
        if (refused.isEmpty())
            refused = sentence(refusalOfRoutine(m_document.axis(), Routine::Sweep, r,
                                                {m_propped->isChecked(), m_loadOff->isChecked()}));
        m_run->setRefusal(refused);
        m_current->setEnabled(idle);
        m_run->setMoves(
            tr("%1 follows a current vector: %2 electrical turns forward and back, %3 of the load, at most %4, while "
               "the "
               "button is held. The brake opens, no loop is closed. Letting go takes the current away; the "
               "current is raised by itself, at most to rated, while the rotor lags by more than 20°.")
                .arg(QString::fromStdString(m_document.axis().name))
                .arg(sweepTurns, 0, 'f', 0)
                .arg(shown(r.travel, q(Quantity::Travel), 3), shown(r.speed * rate(), q(Quantity::TravelSpeed), 3)));
    }

private:
    [[nodiscard]] SearchRoom room() const
    {
        return searchRoom(m_document.axis(), travelPerRadian(m_document.lastGood()), 0, sweepTurns);
    }
    /// Electrical turns a second: one at most, slower where a turn is a long way.
    [[nodiscard]] static double rate() { return 0.5; }

    [[nodiscard]] QString wordsOf(const Swept& s) const
    {
        if (!s.word.empty())
            return QStringLiteral("%1 %2").arg(QString::fromStdString(s.word),
                                               sentence(sweepWords(s.word, s.phase, s.value).what));
        QString text =
            tr("poles at %1, lag %2")
                .arg(shown(s.offset.value_or(0), Quantity::Angle, 4), shown(s.lag.value_or(0), Quantity::Angle, 2));
        if (s.poles)
            text += tr(", %1 pole pairs").arg(*s.poles, 0, 'f', 2);
        if (s.pitch)
            text += tr(", magnet period %1 of the entered").arg(*s.pitch, 0, 'f', 3);
        if (s.hallForm)
            text += tr(", halls in form %1").arg(*s.hallForm, 0, 'f', 0);
        if (s.held)
            text += tr(", %1 of rated current held by a constant torque").arg(shown(*s.held, Quantity::Share, 2));
        return text;
    }

    void sweep()
    {
        if (!m_run->refusal().isEmpty())
            return;
        const auto share = typed(*m_current, Quantity::Share, *m_run, tr("10 %"));
        if (!share)
            return;
        if (*share < 0.02 || *share > 1) {
            m_run->say(tr("■ %1: from 2 % to rated current.").arg(shown(*share, Quantity::Share)));
            return;
        }
        const Axis& a = m_document.axis();
        link::SweepOrder order;
        order.current = std::lround(*share * 1000);
        order.rate = rate();
        order.turns = sweepTurns;
        order.twoCurrents = loadHangs(a);
        order.expected = sweepExpected(a, *share);
        const double pairs = std::max(1.0, order.expected.polePairs);
        order.travelLimit = std::llround((sweepTurns + 1) / pairs * order.expected.counts);
        const FactSource source = m_bench.source();
        const SweepExpected expected = order.expected;
        m_strip->begin(expected.counts, expected.polePairs, sweepTurns, expected.halls);
        m_run->say(source.origin == Origin::Simulated ? tr("Sweeping the SIMULATED axis; let go to stop.")
                                                      : tr("Sweeping; let go to stop."));
        m_bench.runs().sweep(
            order,
            [this, strip = QPointer<SweepStrip>(m_strip), now = order.current,
             expected](const SweepSample& s, bool back, std::int64_t current) mutable {
                if (!strip)
                    return;
                if (current != now) { // another current: drawn anew
                    now = current;
                    strip->begin(expected.counts, expected.polePairs, sweepTurns, expected.halls);
                    m_run->say(tr("The rotor lags: %1 of rated current now.")
                                   .arg(shown(static_cast<double>(current) * 1e-3, Quantity::Share, 3)));
                }
                strip->add(s, back);
            },
            [this, source, expected, first = order.current](const Result<std::vector<link::SweepPass>>& passes) {
                if (!passes)
                    return failed(*m_run, source, "S18", passes.error());
                took(source, expected, first, *passes);
            });
    }

    void took(const FactSource& source, const SweepExpected& expected, std::int64_t first,
              const std::vector<link::SweepPass>& passes)
    {
        const link::SweepPass& pass = passes.back();
        SweepExpected e = expected;
        e.demand *= static_cast<double>(pass.current) / static_cast<double>(std::max<std::int64_t>(1, first));
        const auto report = reportSweep(pass.forward, pass.backward, e);
        if (!report)
            return failed(*m_run, source, "S18", report.error());
        Swept s;
        s.samples = writeSweep(pass.forward, pass.backward);
        s.current = static_cast<double>(pass.current) * 1e-3;
        s.turns = report->turns;
        const auto radians = [](const std::optional<double>& degrees) {
            return degrees ? std::optional(*degrees * pi / 180) : std::nullopt;
        };
        s.forward = report->forward.value_or(0) * pi / 180;
        s.backward = report->backward.value_or(0) * pi / 180;
        if (report->offset) {
            s.offset = radians(report->offset->offset_deg);
            s.lag = radians(report->offset->lag_deg);
        }
        if (report->poles)
            s.poles = report->poles->polePairs;
        if (report->pitch)
            s.pitch = report->pitch->ratio;
        if (report->halls) {
            s.hallForm = hallNumber(report->halls->wiring);
            s.hallOffset = report->halls->offset_deg * pi / 180;
            s.hallSpread = report->halls->spread_deg * pi / 180;
        }
        if (const SweepFound* f = report->first()) {
            s.word = sweepCode(f->word);
            if (f->phase)
                s.phase = std::string(1, f->phase);
            s.value = f->value;
        }
        if (passes.size() > 1 && report->offset) { // two currents part a constant torque from the offset
            const link::SweepPass& before = passes[passes.size() - 2];
            SweepExpected lower = expected;
            lower.demand *= static_cast<double>(before.current) / static_cast<double>(std::max<std::int64_t>(1, first));
            const auto other = reportSweep(before.forward, before.backward, lower);
            if (other && other->offset)
                if (const auto apart =
                        holdApart(other->offset->offset_deg, lower.demand, report->offset->offset_deg, e.demand)) {
                    s.offset = apart->offset_deg * pi / 180;
                    s.held = expected.rated > 0 ? std::optional(apart->torque / expected.rated) : std::nullopt;
                }
        }
        m_document.append(source, s);
        m_run->say(
            wordsOf(s)
            + (s.word.empty() ? QString() : QLatin1Char(' ') + sentence(sweepWords(s.word, s.phase, s.value).cure)));
        refresh();
    }

    void keep()
    {
        if (!m_last)
            return;
        const Swept s = *m_last->as<Swept>();
        m_document.edit(tr("Keep poles and halls"), {}, [&s](Axis& a) {
            a.parameters.poleAngle = s.offset;
            if (s.hallForm)
                a.parameters.hallForm = s.hallForm;
            const auto kind = fittedFeedback(a.actuator, a.wiring);
            if (kind && tellsAngle(*kind))
                a.parameters.poles = PoleSource::SavedAngle;
            else if (s.hallForm)
                a.parameters.poles = PoleSource::Halls;
        });
        m_run->say(tr("In the plan. Write it in Set, save, power-cycle; then prove it under Pole search."));
    }

    QLineEdit* m_current;
    QCheckBox *m_loadOff, *m_propped;
    SweepStrip* m_strip;
    RunPanel* m_run;
    HoldButton* m_sweep;
    QPushButton* m_keep;
    QLabel* m_words;
    const Fact* m_last = nullptr;
};
} // namespace

TurnTab* makePhasingTab(Document& d, Bench& b) { return new PhasingTab(d, b); }

} // namespace ridge::app
