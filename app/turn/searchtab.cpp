// The drive's own search for its poles, and the proof of an angle that is saved.
#include "app/theme/sentence.h"
#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "app/widgets/figures.h"
#include "app/widgets/flowrow.h"
#include "app/widgets/labels.h"
#include "core/mechanics/stage.h"
#include "core/stations/axisplant.h"
#include "core/stations/planfacts.h"
#include "core/stations/turn.h"

#include "turntab.h"

#include <QCheckBox>
#include <QComboBox>
#include <QVBoxLayout>

#include <cmath>

namespace ridge::app {

namespace {

class SearchTab final : public TurnTab {
public:
    SearchTab(Document& document, Bench& bench)
        : TurnTab(document, bench)
    {
        auto* layout = new QVBoxLayout(this);
        layout->setContentsMargins(8, 6, 8, 4);
        auto* row = new FlowRow;
        m_method = new QComboBox;
        m_method->setObjectName(QStringLiteral("search.method"));
        m_method->setAccessibleName(tr("Method of the search"));
        m_method->addItems({tr("short pulses"), tr("turned vector")});
        m_current = shortEntry("search.current", tr("Current of the search, of rated"), tr("60 %"));
        m_current->setText(QStringLiteral("60 %"));
        m_travel = shortEntry("search.travel", tr("Range that is permitted, at the load"), {});
        m_speed = shortEntry("search.speed", tr("Speed that is permitted, at the load"), {});
        m_propped = new QCheckBox(tr("The load is propped or balanced"));
        m_propped->setObjectName(QStringLiteral("search.propped"));
        for (QWidget* w : std::initializer_list<QWidget*>{heading(tr("Pole search by the drive")), m_method,
                                                          new QLabel(tr("with")), m_current, new QLabel(tr("within")),
                                                          m_travel, new QLabel(tr("up to")), m_speed, m_propped})
            row->addWidget(w);
        layout->addLayout(row);
        m_run = runPanel();
        m_search = m_run->addHold("search.run", tr("Hold to search"));
        m_keep = button("search.keep", tr("Keep the angle"));
        m_wider = button("search.wider", tr("Permit twice the range and speed"));
        m_run->addWidget(m_keep);
        m_run->addWidget(m_wider);
        layout->addWidget(m_run);
        m_causes = quiet({});
        m_causes->setObjectName(QStringLiteral("search.causes"));
        layout->addWidget(m_causes);
        layout->addWidget(heading(tr("Proof of a saved angle")));
        layout->addWidget(
            quiet(tr("Keep the angle, write, save, switch the control supply off and on, push the axis anywhere by "
                     "hand. Then it is enabled without a search, moves a little at jog speed, and a vector "
                     "shows what the angle is worth.")));
        m_prove = runPanel();
        m_proof = m_prove->addHold("search.prove", tr("Hold to prove the saved angle"));
        layout->addWidget(m_prove);
        m_words = quiet({});
        m_words->setObjectName(QStringLiteral("search.words"));
        layout->addWidget(m_words);
        layout->addStretch();
        connect(m_method, &QComboBox::currentIndexChanged, this, [this] {
            m_travel->clear();
            m_speed->clear();
            refresh();
        });
        connectHeld(*m_search, m_bench, [this] { search(); });
        connectHeld(*m_proof, m_bench, [this] { prove(); });
        connect(m_keep, &QPushButton::clicked, this, &SearchTab::keep);
        connect(m_wider, &QPushButton::clicked, this, &SearchTab::wider);
        connect(m_propped, &QCheckBox::toggled, this, [this] { live(m_bench.linkState(), !m_bench.running()); });
    }

    [[nodiscard]] bool applies() const override { return motor() != nullptr; }

