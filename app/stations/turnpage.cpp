#include "app/instruments/ladderview.h"
#include "app/theme/sentence.h"
#include "app/theme/theme.h"
#include "app/turn/turntab.h"
#include "app/widgets/basics.h"
#include "app/widgets/labels.h"
#include "core/objects/enable.h"
#include "core/objects/faults.h"

#include "station.h"
#include "turnsdialog.h"

#include <QScrollArea>
#include <QTabWidget>
#include <QTimer>
#include <QVBoxLayout>

#include <algorithm>
#include <cmath>
#include <utility>

namespace ridge::app {

namespace {

/// What stands between the axis and its first turn at the left, what is done at the right, one activity a tab.
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
        for (std::size_t k = 0; k < m_tabs.size(); ++k)
            m_book->setTabVisible(static_cast<int>(k), m_tabs[k]->applies());
        const auto& devices = m_document.evaluation().wire.plan().devices;
        m_turns->setVisible(
            std::ranges::any_of(devices, [](const WireDevice& d) { return d.kind == "encoder" && d.flag("battery"); }));
        refreshTab();
    }

protected:
    void resizeEvent(QResizeEvent* event) override
    {
        StationPage::resizeEvent(event);
        m_halves->setDirection(width() < besideEachOther ? QBoxLayout::TopToBottom : QBoxLayout::LeftToRight);
        m_halves->setSpacing(width() < besideEachOther ? 4 : 18);
    }

private:
    static constexpr int besideEachOther = 1000; ///< pixels of width from which the two halves have room for it

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
        auto* row = new QHBoxLayout;
        m_said = quiet({});
        m_said->setObjectName(QStringLiteral("turn.said"));
        row->addWidget(resetButton("turn.reset", [this](const QString& words) { setLabel(*m_said, words); }));
        m_turns = button("turn.turns", tr("Turns lost …"));
        m_turns->setToolTip(tr("The battery of the encoder was empty: its turns are cleared step by step."));
        connect(m_turns, &QPushButton::clicked, this, [this] { TurnsDialog(m_document, this).exec(); });
        row->addWidget(m_turns);
        row->addWidget(m_said, 1);
        half->addLayout(row);
        return half;
    }

    /// In a small window a tab is rolled.
    QTabWidget* motionHalf()
    {
        m_book = new QTabWidget;
        m_book->setObjectName(QStringLiteral("turn.tabs"));
        m_book->setDocumentMode(true);
        const auto add = [this](TurnTab* tab, const QString& title) {
            auto* scroll = new QScrollArea;
            scroll->setWidgetResizable(true);
            scroll->setFrameShape(QFrame::NoFrame);
            scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
            scroll->setWidget(tab);
            m_book->addTab(scroll, title);
            m_tabs.push_back(tab);
            connect(tab, &TurnTab::leadWanted, this, &StationPage::nextWanted);
        };
        add(makeHandTab(m_document, m_bench), tr("By hand"));
        add(makePhasingTab(m_document, m_bench), tr("Phasing"));
        add(makeSearchTab(m_document, m_bench), tr("Pole search"));
        add(makeElectricalTab(m_document, m_bench), tr("Winding"));
        add(makeJogTab(m_document, m_bench), tr("Jog"));
        add(makePointsTab(m_document, m_bench), tr("Points"));
        add(makeTravelTab(m_document, m_bench), tr("Travel"));
        add(makeSignalsTab(m_document, m_bench), tr("Signals"));
        connect(m_book, &QTabWidget::currentChanged, this, &TurnPage::refreshTab);
        return m_book;
    }

    void refreshTab()
    {
        if (!m_document.hasAxis())
            return;
        if (const int at = m_book->currentIndex(); at >= 0)
            m_tabs[static_cast<std::size_t>(at)]->refresh();
        live();
    }

    void live()
    {
        if (!m_document.hasAxis())
            return;
        const auto& s = m_bench.session().snapshot();
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
                tr("■ Fault %1: %2. Usual cause: %3. What helps: %4. It is in the record with the drive's history.%5")
                    .arg(s.error, 4, 16, QLatin1Char('0'))
                    .arg(app::said(f.words), app::said(f.cause), app::said(f.cure), notesOnFault(s.error)));
        }
        m_fault->setVisible(link.torqueUnasked || (s.error != 0 && link.identified));
        const bool idle = link.identified && !busy() && m_document.person().named();
        if (const int at = m_book->currentIndex(); at >= 0)
            m_tabs[static_cast<std::size_t>(at)]->live(link, idle);
    }

    /// One's own notes on this drive that name the fault come back where it stands.
    [[nodiscard]] QString notesOnFault(std::uint16_t code)
    {
        const Actuator& a = m_document.axis().actuator;
        const std::string type = a.drive()          ? a.drive()->name
                                 : a.stepperDrive() ? a.stepperDrive()->name
                                                    : std::string();
        const QString number = QStringLiteral("%1").arg(code, 4, 16, QLatin1Char('0'));
        QString out;
        for (const auto& n : m_document.notes().of(type)) {
            const QString text = QString::fromStdString(n.lamp + " " + n.text);
            if (text.contains(number, Qt::CaseInsensitive))
                out += tr(" ✎ %1 (%2)").arg(QString::fromStdString(n.text), QString::fromStdString(n.author));
        }
        return out;
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

    QBoxLayout* m_halves;
    LadderView* m_ladder;
    QLabel *m_age, *m_ask, *m_fault, *m_said;
    QPushButton *m_yes, *m_no, *m_turns;
    EnableStates m_byHand;
    std::string m_askedOf;
    std::optional<std::size_t> m_asked;
    QTabWidget* m_book;
    std::vector<TurnTab*> m_tabs;
};

} // namespace

StationPage* makeTurn(Document& d, Bench& b) { return new TurnPage(d, b); }

} // namespace ridge::app
