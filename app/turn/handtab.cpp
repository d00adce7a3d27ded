// One turn, or a measured distance, counted by hand; free without power and stiff under torque.
#include "app/instruments/anglestrip.h"
#include "app/theme/sentence.h"
#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "app/widgets/figures.h"
#include "app/widgets/flowrow.h"
#include "app/widgets/labels.h"
#include "core/stations/axisplant.h"
#include "core/stations/planfacts.h"
#include "core/stations/turn.h"

#include "turntab.h"

#include <QTimer>
#include <QVBoxLayout>

#include <cmath>

namespace ridge::app {

namespace {
constexpr int lookEvery = 15; // ms between two looks at halls and index while a hand turns
constexpr ObjectKey handTurn{0x2F00, 9}, hallsNow{0x2021, 2}, indexPasses{0x2021, 3}, indexCount{0x2021, 4};

class HandTab final : public TurnTab {
public:
    HandTab(Document& document, Bench& bench)
        : TurnTab(document, bench)
    {
        auto* layout = new QVBoxLayout(this);
        layout->setContentsMargins(8, 6, 8, 4);
        layout->addLayout(countRow());
        m_strip = new AngleStrip;
        layout->addWidget(m_strip, 1);
        m_words = quiet({});
        m_words->setObjectName(QStringLiteral("turn.handWords"));
        layout->addWidget(m_words);
        layout->addLayout(feelRow());
        m_run = runPanel();
        layout->addWidget(m_run);
        connect(&m_look, &QTimer::timeout, this, &HandTab::look);
    }

    void refresh() override
    {
        const Fact* turned = m_document.evidence().newest<HandTurned>();
        const bool linear = m_document.axis().actuator.is<LinearActuator>();
        m_way->setVisible(linear);
        m_head->setText(linear ? tr("A measured distance by hand, forward") : tr("One turn by hand, forward"));
        m_hand->setText(linear ? tr("Push it (simulated hand)") : tr("Turn once (simulated hand)"));
        const HandTurned* t = turned ? turned->as<HandTurned>() : nullptr;
        m_strip->setCounts(t && t->travel != 0 ? t->expected : countsOfTurn(m_document.axis()),
                           t ? std::optional(t->counts) : std::nullopt);
        QStringList words;
        for (const char* id : {"turn.counts", "turn.index", "turn.halls"})
            if (const Check* c = m_document.evaluation().check(id))
                words += QStringLiteral("%1 %2").arg(verdictMark(c->verdict), sentence(c->reason));
        setLabel(*m_words, words.join(QLatin1Char('\n')));
        if (m_way->text().isEmpty() && !m_way->hasFocus())
            m_way->setText(shown(0.1, q(Quantity::Travel)));
    }

