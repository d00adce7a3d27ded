#include "app/instruments/chainview.h"
#include "app/theme/theme.h"
#include "core/machine/candidates.h"
#include "core/drives/servo.h"
#include "core/units/print.h"
#include "core/units/parse.h"
#include "station.h"
#include "store/catalogue.h"

#include <QHeaderView>
#include <QScrollArea>
#include <QTableWidget>
#include <QVBoxLayout>

#include <cmath>

namespace ridge::app {

QPushButton* button(const char* name, const QString& text)
{
    auto* b = new QPushButton(text);
    b->setObjectName(QString::fromLatin1(name));
    b->setAccessibleName(text);
    return b;
}
QLabel* quiet(const QString& text)
{
    auto* l = new QLabel(text);
    l->setObjectName(QStringLiteral("quiet"));
    l->setWordWrap(true);
    return l;
}
QLabel* caution(const QString& text)
{
    auto* l = new QLabel(QStringLiteral("▲ ") + text);
    l->setObjectName(QStringLiteral("caution"));
    l->setWordWrap(true);
    return l;
}

Figures::Figures(QWidget* parent) : QLabel(parent)
{
    setWordWrap(true);
    setTextInteractionFlags(Qt::LinksAccessibleByMouse | Qt::LinksAccessibleByKeyboard);
}

void Figures::show(const Evaluation& e, std::initializer_list<const char*> ids)
{
    QStringList parts;
    for (const char* id : ids)
        if (const ResultValue* r = e.result(id))
            parts += QStringLiteral("<span style='color:%1'>%2</span>&nbsp;<a href='%3' style='color:%4;text-decoration:none'><b>%5</b></a>")
                         .arg(theme().soft.name(), said(r->label).toHtmlEscaped().replace(QLatin1Char(' '), QStringLiteral("&nbsp;")), QString::fromLatin1(id), theme().accent.name(),
                              QString::fromStdString(print(r->value, r->quantity, unitSystem())).replace(QLatin1Char(' '), QStringLiteral("&nbsp;")));
    setText(parts.join(QStringLiteral(" &nbsp; ")));
}

QVector<double> evenly(double from, double to, int count)
{
    QVector<double> x(count);
    for (int k = 0; k < count; ++k)
        x[k] = from + (to - from) * k / (count - 1);
    return x;
}

namespace {

QString shown(double si, Quantity q, int digits = 4) { return QString::fromStdString(print(si, q, unitSystem(), digits)); }

// ---------------------------------------------------------------- Load

class LoadPage final : public StationPage {
public:
    LoadPage(Document& document, Bench& bench) : StationPage(document, bench)
    {
        auto* layout = new QVBoxLayout(this);
        m_chain = new ChainView;
        m_figures = new Figures;
        layout->addWidget(m_chain, 3);
        layout->addWidget(m_figures);
        m_scroll = new QScrollArea;
        m_scroll->setWidgetResizable(true);
        layout->addWidget(m_scroll, 4);
        connect(m_chain, &ChainView::elementChosen, this, [this](const QString& key) {
            m_key = key;
            refresh();
        });
        connect(m_figures, &QLabel::linkActivated, this, [this](const QString& id) { Q_EMIT resultWanted(id.toStdString()); });
    }

