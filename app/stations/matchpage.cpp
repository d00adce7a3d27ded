#include "app/theme/theme.h"
#include "app/widgets/figures.h"
#include "app/widgets/forms.h"
#include "app/widgets/plotview.h"
#include "core/machine/candidates.h"
#include "core/machine/sampling.h"
#include "core/units/print.h"
#include "station.h"
#include "store/catalogue.h"

#include <QComboBox>
#include <QTableWidget>
#include <QTimer>
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
        m_below = new QHBoxLayout;
        m_table = listTable("candidates", tr("Candidates, best first"), {tr("Motor"), tr("Drive"), tr("Tightest"), tr("Ratio"), tr("Reason")});
        m_below->addWidget(m_table, 1);
        layout->addLayout(m_below, 4);
        auto* row = new QHBoxLayout;
        m_kind = new QComboBox;
        m_kind->setObjectName(QStringLiteral("match.kind"));
        m_kind->setAccessibleName(tr("Kind of motor"));
        m_kind->addItems({tr("Servo motors"), tr("Steppers")});
        row->addWidget(m_kind);
        auto* choose = button("match.choose", tr("Choose this motor and drive"));
        row->addWidget(choose);
        row->addWidget(quiet(tr("One row a motor with its best drive; those that pass come first, the smallest of them on top.")), 1);
        layout->addLayout(row);
        m_later.setSingleShot(true);
        m_later.setInterval(40);
        connect(&m_later, &QTimer::timeout, this, [this] { rank(m_document.evaluation()); });
        connect(m_kind, &QComboBox::activated, this, [this] { rank(m_document.evaluation()); });
        connect(choose, &QPushButton::clicked, this, [this] { choose_(m_table->currentRow()); });
        connect(m_table, &QTableWidget::cellDoubleClicked, this, [this](int r, int) { choose_(r); });
        connect(m_figures, &QLabel::linkActivated, this, [this](const QString& id) { Q_EMIT resultWanted(id.toStdString()); });
    }

    [[nodiscard]] const char* mainFigure() const override { return "match.torque_peak"; }

    void refresh() override
    {
        const Evaluation& e = m_document.evaluation();
        const Choice& c = m_document.axis().choice;
        if (c.stepper)
            m_figures->show(e, {"match.torque_peak", "match.speed_max", "match.inertia_ratio", "match.holding_torque", "match.corner_speed", "match.step_rate", "match.natural_frequency", "match.start_rate", "match.steps_per_travel"});
        else
            m_figures->show(e, {"match.torque_peak", "match.torque_rms", "match.speed_max", "match.current_peak", "match.current_rms", "match.inertia_ratio", "match.energy_returned", "match.capacitor_room", "match.anti_resonance"});
        m_chosen->setText(chosenWords(c));
        draw(e);
        if (m_axis != axisKey()) {
            m_axis = axisKey();
            m_kind->setCurrentIndex(c.stepper ? 1 : 0);
            m_kind->setEnabled(m_document.axis().mechanism.type != "linear-motor");
            rank(e);
        } else {
            m_later.start(); // not at every step of a pull with the mouse
        }
        showStepping(c);
    }

