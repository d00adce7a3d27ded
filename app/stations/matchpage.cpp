#include "app/theme/theme.h"
#include "app/widgets/figures.h"
#include "app/widgets/forms.h"
#include "app/widgets/labels.h"
#include "app/widgets/plotview.h"
#include "store/tables.h"

#include "candidatetable.h"
#include "matchpictures.h"
#include "partsmenu.h"
#include "station.h"

#include <QComboBox>
#include <QFile>
#include <QFileDialog>
#include <QMenu>
#include <QStackedWidget>
#include <QTableWidget>
#include <QTimer>
#include <QVBoxLayout>

namespace ridge::app {

namespace {

class MatchPage final : public StationPage {
public:
    MatchPage(Document& document, Bench& bench)
        : StationPage(document, bench)
    {
        auto* layout = new QVBoxLayout(this);
        layout->setContentsMargins(0, 6, 0, 6);
        m_plot = new PlotView({QString()}, QString());
        m_plot->setObjectName(QStringLiteral("match.plot"));
        m_plot->setAccessibleName(tr("Torque over speed: the cycle over the areas of the motor"));
        m_pictures = std::make_unique<MatchPictures>(document, *m_plot);
        m_comparison = listTable("match.comparison", tr("Candidates beside each other"), {});
        m_view = new QStackedWidget;
        m_view->addWidget(m_plot);
        m_view->addWidget(m_comparison);
        m_view->setMinimumHeight(120);
        layout->addWidget(m_view, 5);
        layout->addLayout(underPicture());
        m_figures = new Figures(3);
        layout->addWidget(m_figures, 0, Qt::AlignLeft | Qt::AlignTop);
        m_below = new QVBoxLayout;
        m_below->setSpacing(6);
        m_candidates = new CandidateTable(document);
        m_below->addWidget(m_candidates, 1);
        layout->addLayout(m_below, 5);
        m_pull.setSingleShot(true);
        m_pull.setInterval(500);
        connect(m_plot, &PlotView::markMoved, this, [this](int mark, double at) {
            if (mark != 0)
                return;
            if (!m_pull.isActive())
                ++m_pullRun;
            m_pull.start();
            m_pictures->pull(picture(), at, QStringLiteral("match%1").arg(m_pullRun));
        });
        connect(m_candidates, &CandidateTable::ranked, this, &MatchPage::compare);
        connect(m_candidates, &CandidateTable::comparedChanged, this, [this] {
            listPictures();
            show(MatchPicture{MatchPicture::Kind::Compare});
        });
        connect(m_figures, &Figures::chosen, this, &StationPage::resultWanted);
    }

    [[nodiscard]] const char* mainFigure() const override { return "match.torque_peak"; }
    [[nodiscard]] bool busy() const override { return m_candidates->busy(); }

    void refresh() override
    {
        const Evaluation& e = m_document.lastGood();
        const Actuator& c = m_document.axis().actuator;
        if (c.stepper())
            m_figures->show(e, {"match.torque_peak", "match.speed_max", "match.inertia_ratio", "match.holding_torque",
                                "match.corner_speed", "match.step_rate", "match.start_limit", "match.steps_per_travel",
                                "match.current_share", "match.brake_static",
                                "match.brake_drop"}); // the natural frequency stands in its check
        else
            m_figures->show(e,
                            {"match.torque_peak", "match.torque_rms", "match.speed_max", "match.current_peak",
                             "match.current_rms", "match.inertia_ratio", "match.energy_returned", "match.mains_current",
                             "match.overload_time", "match.anti_resonance", "match.reachable_bandwidth",
                             "match.brake_static", "match.residual_swing", "match.stop_energy", "match.stop_loss",
                             "match.brake_drop", "match.torque_rms_roll", "match.wrap_jump"});
        listPictures();
        draw();
        const bool other = m_axis != axisKey();
        m_axis = axisKey();
        m_candidates->refresh(other);
        showStepping(c);
    }

    bool takeFile(const QString& path) override
    {
        if (!path.endsWith(QLatin1String(".csv"), Qt::CaseInsensitive) || !m_document.axis().actuator.motor())
            return false;
        takeMeasured(path);
        return true;
    }

private:
    QHBoxLayout* underPicture()
    {
        auto* row = new QHBoxLayout;
        m_words = quiet({});
        m_words->setWordWrap(true);
        m_words->setObjectName(QStringLiteral("match.words"));
        row->addWidget(m_words, 1);
        m_more = button("match.parts", tr("Parts ▾"));
        m_more->setToolTip(
            tr("Plates and data of motor and drive, resistor, feedback, brake, supply, signals, mounting."));
        connect(m_more, &QPushButton::clicked, this, &MatchPage::offerParts);
        row->addWidget(m_more);
        m_picture = new QComboBox;
        m_picture->setObjectName(QStringLiteral("match.picture"));
        m_picture->setAccessibleName(tr("What the picture shows"));
        m_picture->setSizeAdjustPolicy(QComboBox::AdjustToContents);
        connect(m_picture, &QComboBox::activated, this, [this] { draw(); });
        row->addWidget(m_picture);
        return row;
    }

    static QString chosenWords(const Actuator& c)
    {
        if (c.stepperMotor() && c.stepperDrive())
            return tr("Chosen: %1 with %2")
                .arg(QString::fromStdString(c.stepperMotor()->name), QString::fromStdString(c.stepperDrive()->name));
        if (c.motor() && c.drive())
            return tr("Chosen: %1%2 with %3%4%5")
                .arg(QString::fromStdString(c.motor()->name), c.withBrake() ? tr(", brake") : QString(),
                     QString::fromStdString(c.drive()->name),
                     c.resistor() ? tr(", resistor %1").arg(QString::fromStdString(c.resistor()->name)) : QString(),
                     c.motor()->measured.empty() ? QString() : tr(" – torque from a measured table"));
        return tr("Nothing is chosen yet: pick a candidate.");
    }