    void refresh() override
    {
        const Evaluation& e = m_document.evaluation();
        QStringList figures;
        const bool rotary = m_document.axis().mechanism.rotary();
        for (const ElementShare& s : e.shares) {
            if (s.key == "load")
                figures += shown(m_document.axis().load.moving.value_or(0), resolve(Quantity::TravelInertia, rotary));
            else
                figures += shown(s.inertia, Quantity::Inertia, 3);
        }
        m_chain->setChain(e.shares, figures, std::abs(std::sin(m_document.axis().load.incline)) > 0.05, m_key);
        m_figures->show(e, {"load.reflected_inertia", "load.hold_torque", "load.forward_torque", "load.backward_torque", "load.radius"});
        const QString want = QString::fromStdString(m_document.axis().id + m_document.axis().mechanism.type) + m_key;
        if (want != m_built)
            build(want);
        else if (m_form)
            m_form->refresh();
    }

private:
    void build(const QString& want)
    {
        m_built = want;
        const std::string key = m_key.toStdString();
        Axis copy = m_document.axis();
        std::span<const Field> fields = loadFields();
        bool found = false;
        for (const FieldGroup& g : fieldGroups(copy))
            if (g.key == key) {
                fields = g.fields;
                found = true;
            }
        if (!found && m_key != QLatin1String("load")) {
            m_key = QStringLiteral("load");
            refresh();
            return;
        }
        const std::string group = key;
        m_form = new FieldForm(m_document, m_key, fields, [group](Axis& a) -> void* {
            for (const FieldGroup& g : fieldGroups(a))
                if (g.key == group)
                    return g.object;
            return nullptr;
        });
        m_form->setContentsMargins(8, 8, 8, 8);
        m_scroll->setWidget(m_form);
    }
    ChainView* m_chain;
    Figures* m_figures;
    QScrollArea* m_scroll;
    FieldForm* m_form = nullptr;
    QString m_key = QStringLiteral("load"), m_built;
};

// ---------------------------------------------------------------- Move

class MovePage final : public StationPage {
public:
    MovePage(Document& document, Bench& bench) : StationPage(document, bench)
    {
        auto* layout = new QVBoxLayout(this);
        m_plot = new PlotView({tr("position"), tr("speed"), tr("acceleration")}, tr("time in the cycle, s"));
        layout->addWidget(m_plot, 5);
        m_figures = new Figures;
        layout->addWidget(m_figures);
        m_sentence = new QLabel;
        m_sentence->setObjectName(QStringLiteral("sentence"));
        m_sentence->setWordWrap(true);
        layout->addWidget(m_sentence);
        m_table = new QTableWidget;
        m_table->setObjectName(QStringLiteral("segments"));
        m_table->setAccessibleName(tr("Segments of the cycle"));
        layout->addWidget(m_table, 3);
        auto* row = new QHBoxLayout;
        auto* add = button("move.add", tr("Add move"));
        auto* dwell = button("move.dwell", tr("Add dwell"));
        auto* remove = button("move.remove", tr("Remove"));
        row->addWidget(add);
        row->addWidget(dwell);
        row->addWidget(remove);
        row->addWidget(quiet(tr("Give any three of distance, time, speed, acceleration. Drag a segment sideways on the graph to stretch it in time.")), 1);
        layout->addLayout(row);
        connect(add, &QPushButton::clicked, this, [this] {
            m_document.edit(tr("Add a move"), {}, [](Axis& a) {
                Segment s;
                const bool r = a.mechanism.rotary();
                s.distance = r ? 0.5 : 0.05;
                s.speed = r ? 2.0 : 0.2;
                s.acceleration = r ? 10.0 : 2.0;
                a.cycle.segments.push_back(s);
            });
        });
        connect(dwell, &QPushButton::clicked, this, [this] {
            m_document.edit(tr("Add a dwell"), {}, [](Axis& a) {
                Segment s;
                s.kind = "dwell";
                s.time = 0.3;
                a.cycle.segments.push_back(s);
            });
        });
        connect(remove, &QPushButton::clicked, this, [this] {
            const int k = m_table->currentRow();
            m_document.edit(tr("Remove segment %1").arg(k + 1), {}, [k](Axis& a) {
                if (k >= 0 && k < static_cast<int>(a.cycle.segments.size()))
                    a.cycle.segments.erase(a.cycle.segments.begin() + k);
            });
        });
        connect(m_table, &QTableWidget::cellChanged, this, &MovePage::typed);
        connect(m_figures, &QLabel::linkActivated, this, [this](const QString& id) { Q_EMIT resultWanted(id.toStdString()); });
        m_plot->setDragHandler([this](double from, double to, bool released) { drag(from, to, released); });
    }

    void refresh() override
    {
        const Evaluation& e = m_document.evaluation();
        const bool rotary = m_document.axis().mechanism.rotary();
        m_figures->show(e, {"move.cycle_time", "move.peak_speed", "move.peak_acceleration", "move.stroke"});
        QString sentence;
        for (const Error& p : e.problems)
            if (p.subject.starts_with("segment") || p.subject == "move")
                sentence = QString::fromStdString(p.subject + ": " + messageFor(p, rotary, unitSystem()));
        m_sentence->setText(sentence.isEmpty() ? QString() : sentence + tr("  The graph shows the last good cycle."));
        m_sentence->setVisible(!sentence.isEmpty());
        if (e.motion)
            draw(*e.motion, rotary);
        fill(rotary);
    }

private:
    static constexpr std::array<std::string_view, 9> columns{"kind", "distance", "time", "speed", "acceleration", "deceleration", "jerk", "payload", "force"};

    static const Field* field(std::string_view key)
    {
        for (const Field& f : segmentFields())
            if (f.key == key)
                return &f;
        return nullptr;
    }

