#include "app/theme/theme.h"
#include "app/widgets/figures.h"
#include "app/widgets/forms.h"
#include "app/widgets/plotview.h"
#include "core/machine/candidates.h"
#include "core/machine/ratiosweep.h"
#include "core/machine/sampling.h"
#include "core/units/print.h"
#include "station.h"
#include "store/catalogue.h"

#include <QComboBox>
#include <QLineEdit>
#include <QTableWidget>
#include <QTimer>
#include <QVBoxLayout>

#include <algorithm>
#include <cmath>
#include <optional>

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
        auto* under = new QHBoxLayout;
        m_chosen = new QLabel;
        m_chosen->setTextFormat(Qt::PlainText);
        under->addWidget(m_chosen, 1);
        m_picture = new QComboBox;
        m_picture->setObjectName(QStringLiteral("match.picture"));
        m_picture->setAccessibleName(tr("What the picture shows"));
        m_picture->setSizeAdjustPolicy(QComboBox::AdjustToContents);
        under->addWidget(m_picture);
        layout->addLayout(under);
        m_figures = new Figures(3);
        layout->addWidget(m_figures);
        m_below = new QVBoxLayout;
        m_below->setSpacing(6);
        m_table = listTable("candidates", tr("Candidates, best first"), {tr("Motor"), tr("Drive"), tr("Tightest"), tr("Ratio"), tr("Reason")});
        m_below->addWidget(m_table, 1);
        layout->addLayout(m_below, 4);
        auto* row = new QHBoxLayout;
        m_kind = new QComboBox;
        m_kind->setObjectName(QStringLiteral("match.kind"));
        m_kind->setAccessibleName(tr("Kind of motor"));
        m_kind->addItems({tr("Servo motors"), tr("Steppers")});
        row->addWidget(m_kind);
        m_filter = new QLineEdit;
        m_filter->setObjectName(QStringLiteral("match.filter"));
        m_filter->setAccessibleName(tr("Show only candidates with these words"));
        m_filter->setPlaceholderText(tr("Only with, e.g. birch 80"));
        m_filter->setClearButtonEnabled(true);
        m_filter->setMaximumWidth(180);
        row->addWidget(m_filter);
        connect(m_filter, &QLineEdit::textChanged, this, [this] { filter(); });
        auto* choose = button("match.choose", tr("Choose this motor and drive"));
        row->addWidget(choose);
        row->addWidget(quiet(tr("One row a motor with its best drive; passing and small first.")), 1);
        layout->addLayout(row);
        m_pull.setSingleShot(true);
        m_pull.setInterval(500);
        connect(m_picture, &QComboBox::activated, this, [this] { draw(m_document.evaluation()); });
        connect(m_plot, &PlotView::markMoved, this, [this](int, double at) { pullRatio(at); });
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
        listPictures();
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

    /// How the chosen stepper is connected and supplied, above the candidates.
    void showStepping(const Choice& c)
    {
        if (!c.stepper) {
            delete m_stepping;
            m_stepping = nullptr;
            return;
        }
        if (!m_stepping) {
            m_stepping = new FieldForm(axisTarget(m_document, [](Axis& a) -> void* { return a.choice.stepper ? &a.choice.stepping : nullptr; }), QStringLiteral("stepping"), steppingFields(), 3);
            m_below->insertWidget(0, m_stepping);
        }
        m_stepping->refresh();
    }

    /// Torque over speed, and the ratio of every gearbox of the chain.
    void listPictures()
    {
        QStringList names{tr("Torque over speed")};
        m_gearboxes.clear();
        const auto& stages = m_document.axis().stages;
        for (std::size_t k = 0; k < stages.size(); ++k)
            if (stages[k].type == "gearbox") {
                m_gearboxes.push_back(k);
                names << tr("Ratio of %1").arg(stages[k].name.empty() ? tr("the gearbox") : QString::fromStdString(stages[k].name));
            }
        QStringList now;
        for (int k = 0; k < m_picture->count(); ++k)
            now << m_picture->itemText(k);
        if (now != names) {
            m_picture->clear();
            m_picture->addItems(names);
        }
        m_picture->setVisible(names.size() > 1);
    }

    void draw(const Evaluation& e)
    {
        const auto picture = static_cast<std::size_t>(std::max(0, m_picture->currentIndex()));
        if (picture > 0 && picture <= m_gearboxes.size()) {
            drawRatios(m_gearboxes[picture - 1]);
            return;
        }
        m_plot->setMarks({}, {});
        drawMap(e);
    }

    /// The margins at every ratio; the mark at the present one can be pulled.
    void drawRatios(std::size_t stage)
    {
        const Axis& axis = m_document.axis();
        Axis same = axis;
        same.stages[stage].ratio = 1;
        if (!m_sweptFor || stage != m_sweptStage || !(*m_sweptFor == same) || !(m_sweptSite == m_document.machine().site)) {
            m_sweep = sweepRatio(m_document.machine(), axis, stage, 1, std::max(20.0, 2.5 * axis.stages[stage].ratio), 72);
            m_sweptFor = same;
            m_sweptStage = stage;
            m_sweptSite = m_document.machine().site;
        }
        m_plot->setPaneLabel(0, tr("margin left, %"));
        std::vector<PlotView::Curve> curves;
        for (std::size_t l = 0; l < m_sweep.lines.size(); ++l) {
            PlotView::Curve c;
            c.colour = static_cast<int>(l % 4);
            c.style = l < 4 ? Qt::SolidLine : Qt::DashLine;
            c.label = said(m_sweep.lines[l].title);
            for (std::size_t k = 0; k < m_sweep.ratios.size(); ++k) {
                c.x.append(m_sweep.ratios[k]);
                c.y.append(100 * std::max(-1.0, m_sweep.lines[l].margin[k]));
            }
            curves.push_back(std::move(c));
        }
        m_plot->setCurves(curves);
        if (m_sweep.lines.empty()) {
            m_plot->setMarks({}, {});
            return;
        }
        m_plot->setMarks({axis.stages[stage].ratio, m_sweep.best}, {tr("ratio now %1").arg(QString::number(axis.stages[stage].ratio, 'g', 4)), tr("widest margin at %1").arg(QString::number(m_sweep.best, 'g', 3))});
        m_chosen->setText(tr("Below, %1 binds; above, %2 does. Other data of the gearbox kept; pull the mark to try a ratio.").arg(said(m_sweep.lowEnd).toLower(), said(m_sweep.highEnd).toLower()));
    }

    void pullRatio(double at)
    {
        const auto picture = static_cast<std::size_t>(std::max(0, m_picture->currentIndex()));
        if (picture == 0 || picture > m_gearboxes.size() || !(at >= 1))
            return;
        if (!m_pull.isActive())
            ++m_pullRun;
        m_pull.start();
        const std::size_t stage = m_gearboxes[picture - 1];
        m_document.edit(tr("Pull the gear ratio"), QStringLiteral("ratio%1").arg(m_pullRun), [&](Axis& a) { a.stages[stage].ratio = std::round(at * 20) / 20; });
    }

    void drawMap(const Evaluation& e)
    {
        const bool linear = m_document.axis().mechanism.type == "linear-motor";
        const Quantity torqueQ = linear ? Quantity::Force : Quantity::Torque, speedQ = linear ? Quantity::Speed : Quantity::AngularSpeed;
        m_plot->setPaneLabel(0, (linear ? tr("force, %1") : tr("torque, %1")).arg(QString::fromStdString(prettyUnit(displayUnit(torqueQ, unitSystem())))));
        const Choice& c = m_document.axis().choice;
        const bool servo = c.motor && c.drive && e.match, stepper = c.stepper && e.stepperMatch && e.stepperElectric;
        if (!e.path || (!servo && !stepper)) {
            m_plot->setCurves({});
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
        filter();
        const int widths[] = {176, 110, 72, 52};
        for (int c = 0; c < 4; ++c)
            m_table->setColumnWidth(c, widths[c]);
    }

    void filter()
    {
        const QStringList words = m_filter->text().split(QLatin1Char(' '), Qt::SkipEmptyParts);
        for (int r = 0; r < m_table->rowCount(); ++r) {
            const QString text = m_table->item(r, 0)->text() + QLatin1Char(' ') + m_table->item(r, 1)->text() + QLatin1Char(' ') + m_table->item(r, 4)->text();
            m_table->setRowHidden(r, !std::ranges::all_of(words, [&](const QString& w) { return text.contains(w, Qt::CaseInsensitive); }));
        }
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
    QVBoxLayout* m_below;
    QTableWidget* m_table;
    QComboBox* m_kind;
    QComboBox* m_picture;
    QLineEdit* m_filter;
    FieldForm* m_stepping = nullptr;
    std::vector<std::size_t> m_gearboxes;
    RatioSweep m_sweep;
    std::optional<Axis> m_sweptFor;
    std::size_t m_sweptStage = 0;
    Site m_sweptSite;
    QTimer m_pull;
    int m_pullRun = 0;
    QTimer m_later;
    std::string m_axis;
    std::vector<Candidate> m_servos;
    std::vector<StepperCandidate> m_steppers;
};

} // namespace

StationPage* makeMatch(Document& d, Bench& b) { return new MatchPage(d, b); }

} // namespace ridge::app
