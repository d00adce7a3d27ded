#include "app/instruments/anglestrip.h"
#include "app/instruments/ladderview.h"
#include "app/theme/theme.h"
#include "app/widgets/figures.h"
#include "app/widgets/forms.h"

#include "station.h"

#include <QVBoxLayout>

#include <cmath>

namespace ridge::app {

namespace {

class TurnPage final : public StationPage {
public:
    TurnPage(Document& document, Bench& bench)
        : StationPage(document, bench)
    {
        auto* layout = new QVBoxLayout(this);
        layout->setContentsMargins(0, 6, 0, 6);
        layout->addWidget(caution(tr("Area closed, emergency stop in reach, vertical load propped or lowered. The axis "
                                     "moves only while the button is held.")));
        layout->addWidget(heading(tr("Enable chain")));
        m_ladder = new LadderView;
        layout->addWidget(m_ladder, 5);
        layout->addWidget(heading(tr("One turn by hand, forward, without torque")));
        m_strip = new AngleStrip;
        layout->addWidget(m_strip, 3);
        layout->addLayout(handRow());
        layout->addWidget(heading(tr("First jog")));
        layout->addLayout(jogRow());
        m_words = quiet({});
        layout->addWidget(m_words);
        m_formHolder = new QVBoxLayout;
        layout->addLayout(m_formHolder);
        connect(&m_bench, &Bench::changed, this, &TurnPage::live);
    }

    [[nodiscard]] bool busy() const override { return m_bench.procedures().running(); }

    void refresh() override
    {
        if (m_built != axisKey()) {
            m_built = axisKey();
            m_moved = 0;
            delete m_form;
            m_form = new FieldForm(axisTarget(m_document, [](Axis& a) -> void* { return &a.turn; }),
                                   QStringLiteral("turn"), turnFields().subspan(3), 2);
            m_formHolder->addWidget(m_form);
        }
        m_form->refresh();
        live();
    }

private:
    QHBoxLayout* handRow()
    {
        auto* row = new QHBoxLayout;
        m_begin = button("turn.begin", tr("Mark the start"));
        m_hand = button("turn.hand", tr("Turn once (simulated hand)"));
        m_end = button("turn.end", tr("Take the count"));
        for (QPushButton* b : {m_begin, m_hand, m_end})
            row->addWidget(b);
        row->addStretch();
        connect(m_begin, &QPushButton::clicked, this, [this] {
            counts([this](double value) {
                m_start = value;
                m_words->setText(
                    tr("Start marked. Turn the shaft by hand exactly once, forward, then take the count."));
            });
        });
        connect(m_hand, &QPushButton::clicked, this, [this] { m_bench.session().write({0x2F00, 9}, 1000); });
        connect(m_end, &QPushButton::clicked, this, [this] {
            counts([this](double value) {
                const double turned = std::round(value - m_start);
                m_document.edit(tr("Count one turn"), {}, [&](Axis& a) { a.turn.counted = turned; });
                m_document.log(QStringLiteral("measurement"),
                               tr("One hand turn: %1 counts%2").arg(turned, 0, 'f', 0).arg(mark()));
            });
        });
        return row;
    }

    QHBoxLayout* jogRow()
    {
        auto* row = new QHBoxLayout;
        m_minus = button("turn.minus", tr("◀ Hold to jog −"));
        m_plus = button("turn.plus", tr("Hold to jog + ▶"));
        m_agree = button("turn.agree", tr("It moved as planned"));
        m_wrong = button("turn.wrong", tr("It moved the wrong way"));
        for (QPushButton* b : {m_minus, m_plus, m_agree, m_wrong})
            row->addWidget(b);
        row->addStretch();
        for (const auto& [b, way] : {std::pair{m_plus, 1}, std::pair{m_minus, -1}}) {
            connect(b, &QPushButton::pressed, this, [this, way = way] { jog(way); });
            connect(b, &QPushButton::released, this, [this] { m_bench.procedures().release(); });
        }
        connect(m_agree, &QPushButton::clicked, this, [this] { direction("as planned"); });
        connect(m_wrong, &QPushButton::clicked, this, [this] { direction("reversed"); });
        return row;
    }

    [[nodiscard]] QString mark() const { return m_bench.session().simulated() ? tr(" (simulated)") : QString(); }