    void draw(const Motion& motion, bool rotary)
    {
        const QVector<double> t = evenly(0, motion.duration, 900);
        PlotView::Curve x{t, {}, 0, 0}, v{t, {}, 1, 1}, a{t, {}, 2, 2};
        v.fill = a.fill = true;
        const auto qx = resolve(Quantity::Travel, rotary), qv = resolve(Quantity::TravelSpeed, rotary), qa = resolve(Quantity::TravelAcceleration, rotary);
        for (const double at : t) {
            const MotionPoint p = motion.at(at);
            x.y.append(toDisplay(p.position, qx, unitSystem()));
            v.y.append(toDisplay(p.speed, qv, unitSystem()));
            a.y.append(toDisplay(p.acceleration, qa, unitSystem()));
        }
        const auto label = [](const QString& name, Quantity q) { return QStringLiteral("%1, %2").arg(name, QString::fromStdString(prettyUnit(displayUnit(q, unitSystem())))); };
        m_plot->setPaneLabel(0, label(tr("position"), qx));
        m_plot->setPaneLabel(1, label(tr("speed"), qv));
        m_plot->setPaneLabel(2, label(tr("acceleration"), qa));
        m_plot->setCurves({x, v, a});
    }

    void fill(bool rotary)
    {
        m_filling = true;
        const auto& segments = m_document.axis().cycle.segments;
        m_table->setColumnCount(static_cast<int>(columns.size()));
        m_table->setRowCount(static_cast<int>(segments.size()));
        QStringList heads;
        for (const auto key : columns)
            heads += said(field(key)->label);
        m_table->setHorizontalHeaderLabels(heads);
        m_table->horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
        m_table->verticalHeader()->setDefaultSectionSize(24);
        const auto& motion = m_document.evaluation().motion;
        for (int r = 0; r < m_table->rowCount(); ++r)
            for (int c = 0; c < m_table->columnCount(); ++c) {
                const Field& f = *field(columns[static_cast<std::size_t>(c)]);
                const Segment& s = segments[static_cast<std::size_t>(r)];
                QString text;
                bool found = false;
                if (f.kind == FieldKind::Choice)
                    text = said(f.getText(&s));
                else if (const auto value = f.get(&s); value && (f.key == "distance" || f.key == "time" || *value != 0 || f.optional))
                    text = shown(*value, resolve(f.quantity, rotary), 5);
                else if (motion && s.kind != "dwell") { // what followed from the others, in quiet ink
                    const Trapezoid& t = motion->solved[static_cast<std::size_t>(r)];
                    const double v = f.key == "time" ? t.time : f.key == "speed" ? t.peakSpeed : f.key == "acceleration" ? t.acceleration : f.key == "deceleration" ? t.deceleration : 0;
                    text = v > 0 ? shown(v, resolve(f.quantity, rotary)) : QString();
                    found = true;
                }
                auto* item = new QTableWidgetItem(text);
                if (found) {
                    item->setForeground(theme().soft);
                    item->setData(Qt::UserRole, text);
                }
                m_table->setItem(r, c, item);
            }
        m_filling = false;
    }

    void typed(int row, int column)
    {
        if (m_filling)
            return;
        const Field f = *field(columns[static_cast<std::size_t>(column)]);
        const QString text = m_table->item(row, column)->text().trimmed();
        if (!text.isEmpty() && text == m_table->item(row, column)->data(Qt::UserRole).toString())
            return;
        const Quantity q = resolve(f.quantity, m_document.axis().mechanism.rotary());
        std::optional<double> value;
        if (f.kind == FieldKind::Number && !text.isEmpty()) {
            const auto parsed = parseQuantity(text.toStdString(), q, displayUnit(q, unitSystem()));
            const auto problem = parsed ? problemOf(f, *parsed) : std::optional(parsed.error());
            if (problem) {
                m_sentence->setText(tr("Segment %1, %2: %3").arg(row + 1).arg(said(f.label), QString::fromStdString(messageFor(*problem, m_document.axis().mechanism.rotary(), unitSystem()))));
                m_sentence->show();
                return;
            }
            value = *parsed;
        }
        if (f.kind == FieldKind::Choice && std::ranges::find(f.choices, text.toStdString()) == f.choices.end()) {
            m_sentence->setText(tr("Segment %1: “%2” is not a kind; use trapezoid, jerk-limited, cam or dwell.").arg(row + 1).arg(text));
            m_sentence->show();
            return;
        }
        m_document.edit(tr("Change %1 of segment %2").arg(said(f.label)).arg(row + 1), {}, [&](Axis& a) {
            Segment& s = a.cycle.segments[static_cast<std::size_t>(row)];
            if (f.kind == FieldKind::Choice)
                f.setText(&s, text.toStdString());
            else
                f.set(&s, value);
        });
        refresh();
    }

