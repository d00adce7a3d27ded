// The first jog, by this program or by the machine's own controls while it looks on.
#include "app/theme/sentence.h"
#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "app/widgets/figures.h"
#include "app/widgets/flowrow.h"
#include "app/widgets/forms.h"
#include "app/widgets/labels.h"
#include "core/objects/cia402.h"
#include "core/stations/planfacts.h"

#include "turntab.h"

#include <QCheckBox>
#include <QVBoxLayout>

#include <cmath>

namespace ridge::app {

namespace {
constexpr double movesFrom = 0.1; ///< share of the jog speed from which it counts as moving, our choice

class JogTab final : public TurnTab {
public:
    JogTab(Document& document, Bench& bench)
        : TurnTab(document, bench)
    {
        auto* layout = new QVBoxLayout(this);
        layout->setContentsMargins(8, 6, 8, 4);
        layout->addWidget(heading(tr("First jog")));
        m_run = runPanel();
        m_minus = m_run->addHold("turn.minus", tr("◀ Hold to jog −"));
        m_plus = m_run->addHold("turn.plus", tr("Hold to jog + ▶"));
        m_agree = button("turn.agree", tr("It moved as planned"));
        m_wrong = button("turn.wrong", tr("It moved the wrong way"));
        m_watchdog = button("turn.watchdog", tr("Prove the drive's own stop"));
        m_device = new QCheckBox(tr("Enabling device in hand"));
        m_device->setObjectName(QStringLiteral("turn.device"));
        for (QWidget* w : std::initializer_list<QWidget*>{m_agree, m_wrong, m_watchdog, m_device})
            m_run->addWidget(w);
        layout->addWidget(m_run);
        m_mode = quiet({});
        m_mode->setObjectName(QStringLiteral("turn.mode"));
        layout->addWidget(m_mode);
        m_formHolder = new QVBoxLayout;
        layout->addLayout(m_formHolder);
        layout->addWidget(heading(tr("Jogged by the machine's own controls")));
        auto* row = new FlowRow;
        m_watch = button("turn.watch", tr("Look on"));
        m_watch->setCheckable(true);
        m_take = button("turn.watched", tr("It moved while the input was true and stopped when released"));
        m_how = shortEntry("turn.how", tr("By what it was jogged"), tr("key pad, input, controller"));
        m_how->setMaximumWidth(200);
        for (QWidget* w : std::initializer_list<QWidget*>{m_watch, m_how, m_take})
            row->addWidget(w);
        layout->addLayout(row);
        m_seen = quiet({});
        m_seen->setObjectName(QStringLiteral("turn.seen"));
        layout->addWidget(m_seen);
        m_words = quiet({});
        m_words->setObjectName(QStringLiteral("turn.jogWords"));
        layout->addWidget(m_words);
        layout->addStretch();
        connectHeld(*m_plus, m_bench, [this] { jog(1); });
        connectHeld(*m_minus, m_bench, [this] { jog(-1); });
        connect(m_agree, &QPushButton::clicked, this, [this] { direction(true); });
        connect(m_wrong, &QPushButton::clicked, this, [this] { direction(false); });
        connect(m_device, &QCheckBox::clicked, this, [this](bool on) {
            m_bench.runs().confirmEnablingDevice(on);
            m_document.note(on ? tr("An enabling device wired to the drive is in hand")
                               : tr("The enabling device is no longer in hand"));
        });
        connect(m_watchdog, &QPushButton::clicked, this, &JogTab::proveWatchdog);
        connect(m_watch, &QPushButton::toggled, this, [this](bool on) {
            m_up = m_down = m_stood = false;
            m_fastest = 0;
            setLabel(*m_seen, on ? tr("Looking on: jog it both ways by the machine's own controls.") : QString());
        });
        connect(m_take, &QPushButton::clicked, this, &JogTab::takeWatched);
    }

    void refresh() override
    {
        const std::string key = m_document.axis().id + (rotary() ? " rotary" : " linear");
        if (m_built != key) {
            m_built = key;
            delete m_form;
            m_form = new FieldForm(axisTarget(m_document, [](Axis& a) -> void* { return &a.turn; }),
                                   QStringLiteral("turn"), turnFields(), 2);
            m_formHolder->addWidget(m_form);
        }
        m_form->refresh();
        QStringList words;
        for (const char* id : {"turn.jog_limits", "turn.jogged", "turn.direction"})
            if (const Check* c = m_document.evaluation().check(id))
                words += QStringLiteral("%1 %2").arg(verdictMark(c->verdict), sentence(c->reason));
        setLabel(*m_words, words.join(QLatin1Char('\n')));
    }

