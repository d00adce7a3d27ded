#include "app/instruments/chainview.h"
#include "app/theme/theme.h"
#include "app/widgets/figures.h"
#include "app/widgets/forms.h"
#include "store/catalogue.h"

#include "bodydialog.h"
#include "geardialog.h"
#include "measureddialog.h"
#include "station.h"

#include <QMenu>
#include <QScrollArea>
#include <QVBoxLayout>

#include <cmath>
#include <map>

namespace ridge::app {

namespace {

class LoadPage final : public StationPage {
public:
    LoadPage(Document& document, Bench& bench)
        : StationPage(document, bench)
    {
        auto* layout = new QVBoxLayout(this);
        layout->setContentsMargins(0, 6, 0, 6);
        m_chain = new ChainView;
        layout->addWidget(m_chain, 5);
        m_below = new QWidget;
        auto* below = new QHBoxLayout(m_below);
        below->setContentsMargins(0, 0, 0, 0);
        auto* left = new QVBoxLayout;
        m_title = heading({});
        auto* top = new QHBoxLayout;
        top->addWidget(m_title, 1);
        m_catalogue = button("load.catalogue", tr("From the catalogue"));
        top->addWidget(m_catalogue);
        auto* gears = button("load.gear", tr("Gearbox in or out …"));
        gears->setToolTip(tr("Inertia ratio, lost motion and resonance before and after."));
        auto* measured = button("load.measure", tr("Measured …"));
        measured->setToolTip(tr("What was measured of inertia, friction, gravity and travel, beside what is planned."));
        top->addWidget(gears);
        top->addWidget(measured);
        connect(gears, &QPushButton::clicked, this, [this] { compareGears(); });
        connect(measured, &QPushButton::clicked, this, [this] { MeasuredDialog(m_document, this).exec(); });
        left->addLayout(top);
        connect(m_catalogue, &QPushButton::clicked, this, [this] { offerGearboxes(); });
        m_scroll = new QScrollArea;
        m_scroll->setWidgetResizable(true);
        m_scroll->setHorizontalScrollBarPolicy(Qt::ScrollBarAsNeeded);
        left->addWidget(m_scroll, 1);
        below->addLayout(left, 1);
        auto* right = new QVBoxLayout;
        right->addWidget(heading(tr("At the motor shaft")));
        m_figures = new Figures;
        auto* figures = m_figureArea = new QScrollArea; // in a low window
        figures->setWidgetResizable(true);
        figures->setHorizontalScrollBarPolicy(Qt::ScrollBarAlwaysOff);
        auto* holder = new QWidget;
        auto* rows = new QVBoxLayout(holder);
        rows->setContentsMargins(0, 0, 8, 0);
        rows->addWidget(m_figures, 0, Qt::AlignLeft | Qt::AlignTop);
        rows->addStretch();
        figures->setWidget(holder);
        right->addWidget(figures, 1);
        below->addLayout(right);
        layout->addWidget(m_below, 6);
        connect(m_chain, &ChainView::elementChosen, this, [this](const QString& key) {
            m_key = key;
            refresh();
        });
        connect(m_chain, &ChainView::insertWanted, this, &LoadPage::insertAt);
        connect(m_chain, &ChainView::removeWanted, this, &LoadPage::remove);
        connect(m_chain, &ChainView::moveWanted, this, &LoadPage::move);
        connect(m_chain, &ChainView::mechanismWanted, this, &LoadPage::chooseMechanism);
        connect(m_figures, &Figures::chosen, this, &StationPage::resultWanted);
    }

    [[nodiscard]] const char* mainFigure() const override { return "load.reflected_inertia"; }

