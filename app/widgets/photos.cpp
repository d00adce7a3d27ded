#include "photos.h"

#include "app/theme/theme.h"
#include "app/widgets/basics.h"
#include "app/widgets/labels.h"

#include <QDialog>
#include <QDragEnterEvent>
#include <QFile>
#include <QFileDialog>
#include <QImage>
#include <QMimeData>
#include <QPointer>
#include <QUrl>
#include <QVBoxLayout>

namespace ridge::app {

namespace {
constexpr qint64 largest = 20 << 20; // bytes of a file; a photo of a plate has two to five million
constexpr int side = 44;

QImage imageOf(const std::vector<char>& data)
{
    return QImage::fromData(QByteArray(data.data(), static_cast<qsizetype>(data.size())));
}
} // namespace

PhotoRow::PhotoRow(Document& document, bool axisWide, QWidget* parent)
    : QWidget(parent)
    , m_document(document)
    , m_axisWide(axisWide)
{
    setObjectName(QStringLiteral("photos"));
    setAcceptDrops(true);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(3);
    auto* row = new QHBoxLayout;
    m_pictures = new QHBoxLayout;
    m_pictures->setSpacing(3);
    auto* more = button("photos.add", tr("Photo …"));
    more->setToolTip(tr("A picture file (PNG, JPEG); it can be dropped here too."));
    m_add = more;
    row->addLayout(m_pictures);
    row->addWidget(more);
    row->addStretch();
    column->addLayout(row);
    m_words = quiet({});
    m_words->setObjectName(QStringLiteral("photos.words"));
    m_words->hide();
    column->addWidget(m_words);
    connect(more, &QPushButton::clicked, this, [this] {
        const QPointer<PhotoRow> self(this);
        const QString path = QFileDialog::getOpenFileName(this, tr("Photo"), {}, tr("Pictures (*.png *.jpg *.jpeg)"));
        if (self && !path.isEmpty())
            self->add(path);
    });
    connect(&m_document, &Document::logged, this, &PhotoRow::refresh);
}

void PhotoRow::setOf(const QString& of)
{
    if (of == m_of && !m_shown.isNull())
        return;
    m_of = of;
    m_words->hide();
    refresh();
}

QString PhotoRow::add(const QString& path)
{
    QFile file(path);
    QString no;
    if (m_of.isEmpty())
        no = tr("Choose first what the photo is of.");
    else if (!m_document.person().named())
        no = QString::fromStdString(messageFor({"no-person", {}, {}, {}}));
    else if (!file.open(QIODevice::ReadOnly))
        no = tr("%1 cannot be read.").arg(path);
    else if (file.size() > largest)
        no = tr("%1 is larger than 20 MB; make it smaller first.").arg(path);
    if (no.isEmpty()) {
        const QByteArray bytes = file.readAll();
        if (QImage::fromData(bytes).isNull()) {
            no = tr("%1 is no picture this program can read; PNG and JPEG can be kept.").arg(path);
        } else {
            const FactSource source = m_axisWide ? m_document.typedSource() : FactSource{};
            if (!m_document.appendPhoto(source, m_of.toStdString(), {bytes.begin(), bytes.end()}))
                no = tr("The file of the machine cannot be written.");
        }
    }
    setLabel(*m_words, no);
    m_words->setVisible(!no.isEmpty());
    return no;
}

void PhotoRow::refresh()
{
    const std::string axis = m_axisWide && m_document.hasAxis() ? m_document.axis().id : std::string{};
    std::vector<const Fact*> mine;
    for (const Fact* f : m_axisWide ? factsOf(m_document.facts(), axis) : factsOf(m_document.facts(), {}))
        if (const auto* kept = f->as<PhotoKept>(); kept && (m_of.isEmpty() || kept->of == m_of.toStdString()))
            mine.push_back(f);
    QString key = m_of + QLatin1Char('#');
    for (const Fact* f : mine)
        key += QStringLiteral("%1 ").arg(f->number);
    m_add->setEnabled(!m_of.isEmpty());
    if (key == m_shown)
        return;
    m_shown = key;
    while (QLayoutItem* item = m_pictures->takeAt(0)) {
        delete item->widget();
        delete item;
    }
    for (const Fact* f : mine) {
        auto* picture = new QPushButton;
        const QString of = QString::fromStdString(f->as<PhotoKept>()->of);
        picture->setObjectName(QStringLiteral("photos.picture"));
        picture->setAccessibleName(tr("Photo of %1").arg(of));
        picture->setToolTip(tr("%1, %2, %3").arg(of, localTime(f->time), QString::fromStdString(f->person.name)));
        const QImage image = imageOf(m_document.photo(f->as<PhotoKept>()->blob));
        picture->setIcon(
            QPixmap::fromImage(image.scaled(side * 2, side * 2, Qt::KeepAspectRatio, Qt::SmoothTransformation)));
        picture->setIconSize(QSize(side, side));
        picture->setFixedSize(side + 6, side + 6);
        connect(picture, &QPushButton::clicked, this, [this, number = f->number] {
            for (const Fact& fact : m_document.facts())
                if (fact.number == number)
                    open(fact);
        });
        m_pictures->addWidget(picture);
    }
}

void PhotoRow::open(const Fact& fact) const
{
    QDialog dialog(window());
    dialog.setWindowTitle(tr("Photo of %1").arg(QString::fromStdString(fact.as<PhotoKept>()->of)));
    auto* column = new QVBoxLayout(&dialog);
    auto* picture = new QLabel;
    picture->setPixmap(QPixmap::fromImage(imageOf(m_document.photo(fact.as<PhotoKept>()->blob))
                                              .scaled(900, 640, Qt::KeepAspectRatio, Qt::SmoothTransformation)));
    column->addWidget(picture);
    column->addWidget(quiet(tr("%1, %2").arg(localTime(fact.time), QString::fromStdString(fact.person.name))));
    dialog.exec();
}

void PhotoRow::dragEnterEvent(QDragEnterEvent* event)
{
    if (!m_of.isEmpty() && event->mimeData()->hasUrls())
        event->acceptProposedAction();
}

void PhotoRow::dropEvent(QDropEvent* event)
{
    for (const QUrl& url : event->mimeData()->urls())
        if (url.isLocalFile() && !add(url.toLocalFile()).isEmpty())
            break;
    event->acceptProposedAction();
}

} // namespace ridge::app
