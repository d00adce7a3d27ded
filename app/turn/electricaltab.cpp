// The drive measures its motor: standing, turning bare, or turning loaded within its travel.
#include "app/theme/sentence.h"
#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "app/widgets/figures.h"
#include "app/widgets/flowrow.h"
#include "app/widgets/labels.h"
#include "app/widgets/plotview.h"
#include "core/stations/axisplant.h"
#include "core/stations/planfacts.h"
#include "core/stations/turn.h"

#include "turntab.h"

#include <QCheckBox>
#include <QComboBox>
#include <QTableWidget>
#include <QVBoxLayout>

#include <cmath>

namespace ridge::app {

namespace {
constexpr std::array<const char*, 3> kinds{"standing", "turning bare", "turning loaded"};

class ElectricalTab final : public TurnTab {
public:
    ElectricalTab(Document& document, Bench& bench)
        : TurnTab(document, bench)
    {
        auto* layout = new QVBoxLayout(this);
        layout->setContentsMargins(8, 6, 8, 4);
        auto* row = new FlowRow;
        m_kind = new QComboBox;
        m_kind->setObjectName(QStringLiteral("electrical.kind"));
        m_kind->setAccessibleName(tr("Kind of the self-tune"));
        m_kind->addItems({tr("standing"), tr("turning, bare motor"), tr("turning, loaded")});
        m_current = shortEntry("electrical.current", tr("Current, of rated"), tr("50 %"));
        m_current->setText(QStringLiteral("50 %"));
        m_propped = new QCheckBox(tr("The load is propped"));
        m_propped->setObjectName(QStringLiteral("electrical.propped"));
        m_loadOff = new QCheckBox(tr("Load, belt or rope is off"));
        m_loadOff->setObjectName(QStringLiteral("electrical.loadOff"));
        for (QWidget* w : std::initializer_list<QWidget*>{heading(tr("Electrical self-tune")), m_kind,
                                                          new QLabel(tr("with")), m_current, m_propped, m_loadOff})
            row->addWidget(w);
        layout->addLayout(row);
        m_run = runPanel();
        m_tune = m_run->addHold("electrical.run", tr("Hold to measure"));
        m_keep = button("electrical.keep", tr("Keep"));
        m_discard = button("electrical.discard", tr("Discard"));
        m_run->addWidget(m_keep);
        m_run->addWidget(m_discard);
        layout->addWidget(m_run);
        m_table = listTable("electrical", tr("Old and new values"),
                            {tr("What"), tr("Motor data"), tr("In the drive"), tr("Measured")});
        m_table->setColumnWidth(0, 210);
        m_table->setColumnWidth(1, 120);
        m_table->setColumnWidth(2, 120);
        m_table->setMaximumHeight(124);
        layout->addWidget(m_table);
        m_plot = new PlotView({tr("current, A")}, tr("time, ms"));
        m_plot->setObjectName(QStringLiteral("electrical.step"));
        m_plot->setAccessibleName(tr("Step of the current"));
        layout->addWidget(m_plot, 1);
        m_words = quiet({});
        m_words->setObjectName(QStringLiteral("electrical.words"));
        layout->addWidget(m_words);
        connectHeld(*m_tune, m_bench, [this] { measure(); });
        connect(m_keep, &QPushButton::clicked, this, [this] { decide(true); });
        connect(m_discard, &QPushButton::clicked, this, [this] { decide(false); });
        for (QCheckBox* b : {m_propped, m_loadOff})
            connect(b, &QCheckBox::toggled, this, [this] { live(m_bench.linkState(), true); });
        connect(m_kind, &QComboBox::currentIndexChanged, this, [this] { live(m_bench.linkState(), true); });
    }

    [[nodiscard]] bool applies() const override { return motor() != nullptr; }

