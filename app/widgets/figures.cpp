#include "figures.h"

#include "app/theme/theme.h"
#include "core/units/print.h"
#include "forms.h"

namespace ridge::app {

QString shown(double si, Quantity quantity, int digits) { return QString::fromStdString(print(si, quantity, unitSystem(), digits)); }

Figures::Figures(int columns, QWidget* parent) : QLabel(parent), m_columns(columns)
{
    setTextFormat(Qt::RichText);
    setTextInteractionFlags(Qt::LinksAccessibleByMouse | Qt::LinksAccessibleByKeyboard);
    setAlignment(Qt::AlignLeft | Qt::AlignTop);
    setAccessibleName(tr("Figures; a value opens its working"));
}

void Figures::show(const Evaluation& e, std::initializer_list<const char*> ids) { show(e, std::vector<std::string>(ids.begin(), ids.end())); }

void Figures::show(const Evaluation& e, const std::vector<std::string>& ids)
{
    QString html = QStringLiteral("<table cellspacing='0' cellpadding='1'>");
    int column = 0;
    for (const std::string& id : ids) {
        const ResultValue* r = e.result(id);
        if (!r)
            continue;
        html += column == 0 ? QStringLiteral("<tr>") : QStringLiteral("<td>&nbsp;&nbsp;&nbsp;</td>");
        html += QStringLiteral("<td style='color:%1;white-space:nowrap'>%2&nbsp;</td><td align='right' style='white-space:nowrap'><a href='%3' style='color:%4;text-decoration:none'><b>%5</b></a></td>")
                    .arg(theme().soft.name(), said(r->label).toHtmlEscaped(), QString::fromStdString(id), theme().accent.name(), shown(r->value, r->quantity).toHtmlEscaped());
        if (++column == m_columns) {
            html += QStringLiteral("</tr>");
            column = 0;
        }
    }
    setText(html + QStringLiteral("</table>"));
}

} // namespace ridge::app
