#include "travelpanel.h"

#include "app/instruments/travelruler.h"
#include "app/theme/theme.h"
#include "app/widgets/figures.h"
#include "app/widgets/forms.h"

#include <QVBoxLayout>

#include <array>

namespace ridge::app {

TravelPanel::TravelPanel(Document& document, QWidget* parent)
    : QWidget(parent)
    , m_document(document)
{
    auto* layout = new QVBoxLayout(this);
    layout->setContentsMargins(0, 4, 0, 0);
    m_ruler = new TravelRuler;
    layout->addWidget(m_ruler, 2);
    m_form = new FieldForm(axisTarget(m_document, [](Axis& a) -> void* { return &a.travel; }), QStringLiteral("travel"),
                           travelFields(), 4);
    m_scroll = new QScrollArea;
    m_scroll->setWidgetResizable(true);
    m_scroll->setWidget(m_form);
    layout->addWidget(m_scroll, 3);
}

void TravelPanel::fill()
{
    const Axis& axis = m_document.axis();
    const bool rotary = axis.mechanism.rotary();
    if (rotary != m_rotary) { // angles for lengths
        FormTarget target = axisTarget(m_document, [](Axis& a) -> void* { return &a.travel; });
        m_form = new FieldForm(std::move(target), QStringLiteral("travel"), travelFields(), 4);
        m_scroll->setWidget(m_form); // the one before goes with it
        m_rotary = rotary;
    }
    m_form->refresh();
    const Quantity q = resolve(Quantity::Travel, rotary);
    const TravelPlan& t = axis.travel;
    RulerState s;
    using Kind = RulerPlace::Kind;
    struct Row {
        std::optional<double> at;
        Kind kind;
        QString name;
        int side;
    };
    const std::array rows{Row{t.hardLow, Kind::HardStop, tr("hard stop"), -1},
                          Row{t.switchLow, Kind::Switch, tr("switch"), -1},
                          Row{t.softLow, Kind::Soft, tr("soft"), -1},
                          Row{t.safeLow, Kind::Safe, tr("safe"), -1},
                          Row{t.home, Kind::Home, tr("home"), 0},
                          Row{t.safeHigh, Kind::Safe, tr("safe"), 1},
                          Row{t.softHigh, Kind::Soft, tr("soft"), 1},
                          Row{t.switchHigh, Kind::Switch, tr("switch"), 1},
                          Row{t.hardHigh, Kind::HardStop, tr("hard stop"), 1}};
    for (const Row& r : rows)
        if (r.at)
            s.places.push_back({r.kind, *r.at, r.name, shown(*r.at, q), r.side});
    const Evaluation& e = m_document.evaluation();
    if (e.move.motion) {
        s.cycleLow = e.move.motion->lowest;
        s.cycleHigh = e.move.motion->highest;
        s.cycleName = tr("cycle %1 to %2").arg(shown(e.move.motion->lowest, q), shown(e.move.motion->highest, q));
    }
    for (const Check& c : e.checks)
        if (c.demand && c.id == "move.behind_low")
            s.stopLow = *c.demand;
        else if (c.demand && c.id == "move.behind_high")
            s.stopHigh = *c.demand;
    m_ruler->setState(s);
}

} // namespace ridge::app