private:
    static QString chosenWords(const Choice& c)
    {
        if (c.stepper && c.stepperDrive)
            return tr("Chosen: %1 with %2").arg(QString::fromStdString(c.stepper->name), QString::fromStdString(c.stepperDrive->name));
        if (c.motor && c.drive)
            return tr("Chosen: %1%2 with %3%4").arg(QString::fromStdString(c.motor->name), c.withBrake ? tr(", brake") : QString(), QString::fromStdString(c.drive->name), c.resistor ? tr(", resistor %1").arg(QString::fromStdString(c.resistor->name)) : QString());
        return tr("Nothing is chosen yet: pick a candidate.");
    }

    /// How the chosen stepper is connected and supplied, beside the candidates.
    void showStepping(const Choice& c)
    {
        if (!c.stepper) {
            delete m_stepping;
            m_stepping = nullptr;
            return;
        }
        if (!m_stepping) {
            m_stepping = new FieldForm(axisTarget(m_document, [](Axis& a) -> void* { return a.choice.stepper ? &a.choice.stepping : nullptr; }), QStringLiteral("stepping"), steppingFields());
            m_stepping->setMinimumWidth(300);
            m_below->addWidget(m_stepping);
        }
        m_stepping->refresh();
    }

    void draw(const Evaluation& e)
    {
        const bool linear = m_document.axis().mechanism.type == "linear-motor";
        const Quantity torqueQ = linear ? Quantity::Force : Quantity::Torque, speedQ = linear ? Quantity::Speed : Quantity::AngularSpeed;
        m_plot->setPaneLabel(0, (linear ? tr("force, %1") : tr("torque, %1")).arg(QString::fromStdString(prettyUnit(displayUnit(torqueQ, unitSystem())))));
        const Choice& c = m_document.axis().choice;
        const bool servo = c.motor && c.drive && e.match, stepper = c.stepper && e.stepperMatch && e.stepperElectric;
        if (!e.path || (!servo && !stepper)) {
            m_plot->setCurves({});
            m_plot->setMarks({}, {});
            return;
        }
        const auto speed = [speedQ](double w) { return toDisplay(w, speedQ, unitSystem()); };
        const auto torque = [torqueQ](double t) { return toDisplay(t, torqueQ, unitSystem()); };
        PlotView::Curve high{{}, {}, 0, 0}, low{{}, {}, 0, 3, Qt::DashLine}, path{{}, {}, 0, 1}, heat{{}, {}, 0, 2, Qt::SolidLine, 7};
        const auto areas = [&](const std::vector<double>& w, const std::vector<double>& upper, const std::vector<double>& lower) {
            for (std::size_t k = 0; k < w.size(); ++k) {
                high.x.append(speed(w[k]));
                high.y.append(torque(upper[k]));
                low.x.append(speed(w[k]));
                low.y.append(torque(lower[k]));
            }
        };
        if (servo) {
            const BoundaryCurves b = sampleBoundary(*c.motor, *c.drive, e.conditions, 120);
            areas(b.speed, b.shortTime, b.continuous);
            high.label = tr("short time, lowest bus");
            low.label = tr("continuous, this ambient");
        } else {
            const PullOutCurve b = samplePullOut(*e.stepperElectric, e.stepperMatch->corner, c.stepping.reserve, std::max(2.5 * e.stepperMatch->speedMax, 4 * e.stepperMatch->corner), 160);
            areas(b.speed, b.pullOut, b.usable);
            high.label = tr("pull-out torque, modelled");
            low.label = tr("usable, with the reserve");
        }
        high.fill = low.fill = true;
        const CycleCurves cycle = sampleCycle(m_document.axis(), e, 240);
        for (std::size_t k = 0; k < cycle.torque.size(); ++k) {
            path.x.append(speed(std::abs(cycle.motorSpeed[k])));
            path.y.append(torque(std::abs(cycle.torque[k])));
        }
        path.ordered = false;
        path.width = 2;
        path.label = tr("the cycle");
        if (stepper) {
            m_plot->setCurves({high, low, path});
            return;
        }
        const double at = speed(e.duty.speedMeanAbs);
        heat.x << at * 0.995 << at * 1.005;
        heat.y << torque(e.duty.torqueRms) << torque(e.duty.torqueRms);
        heat.label = tr("rms at mean speed");
        m_plot->setCurves({high, low, path, heat});
    }

    struct Row {
        QString motor, drive, words, reason;
        bool passes = false, mine = false;
        double tightest = 0, ratio = 0;
    };

    void rank(const Evaluation& e)
    {
        m_later.stop();
        const bool steppers = m_kind->currentIndex() == 1;
        const auto& catalogue = store::shippedCatalogue();
        const Choice& chosen = m_document.axis().choice;
        std::vector<Row> rows;
        if (steppers) {
            m_steppers = bestPerStepper(rankSteppers(m_document.machine(), m_document.axis(), e, catalogue.steppers, catalogue.stepperDrives), catalogue.steppers.size());
            for (const StepperCandidate& c : m_steppers) {
                const StepperMotor& motor = catalogue.steppers[c.motor];
                const QString words = QString::fromStdString(tightestWords(c.result));
                rows.push_back({QString::fromStdString(motor.name), QString::fromStdString(catalogue.stepperDrives[c.drive].name), tr("%1, %2").arg(QString::fromUtf8(c.connection.data(), static_cast<qsizetype>(c.connection.size())), words), words, c.result.passes(),
                                chosen.stepper && chosen.stepper->name == motor.name, c.result.tightest, c.result.inertiaRatio});
            }
        } else {
            m_servos = bestPerMotor(rankForAxis(m_document.machine(), m_document.axis(), e, catalogue.motors, catalogue.drives), catalogue.motors.size());
            for (const Candidate& c : m_servos) {
                const ServoMotor& motor = catalogue.motors[c.motor];
                rows.push_back({QString::fromStdString(motor.name), QString::fromStdString(catalogue.drives[c.drive].name), QString::fromStdString(tightestWords(motor, c.result)), QString::fromStdString(candidateReason(motor, catalogue.drives[c.drive], c.result)),
                                c.result.passes(), chosen.motor && chosen.motor->name == motor.name, c.result.tightest, c.result.inertiaRatio});
            }
        }
        fill(rows);
    }

    void fill(const std::vector<Row>& rows)
    {
        m_table->setRowCount(static_cast<int>(rows.size()));
        for (int r = 0; r < m_table->rowCount(); ++r) {
            const Row& row = rows[static_cast<std::size_t>(r)];
            const QColor ink = row.passes ? QColor() : theme().soft;
            setCell(*m_table, r, 0, (row.mine ? QStringLiteral("▸ ") : QString()) + row.motor, row.mine ? theme().accent : ink, row.reason);
            setCell(*m_table, r, 1, row.drive, ink, row.reason);
            setCell(*m_table, r, 2, (row.passes ? QStringLiteral("● %1 %") : QStringLiteral("■ %1 %")).arg(row.tightest * 100, 0, 'f', 0), row.passes ? theme().ok : theme().fail, row.reason);
            setCell(*m_table, r, 3, QString::number(row.ratio, 'f', 1), ink, row.reason);
            setCell(*m_table, r, 4, row.words, ink, row.reason);
        }
        const int widths[] = {176, 110, 72, 52};
        for (int c = 0; c < 4; ++c)
            m_table->setColumnWidth(c, widths[c]);
    }

    void choose_(int row)
    {
        const bool steppers = m_kind->currentIndex() == 1;
        if (row < 0 || row >= static_cast<int>(steppers ? m_steppers.size() : m_servos.size()))
            return;
        const auto& catalogue = store::shippedCatalogue();
        const auto text = [](const std::string& motor, const std::string& drive) { return tr("Choose %1 with %2").arg(QString::fromStdString(motor), QString::fromStdString(drive)); };
        if (steppers) {
            const StepperCandidate c = m_steppers[static_cast<std::size_t>(row)];
            const StepperMotor& motor = catalogue.steppers[c.motor];
            const StepperDrive& drive = catalogue.stepperDrives[c.drive];
            m_document.edit(text(motor.name, drive.name), {}, [&](Axis& a) { chooseStepper(a, motor, drive, c.connection); });
        } else {
            const Candidate c = m_servos[static_cast<std::size_t>(row)];
            const ServoMotor& motor = catalogue.motors[c.motor];
            const ServoDrive& drive = catalogue.drives[c.drive];
            m_document.edit(text(motor.name, drive.name), {}, [&](Axis& a) { chooseServo(a, motor, drive); });
        }
    }

    PlotView* m_plot;
    Figures* m_figures;
    QLabel* m_chosen;
    QHBoxLayout* m_below;
    QTableWidget* m_table;
    QComboBox* m_kind;
    FieldForm* m_stepping = nullptr;
    QTimer m_later;
    std::string m_axis;
    std::vector<Candidate> m_servos;
    std::vector<StepperCandidate> m_steppers;
};

} // namespace

StationPage* makeMatch(Document& d, Bench& b) { return new MatchPage(d, b); }

} // namespace ridge::app