    void refresh() override
    {
        m_propped->setVisible(loadHangs(m_document.axis()));
        const SearchRoom r = room();
        if (m_travel->text().isEmpty() && !m_travel->hasFocus())
            m_travel->setText(shown(r.travel, q(Quantity::Travel), 3));
        if (m_speed->text().isEmpty() && !m_speed->hasFocus())
            m_speed->setText(shown(r.speed, q(Quantity::TravelSpeed), 3));
        const Fact* f = m_document.evidence().newest<PoleSearched>();
        m_last = f && stillTold(*f, m_document.evidence()) ? f : nullptr;
        const PoleSearched* p = m_last ? m_last->as<PoleSearched>() : nullptr;
        QStringList causes;
        if (p && !p->word.empty())
            for (const TurnWords& w : searchCauses(p->word, loadHangs(m_document.axis())))
                causes += QStringLiteral("%1. %2 %3").arg(causes.size() + 1).arg(sentence(w.what), sentence(w.cure));
        setLabel(*m_causes, causes.isEmpty()
                                ? QString()
                                : tr("%1. Look at, in this order:\n%2")
                                      .arg(QString::fromStdString(p->word), causes.join(QLatin1Char('\n'))));
        m_keep->setEnabled(p && p->word.empty());
        m_wider->setVisible(p && (p->word == "ESTIMATE_ONE_SIDED" || p->word == "ESTIMATE_LIMIT"));
        QStringList words;
        for (const char* id : {"turn.phased", "turn.phase_repeat", "turn.saved_angle"})
            if (const Check* c = m_document.evaluation().check(id))
                words += QStringLiteral("%1 %2").arg(verdictMark(c->verdict), sentence(c->reason));
        setLabel(*m_words, words.join(QLatin1Char('\n')));
    }

    void live(const LinkState&, bool) override
    {
        if (m_bench.running())
            return;
        QString refused = m_bench.refusal(Act::Phase);
        if (refused.isEmpty() && !m_bench.session().has({0x2024, 11}))
            refused = tr("This drive has no search that this program can begin: let its own tool do it and enter the "
                         "angle at step S18.");
        if (refused.isEmpty())
            refused = sentence(refusalOfRoutine(m_document.axis(),
                                                m_method->currentIndex() == 0 ? Routine::Pulses : Routine::TurnedVector,
                                                room(), {m_propped->isChecked(), false}));
        m_run->setRefusal(refused);
        const SearchRoom r = room();
        m_run->setMoves(
            tr("Be ready to cut the power. %1 may move by %2 to either side and up to %3%4. A range of half a pole, or "
               "a "
               "speed just under that of the search, makes it fail; a wider one is proposed, never set by itself.")
                .arg(QString::fromStdString(m_document.axis().name), m_travel->text(), m_speed->text(),
                     r.free ? tr("; the axis has %1 of travel").arg(shown(*r.free, q(Quantity::Travel), 3))
                            : QString()));
        QString noProof = m_bench.refusal(Act::Jog);
        const auto& set = m_document.evaluation().set;
        if (noProof.isEmpty() && m_document.axis().parameters.poles != PoleSource::SavedAngle)
            noProof = tr("Keep an angle first: the plan does not say that it is saved.");
        if (noProof.isEmpty() && !set.memory.cycledSinceSave())
            noProof = tr("Write, save and power-cycle first (Set): only then the saved angle is what it starts with.");
        m_prove->setRefusal(noProof);
        m_prove->setMoves(tr("It is enabled, moves at jog speed for a moment, then follows a vector for one electrical "
                             "turn there and back."));
    }

private:
    [[nodiscard]] double perRadian() const
    {
        return std::abs(travelPerRadian(m_document.lastGood())) * unrolledRadius(m_document.axis());
    }
    [[nodiscard]] SearchRoom room() const
    {
        return searchRoom(m_document.axis(), travelPerRadian(m_document.lastGood()), m_method->currentIndex() + 1);
    }

