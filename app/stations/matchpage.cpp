#include "app/theme/theme.h"
#include "app/widgets/figures.h"
#include "app/widgets/forms.h"
#include "app/widgets/plotview.h"
#include "core/machine/candidates.h"
#include "core/machine/sampling.h"
#include "core/units/print.h"
#include "station.h"
#include "store/catalogue.h"

#include <QTableWidget>
#include <QVBoxLayout>

#include <cmath>

namespace ridge::app {

namespace {

class MatchPage final : public StationPage {
public:
    MatchPage(Document& document, Bench& bench) : StationPage(document, bench)
    {
        auto* layout = new QVBoxLayout(this);
        layout->setContentsMargins(0, 6, 0, 6);
        m_plot = new PlotView({QString()}, QString());
        m_plot->setObjectName(QStringLiteral("match.plot"));
        m_plot->setAccessibleName(tr("Torque over speed: the cycle over the areas of the motor"));
        layout->addWidget(m_plot, 5);
        m_chosen = new QLabel;
        m_chosen->setTextFormat(Qt::PlainText);
        layout->addWidget(m_chosen);
        m_figures = new Figures(3);
        layout->addWidget(m_figures);
        m_table = listTable("candidates", tr("Candidates, best first"), {tr("Motor"), tr("Drive"), tr("Tightest"), tr("Ratio"), tr("Reason")});
        layout->addWidget(m_table, 4);
        auto* row = new QHBoxLayout;
        auto* choose = button("match.choose", tr("Choose this motor and drive"));
        row->addWidget(choose);
        row->addWidget(quiet(tr("One row a motor with its best drive; those that pass come first, the smallest of them on top.")), 1);
        layout->addLayout(row);
        connect(choose, &QPushButton::clicked, this, [this] { choose_(m_table->currentRow()); });
        connect(m_table, &QTableWidget::cellDoubleClicked, this, [this](int r, int) { choose_(r); });
        connect(m_figures, &QLabel::linkActivated, this, [this](const QString& id) { Q_EMIT resultWanted(id.toStdString()); });
    }

    [[nodiscard]] const char* mainFigure() const override { return "match.torque_peak"; }

    void refresh() override
    {
        const Evaluation& e = m_document.evaluation();
        m_figures->show(e, {"match.torque_peak", "match.torque_rms", "match.speed_max", "match.current_peak", "match.current_rms", "match.inertia_ratio", "match.energy_returned", "match.capacitor_room", "match.anti_resonance"});
        const Choice& c = m_document.axis().choice;
        m_chosen->setText(c.motor && c.drive ? tr("Chosen: %1%2 with %3%4").arg(QString::fromStdString(c.motor->name), c.withBrake ? tr(", brake") : QString(), QString::fromStdString(c.drive->name), c.resistor ? tr(", resistor %1").arg(QString::fromStdString(c.resistor->name)) : QString())
                                             : tr("Nothing is chosen yet: pick a candidate."));
        draw(e);
        rank(e);
    }

private:
    void draw(const Evaluation& e)
    {
        m_plot->setPaneLabel(0, tr("torque, %1").arg(QString::fromStdString(prettyUnit(displayUnit(Quantity::Torque, unitSystem())))));
        const Choice& c = m_document.axis().choice;
        if (!c.motor || !c.drive || !e.path || !e.match) {
            m_plot->setCurves({});
            m_plot->setMarks({}, {});
            return;
        }
        const auto speed = [](double w) { return toDisplay(w, Quantity::AngularSpeed, unitSystem()); };
        const auto torque = [](double t) { return toDisplay(t, Quantity::Torque, unitSystem()); };
        const BoundaryCurves b = sampleBoundary(*c.motor, *c.drive, e.conditions, 120);
        PlotView::Curve shortTime{{}, {}, 0, 0}, continuous{{}, {}, 0, 3, Qt::DashLine}, path{{}, {}, 0, 1}, heat{{}, {}, 0, 2, Qt::SolidLine, 7};
        for (std::size_t k = 0; k < b.speed.size(); ++k) {
            shortTime.x.append(speed(b.speed[k]));
            shortTime.y.append(torque(b.shortTime[k]));
            continuous.x.append(speed(b.speed[k]));
            continuous.y.append(torque(b.continuous[k]));
        }
        shortTime.fill = continuous.fill = true;
        shortTime.label = tr("short time, lowest bus");
        continuous.label = tr("continuous, this ambient");
        const CycleCurves cycle = sampleCycle(m_document.axis(), e, 240);
        for (std::size_t k = 0; k < cycle.torque.size(); ++k) {
            path.x.append(speed(std::abs(cycle.motorSpeed[k])));
            path.y.append(torque(std::abs(cycle.torque[k])));
        }
        path.ordered = false;
        path.width = 2;
        path.label = tr("the cycle");
        const double at = speed(e.duty.speedMeanAbs);
        heat.x << at * 0.995 << at * 1.005;
        heat.y << torque(e.duty.torqueRms) << torque(e.duty.torqueRms);
        heat.label = tr("rms at mean speed");
        m_plot->setCurves({shortTime, continuous, path, heat});
    }

