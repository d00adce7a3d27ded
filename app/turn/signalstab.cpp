// The analog reference from end to end, and both encoders over one way.
#include "app/theme/sentence.h"
#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "app/widgets/figures.h"
#include "app/widgets/flowrow.h"
#include "app/widgets/labels.h"
#include "app/widgets/plotview.h"
#include "core/mechanics/stage.h"
#include "core/stations/axisplant.h"
#include "core/stations/planfacts.h"
#include "core/units/print.h"

#include "turntab.h"

#include <QComboBox>
#include <QVBoxLayout>

#include <algorithm>
#include <cmath>

namespace ridge::app {

namespace {

class SignalsTab final : public TurnTab {
public:
    SignalsTab(Document& document, Bench& bench)
        : TurnTab(document, bench)
    {
        auto* layout = new QVBoxLayout(this);
        layout->setContentsMargins(8, 6, 8, 4);
        m_analog = new QWidget;
        auto* analog = new QVBoxLayout(m_analog);
        analog->setContentsMargins(0, 0, 0, 0);
        auto* row = new FlowRow;
        m_tacho = new QComboBox;
        m_tacho->setObjectName(QStringLiteral("analog.tacho"));
        m_tacho->setAccessibleName(tr("Sign of the tachometer"));
        m_tacho->addItems({tr("no tachometer"), tr("tachometer: same sign"), tr("tachometer: opposite sign")});
        row->addWidget(heading(tr("Analog reference, both ends and slowly through the middle")));
        row->addWidget(m_tacho);
        analog->addLayout(row);
        m_follow = runPanel();
        m_hold = m_follow->addHold("analog.follow", tr("Hold: the axis follows the reference"));
        analog->addWidget(m_follow);
        m_plot = new PlotView({tr("speed of the load")}, tr("reference, V"));
        m_plot->setObjectName(QStringLiteral("analog.plot"));
        m_plot->setAccessibleName(tr("Speed over the reference"));
        m_plot->setMinimumHeight(130);
        analog->addWidget(m_plot, 1);
        layout->addWidget(m_analog, 1);
        m_encoders = new QWidget;
        auto* encoders = new QVBoxLayout(m_encoders);
        encoders->setContentsMargins(0, 0, 0, 0);
        auto* way = new FlowRow;
        m_way = shortEntry("encoders.way", tr("Way for the comparison, at the load"), tr("10 mm"));
        way->addWidget(heading(tr("Both encoders over one way")));
        way->addWidget(m_way);
        encoders->addLayout(way);
        m_compare = runPanel();
        m_both = m_compare->addHold("encoders.run", tr("Hold to compare"));
        encoders->addWidget(m_compare);
        layout->addWidget(m_encoders);
        m_words = quiet({});
        m_words->setObjectName(QStringLiteral("signals.words"));
        layout->addWidget(m_words);
        layout->addStretch();
        connectHeld(*m_hold, m_bench, [this] { follow(); });
        connectHeld(*m_both, m_bench, [this] { compare(); });
    }

    [[nodiscard]] bool applies() const override { return isAnalog() || m_document.axis().io.secondEncoder; }

    void refresh() override
    {
        m_analog->setVisible(isAnalog());
        m_encoders->setVisible(m_document.axis().io.secondEncoder);
        QStringList words;
        for (const char* id : {"turn.analog", "turn.encoders"})
            if (const Check* c = m_document.evaluation().check(id))
                words += QStringLiteral("%1 %2").arg(verdictMark(c->verdict), sentence(c->reason));
        setLabel(*m_words, words.join(QLatin1Char('\n')));
        if (m_way->text().isEmpty() && !m_way->hasFocus())
            if (const double turn = travelPerTurn(m_document.lastGood()); turn > 0)
                m_way->setText(shown(turn / 2, q(Quantity::Travel), 3));
    }

    void live(const LinkState&, bool) override
    {
        if (m_bench.running())
            return;
        QString refused = m_bench.refusal(Act::Jog);
        m_compare->setRefusal(refused.isEmpty() && !m_bench.session().has({0x2029, 1})
                                  ? tr("This drive does not tell a second encoder: read both off and enter them.")
                                  : refused);
        m_compare->setMoves(
            tr("%1 moves that way on the motor's encoder alone, at jog speed; the outer loop stays open.")
                .arg(QString::fromStdString(m_document.axis().name)));
        if (refused.isEmpty() && !m_bench.session().has({0x2038, 1}))
            refused = tr("This drive does not tell its analog input: measure it at its terminals and note the speeds.");
        m_follow->setRefusal(refused);
        m_follow->setMoves(tr("Torque is on and %1 follows the reference as the controller gives it, up to %2. Begin "
                              "at 0 V; letting go "
                              "ramps it down. Turn the reference to both ends, then slowly through the middle.")
                               .arg(QString::fromStdString(m_document.axis().name),
                                    m_document.axis().command.fullSpeed
                                        ? shown(*m_document.axis().command.fullSpeed, q(Quantity::TravelSpeed), 3)
                                        : tr("full speed")));
    }

private:
    [[nodiscard]] bool isAnalog() const
    {
        const CommandSource s = m_document.axis().command.source;
        return s == CommandSource::AnalogSpeed || s == CommandSource::AnalogTorque;
    }

