#include "app/instruments/chainview.h"
#include "app/theme/theme.h"
#include "core/units/print.h"
#include "station.h"

#include <QCheckBox>
#include <QHeaderView>
#include <QProgressBar>
#include <QScrollArea>
#include <QSplitter>
#include <QTableWidget>
#include <QTimer>
#include <QVBoxLayout>

#include <cmath>

namespace ridge::app {

namespace {

// ---------------------------------------------------------------- Wire

class WirePage final : public StationPage {
public:
    WirePage(Document& document, Bench& bench) : StationPage(document, bench)
    {
        auto* layout = new QVBoxLayout(this);
        layout->addWidget(caution(tr("Supply off and locked, meter proved, bus measured under 1 V before anything is touched; measure again after the work. Size conductors by the local code.")));
        auto* split = new QSplitter;
        m_view = new ConnectionView;
        auto* scroll = new QScrollArea;
        scroll->setWidget(m_view);
        scroll->setWidgetResizable(true);
        split->addWidget(scroll);
        auto* side = new QWidget;
        auto* column = new QVBoxLayout(side);
        m_bus = new QuantityEdit(deadBusField(), false);
        m_bus->line().setObjectName(QStringLiteral("wiring.deadBus"));
        column->addWidget(new QLabel(tr("Dead-bus reading, plus to minus")));
        column->addWidget(m_bus);
        m_locked = quiet({});
        column->addWidget(m_locked);
        m_name = new QLabel;
        m_name->setObjectName(QStringLiteral("head"));
        column->addWidget(m_name);
        m_tick = new QCheckBox(tr("followed from end to end (Space)"));
        m_tick->setObjectName(QStringLiteral("wire.tick"));
        m_doubt = new QCheckBox(tr("in doubt, to be measured"));
        m_doubt->setObjectName(QStringLiteral("wire.doubt"));
        m_reading = new QLineEdit;
        m_reading->setObjectName(QStringLiteral("wire.reading"));
        m_reading->setPlaceholderText(tr("reading, e.g. 0.3 ohm"));
        column->addWidget(m_tick);
        column->addWidget(m_doubt);
        column->addWidget(m_reading);
        auto* all = button("wire.tickAll", tr("Tick the rest of this cable"));
        column->addWidget(all);
        m_findings = new QLabel;
        m_findings->setWordWrap(true);
        column->addWidget(m_findings);
        m_form = nullptr;
        m_holder = new QVBoxLayout;
        column->addLayout(m_holder);
        column->addStretch();
        auto* sideScroll = new QScrollArea;
        sideScroll->setWidget(side);
        sideScroll->setWidgetResizable(true);
        split->addWidget(sideScroll);
        split->setSizes({520, 270});
        layout->addWidget(split, 1);
        connect(m_view, &ConnectionView::conductorChosen, this, [this] { show(); });
        connect(m_bus, &QuantityEdit::entered, this, [this](std::optional<double> v) {
            m_document.edit(tr("Enter the dead-bus reading"), {}, [&](Axis& a) {
                a.wiring.deadBus = v;
                a.wiring.deadBusTime = v ? now().toStdString() : std::string{};
            });
            if (v)
                m_document.log(QStringLiteral("measurement"), tr("Bus between plus and minus: %1").arg(QString::fromStdString(print(*v, Quantity::Voltage))));
        });
        connect(m_tick, &QCheckBox::clicked, this, [this](bool on) { change(tr("Tick %1"), [on](Tick& t) { t.ticked = on; }); });
        connect(m_doubt, &QCheckBox::clicked, this, [this](bool on) { change(tr("Doubt %1"), [on](Tick& t) { t.doubted = on; }); });
        connect(m_reading, &QLineEdit::editingFinished, this, [this] {
            const std::string text = m_reading->text().toStdString();
            change(tr("Reading of %1"), [&](Tick& t) { t.reading = text; });
        });
        connect(all, &QPushButton::clicked, this, [this] {
            const WirePlan& plan = m_document.evaluation().plan;
            std::string cable;
            for (const Conductor& c : plan.conductors)
                if (QString::fromStdString(c.id) == m_view->chosen())
                    cable = c.cable;
            m_document.edit(tr("Tick cable %1").arg(QString::fromStdString(cable)), {}, [&](Axis& a) {
                for (const Conductor& c : plan.conductors)
                    if (c.cable == cable)
                        a.wiring.ticks[c.id].ticked = true;
            });
        });
    }