    void refresh() override
    {
        const Axis& axis = m_document.axis();
        const Evaluation& e = m_document.lastGood();
        m_chain->setChain(elements(axis, e), std::abs(std::sin(axis.load.incline)) > 0.05, m_key, modes(e));
        std::vector<std::string> ids;
        for (const ResultValue& r : e.results)
            if (r.station == Station::Load)
                ids.push_back(r.id);
        m_figures->show(e, ids);
        m_figureArea->setFixedWidth(m_figures->sizeHint().width() + 26);
        const QString want = QString::fromStdString(axis.id + std::string(mechanismType(axis.mechanism))
                                                    + std::string(wordOf(axis.load.counterbalance)))
                             + m_key + QString::number(axis.stages.size())
                             + (axis.load.gantrySpan ? QStringLiteral("g") : QString());
        if (want != m_built)
            build(want);
        else if (m_form)
            m_form->refresh();
        giveChainTheRest();
    }

protected:
    void resizeEvent(QResizeEvent* event) override
    {
        StationPage::resizeEvent(event);
        restLater(); // once the form has as many columns as have room
    }

private:
    /// The form and the figures take no more than they fill.
    void giveChainTheRest()
    {
        const int form = m_form ? m_form->sizeHint().height() + m_title->sizeHint().height() : 0;
        m_below->setMaximumHeight(std::max({200, form + 40, m_figures->sizeHint().height() + 50}));
    }

    /// Every mode of the chain; with a motor chosen and something in it that bends.
    static QString modes(const Evaluation& e)
    {
        if (!e.match.modes || e.match.modes->resonances.empty())
            return e.load.chain ? tr("Modes: not known without a motor and a stiffness.") : QString();
        const auto list = [](const std::vector<double>& all) {
            QStringList words;
            for (const double f : all)
                words << shown(f, Quantity::Frequency, 3);
            return words.join(QStringLiteral(", "));
        };
        QString words = tr("Modes:  resonances %1,  anti-resonances seen from the motor %2")
                            .arg(list(e.match.modes->resonances), list(e.match.modes->antiResonances));
        QStringList along;
        bool differs = false;
        for (const auto& at : e.match.along) {
            differs =
                differs || std::abs(at.antiResonance - e.match.along.front().antiResonance) > 0.01 * at.antiResonance;
            along << QStringLiteral("%1 / %2").arg(shown(at.antiResonance, Quantity::Frequency, 3),
                                                   shown(at.resonance, Quantity::Frequency, 3));
        }
        if (differs) // low end, middle, high end
            words += tr("\nAlong the travel, anti-resonance / resonance:  low end %1,  middle %2,  high end %3")
                         .arg(along[0], along[1], along[2]);
        return words;
    }

    /// The chain as it is in the model, also while it cannot be computed yet.
    static std::vector<ChainElement> elements(const Axis& axis, const Evaluation& e)
    {
        const auto share = [&](const std::string& key) -> const ElementShare* {
            const auto it = std::ranges::find(e.load.shares, key, &ElementShare::key);
            return it == e.load.shares.end() ? nullptr : &*it;
        };
        std::vector<ChainElement> out;
        const auto add = [&](const std::string& key, const std::string& type, const QString& name,
                             const QString& figure) {
            out.push_back({QString::fromStdString(key), QString::fromStdString(type), name, figure, {}, {}});
        };
        const bool rotary = axis.mechanism.rotary();
        add("load", "load", tr("Load"),
            axis.load.moving ? shown(*axis.load.moving, resolve(Quantity::TravelInertia, rotary)) : tr("not entered"));
        add("mechanism", std::string(mechanismType(axis.mechanism)), said(mechanismTitle(axis.mechanism)), {});
        for (std::size_t k = 0; k < axis.stages.size(); ++k) {
            const StageElement& s = axis.stages[k];
            add("stages[" + std::to_string(k) + "]", std::string(wordOf(s.type)),
                s.name.empty() ? said(wordOf(s.type)) : QString::fromStdString(s.name),
                s.type == StageKind::Gearbox ? tr("%1 : 1").arg(shown(s.ratio, Quantity::Ratio)) : QString());
        }
        add("motor", "motor",
            axis.actuator.motor()          ? QString::fromStdString(axis.actuator.motor()->name)
            : axis.actuator.stepperMotor() ? QString::fromStdString(axis.actuator.stepperMotor()->name)
                                           : tr("no motor yet"),
            {});
        double inertia = 0, torque = 0;
        for (const ElementShare& s : e.load.shares) {
            inertia += s.inertia;
            torque += s.torque;
        }
        for (ChainElement& element : out)
            if (const ElementShare* s = share(element.key.toStdString())) {
                if (inertia > 0)
                    element.inertiaShare = s->inertia / inertia;
                if (torque > 0)
                    element.torqueShare = s->torque / torque;
                const bool linear = axis.mechanism.is<LinearDrive>();
                element.figure += (element.figure.isEmpty() ? QString() : QStringLiteral("\n"))
                                  + shown(s->inertia, linear ? Quantity::Mass : Quantity::Inertia, 3);
                if (out.size() <= 6) // more blocks have no room for it
                    element.figure +=
                        QStringLiteral(" · ") + shown(s->torque, linear ? Quantity::Force : Quantity::Torque, 2);
            }
        return out;
    }

