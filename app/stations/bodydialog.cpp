#include "bodydialog.h"

#include "app/theme/sentence.h"
#include "app/theme/theme.h"
#include "app/widgets/figures.h"
#include "app/widgets/margins.h"
#include "core/units/print.h"

#include "station.h"

#include <QDialogButtonBox>
#include <QListWidget>
#include <QPainter>
#include <QVBoxLayout>

#include <algorithm>
#include <cmath>

namespace ridge::app {

namespace {

/// The solids as they stand along the axis of rotation, cut lengthwise and to scale.
class SolidsPicture final : public QWidget {
public:
    explicit SolidsPicture(const std::vector<Solid>& solids)
        : m_solids(solids)
    {
        setMinimumHeight(200);
        setAccessibleName(QObject::tr("Section through the solids along the axis of rotation"));
    }
    void setCurrent(int row)
    {
        m_current = row;
        update();
    }

protected:
    void paintEvent(QPaintEvent*) override
    {
        QPainter p(this);
        p.setRenderHint(QPainter::Antialiasing);
        p.fillRect(rect(), theme().raised);
        double far = 1e-6, along = 1e-6;
        for (const Solid& s : m_solids) {
            far = std::max(far, s.offset + s.a / 2);
            along += lengthOf(s) * 1.12;
        }
        const double middle = height() / 2.0, scale = std::min((width() - 24) / along, (middle - 8) / far);
        double x = std::max(12.0, (width() - along * scale) / 2); // in the middle
        for (std::size_t k = 0; k < m_solids.size(); ++k) {
            const Solid& s = m_solids[k];
            const double w = std::max(3.0, lengthOf(s) * scale);
            p.setPen(QPen(static_cast<int>(k) == m_current ? theme().accent : theme().ink,
                          static_cast<int>(k) == m_current ? 2 : 1.2, s.hole ? Qt::DashLine : Qt::SolidLine));
            p.setBrush(s.hole ? QBrush(Qt::NoBrush) : QBrush(theme().accentSoft));
            paintSolid(p, s, x, w, middle - s.offset * scale, scale);
            if (s.offset > 0 && s.count > 1) // one of its companions on the other side
                paintSolid(p, s, x, w, middle + s.offset * scale, scale);
            x += w * 1.12;
        }
        p.setPen(QPen(theme().soft, 1, Qt::DashDotLine));
        p.drawLine(QPointF(4, middle), QPointF(width() - 4, middle));
    }

private:
    static double lengthOf(const Solid& s)
    {
        return s.shape == SolidShape::Sphere                               ? s.a
               : s.shape == SolidShape::Point                              ? 0.01
               : s.shape == SolidShape::Ring || s.shape == SolidShape::Arm ? s.b
                                                                           : s.c;
    }
    static void paintSolid(QPainter& p, const Solid& s, double x, double w, double y, double scale)
    {
        const double h = std::max(3.0, s.a * scale), bore = s.b * scale;
        if (s.shape == SolidShape::Sphere || s.shape == SolidShape::Point) {
            p.drawEllipse(QPointF(x + w / 2, y), std::max(3.0, w / 2), std::max(3.0, w / 2));
            return;
        }
        if (s.shape == SolidShape::Cone) {
            p.drawPolygon(QPolygonF({QPointF(x, y - h / 2), QPointF(x + w, y - bore / 2), QPointF(x + w, y + bore / 2),
                                     QPointF(x, y + h / 2)}));
            return;
        }
        if (s.shape == SolidShape::Tube) {
            p.drawRect(QRectF(x, y - h / 2, w, (h - bore) / 2));
            p.drawRect(QRectF(x, y + bore / 2, w, (h - bore) / 2));
            return;
        }
        if (s.shape == SolidShape::Ring) { // cut through: two round bars
            p.drawEllipse(QPointF(x + w / 2, y - h / 2), w / 2, w / 2);
            p.drawEllipse(QPointF(x + w / 2, y + h / 2), w / 2, w / 2);
            return;
        }
        p.drawRect(QRectF(x, y - h / 2, w, h));
        if (s.shape == SolidShape::Hexagon) { // seen on a flat: the two edges beside it
            p.drawLine(QPointF(x, y - h / 4), QPointF(x + w, y - h / 4));
            p.drawLine(QPointF(x, y + h / 4), QPointF(x + w, y + h / 4));
        }
    }
    const std::vector<Solid>& m_solids;
    int m_current = 0;
};

} // namespace

BodyDialog::BodyDialog(const QString& title, std::vector<Solid> solids, Quantity wanted, QWidget* parent)
    : QDialog(parent)
    , m_solids(std::move(solids))
    , m_wanted(wanted)
{
    setObjectName(QStringLiteral("bodies"));
    setWindowTitle(title);
    if (m_solids.empty())
        m_solids.push_back({SolidShape::Cylinder, "steel", {}, 0.05, 0, 0.1, 0, 1, false});
    auto* layout = new QVBoxLayout(this);
    m_picture = new SolidsPicture(m_solids);
    layout->addWidget(m_picture);
    auto* row = new QHBoxLayout;
    auto* left = new QVBoxLayout;
    m_list = new QListWidget;
    m_list->setObjectName(QStringLiteral("bodies.list"));
    m_list->setAccessibleName(tr("Solids"));
    m_list->setMinimumWidth(210);
    left->addWidget(m_list, 1);
    auto* buttons = new QHBoxLayout;
    auto* add = button("bodies.add", tr("Add a solid"));
    m_remove = button("bodies.remove", tr("Remove"));
    buttons->addWidget(add);
    buttons->addWidget(m_remove);
    left->addLayout(buttons);
    row->addLayout(left);
    m_scroll = new QScrollArea;
    m_scroll->setWidgetResizable(true);
    m_scroll->setFixedWidth(390);
    row->addWidget(m_scroll);
    m_working = new QTextBrowser;
    m_working->setObjectName(QStringLiteral("bodies.working"));
    m_working->setAccessibleName(tr("Working of the sum"));
    row->addWidget(m_working, 1);
    layout->addLayout(row, 1);
    m_sentence = new QLabel;
    m_sentence->setObjectName(QStringLiteral("sentence"));
    m_sentence->setWordWrap(true);
    layout->addWidget(m_sentence);
    auto* box = new QDialogButtonBox;
    m_take = button("bodies.take", tr("Take"));
    box->addButton(m_take, QDialogButtonBox::AcceptRole);
    box->addButton(button("bodies.cancel", tr("Cancel")), QDialogButtonBox::RejectRole);
    layout->addWidget(box);
    connect(box, &QDialogButtonBox::accepted, this, &QDialog::accept);
    connect(box, &QDialogButtonBox::rejected, this, &QDialog::reject);
    connect(m_list, &QListWidget::currentRowChanged, this, &BodyDialog::select);
    connect(add, &QPushButton::clicked, this, [this] {
        m_solids.push_back({SolidShape::Cylinder, "steel", {}, 0.05, 0, 0.1, 0, 1, false});
        recount();
        m_list->setCurrentRow(m_list->count() - 1);
    });
    connect(m_remove, &QPushButton::clicked, this, [this] {
        const int at = m_list->currentRow();
        if (at < 0 || m_solids.size() < 2)
            return;
        m_solids.erase(m_solids.begin() + at);
        recount();
        m_list->setCurrentRow(std::max(0, at - 1));
        select(m_list->currentRow());
    });
    resize(880, 640);
    recount();
    m_list->setCurrentRow(0);
}

QString BodyDialog::rowWords(const Solid& s) const
{
    QString words = s.count > 1 ? QStringLiteral("%1 × ").arg(s.count) : QString();
    words += said(wordOf(s.shape)) + (s.hole ? tr(", cut out") : QString());
    if (const auto body = solidBody(s))
        words += QStringLiteral("\n%1   %2")
                     .arg(shown(std::abs(body->mass), Quantity::Mass, 3),
                          shown(std::abs(body->inertia), Quantity::Inertia, 3));
    else
        words += QStringLiteral("\n■ ") + QString::fromStdString(messageFor(body.error()));
    return words;
}

void BodyDialog::select(int row)
{
    static_cast<SolidsPicture*>(m_picture)->setCurrent(row);
    if (row < 0 || row >= static_cast<int>(m_solids.size()))
        return;
    FormTarget target;
    target.read = [this, row](const std::function<void(void*)>& look) {
        if (row < static_cast<int>(m_solids.size()))
            look(&m_solids[static_cast<std::size_t>(row)]);
    };
    target.edit = [this, row](const QString&, const std::function<void(void*)>& change) {
        if (row >= static_cast<int>(m_solids.size()))
            return;
        change(&m_solids[static_cast<std::size_t>(row)]);
        recount();
        m_form->refresh();
    };
    m_form = new FieldForm(target, QStringLiteral("solid"), solidFields(), 1);
    m_form->setContentsMargins(0, 4, 8, 4);
    m_scroll->setWidget(m_form);
}

void BodyDialog::recount()
{
    const QSignalBlocker quiet(m_list);
    while (m_list->count() > static_cast<int>(m_solids.size()))
        delete m_list->takeItem(m_list->count() - 1);
    while (m_list->count() < static_cast<int>(m_solids.size()))
        m_list->addItem(QString());
    for (int k = 0; k < m_list->count(); ++k)
        m_list->item(k)->setSizeHint(QSize(0, 2 * fontMetrics().height() + 8));
    for (int k = 0; k < m_list->count(); ++k)
        m_list->item(k)->setText(rowWords(m_solids[static_cast<std::size_t>(k)]));
    m_remove->setEnabled(m_solids.size() > 1);
    Recorder recorder;
    const auto sum = sumOfSolids(m_solids, &recorder);
    m_take->setEnabled(sum.has_value());
    m_picture->update();
    if (!sum) {
        m_value.reset();
        m_sentence->setText(
            tr("Solid %1: %2")
                .arg(QString::fromStdString(sum.error().subject).section(QLatin1Char('.'), 0, 0).toInt() + 1)
                .arg(QString::fromStdString(messageFor(sum.error()))));
        m_working->clear();
        m_take->setText(tr("Take"));
        return;
    }
    m_sentence->clear();
    m_value = m_wanted == Quantity::Mass ? sum->mass : sum->inertia;
    m_take->setText(tr("Take %1").arg(shown(*m_value, m_wanted)));
    m_working->setHtml(QStringLiteral("<p><b>%1</b>, <b>%2</b></p>")
                           .arg(shown(sum->mass, Quantity::Mass).toHtmlEscaped(),
                                shown(sum->inertia, Quantity::Inertia).toHtmlEscaped())
                       + workingHtml(recorder.steps()));
}

} // namespace ridge::app