    void refresh() override
    {
        const Evaluation& e = m_document.evaluation();
        m_view->setPlan(e.plan, m_document.axis().wiring, e.findings);
        m_bus->setValue(m_document.axis().wiring.deadBus);
        const bool dead = m_document.axis().wiring.deadBus && *m_document.axis().wiring.deadBus < 1.0;
        m_locked->setText(dead ? tr("Under 1 V: the conductors can be ticked.") : tr("Ticking opens when a reading under 1 V is entered."));
        for (QWidget* w : {static_cast<QWidget*>(m_tick), static_cast<QWidget*>(m_doubt), static_cast<QWidget*>(m_reading)})
            w->setEnabled(dead);
        findChild<QPushButton*>(QStringLiteral("wire.tickAll"))->setEnabled(dead);
        QString text;
        for (const Finding& f : e.findings)
            if (const WireRule* rule = wireRule(f.rule))
                text += QStringLiteral("<p><b>%1</b> %2 (%3): %4</p>").arg(said(f.rule), QString::fromStdString(f.subject).toHtmlEscaped(), said(rule->severityWord), said(rule->message));
        m_findings->setText(text.isEmpty() ? tr("No rule has anything to say.") : text);
        if (m_built != m_document.axis().id) {
            m_built = m_document.axis().id;
            delete m_form;
            m_form = new FieldForm(m_document, QStringLiteral("wiring"), wiringFields().first(wiringFields().size() - 2), [](Axis& a) -> void* { return &a.wiring; });
            m_holder->addWidget(m_form);
        }
        m_form->refresh();
        show();
    }

private:
    static const Field& deadBusField()
    {
        for (const Field& f : wiringFields())
            if (f.key == "deadBus")
                return f;
        return wiringFields().front();
    }
    void show()
    {
        const QString id = m_view->chosen();
        m_name->setText(id);
        const auto& ticks = m_document.axis().wiring.ticks;
        const auto it = ticks.find(id.toStdString());
        const Tick t = it == ticks.end() ? Tick{} : it->second;
        m_tick->setChecked(t.ticked);
        m_doubt->setChecked(t.doubted);
        if (!m_reading->hasFocus())
            m_reading->setText(QString::fromStdString(t.reading));
    }
    void change(const QString& text, const std::function<void(Tick&)>& f)
    {
        const std::string id = m_view->chosen().toStdString();
        if (!id.empty())
            m_document.edit(text.arg(QString::fromStdString(id)), {}, [&](Axis& a) { f(a.wiring.ticks[id]); });
    }
    ConnectionView* m_view;
    QuantityEdit* m_bus;
    QLabel *m_locked, *m_name, *m_findings;
    QCheckBox *m_tick, *m_doubt;
    QLineEdit* m_reading;
    FieldForm* m_form;
    QVBoxLayout* m_holder;
    std::string m_built;
};

// ---------------------------------------------------------------- Set

class SetPage final : public StationPage {
public:
    SetPage(Document& document, Bench& bench) : StationPage(document, bench)
    {
        auto* layout = new QVBoxLayout(this);
        auto* row = new QHBoxLayout;
        m_connect = button("set.connect", tr("Start simulated drive"));
        m_read = button("set.read", tr("Read from drive"));
        m_write = button("set.write", tr("Write differences to drive"));
        m_save = button("set.save", tr("Save in drive"));
        m_cycle = button("set.cycle", tr("Power-cycle (simulated)"));
        for (QPushButton* b : {m_connect, m_read, m_write, m_save, m_cycle})
            row->addWidget(b);
        row->addStretch();
        layout->addLayout(row);
        m_progress = new QProgressBar;
        m_progress->setTextVisible(false);
        m_progress->setFixedHeight(4);
        layout->addWidget(m_progress);
        m_words = quiet({});
        m_words->setProperty("station", QStringLiteral("set"));
        layout->addWidget(m_words);
        m_table = new QTableWidget;
        m_table->setObjectName(QStringLiteral("parameters"));
        m_table->setAccessibleName(tr("Parameters: planned, in the drive, last saved"));
        m_table->setEditTriggers(QAbstractItemView::NoEditTriggers);
        layout->addWidget(m_table, 1);
        connect(m_connect, &QPushButton::clicked, this, [this] { m_bench.startSimulated(); });
        connect(m_read, &QPushButton::clicked, this, &SetPage::readDrive);
        connect(m_write, &QPushButton::clicked, this, &SetPage::writeDrive);
        connect(m_save, &QPushButton::clicked, this, &SetPage::save);
        connect(m_cycle, &QPushButton::clicked, this, &SetPage::cycle);
        connect(&m_bench, &Bench::changed, this, &SetPage::enableButtons);
    }