    void refresh() override
    {
        m_propped->setVisible(loadHangs(m_document.axis()));
        const ServoMotor* m = motor();
        if (!m)
            return;
        const auto& held = m_document.evaluation().set.memory.held;
        const auto at = [&](ObjectKey key, double each) {
            const auto it = held.find(key);
            return it == held.end() ? std::optional<double>() : std::optional(static_cast<double>(it->second) * each);
        };
        const auto planned = [&](ObjectKey key, double each) {
            const auto& rows = m_document.evaluation().set.parameters;
            const auto it = std::ranges::find(rows, key, &PlannedParameter::key);
            return it == rows.end() ? std::optional<double>() : std::optional(static_cast<double>(it->value) * each);
        };
        struct Line {
            QString name;
            std::optional<double> data, drive, found;
            Quantity q;
        };
        const auto found = [&](double SelfTuned::*figure) {
            return m_found ? std::optional((*m_found).*figure) : std::nullopt;
        };
        const std::array lines{Line{tr("Resistance, line to line"), m->resistance, at({0x2120, 2}, 1e-3),
                                    found(&SelfTuned::resistance), Quantity::Resistance},
                               Line{tr("Inductance, line to line"), m->inductance, at({0x2120, 3}, 1e-6),
                                    found(&SelfTuned::inductance), Quantity::Inductance},
                               Line{tr("Current loop, volts an ampere"), planned({0x2100, 1}, 1e-3),
                                    at({0x2100, 1}, 1e-3), found(&SelfTuned::gain), Quantity::Number},
                               Line{tr("Current loop, integral time"), planned({0x2100, 2}, 1e-6),
                                    at({0x2100, 2}, 1e-6), found(&SelfTuned::integralTime), Quantity::Time}};
        m_table->setRowCount(static_cast<int>(lines.size()));
        int row = 0;
        for (const Line& l : lines) {
            const auto text = [&](const std::optional<double>& v) {
                return v ? shown(*v, l.q, 3) : QStringLiteral("–");
            };
            const bool far = l.found && l.data && row < 2 && std::abs(*l.found / *l.data - 1) > 0.3;
            setCell(*m_table, row, 0, l.name);
            setCell(*m_table, row, 1, text(l.data), theme().soft);
            setCell(*m_table, row, 2, text(l.drive), theme().soft);
            setCell(*m_table, row, 3, (far ? QStringLiteral("■ ") : QString()) + text(l.found),
                    far ? theme().fail : theme().ink);
            ++row;
        }
        m_keep->setEnabled(m_found && m_found->word.empty());
        m_discard->setEnabled(m_found.has_value());
        const Check* c = m_document.evaluation().check("turn.electrical");
        setLabel(*m_words, c ? verdictMark(c->verdict) + QLatin1Char(' ') + sentence(c->reason) : QString());
    }

    void live(const LinkState&, bool) override
    {
        if (m_bench.running())
            return;
        QString refused = m_bench.refusal(Act::Phase);
        if (refused.isEmpty() && !m_bench.session().has({0x2025, 10}))
            refused = tr("This drive does not measure its winding by this program: measure it with a meter and enter "
                         "it at step S17.");
        if (refused.isEmpty())
            refused = sentence(refusalOfRoutine(m_document.axis(), routine(), room(),
                                                {m_propped->isChecked(), m_loadOff->isChecked()}));
        m_run->setRefusal(refused);
        m_run->setMoves(m_kind->currentIndex() == 0
                            ? tr("A current of up to %1 of rated along one phase, brake closed: the shaft may twitch "
                                 "to the nearest pole once. "
                                 "Keep hands off. Hold the button until it says finished; letting go ends it and "
                                 "nothing is changed.")
                                  .arg(m_current->text())
                            : tr("After the winding it turns one electrical turn there and back, %1 of the load, with "
                                 "%2 of rated current. Hold the "
                                 "button until it says finished; letting go ends it and nothing is changed.")
                                  .arg(shown(room().travel, q(Quantity::Travel), 3), m_current->text()));
    }

private:
    [[nodiscard]] Routine routine() const
    {
        constexpr std::array<Routine, 3> all{Routine::Standing, Routine::TurningBare, Routine::TurningLoaded};
        return all[static_cast<std::size_t>(m_kind->currentIndex())];
    }
    [[nodiscard]] SearchRoom room() const
    {
        return searchRoom(m_document.axis(), travelPerRadian(m_document.lastGood()), 0, 1);
    }

