#include "app/theme/theme.h"

#include "station.h"

#include <QHeaderView>
#include <QLineEdit>
#include <QProgressBar>
#include <QTableWidget>
#include <QTimer>
#include <QVBoxLayout>

namespace ridge::app {

namespace {

class SetPage final : public StationPage {
public:
    SetPage(Document& document, Bench& bench)
        : StationPage(document, bench)
    {
        auto* layout = new QVBoxLayout(this);
        layout->setContentsMargins(0, 6, 0, 6);
        layout->addLayout(connectionRow());
        layout->addLayout(actionRow());
        m_words = quiet({});
        m_words->setProperty("station", QStringLiteral("set"));
        layout->addWidget(m_words);
        m_table = listTable(
            "parameters", tr("Parameters: planned, in the drive, last saved"),
            {tr("Object"), tr("Name"), tr("Planned"), tr("That is"), tr("In the drive"), tr("Last saved"), tr("Why")});
        layout->addWidget(m_table, 1);
        connect(&m_bench, &Bench::changed, this, &SetPage::enableButtons);
    }

    [[nodiscard]] const char* mainFigure() const override { return "tune.velocity_gain"; }
    [[nodiscard]] bool busy() const override { return m_busy; }

    void refresh() override
    {
        const Evaluation& e = m_document.evaluation();
        const ParameterRecord& p = m_document.axis().parameters;
        m_table->setRowCount(static_cast<int>(e.parameters.size()));
        int row = 0;
        for (const PlannedParameter& planned : e.parameters)
            showRow(row++, planned, p);
        const int widths[] = {58, 176, 76, 120, 84, 84};
        for (int c = 0; c < 6; ++c)
            m_table->setColumnWidth(c, widths[c]);
        enableButtons();
    }

private:
    QHBoxLayout* connectionRow()
    {
        auto* row = new QHBoxLayout;
        m_connect = button("set.connect", tr("Start simulated drive"));
        m_address = new QLineEdit;
        m_address->setObjectName(QStringLiteral("set.address"));
        m_address->setAccessibleName(tr("Address of a real drive"));
        m_address->setPlaceholderText(tr("or a real drive: host:port"));
        m_address->setMaximumWidth(200);
        m_link = button("set.link", tr("Connect"));
        row->addWidget(m_connect);
        row->addSpacing(12);
        row->addWidget(m_address);
        row->addWidget(m_link);
        row->addStretch();
        m_progress = new QProgressBar;
        m_progress->setTextVisible(false);
        m_progress->setFixedSize(140, 6);
        row->addWidget(m_progress);
        connect(m_connect, &QPushButton::clicked, this, [this] { m_bench.startSimulated(); });
        const auto link = [this] {
            if (const QString wrong = m_bench.connectTo(m_address->text()); !wrong.isEmpty())
                m_words->setText(wrong);
        };
        connect(m_link, &QPushButton::clicked, this, link);
        connect(m_address, &QLineEdit::returnPressed, this, link);
        return row;
    }

    QHBoxLayout* actionRow()
    {
        auto* row = new QHBoxLayout;
        m_read = button("set.read", tr("Read from drive"));
        m_write = button("set.write", tr("Write differences to drive"));
        m_save = button("set.save", tr("Save in drive"));
        m_cycle = button("set.cycle", tr("Power-cycle (simulated)"));
        for (QPushButton* b : {m_read, m_write, m_save, m_cycle})
            row->addWidget(b);
        row->addStretch();
        connect(m_read, &QPushButton::clicked, this, &SetPage::readDrive);
        connect(m_write, &QPushButton::clicked, this, &SetPage::writeDrive);
        connect(m_save, &QPushButton::clicked, this, &SetPage::save);
        connect(m_cycle, &QPushButton::clicked, this, &SetPage::cycle);
        return row;
    }

    void showRow(int r, const PlannedParameter& row, const ParameterRecord& p)
    {
        const auto value = [&](const ParameterSet& set) {
            const auto it = set.values.find(row.key);
            return it == set.values.end() ? QStringLiteral("–") : QString::number(it->second);
        };
        const auto differs = [&](const ParameterSet& set) {
            const auto it = set.values.find(row.key);
            return it != set.values.end() && !sameWithinRounding(row.key, row.value, it->second);
        };
        const ObjectEntry* entry = ObjectDictionary::shipped().find(row.key);
        const QString name = entry ? QString::fromStdString(entry->name) : QString(),
                      why = QString::fromStdString(row.why);
        setCell(*m_table, r, 0, QString::fromStdString(keyText(row.key)), theme().soft);
        setCell(*m_table, r, 1, name, {}, name);
        setCell(*m_table, r, 2, QString::number(row.value));
        setCell(*m_table, r, 3, QString::fromStdString(row.physical), {}, QString::fromStdString(row.physical));
        for (const auto& [column, set] :
             {std::pair{4, &p.inDrive}, std::pair{5, &p.saved}}) // only differences stand out
            setCell(*m_table, r, column, (differs(*set) ? QStringLiteral("■ ") : QString()) + value(*set),
                    differs(*set) ? theme().fail : theme().soft);
        setCell(*m_table, r, 6, why, theme().soft, why);
        for (const int c : {2, 4, 5})
            m_table->item(r, c)->setTextAlignment(Qt::AlignRight | Qt::AlignVCenter);
    }

