#include "matchpictures.h"

#include "app/theme/theme.h"
#include "app/widgets/figures.h"
#include "app/widgets/forms.h"
#include "core/stations/heat.h"
#include "core/stations/sampling.h"
#include "core/units/print.h"
#include "store/catalogue.h"

#include "station.h"

#include <QHeaderView>
#include <QTableWidget>

#include <algorithm>
#include <array>
#include <cmath>

namespace ridge::app {

namespace {
QString withUnit(const QString& name, Quantity q)
{
    return QStringLiteral("%1, %2").arg(name, QString::fromStdString(prettyUnit(displayUnit(q, unitSystem()))));
}
} // namespace

void MatchPictures::axes(const QString& vertical, const QString& horizontal)
{
    m_plot.setPaneLabel(0, vertical);
    m_plot.setHorizontalLabel(horizontal);
}

QString MatchPictures::draw(const MatchPicture& picture)
{
    const Evaluation& e = m_document.lastGood();
    switch (picture.kind) {
    case MatchPicture::Kind::Ratio: return drawRatio(picture.stage);
    case MatchPicture::Kind::Supply: return drawSupply();
    case MatchPicture::Kind::Connections: return drawConnections(e);
    case MatchPicture::Kind::Supplies: return drawSupplies(e);
    case MatchPicture::Kind::Heat: return drawHeat(e);
    case MatchPicture::Kind::Bus: return drawBus();
    case MatchPicture::Kind::Compare: return {};
    case MatchPicture::Kind::Map: break;
    }
    drawMap(e);
    return {};
}

void MatchPictures::drawMap(const Evaluation& e)
{
    const bool linear = m_document.lastGoodAxis().mechanism.is<LinearDrive>();
    const Quantity torqueQ = linear ? Quantity::Force : Quantity::Torque,
                   speedQ = linear ? Quantity::Speed : Quantity::AngularSpeed;
    axes(withUnit(linear ? QObject::tr("force") : QObject::tr("torque"), torqueQ),
         withUnit(linear ? QObject::tr("speed") : QObject::tr("speed of the motor"), speedQ));
    m_plot.setMarks({}, {});
    const Actuator& c = m_document.lastGoodAxis().actuator;
    const bool servo = c.motor() && c.drive() && e.match.servo,
               stepper = c.stepperMotor() && e.match.stepper && e.match.electric;
    if (!e.move.path || (!servo && !stepper)) {
        m_plot.setCurves({});
        return;
    }
    const auto speed = [speedQ](double w) { return toDisplay(w, speedQ, unitSystem()); };
    const auto torque = [torqueQ](double t) { return toDisplay(t, torqueQ, unitSystem()); };
    PlotView::Curve high{{}, {}, 0, 0}, low{{}, {}, 0, 3, Qt::DashLine}, heat{{}, {}, 0, 2, Qt::SolidLine, 7};
    const auto areas = [&](const std::vector<double>& w, const std::vector<double>& upper,
                           const std::vector<double>& lower) {
        for (std::size_t k = 0; k < w.size(); ++k) {
            high.x.append(speed(w[k]));
            high.y.append(torque(upper[k]));
            low.x.append(speed(w[k]));
            low.y.append(torque(lower[k]));
        }
    };
    if (servo) {
        const BoundaryCurves b = sampleBoundary(*c.motor(), *c.drive(), e.match.conditions, 120);
        areas(b.speed, b.shortTime, b.continuous);
        high.label = QObject::tr("short time, lowest bus");
        low.label = QObject::tr("continuous, this ambient");
    } else {
        const PullOutCurve b =
            samplePullOut(*e.match.electric, e.match.stepper->corner, c.stepper()->stepping.reserve,
                          std::max(2.5 * e.match.stepper->speedMax, 4 * e.match.stepper->corner), 160);
        areas(b.speed, b.pullOut, b.usable);
        high.label = QObject::tr("pull-out torque, modelled");
        low.label = QObject::tr("usable, with the reserve");
    }
    high.fill = low.fill = true;
    const PlotView::Curve path = cyclePath(e);
    if (stepper) {
        m_plot.setCurves({high, low, path});
        return;
    }
    const double at = speed(e.move.duty.speedMeanAbs);
    heat.x << at * 0.995 << at * 1.005;
    heat.y << torque(e.move.duty.torqueRms) << torque(e.move.duty.torqueRms);
    heat.label = QObject::tr("rms at mean speed");
    m_plot.setCurves({high, low, path, heat});
}

PlotView::Curve MatchPictures::cyclePath(const Evaluation& e) const
{
    PlotView::Curve path{{}, {}, 0, 1};
    const bool linear = m_document.lastGoodAxis().mechanism.is<LinearDrive>();
    const CycleCurves cycle = sampleCycle(m_document.lastGoodAxis(), e, 240);
    for (std::size_t k = 0; k < cycle.torque.size(); ++k) {
        path.x.append(
            toDisplay(std::abs(cycle.motorSpeed[k]), linear ? Quantity::Speed : Quantity::AngularSpeed, unitSystem()));
        path.y.append(toDisplay(std::abs(cycle.torque[k]), linear ? Quantity::Force : Quantity::Torque, unitSystem()));
    }
    path.ordered = false;
    path.width = 2;
    path.label = QObject::tr("the cycle");
    return path;
}

namespace {
/// The usable torque over speed.
PlotView::Curve usableCurve(const StepperCurve& of, std::size_t place, const QString& label)
{
    constexpr std::array colours{0, 2, 3, 0, 2};
    PlotView::Curve c;
    c.colour = colours.at(place % colours.size());
    c.style = place < 3 ? Qt::SolidLine : Qt::DashLine;
    c.label = label;
    for (std::size_t k = 0; k < of.curve.speed.size(); ++k) {
        c.x.append(toDisplay(of.curve.speed[k], Quantity::AngularSpeed, unitSystem()));
        c.y.append(toDisplay(of.curve.usable[k], Quantity::Torque, unitSystem()));
    }
    return c;
}
} // namespace

/// Torque over speed of a stepper; false, and nothing drawn, while none is chosen.
bool MatchPictures::stepperAxes(const Evaluation& e)
{
    axes(withUnit(QObject::tr("usable torque"), Quantity::Torque),
         withUnit(QObject::tr("speed of the motor"), Quantity::AngularSpeed));
    m_plot.setMarks({}, {});
    m_plot.setCurves({});
    return e.match.stepper && e.move.path;
}

QString MatchPictures::drawConnections(const Evaluation& e)
{
    if (!stepperAxes(e))
        return QObject::tr("Choose a stepper and a drive first.");
    const double top = std::max(2.0 * e.match.stepper->speedMax, 4 * e.match.stepper->corner);
    std::vector<PlotView::Curve> curves;
    QStringList words;
    for (const StepperCurve& s : sampleConnections(m_document.lastGoodAxis(), e, top, 160)) {
        const QString name = said(wordOf(s.connection));
        if (!s.electric) {
            words << QObject::tr("%1: this supply does not push its current").arg(name);
            continue;
        }
        curves.push_back(usableCurve(s, curves.size(), name));
        words << QObject::tr("%1: %2, %3, L/R %4, full current after %5, holds %6")
                     .arg(name, shown(s.electric->resistance, Quantity::Resistance, 3),
                          shown(s.electric->inductance, Quantity::Inductance, 3),
                          shown(s.timeConstant, Quantity::Time, 2),
                          s.rise ? shown(*s.rise, Quantity::Time, 2) : QObject::tr("never"),
                          shown(s.holding, Quantity::Torque, 3));
    }
    curves.push_back(cyclePath(e));
    m_plot.setCurves(curves);
    return words.join(QLatin1Char('\n'));
}

QString MatchPictures::drawSupplies(const Evaluation& e)
{
    if (!stepperAxes(e))
        return QObject::tr("Choose a stepper and a drive first.");
    const double top = std::max(2.0 * e.match.stepper->speedMax, 6 * e.match.stepper->corner);
    std::vector<PlotView::Curve> curves;
    QStringList words;
    double rule = 0;
    const double stands = m_document.lastGoodAxis().actuator.stepperDrive()->busHighest;
    for (const StepperCurve& s : sampleSupplies(m_document.lastGoodAxis(), e, top, 160)) {
        const QString name = shown(s.bus, Quantity::Voltage);
        QStringList notes;
        const auto& listed = store::shippedCatalogue().supplies;
        if (const auto it = std::ranges::find(listed, s.bus, &PowerSupply::voltage); it != listed.end())
            notes << QString::fromStdString(it->name);
        if (!s.withinDrive)
            notes << QObject::tr("beyond the drive");
        if (!s.electric) {
            words << QObject::tr("%1 does not push the rated current").arg(name);
            continue;
        }
        if (s.bus > s.rule * 1.05)
            notes << QObject::tr("heats the iron");
        if (s.withinDrive && s.busEnd > stands)
            notes << QObject::tr("braking lifts it to %1").arg(shown(s.busEnd, Quantity::Voltage, 3));
        rule = s.rule;
        curves.push_back(usableCurve(s, curves.size(),
                                     notes.isEmpty() ? name
                                                     : name + QStringLiteral(" (") + notes.join(QStringLiteral(", "))
                                                           + QStringLiteral(")")));
    }
    curves.push_back(cyclePath(e));
    m_plot.setCurves(curves);
    words.prepend(
        QObject::tr("The current never exceeds the rated one: voltage buys speed, not holding torque. The drive "
                    "stands %1; 32·√(L in mH) is %2.")
            .arg(shown(stands, Quantity::Voltage), shown(rule, Quantity::Voltage, 3)));
    return words.join(QStringLiteral("  "));
}

QString MatchPictures::drawSweep(const RatioSweep& sweep, double now, const QString& mark, const QString& best)
{
    std::vector<PlotView::Curve> curves;
    for (std::size_t l = 0; l < sweep.lines.size(); ++l) {
        PlotView::Curve c;
        c.colour = static_cast<int>(l % 4);
        c.style = l < 4 ? Qt::SolidLine : Qt::DashLine;
        c.label = said(sweep.lines[l].title);
        for (std::size_t k = 0; k < sweep.ratios.size(); ++k) {
            c.x.append(sweep.ratios[k]);
            c.y.append(100 * std::max(-1.0, sweep.lines[l].margin[k]));
        }
        curves.push_back(std::move(c));
    }
    m_plot.setCurves(curves);
    if (sweep.lines.empty()) {
        m_plot.setMarks({}, {});
        return QObject::tr("Nothing to sweep: choose a motor first.");
    }
    m_plot.setMarks({now, sweep.best}, {mark, best});
    return QObject::tr("Below, %1 binds; above, %2 does. Pull the mark to try a value.")
        .arg(said(sweep.lowEnd).toLower(), said(sweep.highEnd).toLower());
}

QString MatchPictures::drawRatio(std::size_t stage)
{
    const Axis& axis = m_document.axis();
    if (stage >= axis.stages.size())
        return {};
    const MatchPicture picture{MatchPicture::Kind::Ratio, stage};
    Axis same = axis;
    same.stages[stage].ratio = 1;
    if (!m_sweptFor || !(picture == m_sweptPicture) || !(*m_sweptFor == same)
        || !(m_sweptSite == m_document.machine().site)) {
        m_sweep = sweepRatio(m_document.machine(), axis, stage, 1, std::max(20.0, 2.5 * axis.stages[stage].ratio), 72);
        m_sweptFor = std::move(same);
        m_sweptPicture = picture;
        m_sweptSite = m_document.machine().site;
    }
    axes(QObject::tr("margin left, %"), QObject::tr("ratio of the gearbox, its other data kept"));
    return drawSweep(m_sweep, axis.stages[stage].ratio,
                     QObject::tr("ratio now %1").arg(QString::number(axis.stages[stage].ratio, 'g', 4)),
                     QObject::tr("widest margin at %1").arg(QString::number(m_sweep.best, 'g', 3)));
}

QString MatchPictures::drawSupply()
{
    const Axis& axis = m_document.axis();
    const MatchPicture picture{MatchPicture::Kind::Supply};
    Axis same = axis;
    same.actuator.stepper()->stepping.bus = 1;
    if (!m_sweptFor || !(picture == m_sweptPicture) || !(*m_sweptFor == same)) {
        const double most = axis.actuator.stepperDrive() ? axis.actuator.stepperDrive()->busHighest : 100,
                     least = axis.actuator.stepperDrive() ? std::max(5.0, axis.actuator.stepperDrive()->busLowest) : 10;
        m_sweep = sweepSupply(m_document.machine(), axis, least, std::max(most, least * 1.5), 60);
        m_sweptFor = std::move(same);
        m_sweptPicture = picture;
    }
    axes(QObject::tr("margin left, %"), QObject::tr("d.c. supply, V"));
    const double now = axis.actuator.stepper()->stepping.bus;
    return drawSweep(m_sweep, now, QObject::tr("now %1").arg(shown(now, Quantity::Voltage)),
                     QObject::tr("widest margin at %1").arg(shown(m_sweep.best, Quantity::Voltage, 3)));
}

QString MatchPictures::drawHeat(const Evaluation& e)
{
    axes(withUnit(QObject::tr("temperature"), Quantity::Temperature), QObject::tr("time from cold, min"));
    m_plot.setMarks({}, {});
    const Actuator& c = m_document.lastGoodAxis().actuator;
    const auto curve =
        c.motor() && e.move.path && e.match.servo
            ? heatFromCold(m_document.machine().site, asBuiltIn(*c.servo()), *e.move.path, e.match.servo->rotor)
            : std::nullopt;
    if (!curve) {
        m_plot.setCurves({});
        return QObject::tr("No heat to show: the part has no thermal data.");
    }
    PlotView::Curve winding{{}, {}, 0, 0}, housing{{}, {}, 0, 1, Qt::DashLine}, limit{{}, {}, 0, 2, Qt::DotLine};
    const auto degrees = [](double k) { return toDisplay(k, Quantity::Temperature, unitSystem()); };
    for (std::size_t k = 0; k < curve->time.size(); ++k) {
        winding.x.append(curve->time[k] / 60);
        winding.y.append(degrees(curve->winding[k]));
        housing.x.append(curve->time[k] / 60);
        housing.y.append(degrees(curve->housing[k]));
    }
    limit.x << 0 << curve->time.back() / 60;
    limit.y << degrees(curve->limit) << degrees(curve->limit);
    winding.label = QObject::tr("winding, hottest of each cycle");
    housing.label = QObject::tr("housing");
    limit.label = QObject::tr("limit of the winding");
    m_plot.setCurves({winding, housing, limit});
    const ResultValue* overload = e.result("match.overload_time");
    QString words = curve->reaches ? QObject::tr("This cycle drives the winding to its limit in %1.")
                                         .arg(shown(*curve->reaches, Quantity::Time, 3))
                                   : QObject::tr("The cycle settles below the limit.");
    if (overload)
        words += QObject::tr(" From warm, peak current may last %1.").arg(shown(overload->value, Quantity::Time, 3));
    return words;
}

QString MatchPictures::drawBus()
{
    const Axis& axis = m_document.axis();
    if (!m_busFor || m_busAxis != axis.id || !(*m_busFor == m_document.machine())) {
        m_bus = busWith(m_document.machine(), axis.id);
        m_busFor = m_document.machine();
        m_busAxis = axis.id;
    }
    const MachineBus& bus = m_bus.bus;
    axes(QObject::tr("power from the bus, W"), QObject::tr("time in the cycle of the machine, s"));
    std::vector<PlotView::Curve> curves;
    for (std::size_t k = 0; k < bus.axes.size(); ++k) {
        const MachineBus::AxisPower& a = bus.axes[k];
        PlotView::Curve c{QVector<double>(a.time.begin(), a.time.end()),
                          QVector<double>(a.power.begin(), a.power.end()), 0, static_cast<int>(k % 4)};
        c.style = k < 4 ? Qt::SolidLine : Qt::DashLine;
        c.ordered = false;
        c.label = QString::fromStdString(a.id);
        c.fill = a.id == m_document.axis().id;
        c.width = c.fill ? 2.2 : 1.2;
        if (c.fill && !a.time.empty()) { // it begins in the middle of a cycle: the area ends on the line of no power
            c.x.push_front(a.time.front());
            c.y.push_front(0);
            c.x.push_back(a.time.back());
            c.y.push_back(0);
        }
        curves.push_back(std::move(c));
    }
    m_plot.setCurves(curves);
    const bool mine = std::ranges::any_of(bus.axes, [&](const auto& a) { return a.id == axis.id; });
    m_plot.setMarks(mine ? QVector<double>{axis.cycle.offset} : QVector<double>{},
                    mine ? QStringList{QObject::tr("start of %1").arg(QString::fromStdString(axis.id))}
                         : QStringList{});
    const QString where = m_bus.name.empty() ? QObject::tr("Were all axes on one bus")
                                             : QObject::tr("On the bus %1").arg(QString::fromStdString(m_bus.name));
    const auto mean = [&bus](double energy) { return bus.cycle > 0 ? energy / bus.cycle : 0; };
    QString words =
        QObject::tr(
            "%1, over %2 %3: %4 on average go to the resistor, with each axis alone %5; %6 come from the mains. "
            "Pull the start of this axis to shift it.")
            .arg(where, shown(bus.cycle, Quantity::Time, 3),
                 bus.meets ? QObject::tr("(then all meet again)") : QObject::tr("(the cycles never meet again)"),
                 shown(mean(bus.toResistor), Quantity::Power, 3), shown(mean(bus.resistorApart), Quantity::Power, 3),
                 shown(mean(bus.fromMains), Quantity::Power, 3));
    if (!bus.leftOut.empty())
        words += QObject::tr(" Without %1.").arg(QString::fromStdString(bus.leftOut.front()));
    return words;
}

void MatchPictures::pull(const MatchPicture& picture, double at, const QString& mergeKey)
{
    if (picture.kind == MatchPicture::Kind::Ratio && at >= 1)
        m_document.edit(QObject::tr("Pull the gear ratio"), mergeKey,
                        [&](Axis& a) { a.stages[picture.stage].ratio = std::round(at * 20) / 20; });
    if (picture.kind == MatchPicture::Kind::Supply && at >= 5)
        m_document.edit(QObject::tr("Pull the supply voltage"), mergeKey,
                        [&](Axis& a) { a.actuator.stepper()->stepping.bus = std::clamp(std::round(at), 5.0, 400.0); });
    if (picture.kind == MatchPicture::Kind::Bus)
        m_document.edit(QObject::tr("Shift the start of the cycle"), mergeKey,
                        [&](Axis& a) { a.cycle.offset = std::max(0.0, std::round(at * 100) / 100); });
}

void fillComparison(QTableWidget& table, const std::vector<Candidate>& candidates, const store::Catalogue& parts)
{
    QStringList heads{QObject::tr("Margin")};
    for (const Candidate& c : candidates) {
        QString name = QString::fromStdString(parts.motors[c.motor].name + "\n" + parts.drives[c.drive].name);
        if (c.gearbox != chainAsItIs)
            name += QStringLiteral("\n") + QString::fromStdString(parts.gearboxes[c.gearbox].name);
        heads << name;
    }
    table.setColumnCount(static_cast<int>(heads.size()));
    table.setHorizontalHeaderLabels(heads);
    table.setRowCount(0);
    const auto figure = [&](const QString& name, const std::function<QString(const Candidate&)>& words) {
        const int row = table.rowCount();
        table.setRowCount(row + 1);
        setCell(table, row, 0, name);
        for (std::size_t k = 0; k < candidates.size(); ++k)
            setCell(table, row, static_cast<int>(k) + 1, words(candidates[k]), theme().soft);
    };
    for (int t = 0; t < matchTestCount; ++t) {
        const auto at = static_cast<std::size_t>(t);
        const bool judged = std::ranges::any_of(candidates, [&](const Candidate& c) {
            return c.result.tests[at].demand > 0 && c.result.tests[at].capacity > 0;
        });
        if (!judged)
            continue;
        const int row = table.rowCount();
        table.setRowCount(row + 1);
        QString title = said(matchTestTitle(static_cast<MatchTest>(t)));
        title[0] = title[0].toUpper();
        setCell(table, row, 0, title);
        for (std::size_t k = 0; k < candidates.size(); ++k) {
            const MatchResult& r = candidates[k].result;
            const double margin = r.tests[at].margin();
            const bool tightest = static_cast<int>(r.tightestTest) == t;
            setCell(table, row, static_cast<int>(k) + 1,
                    QStringLiteral("%1 %2 %%3")
                        .arg(margin < 0 ? QStringLiteral("■") : QStringLiteral("●"))
                        .arg(margin * 100, 0, 'f', 0)
                        .arg(tightest ? QObject::tr("  tightest") : QString()),
                    margin < 0 ? theme().fail
                    : tightest ? theme().accent
                               : theme().ok);
        }
    }
    figure(QObject::tr("Load to rotor"),
           [](const Candidate& c) { return QString::number(c.result.inertiaRatio, 'f', 1); });
    figure(QObject::tr("Peak torque"),
           [](const Candidate& c) { return shown(c.result.torquePeak, Quantity::Torque, 3); });
    figure(QObject::tr("Rms torque"),
           [](const Candidate& c) { return shown(c.result.torqueRms, Quantity::Torque, 3); });
    figure(QObject::tr("Top speed"),
           [](const Candidate& c) { return shown(c.result.speedMax, Quantity::AngularSpeed, 3); });
    figure(QObject::tr("Frame"),
           [&](const Candidate& c) { return shown(parts.motors[c.motor].frame, Quantity::Length, 3); });
    figure(QObject::tr("Mass"),
           [&](const Candidate& c) { return shown(parts.motors[c.motor].mass, Quantity::Mass, 3); });
    table.horizontalHeader()->setSectionResizeMode(QHeaderView::Stretch);
}

} // namespace ridge::app
