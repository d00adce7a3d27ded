#include "app/instruments/anglestrip.h"
#include "app/instruments/ladderview.h"
#include "app/theme/sentence.h"
#include "app/theme/theme.h"
#include "app/widgets/figures.h"
#include "app/widgets/flowrow.h"
#include "app/widgets/forms.h"
#include "app/widgets/labels.h"
#include "app/widgets/runpanel.h"
#include "core/objects/enable.h"
#include "core/objects/faults.h"
#include "core/stations/axisplant.h"
#include "core/stations/planfacts.h"
#include "core/units/parse.h"

#include "station.h"
#include "turnsdialog.h"

#include <QCheckBox>
#include <QLineEdit>
#include <QScrollArea>
#include <QTimer>
#include <QVBoxLayout>

#include <algorithm>
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
        m_halves = new QBoxLayout(QBoxLayout::TopToBottom);
        m_halves->addLayout(chainHalf(), 3);
        m_halves->addWidget(motionHalf(), 5);
        layout->addLayout(m_halves, 1);
        connect(&m_bench, &Bench::changed, this, &TurnPage::live);
        auto* ages = new QTimer(this); // what is shown grows old without any news
        connect(ages, &QTimer::timeout, this, [this] {
            if (isVisible())
                live();
        });
        ages->start(500);
    }

    [[nodiscard]] bool busy() const override { return m_bench.running(); }

    void refresh() override
    {
        if (m_built != axisKey()) {
            m_built = axisKey();
            delete m_form;
            m_form = new FieldForm(axisTarget(m_document, [](Axis& a) -> void* { return &a.turn; }),
                                   QStringLiteral("turn"), turnFields(), 2);
            m_formHolder->addWidget(m_form);
        }
        m_form->refresh();
        const auto& devices = m_document.evaluation().wire.plan().devices;
        m_turns->setVisible(
            std::ranges::any_of(devices, [](const WireDevice& d) { return d.kind == "encoder" && d.flag("battery"); }));
        live();
    }

protected:
    void resizeEvent(QResizeEvent* event) override
    {
        StationPage::resizeEvent(event);
        m_halves->setDirection(width() < besideEachOther ? QBoxLayout::TopToBottom : QBoxLayout::LeftToRight);
        m_halves->setSpacing(width() < besideEachOther ? 4 : 18);
    }

