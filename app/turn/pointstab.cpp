// A commanded way against a mark, point moves, and on a stepper what is lost and whether a stall is told.
#include "app/document/recording.h"
#include "app/theme/sentence.h"
#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "app/widgets/figures.h"
#include "app/widgets/flowrow.h"
#include "app/widgets/labels.h"
#include "core/drives/stepper.h"
#include "core/stations/axisplant.h"
#include "core/stations/planfacts.h"

#include "turntab.h"

#include <QComboBox>
#include <QSpinBox>
#include <QVBoxLayout>

#include <cmath>

namespace ridge::app {

namespace {
enum Tour { Single, Repeated, Stored };

class PointsTab final : public TurnTab {
public:
    PointsTab(Document& document, Bench& bench)
        : TurnTab(document, bench)
    {
        auto* layout = new QVBoxLayout(this);
        layout->setContentsMargins(8, 6, 8, 4);
        layout->addLayout(scaleRow());
        m_run = runPanel();
        layout->addWidget(m_run);
        layout->addLayout(tourRow());
        m_tour = runPanel();
        m_go = m_tour->addHold("points.go", tr("Hold to move"));
        layout->addWidget(m_tour);
        m_steps = new QWidget;
        m_steps->setLayout(stepsRow());
        layout->addWidget(m_steps);
        m_words = quiet({});
        m_words->setObjectName(QStringLiteral("points.words"));
        layout->addWidget(m_words);
        layout->addStretch();
        connectHeld(*m_go, m_bench, [this] { tour(); });
    }

    void refresh() override
    {
        const bool stepper = m_document.axis().actuator.stepper();
        m_steps->setVisible(stepper);
        QStringList words;
        for (const char* id : {"turn.scale", "turn.lost_steps", "turn.stall"})
            if (const Check* c = m_document.evaluation().check(id))
                words += QStringLiteral("%1 %2").arg(verdictMark(c->verdict), sentence(c->reason));
        setLabel(*m_words, words.join(QLatin1Char('\n')));
        if (m_way->text().isEmpty() && !m_way->hasFocus()) // one turn of the motor
            if (const double turn = travelPerTurn(m_document.lastGood()) * unrolledRadius(m_document.axis());
                turn > 0) {
                m_way->setText(shown(turn, q(Quantity::Travel), 4));
                if (m_distance->text().isEmpty())
                    m_distance->setText(shown(turn, q(Quantity::Travel), 4));
            }
    }

    void live(const LinkState&, bool idle) override
    {
        const QString refused = m_bench.refusal(Act::Jog);
        m_shift->setEnabled((idle && refused.isEmpty()) || m_bench.running());
        m_took->setEnabled(idle && m_shifted.has_value());
        if (m_bench.running())
            return;
        m_tour->setRefusal(refused);
        const Axis& a = m_document.axis();
        m_tour->setMoves(m_kind->currentIndex() == Stored
                             ? tr("%1 goes through the places of its cycle, one after the other, at the speed the "
                                  "drive holds, and back to where it "
                                  "stands now, while the button is held.")
                                   .arg(QString::fromStdString(a.name))
                             : tr("%1 goes %2 and back%3 while the button is held, at the speed the drive holds, with "
                                  "at most %4 % of rated torque.")
                                   .arg(QString::fromStdString(a.name), m_distance->text(),
                                        m_kind->currentIndex() == Repeated
                                            ? tr(", %n times", nullptr, m_rounds->value())
                                            : QString())
                                   .arg(torque() / 10));
        m_stallTold->setEnabled(idle);
        m_stallNot->setEnabled(idle);
    }

private:
    /// A commanded way against a mark: 4000 counts a second on 4000 counts a turn is one turn a second.
    QLayout* scaleRow()
    {
        auto* row = new FlowRow;
        row->addWidget(heading(tr("Commanded way against a mark")));
        m_way = shortEntry("turn.way", tr("Way to command, at the load"), tr("way"));
        m_shift = new HoldButton(tr("Hold to move that way"));
        m_shift->setObjectName(QStringLiteral("turn.shift"));
        m_mark = shortEntry("turn.mark", tr("Way of the mark, signed"), tr("the mark made"));
        m_took = button("turn.took", tr("Take what the mark made"));
        for (QWidget* w : std::initializer_list<QWidget*>{m_way, m_shift, m_mark, m_took})
            row->addWidget(w);
        connectHeld(*m_shift, m_bench, [this] { shift(); });
        connect(m_took, &QPushButton::clicked, this, &PointsTab::takeMark);
        connect(m_mark, &QLineEdit::returnPressed, this, [this] {
            if (m_took->isEnabled())
                takeMark();
        });
        return row;
    }