    void rank(const Evaluation& e)
    {
        const auto& catalogue = store::shippedCatalogue();
        m_ranked = bestPerMotor(rankForAxis(m_document.machine(), m_document.axis(), e, catalogue.motors, catalogue.drives), catalogue.motors.size());
        const auto& chosen = m_document.axis().choice.motor;
        m_table->setRowCount(static_cast<int>(m_ranked.size()));
        for (int r = 0; r < m_table->rowCount(); ++r) {
            const Candidate& c = m_ranked[static_cast<std::size_t>(r)];
            const ServoMotor& motor = catalogue.motors[c.motor];
            const bool passes = c.result.passes(), mine = chosen && chosen->name == motor.name;
            const QString reason = QString::fromStdString(candidateReason(motor, catalogue.drives[c.drive], c.result));
            const QColor ink = passes ? QColor() : theme().soft;
            setCell(*m_table, r, 0, (mine ? QStringLiteral("▸ ") : QString()) + QString::fromStdString(motor.name), mine ? theme().accent : ink, reason);
            setCell(*m_table, r, 1, QString::fromStdString(catalogue.drives[c.drive].name), ink, reason);
            setCell(*m_table, r, 2, (passes ? QStringLiteral("● %1 %") : QStringLiteral("■ %1 %")).arg(c.result.tightest * 100, 0, 'f', 0), passes ? theme().ok : theme().fail, reason);
            setCell(*m_table, r, 3, QString::number(c.result.inertiaRatio, 'f', 1), ink, reason);
            setCell(*m_table, r, 4, QString::fromStdString(tightestWords(c.result)), ink, reason);
        }
        const int widths[] = {176, 80, 72, 52};
        for (int c = 0; c < 4; ++c)
            m_table->setColumnWidth(c, widths[c]);
    }

    void choose_(int row)
    {
        if (row < 0 || row >= static_cast<int>(m_ranked.size()))
            return;
        const Candidate& c = m_ranked[static_cast<std::size_t>(row)];
        const auto& catalogue = store::shippedCatalogue();
        m_document.edit(tr("Choose %1 with %2").arg(QString::fromStdString(catalogue.motors[c.motor].name), QString::fromStdString(catalogue.drives[c.drive].name)), {}, [&](Axis& a) {
            a.choice.motor = catalogue.motors[c.motor];
            a.choice.drive = catalogue.drives[c.drive];
            a.choice.withBrake = a.choice.withBrake || loadHangs(a);
        });
    }

    PlotView* m_plot;
    Figures* m_figures;
    QLabel* m_chosen;
    QTableWidget* m_table;
    std::vector<Candidate> m_ranked;
};

} // namespace

StationPage* makeMatch(Document& d, Bench& b) { return new MatchPage(d, b); }

} // namespace ridge::app