    /// Stretches the segment under the pointer in time; its speed limit gives way.
    void drag(double from, double to, bool released)
    {
        const auto& motion = m_document.evaluation().motion;
        if (!motion)
            return;
        if (m_dragged < 0) {
            for (const Phase& p : motion->phases)
                if (from >= p.start && from < p.start + p.duration)
                    m_dragged = p.segment;
            m_dragTime = m_dragged >= 0 ? motion->solved[static_cast<std::size_t>(m_dragged)].time : 0;
            ++m_dragRun;
        }
        if (m_dragged < 0)
            return;
        const double time = std::round(std::max(0.02, m_dragTime + to - from) * 100) / 100; // snaps to hundredths
        const int k = m_dragged;
        m_document.edit(tr("Stretch segment %1").arg(k + 1), QStringLiteral("stretch%1").arg(m_dragRun), [&](Axis& a) {
            Segment& s = a.cycle.segments[static_cast<std::size_t>(k)];
            s.time = time;
            if (s.kind == "trapezoid")
                s.speed.reset();
        });
        if (released)
            m_dragged = -1;
    }

    PlotView* m_plot;
    Figures* m_figures;
    QLabel* m_sentence;
    QTableWidget* m_table;
    bool m_filling = false;
    int m_dragged = -1, m_dragRun = 0;
    double m_dragTime = 0;
};

// ---------------------------------------------------------------- Match

class MatchPage final : public StationPage {
public:
    MatchPage(Document& document, Bench& bench) : StationPage(document, bench)
    {
        auto* layout = new QVBoxLayout(this);
        m_plot = new PlotView({tr("torque, N·m")}, tr("speed, rpm"));
        layout->addWidget(m_plot, 5);
        m_figures = new Figures;
        layout->addWidget(m_figures);
        m_chosen = quiet({});
        layout->addWidget(m_chosen);
        m_table = new QTableWidget;
        m_table->setObjectName(QStringLiteral("candidates"));
        m_table->setAccessibleName(tr("Candidates, best first"));
        m_table->setEditTriggers(QAbstractItemView::NoEditTriggers);
        m_table->setSelectionBehavior(QAbstractItemView::SelectRows);
        layout->addWidget(m_table, 4);
        auto* row = new QHBoxLayout;
        auto* choose = button("match.choose", tr("Choose this motor and drive"));
        row->addWidget(choose);
        row->addWidget(quiet(tr("Dark area: continuous at this ambient. Light area: short time, lowest bus, worse of cold and hot. Line: the cycle.")), 1);
        layout->addLayout(row);
        connect(choose, &QPushButton::clicked, this, [this] { choose_(m_table->currentRow()); });
        connect(m_table, &QTableWidget::cellDoubleClicked, this, [this](int r, int) { choose_(r); });
        connect(m_figures, &QLabel::linkActivated, this, [this](const QString& id) { Q_EMIT resultWanted(id.toStdString()); });
    }

    void refresh() override
    {
        const Evaluation& e = m_document.evaluation();
        m_figures->show(e, {"match.torque_peak", "match.torque_rms", "match.speed_max", "match.inertia_ratio", "match.current_rms", "match.current_peak", "match.energy_returned", "match.capacitor_room", "match.anti_resonance"});
        const Choice& c = m_document.axis().choice;
        m_chosen->setText(c.motor && c.drive ? tr("Chosen: %1%2 with %3%4").arg(QString::fromStdString(c.motor->name), c.withBrake ? tr(" with brake") : QString(), QString::fromStdString(c.drive->name), c.resistor ? tr(", resistor %1").arg(QString::fromStdString(c.resistor->name)) : QString())
                                             : tr("Nothing is chosen yet: pick a candidate."));
        draw(e);
        rank(e);
    }

private:
    void draw(const Evaluation& e)
    {
        const Choice& c = m_document.axis().choice;
        std::vector<PlotView::Curve> curves;
        constexpr double rpm = 30 / 3.14159265358979;
        if (c.motor && c.drive && e.path) {
            const ServoMotor& m = *c.motor;
            const QVector<double> w = evenly(0, m.maxSpeed, 160);
            PlotView::Curve shortTime{{}, {}, 0, 0}, continuous{{}, {}, 0, 3};
            for (const double at : w) {
                shortTime.x.append(at * rpm);
                shortTime.y.append(shortTimeTorque(m, at, c.drive->peakCurrent, e.conditions.bus.lowest));
                continuous.x.append(at * rpm);
                continuous.y.append(std::min(continuousTorque(m, at, e.conditions.lossFactor), shortTime.y.back()));
            }
            shortTime.fill = continuous.fill = true;
            curves.push_back(shortTime);
            curves.push_back(continuous);
            PlotView::Curve path{{}, {}, 0, 1};
            path.ordered = false;
            path.width = 2;
            const double rotor = m.inertia + (c.withBrake ? m.brakeInertia : 0);
            for (const DutyPiece& p : e.path->pieces) {
                path.x << std::abs(p.speed0) * rpm << std::abs(p.speed1) * rpm;
                path.y << std::abs(p.torque0 + rotor * p.acceleration0) << std::abs(p.torque1 + rotor * p.acceleration1);
            }
            curves.push_back(path);
            curves.push_back({{e.duty.speedMeanAbs * rpm - 1, e.duty.speedMeanAbs * rpm + 1}, {e.duty.torqueRms, e.duty.torqueRms}, 0, 2, Qt::SolidLine, 7});
        }
        m_plot->setCurves(curves);
        if (c.motor && e.path)
            m_plot->setMarks({e.duty.speedMeanAbs * rpm}, {tr("rms at mean speed")});
        else
            m_plot->setMarks({}, {});
    }