    void live()
    {
        if (!m_document.hasAxis())
            return;
        const auto& session = m_bench.session();
        const auto& s = session.snapshot();
        const bool on = session.connected(), dataGood = m_document.axis().parameters.verified;
        const auto known = [&](bool value) { return on ? std::optional(value) : std::nullopt; };
        m_ladder->setRungs({{tr("control supply, drive answers"), on, tr("start or connect the drive in Set")},
                            {tr("torque-off channel A high"), known(s.inputs & 1 << 16),
                             tr("chain of stops and guards; measure the input")},
                            {tr("torque-off channel B high"), known(s.inputs & 1 << 17),
                             tr("chain of stops and guards; one channel low for 10 s is latched")},
                            {tr("no latched fault"), known(s.error == 0),
                             tr("read, record, remove the cause, then reset (%1)").arg(s.error, 4, 16)},
                            {tr("motor data written and read back"), dataGood, tr("write the planned values in Set")},
                            {tr("bus above under-voltage"), known(s.busMillivolt > 1000 * underVoltage()),
                             tr("supply, fuse, pre-charge")},
                            {tr("interlock closed"), known(s.inputs & 1 << 3), tr("guard or key switch")}});
        const auto& motor = m_document.axis().choice.motor;
        m_strip->setCounts(motor ? motor->countsPerTurn : 0, m_document.axis().turn.counted);
        const bool ready = on && dataGood && s.error == 0;
        for (QPushButton* b : {m_begin, m_end, m_hand})
            b->setEnabled(on && !busy());
        m_hand->setVisible(!on || session.simulated());
        m_plus->setEnabled(ready);
        m_minus->setEnabled(ready);
        if (busy())
            return;
        m_words->setText(
            tr("%1. Jog at %2 with at most %3 % of rated torque. %4")
                .arg(m_bench.words(), shown(m_document.axis().turn.jogSpeed,
                                            resolve(Quantity::TravelSpeed, m_document.axis().mechanism.rotary())))
                .arg(m_document.axis().turn.jogTorqueShare * 100, 0, 'f', 0)
                .arg(m_ladder->isClosed() ? tr("Every rung is closed.") : tr("Open: %1").arg(m_ladder->openRung())));
    }

    [[nodiscard]] std::int64_t underVoltage() const
    {
        return m_document.axis().choice.drive ? static_cast<std::int64_t>(m_document.axis().choice.drive->underVoltage)
                                              : 0;
    }

    void counts(std::function<void(double)> done)
    {
        m_bench.procedures().counts([this, done = std::move(done)](const Result<double>& value) {
            if (value)
                done(*value);
            else
                m_words->setText(QString::fromStdString(messageFor(value.error())));
        });
    }

    void jog(int way)
    {
        const Axis& a = m_document.axis();
        link::Procedures::JogOrder order;
        order.speed = way * a.turn.jogSpeed * unitsPerTravel(a);
        order.torqueLimit = static_cast<std::int64_t>(a.turn.jogTorqueShare * 1000);
        for (const PlannedParameter& p : m_document.evaluation().parameters) // the jog limit goes out with the jog
            if (p.key == ObjectKey{0x60E0, 0} || p.key == ObjectKey{0x60E1, 0})
                order.restore[p.key] = p.value;
        m_words->setText(m_bench.session().simulated() ? tr("Jogging the SIMULATED axis; let go to stop.")
                                                       : tr("Jogging; let go to stop."));
        m_bench.procedures().jog(order, [this, way](const Result<void>& done) {
            live();
            if (!done) {
                m_words->setText(QString::fromStdString(messageFor(done.error())) + QLatin1Char(' ')
                                 + (m_ladder->isClosed() ? QString() : tr("Open: %1").arg(m_ladder->openRung())));
                return;
            }
            m_moved |= way > 0 ? 1 : 2;
            if (m_moved != 3 || m_document.axis().turn.jogged)
                return;
            m_document.edit(tr("Jogged both ways"), {}, [](Axis& axis) { axis.turn.jogged = true; });
            m_document.log(QStringLiteral("measurement"),
                           tr("Jogged both ways with limited speed and torque%1").arg(mark()));
        });
    }

    void direction(const char* word)
    {
        m_document.edit(tr("Direction %1").arg(said(word)), {}, [&](Axis& a) {
            a.turn.direction = word;
            if (a.turn.direction == "reversed")
                a.parameters.positiveIsNegative = !a.parameters.positiveIsNegative;
        });
    }

    LadderView* m_ladder;
    AngleStrip* m_strip;
    QPushButton *m_begin, *m_hand, *m_end, *m_minus, *m_plus, *m_agree, *m_wrong;
    QLabel* m_words;
    QVBoxLayout* m_formHolder;
    FieldForm* m_form = nullptr;
    std::string m_built;
    double m_start = 0;
    int m_moved = 0;
};

} // namespace

StationPage* makeTurn(Document& d, Bench& b) { return new TurnPage(d, b); }

} // namespace ridge::app