    void draw(const std::vector<link::AnalogSample>& samples)
    {
        QVector<double> x, y;
        const double perUnit = unitsPerTravel(m_document.axis());
        for (const auto& s : samples) {
            x.push_back(s.volts);
            y.push_back(toDisplay(s.speed / perUnit, q(Quantity::TravelSpeed), unitSystem()));
        }
        m_plot->setCurves({{.x = x, .y = y, .ordered = false}});
    }

    void follow()
    {
        if (!m_follow->refusal().isEmpty())
            return;
        const FactSource source = m_bench.source();
        const double perUnit = unitsPerTravel(m_document.axis());
        m_follow->say(tr("Following; let go to stop."));
        m_bench.runs().followAnalog(
            jogTorque(),
            [this, perUnit](const link::AnalogSample& s) {
                m_follow->say(
                    tr("%1 V · %2").arg(s.volts, 0, 'f', 2).arg(shown(s.speed / perUnit, q(Quantity::TravelSpeed), 3)));
            },
            [this, source, perUnit](const Result<std::vector<link::AnalogSample>>& samples) {
                if (!samples)
                    return failed(*m_follow, source, "S20", samples.error());
                took(source, perUnit, *samples);
            });
    }

    /// A straight line through what was seen: slope, speed at 0 V, volts at which it stands.
    void took(const FactSource& source, double perUnit, const std::vector<link::AnalogSample>& samples)
    {
        if (samples.size() < 10)
            return m_follow->say(tr("Too short: hold it while the reference goes to both ends."));
        AnalogSwept a;
        double n = 0, sx = 0, sy = 0, sxx = 0, sxy = 0;
        for (const auto& s : samples) {
            const double v = s.speed / perUnit;
            a.lowest = std::min(a.lowest, s.volts);
            a.highest = std::max(a.highest, s.volts);
            n += 1, sx += s.volts, sy += v, sxx += s.volts * s.volts, sxy += s.volts * v;
            a.samples += QStringLiteral("%1 %2\n").arg(s.volts, 0, 'f', 3).arg(v, 0, 'g', 6).toStdString();
        }
        const double spread = n * sxx - sx * sx;
        a.slope = spread > 1e-9 ? (n * sxy - sx * sy) / spread : 0;
        a.atZero = (sy - a.slope * sx) / n;
        a.offset = std::abs(a.slope) > 0 ? -a.atZero / a.slope : 0;
        a.tachometer = m_tacho->currentIndex() == 1 ? "agrees" : m_tacho->currentIndex() == 2 ? "opposite" : "";
        m_document.append(source, a);
        draw(samples);
        const double turns = travelPerTurn(m_document.lastGood());
        m_follow->say(tr("From %1 V to %2 V; it stands at %3 V, at 0 V it drifts %4 turns a minute.")
                          .arg(a.lowest, 0, 'f', 1)
                          .arg(a.highest, 0, 'f', 1)
                          .arg(a.offset, 0, 'f', 3)
                          .arg(turns > 0 ? a.atZero / turns * 60 : 0, 0, 'f', 2));
        refresh();
    }

    void compare()
    {
        if (!m_compare->refusal().isEmpty())
            return;
        const auto way = typed(*m_way, Quantity::Travel, *m_compare, rotary() ? tr("90 °") : tr("10 mm"));
        if (!way || *way == 0)
            return;
        const Axis& a = m_document.axis();
        const double perUnit = unitsPerTravel(a);
        const double each = travelPerTurn(m_document.lastGood()) * unrolledRadius(a) / std::max(1.0, countsOfTurn(a));
        const FactSource source = m_bench.source();
        m_bench.runs().compareEncoders(
            {*way * perUnit, a.turn.jogSpeed * perUnit, jogTorque()},
            [this, source, each](const Result<link::EncodersSeen>& seen) {
                if (!seen)
                    return failed(*m_compare, source, "S20", seen.error());
                const EncodersCompared e{seen->motor * each, seen->load * each};
                m_document.append(source, e);
                m_compare->say(tr("%1 by the motor's encoder, %2 by the load's.")
                                   .arg(shown(e.motor, q(Quantity::Travel), 4), shown(e.load, q(Quantity::Travel), 4)));
                refresh();
            });
    }

    QWidget *m_analog, *m_encoders;
    QComboBox* m_tacho;
    RunPanel *m_follow, *m_compare;
    HoldButton *m_hold, *m_both;
    PlotView* m_plot;
    QLineEdit* m_way;
    QLabel* m_words;
};
} // namespace

TurnTab* makeSignalsTab(Document& d, Bench& b) { return new SignalsTab(d, b); }

} // namespace ridge::app