    void refresh() override
    {
        const Evaluation& e = m_document.evaluation();
        const ParameterRecord& p = m_document.axis().parameters;
        m_table->setColumnCount(7);
        m_table->setHorizontalHeaderLabels({tr("Object"), tr("Name"), tr("Planned"), tr("Meaning"), tr("In the drive"), tr("Last saved"), tr("Why")});
        m_table->setRowCount(static_cast<int>(e.parameters.size()));
        m_table->verticalHeader()->hide();
        m_table->verticalHeader()->setDefaultSectionSize(21);
        for (int r = 0; r < m_table->rowCount(); ++r) {
            const PlannedParameter& row = e.parameters[static_cast<std::size_t>(r)];
            const ObjectEntry* entry = ObjectDictionary::shipped().find(row.key);
            const auto value = [&](const ParameterSet& s) {
                const auto it = s.values.find(row.key);
                return it == s.values.end() ? QString() : QString::number(it->second);
            };
            const auto differs = [&](const ParameterSet& s) {
                const auto it = s.values.find(row.key);
                return it != s.values.end() && !sameWithinRounding(row.key, row.value, it->second);
            };
            const QString cells[] = {QString::fromStdString(keyText(row.key)), entry ? QString::fromStdString(entry->name) + (entry->powerCycle ? tr(" (after power cycle)") : QString()) : QString(), QString::number(row.value),
                                     QString::fromStdString(row.physical), value(p.inDrive), value(p.saved), QString::fromStdString(row.why)};
            for (int c = 0; c < 7; ++c) {
                auto* item = new QTableWidgetItem(cells[c]);
                if (c == 2 || c == 4 || c == 5)
                    item->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
                if ((c == 4 && differs(p.inDrive)) || (c == 5 && differs(p.saved))) { // only differences stand out
                    item->setForeground(theme().fail);
                    item->setText(QStringLiteral("■ ") + cells[c]);
                } else if (c >= 4 || c == 0) {
                    item->setForeground(theme().soft);
                }
                m_table->setItem(r, c, item);
            }
        }
        const int widths[] = {62, 210, 84, 132, 92, 92};
        for (int c = 0; c < 6; ++c)
            m_table->setColumnWidth(c, widths[c]);
        m_table->horizontalHeader()->setStretchLastSection(true);
        enableButtons();
    }

private:
    void enableButtons()
    {
        const bool on = m_bench.session().connected(), backup = !m_document.axis().parameters.backup.empty();
        m_read->setEnabled(on && !m_busy);
        m_write->setEnabled(on && backup && !m_busy);
        m_save->setEnabled(on && backup && !m_busy);
        m_cycle->setEnabled(on && m_bench.session().simulated() && !m_busy);
        if (!m_busy)
            m_words->setText(!on ? tr("No drive is connected.") : backup ? m_bench.words() : tr("%1. Read first: what is in the drive is kept as the backup before anything is written.").arg(m_bench.words()));
    }
    void busy(bool on)
    {
        m_busy = on;
        setProperty("busy", on);
        m_progress->setValue(0);
        enableButtons();
    }
    void failed(const Error& e)
    {
        busy(false);
        m_words->setText(QString::fromStdString(messageFor(e)));
    }
    auto progress()
    {
        return [this](int done, int total) {
            m_progress->setMaximum(total);
            m_progress->setValue(done);
        };
    }
    void readDrive()
    {
        busy(true);
        m_bench.session().readAll([this](const Result<link::Values>& v) {
            if (!v)
                return failed(v.error());
            busy(false);
            m_document.edit(tr("Read from drive"), {}, [&](Axis& a) {
                a.parameters.inDrive = {"in the drive", now().toStdString(), *v};
                if (a.parameters.backup.empty())
                    a.parameters.backup = {"backup before the first write", now().toStdString(), *v};
            });
            m_document.log(QStringLiteral("drive"), tr("Read %1 values from the %2").arg(v->size()).arg(m_bench.session().simulated() ? tr("simulated drive") : tr("drive")));
        }, progress());
    }
    void writeDrive()
    {
        link::Values differing;
        const auto& held = m_document.axis().parameters.inDrive.values;
        for (const PlannedParameter& row : m_document.evaluation().parameters) {
            const auto it = held.find(row.key);
            if (it == held.end() || !sameWithinRounding(row.key, row.value, it->second))
                differing[row.key] = row.value;
        }
        busy(true);
        m_bench.session().writeVerified(differing, [this, differing](const Result<link::Values>& back) {
            if (!back)
                return failed(back.error());
            busy(false);
            int wrong = 0;
            for (const auto& [key, value] : differing) {
                const auto it = back->find(key);
                wrong += it == back->end() || !sameWithinRounding(key, value, it->second);
            }
            m_document.edit(tr("Write to drive"), {}, [&](Axis& a) {
                for (const auto& [key, value] : *back)
                    a.parameters.inDrive.values[key] = value;
                a.parameters.inDrive.time = now().toStdString();
                a.parameters.verified = wrong == 0;
                a.parameters.powerCycled = false;
            });
            m_document.log(QStringLiteral("drive"), tr("Wrote %1 values, read back: %2 differ").arg(differing.size()).arg(wrong));
        }, progress());
    }
    void save()
    {
        busy(true);
        m_bench.session().write({0x2300, 1}, 0x5AFE, [this](const Result<void>& r) {
            if (!r)
                return failed(r.error());
            busy(false);
            m_document.edit(tr("Save in drive"), {}, [](Axis& a) {
                a.parameters.saved = a.parameters.inDrive;
                a.parameters.saved.name = "saved";
                a.parameters.saved.time = now().toStdString();
                a.parameters.powerCycled = false;
            });
            m_document.log(QStringLiteral("drive"), tr("Saved in permanent memory"));
        });
    }
    void cycle()
    {
        busy(true);
        m_bench.session().write({0x2F00, 7}, 0x5AFE, [this](const Result<void>& r) {
            if (!r)
                return failed(r.error());
            QTimer::singleShot(150, this, [this] {
                m_bench.session().readAll([this](const Result<link::Values>& v) {
                    if (!v)
                        return failed(v.error());
                    busy(false);
                    m_document.edit(tr("Power-cycle"), {}, [&](Axis& a) {
                        a.parameters.inDrive = {"in the drive", now().toStdString(), *v};
                        a.parameters.powerCycled = true;
                    });
                    m_document.log(QStringLiteral("drive"), tr("Control supply off and on (simulated), read back"));
                }, progress());
            });
        });
    }
    QPushButton *m_connect, *m_read, *m_write, *m_save, *m_cycle;
    QProgressBar* m_progress;
    QLabel* m_words;
    QTableWidget* m_table;
    bool m_busy = false;
};

// ---------------------------------------------------------------- Turn

class TurnPage final : public StationPage {
public:
    TurnPage(Document& document, Bench& bench) : StationPage(document, bench)
    {
        auto* layout = new QVBoxLayout(this);
        layout->addWidget(caution(tr("Area closed, emergency stop in reach, vertical load propped or lowered. The axis moves only while the button is held.")));
        m_ladder = new LadderView;
        layout->addWidget(m_ladder);
        layout->addWidget(new QLabel(tr("One turn by hand, forward, without torque")));
        m_strip = new AngleStrip;
        layout->addWidget(m_strip);
        auto* row = new QHBoxLayout;
        m_begin = button("turn.begin", tr("Mark the start"));
        m_hand = button("turn.hand", tr("Turn once (simulated hand)"));
        m_end = button("turn.end", tr("Take the count"));
        for (QPushButton* b : {m_begin, m_hand, m_end})
            row->addWidget(b);
        row->addStretch();
        layout->addLayout(row);
        auto* jog = new QHBoxLayout;
        m_minus = button("turn.minus", tr("◀ Hold to jog −"));
        m_plus = button("turn.plus", tr("Hold to jog + ▶"));
        m_agree = button("turn.agree", tr("It moved as planned"));
        m_wrong = button("turn.wrong", tr("It moved the wrong way"));
        for (QPushButton* b : {m_minus, m_plus, m_agree, m_wrong})
            jog->addWidget(b);
        jog->addStretch();
        layout->addLayout(jog);
        m_words = quiet({});
        layout->addWidget(m_words);
        m_formHolder = new QVBoxLayout;
        layout->addLayout(m_formHolder);
        layout->addStretch();
        connect(m_begin, &QPushButton::clicked, this, [this] {
            positionCounts([this](double counts) {
                m_start = counts;
                m_words->setText(tr("Start marked. Turn the shaft by hand exactly once, forward."));
            });
        });
        connect(m_hand, &QPushButton::clicked, this, [this] { m_bench.session().write({0x2F00, 9}, 1000); });
        connect(m_end, &QPushButton::clicked, this, [this] {
            positionCounts([this](double counts) {
                const double turned = counts - m_start;
                m_document.edit(tr("Count one turn"), {}, [&](Axis& a) { a.turn.counted = std::round(turned); });
                m_document.log(QStringLiteral("measurement"), tr("One hand turn: %1 counts%2").arg(turned, 0, 'f', 0).arg(m_bench.session().simulated() ? tr(" (simulated)") : QString()));
            });
        });
        hold(m_plus, 1);
        hold(m_minus, -1);
        connect(m_agree, &QPushButton::clicked, this, [this] { direction("as planned"); });
        connect(m_wrong, &QPushButton::clicked, this, [this] { direction("reversed"); });
        connect(&m_bench, &Bench::changed, this, &TurnPage::live);
    }