    QLayout* tourRow()
    {
        auto* row = new FlowRow;
        row->addWidget(heading(tr("Point moves")));
        m_kind = new QComboBox;
        m_kind->setObjectName(QStringLiteral("points.kind"));
        m_kind->setAccessibleName(tr("Which point moves"));
        m_kind->addItems({tr("once, and back"), tr("again and again"), tr("the places of the cycle")});
        m_distance = shortEntry("points.distance", tr("Way of the move, at the load"), tr("way"));
        m_rounds = new QSpinBox;
        m_rounds->setObjectName(QStringLiteral("points.rounds"));
        m_rounds->setAccessibleName(tr("How often"));
        m_rounds->findChild<QLineEdit*>()->setAccessibleName(tr("How often"));
        m_rounds->setRange(1, 1000);
        m_rounds->setValue(20);
        m_rounds->setSuffix(tr(" ×"));
        for (QWidget* w : std::initializer_list<QWidget*>{m_kind, m_distance, m_rounds})
            row->addWidget(w);
        connect(m_kind, &QComboBox::currentIndexChanged, this, [this](int kind) {
            m_distance->setVisible(kind != Stored);
            m_rounds->setVisible(kind != Single);
            live(m_bench.linkState(), !m_bench.running());
        });
        m_rounds->hide();
        return row;
    }

    QLayout* stepsRow()
    {
        auto* row = new FlowRow;
        row->addWidget(heading(tr("Lost steps and stall")));
        m_missing = shortEntry("points.missing", tr("How far the mark is off at the end"), tr("mark off by"));
        m_lost = button("points.lost", tr("Take what the mark says"));
        m_clamp = shortEntry("points.clamp", tr("Current while it was clamped, of rated"), tr("30 %"));
        m_stallTold = button("points.stallTold", tr("Clamped: the stall was told"));
        m_stallNot = button("points.stallNot", tr("Clamped: it was NOT told"));
        for (QWidget* w : std::initializer_list<QWidget*>{m_missing, m_lost, m_clamp, m_stallTold, m_stallNot})
            row->addWidget(w);
        connect(m_lost, &QPushButton::clicked, this, &PointsTab::takeLost);
        connect(m_stallTold, &QPushButton::clicked, this, [this] { takeStall(true); });
        connect(m_stallNot, &QPushButton::clicked, this, [this] { takeStall(false); });
        return row;
    }

    /// Of a stepper what it has; of a motor with feedback no more than a jog may.
    [[nodiscard]] std::int64_t torque() const { return m_document.axis().actuator.stepper() ? 1000 : jogTorque(); }

    void shift()
    {
        const auto way =
            typed(*m_way, Quantity::Travel, *m_run, rotary() ? tr("90 ° or -1 rev") : tr("10 mm or -0.5 in"));
        if (!way)
            return;
        if (const QString no = m_bench.refusal(Act::Jog); !no.isEmpty() || *way == 0) {
            m_run->say(*way == 0 ? tr("■ A way of nothing shows nothing.") : no);
            return;
        }
        const Axis& a = m_document.axis();
        const double perUnit = unitsPerTravel(a);
        m_shifted.reset();
        m_run->say(tr("Moving %1 at jog speed while the button is held; look at the mark.")
                       .arg(shown(*way, q(Quantity::Travel), 4)));
        m_bench.runs().shift({*way * perUnit, a.turn.jogSpeed * perUnit, jogTorque()},
                             [this, way = *way, whose = m_bench.whose(), perUnit,
                              quantity = q(Quantity::Travel)](const Result<double>& counted) {
                                 if (counted)
                                     m_shifted = Shifted{whose, way};
                                 m_run->say(counted
                                                ? tr("By the drive's own count it moved %1. Enter what the mark made.")
                                                      .arg(shown(*counted / perUnit, quantity, 4))
                                                : QString::fromStdString(messageFor(counted.error())));
                             });
    }

    void takeMark()
    {
        const auto seen =
            typed(*m_mark, Quantity::Travel, *m_run, rotary() ? tr("90 ° or -1 rev") : tr("10 mm or -0.5 in"));
        if (!seen || !m_shifted)
            return;
        if (m_shifted->whose != m_bench.whose()) {
            m_shifted.reset();
            m_run->say(tr("That way was moved on another drive, or before this connection: move it again."));
            return;
        }
        m_document.append(m_bench.source(), ScaleSeen{m_shifted->way, *seen});
        m_shifted.reset();
        m_mark->clear();
    }