    void build(const QString& want)
    {
        const std::string key = m_key.toStdString();
        Axis copy = m_document.axis();
        std::span<const Field> fields;
        for (const FieldGroup& g : fieldGroups(copy))
            if (g.key == key) {
                fields = g.fields;
                m_title->setText(said(g.title));
            }
        if (fields.empty() && m_key != QLatin1String("load")) {
            m_key = QStringLiteral("load");
            refresh();
            return;
        }
        m_built = want;
        const auto find = [key](Axis& a) -> void* {
            for (const FieldGroup& g : fieldGroups(a))
                if (g.key == key)
                    return g.object;
            return nullptr;
        };
        m_catalogue->setVisible(stageIndex(m_key) && copy.stages[*stageIndex(m_key)].type == StageKind::Gearbox);
        m_form = new FieldForm(axisTarget(m_document, find), m_key, fields, 4);
        m_form->setContentsMargins(0, 4, 10, 4);
        m_form->offerBuilder([this, find, key](const Field& field) { buildFromSolids(find, key, field); });
        connect(m_form, &FieldForm::relaid, this, [this] { restLater(); });
        m_scroll->setWidget(m_form);
    }

    void restLater()
    {
        QMetaObject::invokeMethod(
            this, [this] { giveChainTheRest(); }, Qt::QueuedConnection);
    }

    /// The value of a field from solids; how it was built is kept with the axis.
    void buildFromSolids(const std::function<void*(Axis&)>& find, const std::string& group, const Field& field)
    {
        const std::string path = group + "." + std::string(field.key);
        const auto& bodies = m_document.axis().bodies;
        const auto kept = bodies.find(path);
        BodyDialog dialog(tr("%1 from solids").arg(said(field.label)),
                          kept == bodies.end() ? std::vector<Solid>{} : kept->second,
                          resolve(field.quantity, m_document.axis().mechanism.rotary()), this);
        if (dialog.exec() != QDialog::Accepted || !dialog.value())
            return;
        m_document.edit(tr("Build %1 from solids").arg(said(field.label)), {}, [&](Axis& a) {
            if (void* object = find(a)) {
                field.set(object, *dialog.value());
                a.bodies[path] = dialog.solids();
            }
        });
    }

    void compareGears()
    {
        GearDialog dialog(m_document, this);
        if (dialog.exec() != QDialog::Accepted)
            return;
        const Axis axis = dialog.tried();
        m_document.edit(tr("Gearbox in or out"), {}, [&](Axis& a) { a.stages = axis.stages; });
    }