    void live(const LinkState& link, bool idle) override
    {
        m_begin->setEnabled(idle);
        if (m_start && m_start->whose != m_bench.whose())
            m_start.reset(); // marked on another drive, or before this connection
        m_end->setEnabled(idle && m_start && !m_turning);
        m_hand->setEnabled(idle && !m_turning);
        m_hand->setVisible(!link.identified || link.identity.simulated);
        const bool inverted = m_document.axis().parameters.feedbackInverted;
        m_invert->setText(inverted ? tr("Feedback as wired again") : tr("Invert the feedback"));
        const QString refused = m_bench.refusal(Act::Jog);
        const DriveState state = m_bench.session().snapshot().state;
        const bool off = idle && state != DriveState::OperationEnabled && state != DriveState::QuickStopActive;
        m_free->setEnabled(off);
        m_notFree->setEnabled(off);
        m_still->setEnabled((idle && refused.isEmpty()) || m_bench.running());
        m_stiff->setEnabled(idle && m_stood);
        m_soft->setEnabled(idle && m_stood);
    }

private:
    QLayout* countRow()
    {
        auto* row = new FlowRow;
        m_head = heading(tr("One turn by hand, forward"));
        m_way = shortEntry("turn.pushed", tr("Distance pushed by hand"), tr("100 mm"));
        m_begin = button("turn.begin", tr("Mark the start"));
        m_hand = button("turn.hand", tr("Turn once (simulated hand)"));
        m_end = button("turn.end", tr("Take the count"));
        m_invert = button("turn.invert", tr("Invert the feedback"));
        m_invert->setToolTip(
            tr("By parameter, not by wires; apart from the direction of the user. Halls and phases decide when "
               "both are swapped."));
        for (QWidget* w : std::initializer_list<QWidget*>{m_head, m_way, m_begin, m_hand, m_end, m_invert})
            row->addWidget(w);
        connect(m_begin, &QPushButton::clicked, this, &HandTab::markStart);
        connect(m_hand, &QPushButton::clicked, this, &HandTab::turnByHand);
        connect(m_end, &QPushButton::clicked, this, &HandTab::takeCount);
        connect(m_invert, &QPushButton::clicked, this, [this] {
            m_document.edit(tr("Invert the feedback"), {},
                            [](Axis& a) { a.parameters.feedbackInverted = !a.parameters.feedbackInverted; });
            m_run->say(tr("Planned. Write it in Set, save, power-cycle: it acts only then. Then turn again."));
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
        };
        connect(m_free, &QPushButton::clicked, this, [felt] { felt(false, true); });
        connect(m_notFree, &QPushButton::clicked, this, [felt] { felt(false, false); });
        connect(m_stiff, &QPushButton::clicked, this, [felt] { felt(true, true); });
        connect(m_soft, &QPushButton::clicked, this, [felt] { felt(true, false); });
        connectHeld(*m_still, m_bench, [this] { standStill(); });
        return row;
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

    void markStart()
    {
        counts([this, whose = m_bench.whose()](double value) {
            m_start = Start{whose, value};
            m_halls.clear();
            m_lastIndex.reset();
            m_index.reset();
            m_look.start(lookEvery);
            m_run->say(
                m_document.axis().actuator.is<LinearActuator>()
                    ? tr("Start marked. Push the axis by hand over the distance entered, forward, then take the count.")
                    : tr("Start marked. Turn the shaft by hand exactly once, forward, then take the count."));
        });
    }

    /// Halls and index as they come while the hand turns, where the drive tells them.
    void look()
    {
        if (!m_start || m_start->whose != m_bench.whose() || m_asking || !m_bench.session().has(hallsNow))
            return;
        std::vector<ObjectKey> keys{hallsNow};
        if (m_bench.session().has(indexCount))
            keys.insert(keys.end(), {indexPasses, indexCount});
        m_asking = true;
        m_bench.session().read(keys, [this](const Result<link::Values>& v) {
            m_asking = false;
            if (!v)
                return;
            const auto kind = fittedFeedback(m_document.axis().actuator, m_document.axis().wiring);
            const bool halls = kind == FeedbackKind::IncrementalHalls || kind == FeedbackKind::Halls;
            const QChar code = QChar::fromLatin1(static_cast<char>('0' + v->at(hallsNow)));
            if (halls && (m_halls.isEmpty() || m_halls.back() != code))
                m_halls += code;
            const auto passes = v->find(indexPasses);
            if (passes == v->end())
                return;
            if (m_lastIndex && passes->second != m_lastIndex->first && m_lastIndex->second)
                m_index = static_cast<double>(v->at(indexCount)) - *m_lastIndex->second;
            if (!m_lastIndex)
                m_lastIndex = {passes->second, std::nullopt};
            else if (passes->second != m_lastIndex->first)
                m_lastIndex = {passes->second, static_cast<double>(v->at(indexCount))};
        });
    }

    /// The hand of the practice bench turns as a hand does, bit by bit.
    void turnByHand()
    {
        double turns = 1;
        if (m_document.axis().actuator.is<LinearActuator>()) {
            const auto way = typed(*m_way, Quantity::Travel, *m_run, tr("100 mm"));
            const double each = travelPerTurn(m_document.evaluation()) * unrolledRadius(m_document.axis());
            if (!way || !(each > 0))
                return;
            turns = *way / each;
        }
        const ServoMotor* m = motor();
        const double pairs = m_document.axis().actuator.is<LinearActuator>() ? 1 : m ? m->polePairs : 1;
        const auto all = static_cast<int>(std::lround(turns * 1000)),
                   step = std::max(1, static_cast<int>(1000 / (pairs * 12)));
        m_turning = true;
        m_end->setEnabled(false); // not before it rests
        handStep(all, std::abs(all) / step > 400 ? std::abs(all) / 400 : step);
    }

    void handRests()
    {
        m_turning = false;
        live(m_bench.linkState(), m_bench.linkState().identified && !m_bench.running());
    }

    void handStep(int left, int step)
    {
        const int now = std::abs(left) < step ? left : left > 0 ? step : -step;
        if (now == 0)
            return handRests();
        m_bench.session().write(handTurn, now, [this, left, now, step](const Result<void>& r) {
            if (!r)
                return handRests();
            QTimer::singleShot(2, this, [this, left, now, step] { handStep(left - now, step); });
        });
    }

    void takeCount()
    {
        const FactSource source = m_bench.source();
        HandTurned turned;
        turned.expected = countsOfTurn(m_document.axis());
        if (m_document.axis().actuator.is<LinearActuator>()) {
            const auto way = typed(*m_way, Quantity::Travel, *m_run, tr("100 mm"));
            if (!way)
                return;
            const double each = travelPerTurn(m_document.evaluation()) * unrolledRadius(m_document.axis());
            turned.travel = *way;
            turned.expected = each > 0 ? *way / each * turned.expected : 0;
        }
        counts([this, source, turned, from = m_start](double value) mutable {
            m_look.stop();
            if (from) {
                turned.counts = std::round(value - from->counts);
                turned.index = m_index;
                QStringList codes;
                for (const QChar c : m_halls)
                    codes += c;
                turned.halls = m_halls.size() > 1 ? codes.join(QLatin1Char(' ')).toStdString() : std::string();
                m_document.append(source, turned);
            }
            m_start.reset();
            if (m_document.evidence().every<HandTurned>().size() == 1)
                m_run->say(tr("Turn it once more: two runs that agree say that nothing slips."));
            else
                m_run->say({});
        });
    }

    void standStill()
    {
        if (const QString no = m_bench.refusal(Act::Jog); !no.isEmpty()) {
            m_run->say(no);
            return;
        }
        m_stood = false;
        m_run->say(tr("Torque is on, the axis stands still: push and turn by hand, carefully, then let go."));
        m_bench.runs().jog({0, jogTorque()}, [this, perUnit = unitsPerTravel(m_document.axis()),
                                              way = q(Quantity::Travel)](const Result<double>& moved) {
            m_stood = moved.has_value();
            m_run->say(moved ? tr("It stands %1 from where it was. Was it stiff?").arg(shown(*moved / perUnit, way, 3))
                             : QString::fromStdString(messageFor(moved.error())));
        });
    }

    struct Start {
        std::string whose; ///< Bench::whose()
        double counts = 0;
    };
    std::optional<Start> m_start;
    QLabel *m_head, *m_words;
    QLineEdit* m_way;
    QPushButton *m_begin, *m_hand, *m_end, *m_invert, *m_free, *m_notFree, *m_stiff, *m_soft;
    HoldButton* m_still;
    AngleStrip* m_strip;
    RunPanel* m_run;
    QTimer m_look;
    QString m_halls;
    std::optional<std::pair<std::int64_t, std::optional<double>>> m_lastIndex; ///< passes, count at the last seen
    std::optional<double> m_index;
    bool m_stood = false, m_asking = false, m_turning = false; ///< the first: under torque a moment ago
};
} // namespace

TurnTab* makeHandTab(Document& d, Bench& b) { return new HandTab(d, b); }

} // namespace ridge::app