    /// How the chosen stepper is connected and supplied, above the candidates.
    void showStepping(const Actuator& c)
    {
        if (!c.stepper()) {
            delete m_stepping;
            m_stepping = nullptr;
            return;
        }
        if (!m_stepping) {
            m_stepping =
                new FieldForm(axisTarget(m_document,
                                         [](Axis& a) -> void* {
                                             return a.actuator.stepper() ? &a.actuator.stepper()->stepping : nullptr;
                                         }),
                              QStringLiteral("stepping"), steppingFields(), 3);
            m_below->insertWidget(0, m_stepping);
        }
        m_stepping->refresh();
    }

    [[nodiscard]] MatchPicture picture() const
    {
        const auto at = static_cast<std::size_t>(std::max(0, m_picture->currentIndex()));
        return at < m_kinds.size() ? m_kinds[at] : MatchPicture{};
    }

    void listPictures()
    {
        const Axis& axis = m_document.axis();
        std::vector<MatchPicture> kinds{{MatchPicture::Kind::Map}};
        QStringList names{tr("Torque over speed")};
        const auto add = [&](MatchPicture::Kind kind, const QString& name, std::size_t stage = 0) {
            kinds.push_back({kind, stage});
            names << name;
        };
        for (std::size_t k = 0; k < axis.stages.size(); ++k)
            if (axis.stages[k].type == StageKind::Gearbox)
                add(MatchPicture::Kind::Ratio,
                    tr("Ratio of %1")
                        .arg(axis.stages[k].name.empty() ? tr("the gearbox")
                                                         : QString::fromStdString(axis.stages[k].name)),
                    k);
        if (axis.actuator.stepperMotor()) {
            add(MatchPicture::Kind::Connections, tr("Connections"));
            add(MatchPicture::Kind::Supplies, tr("Supplies"));
            add(MatchPicture::Kind::Supply, tr("Supply voltage"));
        }
        if (axis.actuator.motor())
            add(MatchPicture::Kind::Heat, tr("Heat from cold"));
        add(MatchPicture::Kind::Bus, tr("Bus of the machine"));
        if (!m_candidates->compared().empty())
            add(MatchPicture::Kind::Compare, tr("Comparison"));
        QStringList now;
        for (int k = 0; k < m_picture->count(); ++k)
            now << m_picture->itemText(k);
        if (now == names)
            return;
        const MatchPicture was = picture();
        m_kinds = std::move(kinds);
        m_picture->clear();
        m_picture->addItems(names);
        show(was);
    }

    void show(const MatchPicture& wanted)
    {
        const auto it = std::ranges::find(m_kinds, wanted);
        m_picture->setCurrentIndex(it == m_kinds.end() ? 0 : static_cast<int>(it - m_kinds.begin()));
        draw();
    }

    void draw()
    {
        const MatchPicture p = picture();
        const bool table = p.kind == MatchPicture::Kind::Compare;
        m_view->setCurrentIndex(table ? 1 : 0);
        if (table)
            compare();
        const QString words = m_pictures->draw(p);
        setLabel(*m_words, words.isEmpty() ? chosenWords(m_document.axis().actuator) : words);
    }

    void compare()
    {
        if (picture().kind == MatchPicture::Kind::Compare)
            fillComparison(*m_comparison, m_candidates->compared(), *m_candidates->parts());
    }

    void offerParts()
    {
        QMenu menu;
        PartsMenu entries(m_document, *this, [this] {
            const QString path = QFileDialog::getOpenFileName(
                this, tr("Speed, short-time torque and continuous torque"), {}, tr("Tables (*.csv *.txt)"));
            if (!path.isEmpty())
                takeMeasured(path);
        });
        entries.fill(menu, *m_candidates->parts());
        menu.exec(m_more->mapToGlobal(QPoint(0, m_more->height())));
    }

    void takeMeasured(const QString& path)
    {
        QFile file(path);
        if (!file.open(QIODevice::ReadOnly) || file.size() > 16 * 1024 * 1024) {
            m_words->setText(tr("The file %1 cannot be read.").arg(path));
            return;
        }
        const auto rows =
            store::parseMeasured(file.readAll().toStdString(), m_document.axis().mechanism.is<LinearDrive>());
        if (!rows) {
            m_words->setText(QStringLiteral("■ ")
                             + (rows.error().subject.empty()
                                    ? QString()
                                    : QString::fromStdString(rows.error().subject) + QStringLiteral(": "))
                             + QString::fromStdString(messageFor(rows.error())));
            return;
        }
        m_document.edit(tr("Take a measured torque table"), {},
                        [&](Axis& a) { a.actuator.servo()->motor->measured = *rows; });
    }

    PlotView* m_plot;
    std::unique_ptr<MatchPictures> m_pictures;
    QTableWidget* m_comparison;
    QStackedWidget* m_view;
    Figures* m_figures;
    QLabel* m_words;
    QPushButton* m_more;
    QVBoxLayout* m_below;
    CandidateTable* m_candidates;
    QComboBox* m_picture;
    FieldForm* m_stepping = nullptr;
    std::vector<MatchPicture> m_kinds;
    QTimer m_pull;
    int m_pullRun = 0;
    std::string m_axis;
};

} // namespace

StationPage* makeMatch(Document& d, Bench& b) { return new MatchPage(d, b); }

} // namespace ridge::app
