// Both ends, each switch alone, and homing again and again.
#include "app/theme/sentence.h"
#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "app/widgets/figures.h"
#include "app/widgets/labels.h"
#include "core/stations/axisplant.h"
#include "core/stations/command.h"
#include "core/stations/planfacts.h"
#include "core/stations/turn.h"

#include "turntab.h"

#include <QTableWidget>
#include <QVBoxLayout>

#include <cmath>

namespace ridge::app {

namespace {
constexpr double softWindow = 0.05; // that close to a soft limit, in seconds of jog speed, our choice

class TravelTab final : public TurnTab {
public:
    TravelTab(Document& document, Bench& bench)
        : TurnTab(document, bench)
    {
        auto* layout = new QVBoxLayout(this);
        layout->setContentsMargins(8, 6, 8, 4);
        layout->addWidget(heading(tr("Ends and limit switches, each alone")));
        m_ends = runPanel();
        m_low = m_ends->addHold("travel.low", tr("◀ Hold to creep to the low end"));
        m_high = m_ends->addHold("travel.high", tr("Hold to creep to the high end ▶"));
        m_take = button("travel.take", tr("Keep as measured travel"));
        m_ends->addWidget(m_take);
        layout->addWidget(m_ends);
        layout->addWidget(heading(tr("Homing, five times from different places")));
        m_homing = runPanel();
        m_home = m_homing->addHold("travel.home", tr("Hold to home"));
        layout->addWidget(m_homing);
        m_table = listTable("homings", tr("Homings"),
                            {tr("No."), tr("Zero against the first"), tr("Edge to index"), tr("From")});
        m_table->setColumnWidth(0, 44);
        m_table->setColumnWidth(1, 170);
        m_table->setColumnWidth(2, 130);
        layout->addWidget(m_table, 1);
        m_words = quiet({});
        m_words->setObjectName(QStringLiteral("travel.words"));
        layout->addWidget(m_words);
        connectHeld(*m_low, m_bench, [this] { creep(-1); });
        connectHeld(*m_high, m_bench, [this] { creep(1); });
        connectHeld(*m_home, m_bench, [this] { home(); });
        connect(m_take, &QPushButton::clicked, this, &TravelTab::keepTravel);
    }

    void refresh() override
    {
        const HomingRun run = homingRun(m_document.evidence());
        const Quantity way = q(Quantity::Travel);
        m_table->setRowCount(static_cast<int>(run.homings.size()));
        int row = 0;
        for (const Fact* f : run.homings) {
            const Homed& h = *f->as<Homed>();
            setCell(*m_table, row, 0, QString::number(row + 1), theme().soft);
            setCell(*m_table, row, 1, shown(h.zero - run.homings.front()->as<Homed>()->zero, way, 3));
            setCell(*m_table, row, 2, h.edgeToIndex ? shown(*h.edgeToIndex, way, 3) : QStringLiteral("–"));
            setCell(*m_table, row, 3, shown(h.from - h.zero, way, 3), theme().soft);
            ++row;
        }
        QStringList words;
        for (const char* id : {"turn.limit_low", "turn.limit_high", "turn.homing", "move.homing"})
            if (const Check* c = m_document.evaluation().check(id))
                words += QStringLiteral("%1 %2").arg(verdictMark(c->verdict), sentence(c->reason));
        setLabel(*m_words, words.join(QLatin1Char('\n')));
        m_take->setEnabled(m_lowAt && m_highAt && m_lowAt->first == m_bench.whose()
                           && m_highAt->first == m_bench.whose());
    }

    void live(const LinkState&, bool) override
    {
        if (m_bench.running())
            return;
        const Axis& a = m_document.axis();
        QString refused = m_bench.refusal(Act::Jog);
        if (refused.isEmpty() && a.mechanism.endless())
            refused = tr("The axis runs on without an end.");
        m_ends->setRefusal(refused);
        m_ends->setMoves(
            tr("%1 creeps at %2, a quarter of the jog speed, with at most %3 % of rated torque onto the switch, is "
               "pushed on "
               "it for a moment, and leaves it the other way. Without a switch it stands at the hard end; then it is "
               "the current that holds it there.")
                .arg(QString::fromStdString(a.name), shown(creepSpeed(), q(Quantity::TravelSpeed), 3))
                .arg(a.turn.jogTorqueShare * 100, 0, 'f', 0));
        QString noHome = m_bench.refusal(Act::Jog);
        if (noHome.isEmpty() && methodNumber(a.homing.method) == 0)
            noHome = tr("Homing is not planned, or none is (Move, Homing).");
        if (noHome.isEmpty() && !m_bench.session().has({0x6098, 0}))
            noHome = tr("This drive does not home by itself: let the controller do it and enter it at step S25.");
        m_homing->setRefusal(noHome);
        m_homing->setMoves(tr("By the drive, %1, with the speeds of the plan. Move it elsewhere between two homings.")
                               .arg(said(wordOf(a.homing.method))));
    }

private:
    [[nodiscard]] double creepSpeed() const { return m_document.axis().turn.jogSpeed / 4; }