    void refresh() override
    {
        if (m_built != m_document.axis().id) {
            m_built = m_document.axis().id;
            delete m_form;
            m_form = new FieldForm(m_document, QStringLiteral("turn"), turnFields().subspan(3), [](Axis& a) -> void* { return &a.turn; });
            m_formHolder->addWidget(m_form);
        }
        m_form->refresh();
        live();
    }

private:
    void live()
    {
        const auto& session = m_bench.session();
        const auto& s = session.snapshot();
        const bool on = session.connected();
        const auto known = [&](bool value) { return on ? std::optional(value) : std::nullopt; };
        const bool dataGood = m_document.axis().parameters.verified;
        m_ladder->setRungs({{tr("control supply, drive answers"), on, tr("start or connect the drive in Set")},
                            {tr("torque-off channel A high"), known(s.inputs & 1 << 16), tr("chain of stops and guards; measure the input")},
                            {tr("torque-off channel B high"), known(s.inputs & 1 << 17), tr("chain of stops and guards; one channel low for 10 s is latched")},
                            {tr("no latched fault"), known(s.error == 0), tr("read, record, remove the cause, then reset (%1)").arg(s.error, 4, 16)},
                            {tr("motor data written and read back"), dataGood, tr("write the planned values in Set")},
                            {tr("bus above under-voltage"), known(s.busMillivolt > 200000), tr("supply, fuse, pre-charge")},
                            {tr("interlock closed"), known(s.inputs & 1 << 3), tr("guard or key switch")}});
        const auto& motor = m_document.axis().choice.motor;
        m_strip->setCounts(motor ? motor->countsPerTurn : 0, m_document.axis().turn.counted, 0);
        const bool ready = on && dataGood && s.error == 0;
        for (QPushButton* b : {m_begin, m_end})
            b->setEnabled(on);
        m_hand->setVisible(session.simulated());
        m_hand->setEnabled(on);
        m_plus->setEnabled(ready);
        m_minus->setEnabled(ready);
        if (!m_jogging)
            m_words->setText(tr("%1. Jog %2 with at most %3 % of rated torque. Open rung: %4").arg(m_bench.words(), QString::fromStdString(print(m_document.axis().turn.jogSpeed, resolve(Quantity::TravelSpeed, m_document.axis().mechanism.rotary()), unitSystem())))
                                 .arg(m_document.axis().turn.jogTorqueShare * 100, 0, 'f', 0).arg(m_ladder->openRung()));
    }
    /// Counts since power-up, from the position unit and the scaling in the drive.
    void positionCounts(std::function<void(double)> done)
    {
        m_bench.session().read({{0x6064, 0}, {0x6092, 1}, {0x6092, 2}, {0x6091, 1}, {0x6091, 2}, {0x608F, 1}, {0x608F, 2}}, [this, done = std::move(done)](const Result<link::Values>& v) {
            if (!v) {
                m_words->setText(QString::fromStdString(messageFor(v.error())));
                return;
            }
            const auto at = [&](std::uint16_t i, std::uint8_t s) { return std::max(1.0, static_cast<double>(v->at({i, s}))); };
            done(static_cast<double>(v->at({0x6064, 0})) * (at(0x608F, 1) / at(0x608F, 2)) * (at(0x6091, 1) / at(0x6091, 2)) / (at(0x6092, 1) / at(0x6092, 2)));
        });
    }
    void hold(QPushButton* b, int way)
    {
        connect(b, &QPushButton::pressed, this, [this, way] { start(way); });
        connect(b, &QPushButton::released, this, &TurnPage::stop);
    }
    void start(int way)
    {
        m_jogging = true;
        auto& s = m_bench.session();
        const Axis& a = m_document.axis();
        const double u = unitsPerTravel(a);
        const auto limit = static_cast<std::int64_t>(a.turn.jogTorqueShare * 1000);
        s.write({0x60E0, 0}, limit);
        s.write({0x60E1, 0}, limit);
        s.write({0x60FF, 0}, 0);
        m_words->setText(tr("Enabling …"));
        m_bench.enable(3, [this, way, u](bool on) {
            if (!on || !m_jogging) {
                stop();
                m_words->setText(on ? tr("Stopped.") : tr("The drive does not enable: %1").arg(m_ladder->openRung()));
                return;
            }
            m_bench.session().write({0x60FF, 0}, static_cast<std::int64_t>(way * m_document.axis().turn.jogSpeed * u));
            m_words->setText(m_bench.session().simulated() ? tr("Jogging the SIMULATED axis.") : tr("Jogging."));
            m_moved |= way > 0 ? 1 : 2;
        });
    }
    void stop()
    {
        if (!m_jogging)
            return;
        m_jogging = false;
        auto& s = m_bench.session();
        s.write({0x60FF, 0}, 0);
        QTimer::singleShot(150, this, [this] {
            m_bench.disable();
            auto& session = m_bench.session(); // the jog limit goes out with the jog
            for (const PlannedParameter& p : m_document.evaluation().parameters)
                if (p.key == ObjectKey{0x60E0, 0} || p.key == ObjectKey{0x60E1, 0})
                    session.write(p.key, p.value);
            session.write({0x6060, 0}, 1);
        });
        if (m_moved == 3 && !m_document.axis().turn.jogged) {
            m_document.edit(tr("Jogged both ways"), {}, [](Axis& a) { a.turn.jogged = true; });
            m_document.log(QStringLiteral("measurement"), tr("Jogged both ways with limited speed and torque%1").arg(s.simulated() ? tr(" (simulated)") : QString()));
        }
    }
    void direction(const char* word)
    {
        m_document.edit(tr("Direction %1").arg(QString::fromLatin1(word)), {}, [&](Axis& a) {
            a.turn.direction = word;
            if (a.turn.direction == "reversed")
                a.parameters.positiveIsNegative = !a.parameters.positiveIsNegative;
        });
    }
    LadderView* m_ladder;
    AngleStrip* m_strip;
    QPushButton *m_begin, *m_hand, *m_end, *m_minus, *m_plus, *m_agree, *m_wrong;
    QLabel* m_words;
    QVBoxLayout* m_formHolder;
    FieldForm* m_form = nullptr;
    std::string m_built;
    double m_start = 0;
    int m_moved = 0;
    bool m_jogging = false;
};

} // namespace

StationPage* makeWire(Document& d, Bench& b) { return new WirePage(d, b); }
StationPage* makeSet(Document& d, Bench& b) { return new SetPage(d, b); }
StationPage* makeTurn(Document& d, Bench& b) { return new TurnPage(d, b); }

} // namespace ridge::app