private:
    static constexpr int besideEachOther = 1200; ///< pixels of width from which the two halves have room for it

    QVBoxLayout* chainHalf()
    {
        auto* half = new QVBoxLayout;
        auto* head = new QHBoxLayout;
        m_age = quiet({});
        m_age->setObjectName(QStringLiteral("turn.age"));
        m_age->setWordWrap(false);
        head->addWidget(heading(tr("Enable chain, top to bottom")));
        head->addStretch();
        head->addWidget(m_age);
        half->addLayout(head);
        m_ladder = new LadderView;
        half->addWidget(m_ladder, 1);
        half->addLayout(askRow());
        m_fault = quiet({});
        m_fault->setObjectName(QStringLiteral("turn.fault"));
        half->addWidget(m_fault);
        return half;
    }

    /// In a small window it is rolled.
    QScrollArea* motionHalf()
    {
        auto* scroll = new QScrollArea;
        scroll->setWidgetResizable(true);
        scroll->setFrameShape(QFrame::NoFrame);
        scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
        auto* inner = new QWidget;
        auto* half = new QVBoxLayout(inner);
        half->setContentsMargins(0, 0, 0, 0);
        half->addLayout(handRow());
        m_strip = new AngleStrip;
        half->addWidget(m_strip, 1);
        half->addLayout(feelRow());
        auto* jog = new QHBoxLayout;
        jog->addWidget(heading(tr("First jog")));
        jog->addStretch();
        m_turns = button("turn.turns", tr("Turns lost …"));
        m_turns->setToolTip(tr("The battery of the encoder was empty: its turns are cleared step by step."));
        connect(m_turns, &QPushButton::clicked, this, [this] { TurnsDialog(m_document, this).exec(); });
        jog->addWidget(m_turns);
        half->addLayout(jog);
        half->addWidget(jogPanel());
        half->addLayout(scaleRow());
        m_formHolder = new QVBoxLayout;
        half->addLayout(m_formHolder);
        scroll->setWidget(inner);
        return scroll;
    }

    QHBoxLayout* handRow()
    {
        auto* row = new QHBoxLayout;
        row->addWidget(heading(tr("One turn by hand, forward")));
        row->addStretch();
        m_begin = button("turn.begin", tr("Mark the start"));
        m_hand = button("turn.hand", tr("Turn once (simulated hand)"));
        m_end = button("turn.end", tr("Take the count"));
        for (QPushButton* b : {m_begin, m_hand, m_end})
            row->addWidget(b);
        connect(m_begin, &QPushButton::clicked, this, [this] {
            counts([this, whose = drive()](double value) {
                m_start = Start{whose, value};
                m_run->say(tr("Start marked. Turn the shaft by hand exactly once, forward, then take the count."));
                live();
            });
        });
        connect(m_hand, &QPushButton::clicked, this, [this] { m_bench.session().write({0x2F00, 9}, 1000); });
        connect(m_end, &QPushButton::clicked, this, [this] {
            const FactSource source = m_bench.source();
            const double expected =
                m_document.axis().actuator.motor() ? m_document.axis().actuator.motor()->countsPerTurn : 0;
            counts([this, source, expected, from = m_start](double value) {
                if (from)
                    m_document.append(source, HandTurned{std::round(value - from->counts), expected});
                m_start.reset();
                live();
            });
        });
        return row;
    }

    /// The first proof that enabling works: free without power, stiff under torque.
    QLayout* feelRow()
    {
        auto* row = new FlowRow;
        row->addWidget(heading(tr("Feel it by hand")));
        m_free = button("turn.free", tr("● Free without power"));
        m_notFree = button("turn.notFree", tr("■ Not free"));
        m_still = new HoldButton(tr("Hold still under torque"));
        m_still->setObjectName(QStringLiteral("turn.still"));
        m_stiff = button("turn.stiff", tr("● Stiff"));
        m_soft = button("turn.soft", tr("■ Gives way"));
        for (QWidget* w : std::initializer_list<QWidget*>{m_free, m_notFree, m_still, m_stiff, m_soft})
            row->addWidget(w);
        const auto felt = [this](bool powered, bool good) {
            m_document.append(m_bench.source(), ShaftFelt{powered, good});
            m_stood = false;
            live();
        };
        connect(m_free, &QPushButton::clicked, this, [felt] { felt(false, true); });
        connect(m_notFree, &QPushButton::clicked, this, [felt] { felt(false, false); });
        connect(m_stiff, &QPushButton::clicked, this, [felt] { felt(true, true); });
        connect(m_soft, &QPushButton::clicked, this, [felt] { felt(true, false); });
        runWhileHeld(*m_still, [this] { standStill(); });
        return row;
    }

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
        runWhileHeld(*m_shift, [this] { shift(); });
        connect(m_took, &QPushButton::clicked, this, &TurnPage::takeMark);
        connect(m_mark, &QLineEdit::returnPressed, this, [this] {
            if (m_took->isEnabled())
                takeMark();
        });
        return row;
    }

    RunPanel* jogPanel()
    {
        m_run = new RunPanel;
        m_minus = m_run->addHold("turn.minus", tr("◀ Hold to jog −"));
        m_plus = m_run->addHold("turn.plus", tr("Hold to jog + ▶"));
        m_agree = button("turn.agree", tr("It moved as planned"));
        m_wrong = button("turn.wrong", tr("It moved the wrong way"));
        m_watchdog = button("turn.watchdog", tr("Prove the drive's own stop"));
        QPushButton* reset = resetButton("turn.reset", [this](const QString& words) { m_run->say(words); });
        m_device = new QCheckBox(tr("Enabling device in hand"));
        m_device->setObjectName(QStringLiteral("turn.device"));
        for (QWidget* w :
             {static_cast<QWidget*>(m_agree), static_cast<QWidget*>(m_wrong), static_cast<QWidget*>(m_watchdog),
              static_cast<QWidget*>(reset), static_cast<QWidget*>(m_device)})
            m_run->addWidget(w);
        runWhileHeld(*m_plus, [this] { jog(1); });
        runWhileHeld(*m_minus, [this] { jog(-1); });
        connect(m_agree, &QPushButton::clicked, this, [this] { direction(true); });
        connect(m_wrong, &QPushButton::clicked, this, [this] { direction(false); });
        connect(m_device, &QCheckBox::clicked, this, [this](bool on) {
            m_bench.runs().confirmEnablingDevice(on);
            m_document.note(on ? tr("An enabling device wired to the drive is in hand")
                               : tr("The enabling device is no longer in hand"));
            live();
        });
        connect(m_watchdog, &QPushButton::clicked, this, &TurnPage::proveWatchdog);
        connect(m_run, &RunPanel::leadWanted, this, &StationPage::nextWanted);
        return m_run;
    }

    void live()
    {
        if (!m_document.hasAxis())
            return;
        const auto& session = m_bench.session();
        const auto& s = session.snapshot();
        const LinkState link = m_bench.linkState();
        showLadder(link, s);
        if (link.torqueUnasked) {
            setLabel(*m_fault,
                     tr("■ Torque is on and this program did not ask for it: whatever the chain shows, the axis "
                        "is not at rest. F12 stops it; find out who moves it."));
        } else if (s.error != 0 && link.identified) {
            const FaultWords& f = faultWords(s.error);
            setLabel(
                *m_fault,
                tr("■ Fault %1: %2. Usual cause: %3. What helps: %4. It is in the record with the drive's history.")
                    .arg(s.error, 4, 16, QLatin1Char('0'))
                    .arg(app::said(f.words), app::said(f.cause), app::said(f.cure)));
        }
        m_fault->setVisible(link.torqueUnasked || (s.error != 0 && link.identified));
        const ServoMotor* motor = m_document.axis().actuator.motor();
        const Fact* turned = m_document.evidence().newest<HandTurned>();
        m_strip->setCounts(motor ? motor->countsPerTurn : 0,
                           turned ? std::optional(turned->as<HandTurned>()->counts) : std::nullopt);
        const bool idle = link.identified && !busy() && m_document.person().named();
        m_begin->setEnabled(idle);
        if (m_start && m_start->whose != drive())
            m_start.reset(); // marked on another drive, or before this connection
        m_end->setEnabled(idle && m_start);
        m_hand->setEnabled(idle);
        m_hand->setVisible(!link.identified || link.identity.simulated);
        const QString refused = m_bench.refusal(Act::Jog);
        if (!busy())
            m_run->setRefusal(refused);
        m_watchdog->setEnabled(idle && refused.isEmpty() && link.watchdog);
        feelAndScale(idle, refused);
        m_device->setVisible(link.identified && !link.watchdog);
        const bool seen = idle && refusalOfDirection(m_document.evidence(), link).empty();
        m_agree->setEnabled(seen);
        m_wrong->setEnabled(seen);
        const Axis& a = m_document.axis();
        m_run->setMoves(
            tr("%1 jogs at %2 with at most %3 % of rated torque while the button is held. Letting go, losing the focus "
               "or a lost link stops it: the program by a ramp, the drive by itself after %4 ms.")
                .arg(QString::fromStdString(a.name),
                     shown(a.turn.jogSpeed, resolve(Quantity::TravelSpeed, a.mechanism.rotary())))
                .arg(a.turn.jogTorqueShare * 100, 0, 'f', 0)
                .arg(session.watchdogTime()));
    }

    void feelAndScale(bool idle, const QString& refused)
    {
        const DriveState state = m_bench.session().snapshot().state;
        const bool off = idle && state != DriveState::OperationEnabled && state != DriveState::QuickStopActive;
        m_free->setEnabled(off);
        m_notFree->setEnabled(off);
        const bool may = (idle && refused.isEmpty()) || busy();
        m_still->setEnabled(may);
        m_shift->setEnabled(may);
        m_stiff->setEnabled(idle && m_stood);
        m_soft->setEnabled(idle && m_stood);
        m_took->setEnabled(idle && m_shifted.has_value());
        const bool rotary = m_document.axis().mechanism.rotary();
        if (m_way->text().isEmpty() && !m_way->hasFocus()) // one turn of the motor
            if (const double turn = travelPerTurn(m_document.evaluation()); turn > 0)
                m_way->setText(shown(turn, resolve(Quantity::Travel, rotary), 4));
    }

    void standStill()
    {
        if (const QString no = m_bench.refusal(Act::Jog); !no.isEmpty()) {
            m_run->say(no);
            return;
        }
        const Axis& a = m_document.axis();
        m_stood = false;
        m_run->say(tr("Torque is on, the axis stands still: push and turn by hand, carefully, then let go."));
        m_bench.runs().jog(
            {0, static_cast<std::int64_t>(a.turn.jogTorqueShare * 1000)},
            [this, perUnit = unitsPerTravel(a), rotary = a.mechanism.rotary()](const Result<double>& way) {
                m_stood = way.has_value();
                m_run->say(way ? tr("It stands %1 from where it was. Was it stiff?")
                                     .arg(shown(*way / perUnit, resolve(Quantity::Travel, rotary), 3))
                               : QString::fromStdString(messageFor(way.error())));
                live();
            });
    }

    /// A way that a person typed; tells what is wrong with it.
    std::optional<double> typedWay(QLineEdit& edit)
    {
        const bool rotary = m_document.axis().mechanism.rotary();
        const auto way = parseQuantity(edit.text().toStdString(), resolve(Quantity::Travel, rotary));
        if (way && std::isfinite(*way))
            return *way;
        m_run->say(tr("■ “%1” is no way; such as %2.")
                       .arg(edit.text(), rotary ? tr("90 ° or -1 rev") : tr("10 mm or -0.5 in")));
        edit.setFocus();
        return {};
    }

    void shift()
    {
        const auto way = typedWay(*m_way);
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
                       .arg(shown(*way, resolve(Quantity::Travel, a.mechanism.rotary()), 4)));
        m_bench.runs().shift(
            {*way * perUnit, a.turn.jogSpeed * perUnit, static_cast<std::int64_t>(a.turn.jogTorqueShare * 1000)},
            [this, way = *way, whose = drive(), perUnit, rotary = a.mechanism.rotary()](const Result<double>& counted) {
                if (counted)
                    m_shifted = Shifted{whose, way};
                m_run->say(counted ? tr("By the drive's own count it moved %1. Enter what the mark made.")
                                         .arg(shown(*counted / perUnit, resolve(Quantity::Travel, rotary), 4))
                                   : QString::fromStdString(messageFor(counted.error())));
                live();
            });
    }

    void takeMark()
    {
        const auto seen = typedWay(*m_mark);
        if (!seen || !m_shifted)
            return;
        if (m_shifted->whose != drive()) {
            m_shifted.reset();
            m_run->say(tr("That way was moved on another drive, or before this connection: move it again."));
            return;
        }
        m_document.append(m_bench.source(), ScaleSeen{m_shifted->way, *seen});
        m_shifted.reset();
        m_mark->clear();
        live();
    }

    /// What the drive does not say is asked, never assumed; an answer holds for this connection.
    QHBoxLayout* askRow()
    {
        auto* row = new QHBoxLayout;
        m_ask = quiet({});
        m_ask->setObjectName(QStringLiteral("turn.ask"));
        m_yes = button("turn.askYes", tr("Yes, looked at"));
        m_no = button("turn.askNo", tr("No"));
        row->addWidget(m_ask, 1);
        row->addWidget(m_yes);
        row->addWidget(m_no);
        const auto answer = [this](bool yes) {
            if (m_asked)
                m_byHand.at(*m_asked) = yes;
            live();
        };
        connect(m_yes, &QPushButton::clicked, this, [answer] { answer(true); });
        connect(m_no, &QPushButton::clicked, this, [answer] { answer(false); });
        return row;
    }

    void showLadder(const LinkState& link, const link::Snapshot& s)
    {
        const std::string whose = link.identified ? drive() : std::string{};
        if (std::exchange(m_askedOf, whose) != whose)
            m_byHand = {};
        EnableStates states;
        const bool fresh = link.identified && link.stateAge <= stateGoesOld; // of one moment, and not an old one
        states[0] = link.connected;
        for (std::size_t k = 1; k < states.size(); ++k)
            if (fresh && (s.conditionsKnown >> k & 1))
                states[k] = (s.conditions >> k & 1) != 0;
        std::vector<LadderView::Rung> out;
        for (std::size_t k = 0; k < states.size(); ++k) {
            QString name = app::said(enableRungs()[k].name);
            if (fresh && !states[k] && m_byHand[k]) {
                states[k] = m_byHand[k];
                name += tr(" (as looked at)");
            }
            out.push_back({name, states[k], app::said(enableRungs()[k].advice)});
        }
        m_ladder->setRungs(std::move(out));
        const auto open = openRung(states);
        m_asked = fresh && open && !states[*open] ? open : std::nullopt;
        for (QWidget* w : {static_cast<QWidget*>(m_ask), static_cast<QWidget*>(m_yes), static_cast<QWidget*>(m_no)})
            w->setVisible(m_asked.has_value());
        if (m_asked)
            setLabel(*m_ask,
                     tr("The drive does not say: %1? %2.")
                         .arg(app::said(enableRungs()[*m_asked].name), app::said(enableRungs()[*m_asked].advice)));
        const qint64 age = m_bench.session().age();
        setLabel(*m_age, !link.identified || age < 0 ? tr("not read")
                         : fresh ? (s.oneMoment ? tr("of one moment, %1 s ago") : tr("read %1 s ago"))
                                       .arg(static_cast<double>(age) / 1000, 0, 'f', 1)
                                 : tr("▲ old: %1 s; not known since").arg(age / 1000));
    }

    void counts(std::function<void(double)> done)
    {
        m_bench.runs().counts([this, done = std::move(done)](const Result<double>& value) {
            if (value)
                done(*value);
            else
                m_run->say(QString::fromStdString(messageFor(value.error())));
        });
    }

    void jog(int way)
    {
        if (const QString no = m_bench.refusal(Act::Jog); !no.isEmpty()) {
            m_run->say(no);
            return;
        }
        const Axis& a = m_document.axis();
        link::Runs::JogOrder order;
        order.speed = way * a.turn.jogSpeed * unitsPerTravel(a);
        order.torqueLimit = static_cast<std::int64_t>(a.turn.jogTorqueShare * 1000);
        const FactSource source = m_bench.source();
        const Jogged jogged{way * a.turn.jogSpeed, a.turn.jogTorqueShare};
        m_run->say(source.origin == Origin::Simulated ? tr("Jogging the SIMULATED axis; let go to stop.")
                                                      : tr("Jogging; let go to stop."));
        m_bench.runs().jog(order, [this, source, jogged](const Result<double>& moved) {
            if (!moved) {
                noteInterrupted(source, "S20", moved.error());
                m_run->say(QString::fromStdString(messageFor(moved.error())) + QLatin1Char(' ')
                           + (m_ladder->isClosed() ? QString() : tr("Open: %1").arg(m_ladder->openRung())));
            } else {
                m_document.append(source, jogged);
                m_run->say(jogged.speed > 0 ? tr("Jogged in the positive direction.")
                                            : tr("Jogged in the negative direction."));
            }
            live();
        });
    }

    /// Jogs, holds the feed back on purpose and watches the drive stop the axis by itself.
    void proveWatchdog()
    {
        if (const QString no = m_bench.refusal(Act::ProveWatchdog); !no.isEmpty()) {
            m_run->say(no);
            return;
        }
        const Axis& a = m_document.axis();
        link::Runs::JogOrder order;
        order.speed = a.turn.jogSpeed * unitsPerTravel(a);
        order.torqueLimit = static_cast<std::int64_t>(a.turn.jogTorqueShare * 1000);
        const FactSource source = m_bench.source();
        const double perUnit = unitsPerTravel(a);
        const Quantity q = resolve(Quantity::Travel, a.mechanism.rotary());
        m_run->say(tr("Jogging, then the program goes silent on purpose; the drive has to stop by itself."));
        m_bench.runs().proveWatchdog(order, [this, source, perUnit, q](const Result<link::Runs::OwnStop>& stop) {
            if (!stop) {
                m_run->say(QString::fromStdString(messageFor(stop.error())));
                return;
            }
            LinkEvent event;
            event.proof = stop->stood;
            event.time = stop->time;
            event.travel = std::abs(stop->travel) / perUnit;
            event.text = stop->stood ? "The drive stopped the axis by itself when the program went silent"
                                     : "The drive did not stop by itself when the program went silent";
            m_document.append(source, event);
            m_run->say(
                stop->stood
                    ? tr("The drive stood by itself %1 after the silence, %2 on. It holds a fault now: reset it.")
                          .arg(shown(event.time, Quantity::Time, 3), shown(event.travel, q, 3))
                    : tr("The drive did not stop by itself: use an enabling device."));
        });
    }

    void direction(bool agrees)
    {
        m_document.append(m_bench.source(), DirectionSeen{agrees});
        if (!agrees)
            m_document.edit(tr("Reverse the polarity"), {},
                            [&](Axis& a) { a.parameters.positiveIsNegative = !a.parameters.positiveIsNegative; });
    }

    QBoxLayout* m_halves;
    LadderView* m_ladder;
    QLabel *m_age, *m_ask;
    QPushButton *m_yes, *m_no;
    EnableStates m_byHand;
    std::string m_askedOf;
    std::optional<std::size_t> m_asked;
    AngleStrip* m_strip;
    RunPanel* m_run;
    QPushButton *m_turns, *m_begin, *m_hand, *m_end, *m_agree, *m_wrong, *m_watchdog;
    HoldButton *m_minus, *m_plus, *m_still = nullptr, *m_shift = nullptr;
    QPushButton *m_free = nullptr, *m_notFree = nullptr, *m_stiff = nullptr, *m_soft = nullptr, *m_took = nullptr;
    QLineEdit *m_way = nullptr, *m_mark = nullptr;
    bool m_stood = false; ///< under torque a moment ago: stiffness can be said
    struct Shifted {
        std::string whose; ///< drive()
        double way = 0;    ///< commanded
    };
    std::optional<Shifted> m_shifted;
    QCheckBox* m_device;
    QLabel* m_fault;
    QVBoxLayout* m_formHolder;
    FieldForm* m_form = nullptr;
    std::string m_built;
    struct Start {
        std::string whose; ///< drive()
        double counts = 0;
    };
    std::optional<Start> m_start; ///< of the turn by hand
};

} // namespace

StationPage* makeTurn(Document& d, Bench& b) { return new TurnPage(d, b); }

} // namespace ridge::app