    void search()
    {
        if (!m_run->refusal().isEmpty())
            return;
        const auto share = typed(*m_current, Quantity::Share, *m_run, tr("60 %"));
        const auto travel =
            share ? typed(*m_travel, Quantity::Travel, *m_run, shown(room().travel, q(Quantity::Travel), 3))
                  : std::nullopt;
        const auto speed =
            travel ? typed(*m_speed, Quantity::TravelSpeed, *m_run, shown(room().speed, q(Quantity::TravelSpeed), 3))
                   : std::nullopt;
        const double each = perRadian();
        if (!speed || !(each > 0))
            return;
        if (*share < 0.05 || *share > 1) {
            m_run->say(tr("■ %1: from 5 % to rated current.").arg(shown(*share, Quantity::Share)));
            return;
        }
        link::SearchOrder order{m_method->currentIndex() + 1, std::lround(*share * 1000), *travel / each,
                                *speed / each};
        const FactSource source = m_bench.source();
        PoleSearched fact;
        fact.method = order.method == 1 ? "pulses" : "turned vector";
        fact.current = *share;
        fact.travel = order.travel;
        fact.speed = order.speed;
        m_run->say(tr("Searching; keep holding until it says that it is finished."));
        m_bench.runs().searchPoles(
            order,
            [this, source, fact](const Result<link::SearchFound>& found) mutable {
                m_run->rest();
                if (!found)
                    return failed(*m_run, source, "S18", found.error());
                fact.word = routineWord(found->result);
                fact.angle = found->angle;
                fact.before = found->before;
                m_document.append(source, fact);
                m_run->say(fact.word.empty()
                               ? tr("Finished. Poles at %1, before %2: keep or discard.")
                                     .arg(shown(fact.angle, Quantity::Angle, 4), shown(fact.before, Quantity::Angle, 4))
                               : tr("■ %1").arg(QString::fromStdString(fact.word)));
                refresh();
            },
            [this](int done, int all) { m_run->progress(done, all); });
    }

    void keep()
    {
        if (!m_last)
            return;
        const double angle = m_last->as<PoleSearched>()->angle;
        const auto kind = fittedFeedback(m_document.axis().actuator, m_document.axis().wiring);
        const bool saved = kind && tellsAngle(*kind);
        m_document.edit(tr("Keep the angle of the poles"), {}, [angle, saved](Axis& a) {
            a.parameters.poleAngle = angle;
            a.parameters.poles = saved ? PoleSource::SavedAngle : PoleSource::EachPowerUp;
        });
        m_bench.runs().keepPoles([this, saved](const Result<void>& r) {
            m_run->say(
                !r ? QString::fromStdString(messageFor(r.error()))
                : saved
                    ? tr("The drive takes it over, and it is in the plan. Write, save, power-cycle, then prove it.")
                    : tr("The drive takes it over until the power goes: this feedback does not tell the angle, so it "
                         "searches at each power-up, or an index refines it."));
        });
    }

    /// Proposed with its way, asked by the button, never set by itself.
    void wider()
    {
        for (QLineEdit* edit : {m_travel, m_speed}) {
            const Quantity quantity = edit == m_travel ? Quantity::Travel : Quantity::TravelSpeed;
            if (const auto value = typed(*edit, quantity, *m_run, {}))
                edit->setText(shown(2 * *value, q(quantity), 3));
        }
        m_run->say(tr("Now up to %1 to either side and %2. See that this way is free.")
                       .arg(m_travel->text(), m_speed->text()));
        live(m_bench.linkState(), true);
    }

    void prove()
    {
        if (!m_prove->refusal().isEmpty())
            return;
        const Axis& a = m_document.axis();
        link::SweepOrder vector;
        vector.current = 300;
        vector.turns = 1;
        vector.expected = sweepExpected(a, 0.3);
        vector.travelLimit = std::llround(2.5 / std::max(1.0, vector.expected.polePairs) * vector.expected.counts);
        const FactSource source = m_bench.source();
        m_prove->say(tr("Enabling without a search, moving a little."));
        m_bench.runs().provePoles({a.turn.jogSpeed * unitsPerTravel(a), jogTorque()}, vector,
                                  [this, source](const Result<link::ProofSeen>& seen) {
                                      if (!seen)
                                          return failed(*m_prove, source, "S18", seen.error());
                                      m_document.append(source, PoleProved{seen->error, seen->searched});
                                      m_prove->say(seen->searched ? tr("■ It searched: the angle is not the saved one.")
                                                                  : tr("Enabled without a search; the angle is %1 off.")
                                                                        .arg(shown(seen->error, Quantity::Angle, 3)));
                                      refresh();
                                  });
    }

    QComboBox* m_method;
    QLineEdit *m_current, *m_travel, *m_speed;
    QCheckBox* m_propped;
    RunPanel *m_run, *m_prove;
    HoldButton *m_search, *m_proof;
    QPushButton *m_keep, *m_wider;
    QLabel *m_causes, *m_words;
    const Fact* m_last = nullptr;
};
} // namespace

TurnTab* makeSearchTab(Document& d, Bench& b) { return new SearchTab(d, b); }

} // namespace ridge::app