    void insertAt(int position, const QPoint& where)
    {
        QMenu menu;
        for (const auto word : wordsOf<StageKind>)
            menu.addAction(tr("Insert %1").arg(said(word)), this, [this, position, word] {
                m_document.edit(tr("Insert %1").arg(said(word)), {}, [&](Axis& a) {
                    StageElement s;
                    s.type = *fromWord<StageKind>(word);
                    a.stages.insert(
                        a.stages.begin()
                            + std::min<std::ptrdiff_t>(position, static_cast<std::ptrdiff_t>(a.stages.size())),
                        s);
                });
                m_key = QStringLiteral("stages[%1]").arg(position);
                refresh();
            });
        menu.exec(where);
    }

    static std::optional<std::size_t> stageIndex(const QString& key)
    {
        if (!key.startsWith(QLatin1String("stages[")))
            return {};
        return static_cast<std::size_t>(key.mid(7, key.size() - 8).toInt());
    }

    /// Data of a gearbox from the catalogue, by frame.
    void offerGearboxes()
    {
        const auto index = stageIndex(m_key);
        if (!index)
            return;
        QMenu menu;
        QMenu* frame = nullptr;
        QString last;
        for (const Gearbox& g : store::shippedCatalogue().gearboxes) {
            const QString name = QString::fromStdString(g.name), head = name.section(QStringLiteral(" · "), 0, 0);
            if (head != last)
                frame = menu.addMenu(head);
            last = head;
            frame->addAction(name, this, [this, index, &g] {
                m_document.edit(tr("Take gearbox %1").arg(QString::fromStdString(g.name)), {}, [&](Axis& a) {
                    if (*index < a.stages.size())
                        a.stages[*index] = stageOf(g);
                });
            });
        }
        menu.exec(m_catalogue->mapToGlobal(QPoint(0, m_catalogue->height())));
    }

    void remove(const QString& key)
    {
        const auto index = stageIndex(key);
        if (!index || *index >= m_document.axis().stages.size())
            return;
        m_key = QStringLiteral("load");
        m_document.edit(tr("Remove an element of the chain"), {},
                        [&](Axis& a) { a.stages.erase(a.stages.begin() + static_cast<std::ptrdiff_t>(*index)); });
    }

    void move(const QString& key, int step)
    {
        const auto index = stageIndex(key);
        const std::size_t other = index ? *index + static_cast<std::size_t>(step) : 0;
        if (!index || other >= m_document.axis().stages.size())
            return;
        m_key = QStringLiteral("stages[%1]").arg(other);
        m_document.edit(tr("Move an element of the chain"), {},
                        [&](Axis& a) { std::swap(a.stages[*index], a.stages[other]); });
    }

    void chooseMechanism(const QPoint& where)
    {
        QMenu menu;
        for (const auto type : mechanismTypes()) {
            const Mechanism blank = *mechanismOf(type);
            menu.addAction(said(mechanismTitle(blank)), this, [this, blank] { change(blank); });
        }
        menu.exec(where);
    }

    /// Who tries another mechanism and comes back finds the entries as they were left.
    void change(Mechanism to)
    {
        const Axis& axis = m_document.axis();
        const std::string whose = m_document.path().toStdString() + ' ' + axis.id; // A1 of another machine is another
        const auto of = [&](const Mechanism& m) { return std::pair(whose, mechanismType(m)); };
        m_left.insert_or_assign(of(axis.mechanism), axis.mechanism);
        if (const auto kept = m_left.find(of(to)); kept != m_left.end())
            to = kept->second;
        m_document.edit(tr("Change the mechanism to %1").arg(said(mechanismTitle(to))), {},
                        [&](Axis& a) { changeMechanism(a, to); });
    }

    std::map<std::pair<std::string, std::string_view>, Mechanism> m_left; ///< by file and axis, and kind
    ChainView* m_chain;
    QWidget* m_below;
    Figures* m_figures;
    QLabel* m_title;
    QPushButton* m_catalogue;
    QScrollArea *m_scroll, *m_figureArea;
    FieldForm* m_form = nullptr;
    QString m_key = QStringLiteral("load"), m_built;
};

} // namespace

StationPage* makeLoad(Document& d, Bench& b) { return new LoadPage(d, b); }

} // namespace ridge::app