    void creep(int way)
    {
        if (!m_ends->refusal().isEmpty())
            return;
        const Axis& a = m_document.axis();
        const double perUnit = unitsPerTravel(a);
        const double travel = a.load.travelLow && a.load.travelHigh ? *a.load.travelHigh - *a.load.travelLow : 0;
        link::LimitOrder order{way * creepSpeed() * perUnit, jogTorque(),
                               (travel > 0 ? 1.5 * travel : 100 * creepSpeed()) * perUnit};
        const FactSource source = m_bench.source();
        m_ends->say(way < 0 ? tr("Creeping to the low end.") : tr("Creeping to the high end."));
        m_bench.runs().toLimit(order, [this, source, way, perUnit,
                                       whose = m_bench.whose()](const Result<link::LimitSeen>& seen) {
            if (!seen)
                return failed(*m_ends, source, "S24", seen.error());
            const double at = static_cast<double>(seen->position) / perUnit;
            (way < 0 ? m_lowAt : m_highAt) = {whose, at};
            if (!seen->hard) {
                LimitTried tried{way < 0 ? "low" : "high", way * creepSpeed(), at, seen->stopped, seen->left};
                m_document.append(source, tried);
            }
            const QString where = shown(at, q(Quantity::Travel), 5);
            const auto& soft = way < 0 ? m_document.axis().travel.softLow : m_document.axis().travel.softHigh;
            if (seen->hard && soft && std::abs(at - *soft) < softWindow * std::abs(m_document.axis().turn.jogSpeed))
                return m_ends->say(tr("■ It stands at its soft limit at %1, in front of the switch: try the switches "
                                      "before homing, or with wider soft limits.")
                                       .arg(where));
            m_ends->say(seen->hard       ? tr("It stands at a hard end at %1; no switch acted.").arg(where)
                        : !seen->stopped ? tr("■ The switch acted at %1 and the drive did not stop on it.").arg(where)
                        : !seen->left    ? tr("■ It stopped at %1 and did not leave the other way alone.").arg(where)
                                         : tr("● It stopped at %1 and left the other way.").arg(where));
            refresh();
        });
    }

    /// The travel is the difference of the counts; it stands beside the plan.
    void keepTravel()
    {
        if (!m_lowAt || !m_highAt)
            return;
        AxisMeasured measured;
        measured.low = m_lowAt->second;
        measured.high = m_highAt->second;
        measured.turning = rotary();
        measured.how = "crept to both ends";
        FactSource source = m_bench.source();
        m_document.append(source, measured);
        m_ends->say(tr("In the record: %1 of travel, beside the plan in Load.")
                        .arg(shown(*measured.high - *measured.low, q(Quantity::Travel), 5)));
    }

    void home()
    {
        if (!m_homing->refusal().isEmpty())
            return;
        const FactSource source = m_bench.source();
        const double each = travelPerTurn(m_document.lastGood()) * unrolledRadius(m_document.axis())
                            / std::max(1.0, countsOfTurn(m_document.axis()));
        m_homing->say(tr("Homing; let go to stop."));
        m_bench.runs().home(jogTorque(), [this, source, each](const Result<link::HomeSeen>& seen) {
            if (!seen)
                return failed(*m_homing, source, "S25", seen.error());
            Homed h{seen->zero * each, {}, seen->from * each};
            if (seen->edgeToIndex)
                h.edgeToIndex = *seen->edgeToIndex * each;
            m_document.append(source, h);
            const auto run = homingRun(m_document.evidence());
            m_homing->say(tr("Homed, %1 of five.").arg(run.homings.size()));
            refresh();
        });
    }

    RunPanel *m_ends, *m_homing;
    HoldButton *m_low, *m_high, *m_home;
    QPushButton* m_take;
    QTableWidget* m_table;
    QLabel* m_words;
    std::optional<std::pair<std::string, double>> m_lowAt, m_highAt; ///< whose, where
};
} // namespace

TurnTab* makeTravelTab(Document& d, Bench& b) { return new TravelTab(d, b); }

} // namespace ridge::app