    /// Places of the cycle against where it begins, those that lie within the travel.
    [[nodiscard]] std::vector<double> places() const
    {
        std::vector<double> out;
        double at = 0;
        for (const Segment& s : m_document.axis().cycle.segments)
            if (s.distance && *s.distance != 0) {
                at += *s.distance;
                out.push_back(at);
            }
        if (!out.empty() && std::abs(out.back()) < 1e-9)
            out.pop_back();
        return out;
    }

    void tour()
    {
        if (!m_tour->refusal().isEmpty())
            return;
        const Axis& a = m_document.axis();
        const double perUnit = unitsPerTravel(a);
        link::PointsOrder order;
        order.torqueLimit = torque();
        if (m_kind->currentIndex() == Stored) {
            for (const double at : places())
                order.points.push_back(at * perUnit);
            order.rounds = m_rounds->value();
        } else {
            const auto way = typed(*m_distance, Quantity::Travel, *m_tour, rotary() ? tr("90 °") : tr("10 mm"));
            if (!way)
                return;
            order.points = {*way * perUnit};
            order.rounds = m_kind->currentIndex() == Repeated ? m_rounds->value() : 1;
        }
        if (order.points.empty() || order.points.front() == 0) {
            m_tour->say(tr("■ A way of nothing shows nothing."));
            return;
        }
        const FactSource source = m_bench.source();
        m_tour->say(tr("Moving; let go to stop."));
        m_bench.runs().points(
            order,
            [this, source, perUnit, quantity = q(Quantity::Travel)](const Result<link::PointsSeen>& seen) {
                m_tour->rest();
                if (!seen)
                    return failed(*m_tour, source, "S20", seen.error());
                m_rounded = seen->rounds;
                m_roundedBy = source;
                m_tour->say(
                    tr("%n round(s); by the drive's own count it stands %1 from where it began.", nullptr, seen->rounds)
                        .arg(shown(seen->left / perUnit, quantity, 3)));
                if (seen->lostSteps && m_document.axis().actuator.stepper()
                    && m_document.axis().actuator.stepper()->stepping.encoder != StepperEncoder::None)
                    m_document.append(
                        source, StepsLost{static_cast<double>(seen->rounds), 0, *seen->lostSteps, "by its encoder"});
            },
            [this](int done, int all) { m_tour->progress(done, all); });
    }

    /// Steps are lost in fours: the rotor falls into another well of the field.
    void takeLost()
    {
        const auto off = typed(*m_missing, Quantity::Travel, *m_tour, rotary() ? tr("3.6 °") : tr("0.1 mm"));
        const StepperMotor* m = m_document.axis().actuator.stepperMotor();
        const double turn = travelPerTurn(m_document.lastGood());
        if (!off || !m || !(turn > 0))
            return;
        if (m_rounded == 0) {
            m_tour->say(tr("Run it out and back first, again and again."));
            return;
        }
        const double angle = *off / turn; // turns
        StepsLost lost{static_cast<double>(m_rounded), *off, 4 * std::round(angle * m->rotorTeeth), "against a mark"};
        m_document.append(m_roundedBy, lost);
        m_missing->clear();
    }

    void takeStall(bool told)
    {
        const auto share = typed(*m_clamp, Quantity::Share, *m_tour, tr("30 %"));
        if (!share)
            return;
        m_document.append(m_bench.source(), StallTried{*share, told});
    }

    RunPanel *m_run, *m_tour;
    QLineEdit *m_way, *m_mark, *m_distance, *m_missing, *m_clamp;
    HoldButton *m_shift, *m_go;
    QPushButton *m_took, *m_lost, *m_stallTold, *m_stallNot;
    QComboBox* m_kind;
    QSpinBox* m_rounds;
    QWidget* m_steps;
    QLabel* m_words;
    struct Shifted {
        std::string whose; ///< Bench::whose()
        double way = 0;    ///< commanded
    };
    std::optional<Shifted> m_shifted;
    int m_rounded = 0;
    FactSource m_roundedBy;
};
} // namespace

TurnTab* makePointsTab(Document& d, Bench& b) { return new PointsTab(d, b); }

} // namespace ridge::app