    void enableButtons()
    {
        const bool on = m_bench.session().connected() && !m_bench.procedures().running(),
                   backup = !m_document.axis().parameters.backup.empty();
        m_read->setEnabled(on && !m_busy);
        m_write->setEnabled(on && backup && !m_busy && !m_document.evaluation().parameters.empty());
        m_save->setEnabled(on && backup && !m_busy);
        m_cycle->setEnabled(on && m_bench.session().simulated() && !m_busy);
        m_cycle->setVisible(!on || m_bench.session().simulated());
        if (m_busy)
            return;
        m_words->setText(
            !on      ? m_bench.words()
            : backup ? m_bench.words()
                     : tr("%1. Read first: what is in the drive is kept as the backup before anything is written.")
                           .arg(m_bench.words()));
    }
    void busyNow(bool on)
    {
        m_busy = on;
        m_progress->setValue(0);
        enableButtons();
    }
    void failed(const Error& e)
    {
        busyNow(false);
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
        busyNow(true);
        m_bench.session().readAll(
            [this](const Result<link::Values>& v) {
                if (!v)
                    return failed(v.error());
                m_document.edit(tr("Read from drive"), {}, [&](Axis& a) {
                    a.parameters.inDrive = {"in the drive", now().toStdString(), *v};
                    if (a.parameters.backup.empty())
                        a.parameters.backup = {"backup before the first write", now().toStdString(), *v};
                });
                m_document.log(QStringLiteral("drive"),
                               tr("Read %1 values from the %2")
                                   .arg(v->size())
                                   .arg(m_bench.session().simulated() ? tr("simulated drive") : tr("drive")));
                busyNow(false);
            },
            progress());
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
        busyNow(true);
        m_bench.session().writeVerified(
            differing,
            [this, differing](const Result<link::Values>& back) {
                if (!back)
                    return failed(back.error());
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
                    a.parameters.powerCycled = a.parameters.powerCycled && differing.empty();
                });
                m_document.log(QStringLiteral("drive"),
                               tr("Wrote %1 values, read back: %2 differ").arg(differing.size()).arg(wrong));
                busyNow(false);
            },
            progress());
    }

    void save()
    {
        busyNow(true);
        m_bench.session().write({0x2300, 1}, 0x5AFE, [this](const Result<void>& r) {
            if (!r)
                return failed(r.error());
            m_document.edit(tr("Save in drive"), {}, [](Axis& a) {
                a.parameters.saved = {"saved", now().toStdString(), a.parameters.inDrive.values};
                a.parameters.powerCycled = false;
            });
            m_document.log(QStringLiteral("drive"), tr("Saved in permanent memory"));
            busyNow(false);
        });
    }

    void cycle()
    {
        busyNow(true);
        m_bench.procedures().forgetStart(); // the scale may be another after it
        m_bench.session().write({0x2F00, 7}, 0x5AFE, [this](const Result<void>& r) {
            if (!r)
                return failed(r.error());
            QTimer::singleShot(150, this, [this] {
                m_bench.session().readAll(
                    [this](const Result<link::Values>& v) {
                        if (!v)
                            return failed(v.error());
                        m_document.edit(tr("Power-cycle"), {}, [&](Axis& a) {
                            a.parameters.inDrive = {"in the drive", now().toStdString(), *v};
                            a.parameters.powerCycled = true;
                        });
                        m_document.log(QStringLiteral("drive"), tr("Control supply off and on (simulated), read back"));
                        busyNow(false);
                    },
                    progress());
            });
        });
    }

    QPushButton *m_connect, *m_link, *m_read, *m_write, *m_save, *m_cycle;
    QLineEdit* m_address;
    QProgressBar* m_progress;
    QLabel* m_words;
    QTableWidget* m_table;
    bool m_busy = false;
};

} // namespace

StationPage* makeSet(Document& d, Bench& b) { return new SetPage(d, b); }

} // namespace ridge::app