    void measure()
    {
        if (!m_run->refusal().isEmpty())
            return;
        const auto share = typed(*m_current, Quantity::Share, *m_run, tr("50 %"));
        if (!share)
            return;
        if (*share < 0.1 || *share > 0.8) {
            m_run->say(tr("■ %1: from 10 % to 80 % of rated current.").arg(shown(*share, Quantity::Share)));
            return;
        }
        const SweepExpected e = sweepExpected(m_document.axis(), *share);
        link::SelfTuneOrder order{m_kind->currentIndex() > 0 ? 1 : 0, std::lround(*share * 1000),
                                  std::llround(1.5 / std::max(1.0, e.polePairs) * e.counts)};
        const FactSource source = m_bench.source();
        m_found.reset();
        m_run->say(tr("Measuring; keep holding until it says finished."));
        m_bench.runs().selfTune(
            order,
            [this, source, kind = std::string(kinds[static_cast<std::size_t>(m_kind->currentIndex())])](
                const Result<link::SelfTuneFound>& f) {
                m_run->rest();
                if (!f)
                    return failed(*m_run, source, "S17", f.error());
                m_source = source;
                m_found = SelfTuned{
                    kind, std::string(routineWord(f->result)), f->resistance, f->inductance, f->gain, f->integralTime,
                    false};
                draw(*f);
                if (!m_found->word.empty()) {
                    m_document.append(source, *m_found);
                    m_run->say(tr("■ %1. %2")
                                   .arg(QString::fromStdString(m_found->word),
                                        sentence(sweepWords(m_found->word, {}, 0).cure)));
                } else {
                    m_run->say(tr("Finished. Keep or discard; after it a fresh enable is needed."));
                }
                refresh();
            },
            [this](int done, int all) { m_run->progress(done, all); });
    }

    void draw(const link::SelfTuneFound& f)
    {
        if (f.current.empty())
            return;
        QVector<double> t, i;
        for (std::size_t k = 0; k < f.current.size(); ++k) {
            t.push_back(static_cast<double>(k) * f.step * 1e3);
            i.push_back(f.current[k]);
        }
        m_plot->setCurves({{.x = t, .y = i, .label = tr("amplitude of the current")}});
    }

    void decide(bool keep)
    {
        if (!m_found)
            return;
        m_found->kept = keep;
        const SelfTuned found = *m_found;
        const auto record = [this, found] {
            m_document.append(m_source, found);
            m_found.reset();
            refresh();
        };
        if (!keep) {
            record();
            m_run->say(tr("Discarded: the drive holds what it held."));
            return;
        }
        m_bench.runs().keepSelfTune([this, found, record](const Result<void>& r) {
            if (!r) {
                m_run->say(QString::fromStdString(messageFor(r.error())));
                return;
            }
            m_document.edit(tr("Keep the current loop measured"), {}, [&found](Axis& a) {
                a.parameters.values[keyText({0x2100, 1})] = std::round(found.gain * 1e3);
                a.parameters.values[keyText({0x2100, 2})] = std::round(found.integralTime * 1e6);
            });
            record();
            m_run->say(tr("Kept: the drive and the plan have the current loop that was measured. Save it in Set."));
        });
    }

    QComboBox* m_kind;
    QLineEdit* m_current;
    QCheckBox *m_propped, *m_loadOff;
    RunPanel* m_run;
    HoldButton* m_tune;
    QPushButton *m_keep, *m_discard;
    QTableWidget* m_table;
    PlotView* m_plot;
    QLabel* m_words;
    std::optional<SelfTuned> m_found;
    FactSource m_source;
};
} // namespace

TurnTab* makeElectricalTab(Document& d, Bench& b) { return new ElectricalTab(d, b); }

} // namespace ridge::app