    void live(const LinkState& link, bool idle) override
    {
        const QString refused = m_bench.refusal(Act::Jog);
        if (!m_bench.running())
            m_run->setRefusal(refused);
        m_watchdog->setEnabled(idle && refused.isEmpty() && link.watchdog);
        m_device->setVisible(link.identified && !link.watchdog);
        const bool seen = idle && refusalOfDirection(m_document.evidence(), link).empty();
        m_agree->setEnabled(seen);
        m_wrong->setEnabled(seen);
        const Axis& a = m_document.axis();
        m_run->setMoves(
            tr("%1 jogs at %2 with at most %3 % of rated torque while the button is held. Letting go, losing the focus "
               "or a lost link stops it: the program by a ramp, the drive by itself after %4 ms.")
                .arg(QString::fromStdString(a.name), shown(a.turn.jogSpeed, q(Quantity::TravelSpeed)))
                .arg(a.turn.jogTorqueShare * 100, 0, 'f', 0)
                .arg(m_bench.session().watchdogTime()));
        const auto& now = m_bench.session().snapshot();
        setLabel(*m_mode, link.identified
                              ? tr("Mode %1 now. A jog by speed does not close the position loop: how it holds and "
                                   "how it settles is seen in point moves, not here.")
                                    .arg(said(driveModeWords(now.mode)))
                              : QString());
        watch(link);
    }

private:
    void jog(int way)
    {
        if (const QString no = m_bench.refusal(Act::Jog); !no.isEmpty()) {
            m_run->say(no);
            return;
        }
        const Axis& a = m_document.axis();
        link::Runs::JogOrder order;
        order.speed = way * a.turn.jogSpeed * unitsPerTravel(a);
        order.torqueLimit = jogTorque();
        const FactSource source = m_bench.source();
        const Jogged jogged{way * a.turn.jogSpeed, a.turn.jogTorqueShare};
        m_run->say(source.origin == Origin::Simulated ? tr("Jogging the SIMULATED axis; let go to stop.")
                                                      : tr("Jogging; let go to stop."));
        m_bench.runs().jog(order, [this, source, jogged](const Result<double>& moved) {
            if (!moved) {
                failed(*m_run, source, "S20", moved.error());
                return;
            }
            m_document.append(source, jogged);
            m_run->say(jogged.speed > 0 ? tr("Jogged in the positive direction.")
                                        : tr("Jogged in the negative direction."));
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
        order.torqueLimit = jogTorque();
        const FactSource source = m_bench.source();
        const double perUnit = unitsPerTravel(a);
        const Quantity way = q(Quantity::Travel);
        m_run->say(tr("Jogging, then the program goes silent on purpose; the drive has to stop by itself."));
        m_bench.runs().proveWatchdog(order, [this, source, perUnit, way](const Result<link::Runs::OwnStop>& stop) {
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
                          .arg(shown(event.time, Quantity::Time, 3), shown(event.travel, way, 3))
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

    /// What the machine does by itself: both ways, and that it stands when it is let go.
    void watch(const LinkState& link)
    {
        m_watch->setEnabled(link.identified && !m_bench.running());
        if (!m_watch->isChecked() || m_bench.running()) {
            m_take->setEnabled(false);
            return;
        }
        const auto& s = m_bench.session().snapshot();
        const double speed = static_cast<double>(s.velocity) / unitsPerTravel(m_document.axis()),
                     from = movesFrom * m_document.axis().turn.jogSpeed;
        if (std::abs(speed) > from) {
            (speed > 0 ? m_up : m_down) = true;
            m_stood = false;
            m_fastest = std::max(m_fastest, std::abs(speed));
        } else if (m_up || m_down) {
            m_stood = true;
        }
        setLabel(*m_seen,
                 tr("%1 now · forward %2 · back %3 · stopped when released %4")
                     .arg(shown(speed, q(Quantity::TravelSpeed), 3), m_up ? QStringLiteral("●") : QStringLiteral("○"),
                          m_down ? QStringLiteral("●") : QStringLiteral("○"),
                          m_stood ? QStringLiteral("●") : QStringLiteral("○")));
        m_take->setEnabled(m_up && m_down && m_stood && m_document.person().named());
    }

    void takeWatched()
    {
        const std::string how = m_how->text().trimmed().toStdString();
        if (how.empty()) {
            setLabel(*m_seen, tr("Say by what it was jogged: an input, a keypad, the controller."));
            m_how->setFocus();
            return;
        }
        for (const double way : {1.0, -1.0})
            m_document.append(m_bench.source(), Jogged{way * m_fastest, 0, how});
        m_watch->setChecked(false);
        setLabel(*m_seen, tr("In the record: both ways by %1. Say above whether it moved as planned.")
                              .arg(QString::fromStdString(how)));
    }

    RunPanel* m_run;
    HoldButton *m_minus, *m_plus;
    QPushButton *m_agree, *m_wrong, *m_watchdog, *m_watch, *m_take;
    QCheckBox* m_device;
    QLabel *m_mode, *m_seen, *m_words;
    QLineEdit* m_how;
    QVBoxLayout* m_formHolder;
    FieldForm* m_form = nullptr;
    std::string m_built;
    bool m_up = false, m_down = false, m_stood = false;
    double m_fastest = 0;
};
} // namespace

TurnTab* makeJogTab(Document& d, Bench& b) { return new JogTab(d, b); }

} // namespace ridge::app