    void rank(const Evaluation& e)
    {
        const auto& catalogue = store::shippedCatalogue();
        m_ranked = rankForAxis(m_document.machine(), m_document.axis(), e, catalogue.motors, catalogue.drives);
        // per motor the best drive; the first failing ones say why the smaller do not do
        std::vector<Candidate> rows;
        std::vector<bool> seen(catalogue.motors.size(), false);
        for (const Candidate& c : m_ranked)
            if (!seen[c.motor]) {
                seen[c.motor] = true;
                rows.push_back(c);
            }
        m_ranked = std::move(rows);
        m_table->setColumnCount(5);
        m_table->setHorizontalHeaderLabels({tr("Motor"), tr("Drive"), tr("Margin"), tr("Inertia ratio"), tr("Reason")});
        m_table->setRowCount(static_cast<int>(m_ranked.size()));
        m_table->verticalHeader()->setDefaultSectionSize(22);
        for (int r = 0; r < m_table->rowCount(); ++r) {
            const Candidate& c = m_ranked[static_cast<std::size_t>(r)];
            const QString cells[] = {QString::fromStdString(catalogue.motors[c.motor].name), QString::fromStdString(catalogue.drives[c.drive].name),
                                     (c.result.passes() ? QStringLiteral("● %1 %") : QStringLiteral("■ %1 %")).arg(c.result.tightest * 100, 0, 'f', 0), QString::number(c.result.inertiaRatio, 'f', 1),
                                     QString::fromStdString(candidateReason(catalogue.motors[c.motor], catalogue.drives[c.drive], c.result))};
            for (int k = 0; k < 5; ++k) {
                auto* item = new QTableWidgetItem(cells[k]);
                item->setToolTip(cells[4]);
                if (!c.result.passes())
                    item->setForeground(k == 2 ? theme().fail : theme().soft);
                m_table->setItem(r, k, item);
            }
        }
        m_table->setColumnWidth(0, 170);
        m_table->setColumnWidth(1, 80);
        m_table->setColumnWidth(2, 62);
        m_table->setColumnWidth(3, 84);
        m_table->horizontalHeader()->setStretchLastSection(true);
    }

    void choose_(int row)
    {
        if (row < 0 || row >= static_cast<int>(m_ranked.size()))
            return;
        const Candidate c = m_ranked[static_cast<std::size_t>(row)];
        const auto& catalogue = store::shippedCatalogue();
        const bool hangs = std::abs(std::sin(m_document.axis().load.incline)) > 0.05;
        m_document.edit(tr("Choose %1 with %2").arg(QString::fromStdString(catalogue.motors[c.motor].name), QString::fromStdString(catalogue.drives[c.drive].name)), {}, [&](Axis& a) {
            a.choice.motor = catalogue.motors[c.motor];
            a.choice.drive = catalogue.drives[c.drive];
            a.choice.withBrake = a.choice.withBrake || hangs;
        });
    }

    PlotView* m_plot;
    Figures* m_figures;
    QLabel* m_chosen;
    QTableWidget* m_table;
    std::vector<Candidate> m_ranked;
};

} // namespace

StationPage* makeLoad(Document& d, Bench& b) { return new LoadPage(d, b); }
StationPage* makeMove(Document& d, Bench& b) { return new MovePage(d, b); }
StationPage* makeMatch(Document& d, Bench& b) { return new MatchPage(d, b); }

} // namespace ridge::app
