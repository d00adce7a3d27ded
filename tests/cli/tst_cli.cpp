#include "support/cli.h"

#include <QFile>
#include <QJsonArray>
#include <QJsonDocument>
#include <QJsonObject>
#include <QProcess>
#include <QRegularExpression>
#include <QTemporaryDir>
#include <QTest>

#include <cmath>
#include <functional>

using namespace cli;

/// The command line as scripts use it: the real program, JSON on standard output, exit 2 with one sentence on bad
/// input.
class TestCli : public QObject {
    Q_OBJECT

    QTemporaryDir m_folder;
    [[nodiscard]] QString path(const char* name) const { return m_folder.filePath(QString::fromLatin1(name)); }

private Q_SLOTS:
    void evaluatePrintsResultsAndChecks()
    {
        const Ran r = run({QStringLiteral("evaluate"), demo, QStringLiteral("--axis"), QStringLiteral("Tray lift"),
                           QStringLiteral("--working")});
        QCOMPARE(r.code, 0);
        const QJsonArray axes = r.json().value(QStringLiteral("axes")).toArray();
        QCOMPARE(axes.size(), 1);
        const QJsonObject axis = axes.first().toObject();
        QCOMPARE(axis.value(QStringLiteral("name")).toString(), QStringLiteral("Tray lift"));
        const QJsonObject inertia =
            axis.value(QStringLiteral("results")).toObject().value(QStringLiteral("load.reflected_inertia")).toObject();
        QCOMPARE(inertia.value(QStringLiteral("unit")).toString(), QStringLiteral("kg*m2"));
        QVERIFY(std::abs(inertia.value(QStringLiteral("value")).toDouble() / 4.059986e-4 - 1)
                < 1e-6); // worked by hand, docs/checks/lift.md
        QVERIFY(!inertia.value(QStringLiteral("working")).toArray().isEmpty());
        const QJsonArray checks = axis.value(QStringLiteral("checks")).toArray();
        QVERIFY(checks.size() > 20);
        for (const auto& c : checks)
            for (const char* key : {"id", "station", "demand", "capacity", "unit", "margin", "verdict", "reason"})
                QVERIFY2(c.toObject().contains(QString::fromLatin1(key)), key);
    }

    void withoutWorkingNothingIsExplained()
    {
        const Ran r = run({QStringLiteral("evaluate"), demo});
        QCOMPARE(r.code, 0);
        QCOMPARE(r.json().value(QStringLiteral("axes")).toArray().size(), 6);
        QVERIFY(!r.out.contains("\"working\""));
    }

    void matchRanks()
    {
        const Ran r = run({QStringLiteral("match"), demo, QStringLiteral("--axis"), QStringLiteral("A1"),
                           QStringLiteral("--top"), QStringLiteral("3")});
        QCOMPARE(r.code, 0);
        const QJsonArray list = r.json().value(QStringLiteral("candidates")).toArray();
        QCOMPARE(list.size(), 3);
        QVERIFY(list.first().toObject().value(QStringLiteral("passes")).toBool());
    }

    void sweepsARatio()
    {
        const Ran r = run({QStringLiteral("sweep"), demo, QStringLiteral("--axis"), QStringLiteral("A2"),
                           QStringLiteral("--over"), QStringLiteral("gearbox.ratio=3:6:1")});
        QCOMPARE(r.code, 0);
        const QList<QByteArray> lines = r.out.trimmed().split('\n');
        QCOMPARE(lines.size(), 5);
        QVERIFY(lines[0].startsWith("gearbox.ratio,tightest_margin"));
        const qsizetype speed = lines[0].split(',').indexOf("speed_max_rad_s");
        QVERIFY(speed > 0);
        // the motor turns in proportion to the ratio (kinematics)
        QVERIFY(std::abs(lines[4].split(',')[speed].toDouble() / lines[1].split(',')[speed].toDouble() - 2.0) < 1e-6);
    }

    /// The shortest time names what stands against more, and the gentlest keeps the cycle.
    void answersTheQuestionsAboutTime()
    {
        const QJsonObject quick =
            run({QStringLiteral("fastest"), demo, QStringLiteral("--axis"), QStringLiteral("A2")}).json();
        QVERIFY(!quick.value(QStringLiteral("limit")).toString().isEmpty()
                && !quick.value(QStringLiteral("reason")).toString().isEmpty());
        QCOMPARE(quick.value(QStringLiteral("segments")).toArray().size(), 4);
        const QJsonObject soft = run({QStringLiteral("gentlest"), demo, QStringLiteral("--axis"), QStringLiteral("A2"),
                                      QStringLiteral("--cycle"), QStringLiteral("2500 ms")})
                                     .json();
        QVERIFY(std::abs(soft.value(QStringLiteral("cycle_after_s")).toDouble() - 2.5) < 1e-9);
        QVERIFY(soft.value(QStringLiteral("torque_rms_after_Nm")).toDouble()
                < soft.value(QStringLiteral("torque_rms_before_Nm")).toDouble());
        const Ran one = run({QStringLiteral("fastest"), demo, QStringLiteral("--axis"), QStringLiteral("A1"),
                             QStringLiteral("--segment"), QStringLiteral("3")});
        QCOMPARE(one.code, 0);
        const Ran dwell = run({QStringLiteral("fastest"), demo, QStringLiteral("--axis"), QStringLiteral("A1"),
                               QStringLiteral("--segment"), QStringLiteral("2")});
        QCOMPARE(dwell.code, 2); // a dwell has no fastest
    }

    void laysAllAxesOnOneBus()
    {
        const QJsonObject bus = run({QStringLiteral("bus"), demo}).json();
        QCOMPARE(bus.value(QStringLiteral("axes")).toArray().size(), 5);
        QCOMPARE(bus.value(QStringLiteral("left_out")).toArray().first().toString(), QStringLiteral("Label feed"));
        QVERIFY(bus.value(QStringLiteral("from_mains_J")).toDouble() > 0);
    }

    void fitsARecordedMotion()
    {
        QFile table(path("motion.csv"));
        QVERIFY(table.open(QIODevice::WriteOnly));
        for (int k = 0; k <= 100; ++k) {
            const double z = k / 100.0;
            table.write(QByteArray::number(z * 0.5) + ',' + QByteArray::number(120 * z * z * (3 - 2 * z)) + '\n');
        }
        table.close();
        const Ran r =
            run({QStringLiteral("fit"), table.fileName(), QStringLiteral("--permitted"), QStringLiteral("50 um")});
        QCOMPARE(r.code, 0);
        QVERIFY(r.json().value(QStringLiteral("largest_deviation")).toDouble() <= 50e-6);
        QVERIFY(std::abs(r.json().value(QStringLiteral("peak_speed")).toDouble() / (1.5 * 0.12 / 0.5) - 1)
                < 0.01); // a cubic: 1.5·s/T
        QCOMPARE(
            run({QStringLiteral("fit"), table.fileName(), QStringLiteral("--permitted"), QStringLiteral("3 kg")}).code,
            2);
    }

    /// A flywheel of steel, 200 mm, 20 mm: m·d²/8 (rigid-body table).
    void sumsUpSolids()
    {
        QFile file(path("solids.json"));
        QVERIFY(file.open(QIODevice::WriteOnly));
        file.write(
            R"({"format": "vortex-ridge-solids", "solids": [{"shape": "cylinder", "material": "steel", "a_m": 0.2, "c_m": 0.02}]})");
        file.close();
        const QJsonObject sum = run({QStringLiteral("inertia"), file.fileName()}).json();
        const double mass = 7850 * M_PI * 0.01 * 0.02;
        QVERIFY(std::abs(sum.value(QStringLiteral("mass_kg")).toDouble() - mass) < 1e-9);
        QVERIFY(std::abs(sum.value(QStringLiteral("inertia_kgm2")).toDouble() - mass * 0.04 / 8) < 1e-12);
        QFile wrong(path("wrong-solids.json"));
        QVERIFY(wrong.open(QIODevice::WriteOnly));
        wrong.write(
            R"({"format": "vortex-ridge-solids", "solids": [{"shape": "tube", "a_m": 0.02, "b_m": 0.03, "c_m": 0.1}]})");
        wrong.close();
        const Ran r = run({QStringLiteral("inertia"), wrong.fileName()});
        QCOMPARE(r.code, 2);
        QVERIFY2(r.error.contains("0.b") && r.error.contains("smaller than the outside"), r.error.constData());
    }

    void ranksWithGearboxesAndOwnParts()
    {
        const Ran r = run({QStringLiteral("match"), demo, QStringLiteral("--axis"), QStringLiteral("A2"),
                           QStringLiteral("--gearboxes"), QStringLiteral("--top"), QStringLiteral("3")});
        QCOMPARE(r.code, 0);
        QVERIFY(r.json().value(QStringLiteral("combinations")).toInt() > 40000);
        QCOMPARE(r.json().value(QStringLiteral("candidates")).toArray().size(), 3);
        QVERIFY(r.json().value(QStringLiteral("why_not_smaller")).toString().contains(QStringLiteral("next smaller")));
        QFile own(path("own.json"));
        QVERIFY(own.open(QIODevice::WriteOnly));
        own.write(R"({"format": "vortex-ridge-catalogue", "servoMotors": [{"name": "broken"}]})");
        own.close();
        const Ran refused = run({QStringLiteral("match"), demo, QStringLiteral("--axis"), QStringLiteral("A2"),
                                 QStringLiteral("--parts"), own.fileName()});
        QCOMPARE(refused.code, 2);
        QVERIFY2(refused.error.contains("/servoMotors/0"), refused.error.constData());
    }

    void validatesACatalogueWithLineAndColumn()
    {
        QCOMPARE(
            run({QStringLiteral("catalogue"), QStringLiteral("validate"), QStringLiteral(DATA_DIR "/catalogue.json")})
                .code,
            0);
        QFile csv(path("parts.csv"));
        QVERIFY(csv.open(QIODevice::WriteOnly));
        csv.write("name,resistance_ohm,continuousPower_W,pulseEnergy_J\nGood 47,47,150,2000\nBad,many,150,2000\n");
        csv.close();
        const Ran r = run({QStringLiteral("catalogue"), QStringLiteral("validate"), path("parts.csv"),
                           QStringLiteral("--kind"), QStringLiteral("resistors")});
        QVERIFY(r.code != 0);
        const QByteArray all = r.out + r.error;
        QVERIFY2(all.contains("line 3, column 2"), all.constData());
        QVERIFY2(all.contains("many"), all.constData());
    }

    /// What is missing, mistyped or of a wrong type in a duty is refused at its place; nothing becomes 0 by a slip.
    void aDutyIsReadWholeOrNotAtAll_data()
    {
        QTest::addColumn<QByteArray>("duty");
        QTest::addColumn<QByteArray>("place");
        const auto row = [](const char* name, const char* duty, const char* place) {
            QTest::newRow(name) << QByteArray(duty) << QByteArray(place);
        };
        row("no inertia", R"({"segments":[{"duration_s":1,"torque_Nm":1}]})", "reflectedInertia_kgm2");
        row("quoted inertia", R"({"reflectedInertia_kgm2":"1","segments":[{"duration_s":1,"torque_Nm":1}]})",
            "reflectedInertia_kgm2");
        row("no torque", R"({"reflectedInertia_kgm2":0,"segments":[{"duration_s":1}]})", "segments/0/torque_Nm");
        row("quoted torque", R"({"reflectedInertia_kgm2":0,"segments":[{"duration_s":1,"torque_Nm":"2"}]})",
            "segments/0/torque_Nm");
        row("mistyped speed",
            R"({"reflectedInertia_kgm2":0,"segments":[{"duration_s":1,"torque_Nm":1},{"duration_s":1,"torque_Nm":1,"speed1_rads":9}]})",
            "segments/1/speed1_rads");
        row("null duration", R"({"reflectedInertia_kgm2":0,"segments":[{"duration_s":null,"torque_Nm":1}]})",
            "segments/0/duration_s");
        row("not an object", R"({"reflectedInertia_kgm2":0,"segments":[7]})", "segments/0");
        row("a speed that jumps",
            R"({"reflectedInertia_kgm2":0,"segments":[{"duration_s":1,"torque_Nm":1,"speed1_rad_s":9},{"duration_s":1,"torque_Nm":1,"speed0_rad_s":5,"speed1_rad_s":0}]})",
            "segments/1/speed0_rad_s");
        row("crosses zero",
            R"({"reflectedInertia_kgm2":0,"segments":[{"duration_s":1,"torque_Nm":1,"speed0_rad_s":-1,"speed1_rad_s":1}]})",
            "segments/0");
    }
    void aDutyIsReadWholeOrNotAtAll()
    {
        QFETCH(QByteArray, duty);
        QFETCH(QByteArray, place);
        QFile file(path("slip.json"));
        QVERIFY(file.open(QIODevice::WriteOnly));
        file.write(R"({"format":"vortex-ridge-duty","duty":)" + duty + "}");
        file.close();
        for (const char* command : {"duty", "match"}) {
            const Ran r = run({QString::fromLatin1(command), path("slip.json")});
            QCOMPARE(r.code, 2);
            QVERIFY2(r.error.contains(place), r.error.constData());
            QVERIFY(r.out.isEmpty());
        }
    }

    /// 2 N·m over two equal ramps of 1 s to 100 rad/s and back, worked by hand: rms 2, 100 J each way, 100 rad/s; for a
    /// rotor of 1e-4 and 0.01 kg·m² with no other torque the ratio of least rms is √(0.01/1e-4) = 10.
    void theFiguresOfADuty()
    {
        QFile file(path("ramps.json"));
        QVERIFY(file.open(QIODevice::WriteOnly));
        file.write(R"({"format":"vortex-ridge-duty","duty":{"reflectedInertia_kgm2":0.01,"segments":[
            {"duration_s":1,"torque_Nm":1,"speed1_rad_s":100},{"duration_s":1,"torque_Nm":-1,"speed1_rad_s":0}]}})");
        file.close();
        const Ran r =
            run({QStringLiteral("duty"), path("ramps.json"), QStringLiteral("--rotor"), QStringLiteral("1 kg*cm2")});
        QVERIFY2(r.code == 0, r.error.constData());
        const QJsonObject figures = r.json();
        const auto value = [&figures](const char* key) { return figures.value(QLatin1String(key)).toDouble(); };
        QCOMPARE(value("period_s"), 2.0);
        QVERIFY(std::abs(value("torque_rms_Nm") - 1) < 1e-12);
        QVERIFY(std::abs(value("energy_motoring_J") - 50) < 1e-9 && std::abs(value("energy_returned_J") - 50) < 1e-9);
        QCOMPARE(value("speed_max_rad_s"), 100.0);
        const double ratio =
            r.json().value(QStringLiteral("least_rms")).toObject().value(QStringLiteral("ratio")).toDouble();
        QVERIFY2(std::abs(ratio - 10) < 1e-9, qPrintable(QString::number(ratio)));
    }

    void theHandbookAnswersInAnyUnit()
    {
        const auto listed = QJsonDocument::fromJson(run({QStringLiteral("handbook")}).out).array();
        QVERIFY(listed.size() >= 30);
        for (const auto& e : listed)
            QCOMPARE(run({QStringLiteral("handbook"), e.toObject().value(QStringLiteral("id")).toString()}).code, 0);
        // 4 oz/ft and 20 in of belt at 90 lbf: √(F/m)/(2·L) by hand
        const Ran r = run({QStringLiteral("handbook"), QStringLiteral("strand-tone"), QStringLiteral("m=0.1 kg/m"),
                           QStringLiteral("L=20 in"), QStringLiteral("F=90 lbf")});
        QVERIFY2(r.code == 0, r.error.constData());
        const double tone = r.json().value(QStringLiteral("values")).toObject().value(QStringLiteral("f")).toDouble();
        QVERIFY2(std::abs(tone - std::sqrt(90 * 4.4482216152605 / 0.1) / (2 * 0.508)) < 1e-9,
                 qPrintable(QString::number(tone)));
        for (const QStringList& wrong : {QStringList{QStringLiteral("perpetual-motion")},
                                         {QStringLiteral("strand-tone"), QStringLiteral("q=1")},
                                         {QStringLiteral("strand-tone"), QStringLiteral("L=5 kg")},
                                         {QStringLiteral("strand-tone"), QStringLiteral("L")},
                                         {QStringLiteral("strand-tone"), QStringLiteral("m=0")},
                                         {QStringLiteral("cam-time"), QStringLiteral("law=square")}}) {
            const Ran refused = run(QStringList{QStringLiteral("handbook")} + wrong);
            QCOMPARE(refused.code, 2);
            QVERIFY(refused.error.size() > 20 && refused.error.count('\n') == 1 && refused.out.isEmpty());
        }
        QCOMPARE(run({QStringLiteral("handbook"), QStringLiteral("cam-time"), QStringLiteral("law=cycloidal")}).code,
                 0);
        // a number without a unit is in the unit of the list, and what is refused is named by its field
        const Ran bare = run({QStringLiteral("handbook"), QStringLiteral("strand-tone"), QStringLiteral("m=0.1"),
                              QStringLiteral("L=0.5"), QStringLiteral("F=400")});
        QVERIFY(std::abs(bare.json().value(QStringLiteral("values")).toObject().value(QStringLiteral("f")).toDouble()
                         - 63.2456)
                < 1e-3);
        const Ran nothing = run({QStringLiteral("handbook"), QStringLiteral("strand-tone"), QStringLiteral("m=0")});
        QVERIFY2(nothing.error.contains("belt mass per length"), nothing.error.constData());
    }

    /// The plan of an axis goes out as JSON, comes back through the judge, and a wire that is missing is found.
    void aPlanGoesOutAndIsJudged()
    {
        const Ran plan = run({QStringLiteral("wire"), demo, QStringLiteral("--axis"), QStringLiteral("Tray lift"),
                              QStringLiteral("--json")});
        QVERIFY2(plan.code == 0, plan.error.constData());
        const auto judge = [&](const QByteArray& text) {
            QFile file(path("plan.json"));
            if (file.open(QIODevice::WriteOnly))
                file.write(text);
            file.close();
            return run({QStringLiteral("wire"), QStringLiteral("check"), path("plan.json")});
        };
        const Ran whole = judge(plan.out);
        QVERIFY2(whole.code <= 1, whole.error.constData());
        QJsonObject less = plan.json();
        QJsonArray conductors = less.value(QStringLiteral("conductors")).toArray();
        QVERIFY(conductors.size() > 10);
        while (conductors.size() > 3)
            conductors.removeLast();
        less[QStringLiteral("conductors")] = conductors;
        const Ran cut = judge(QJsonDocument(less).toJson());
        QCOMPARE(cut.code, 1);
        const auto count = [](const Ran& r) { return r.json().value(QStringLiteral("findings")).toArray().size(); };
        QVERIFY2(count(cut) > count(whole), qPrintable(QString::number(count(cut))));
        for (const QByteArray& bad : {QByteArray("{"), QByteArray("[]"), QByteArray(R"({"id":7})")})
            QCOMPARE(judge(bad).code, 2);
        QCOMPARE(run({QStringLiteral("wire"), demo, QStringLiteral("--json")}).code, 2);
    }

    /// A value that cannot be, of an axis or of the site, is refused by every command that computes with it, at its
    /// field; nothing else is.
    void valuesThatCannotBe_data()
    {
        QTest::addColumn<QStringList>("place");
        QTest::addColumn<double>("value");
        QTest::addColumn<QByteArray>("field");
        const auto row = [](const char* name, const char* place, double value, const char* field) {
            QTest::newRow(name) << QString::fromLatin1(place).split(QLatin1Char(' ')) << value << QByteArray(field);
        };
        row("colder than any winter", "site ambient_K", 20, "site.ambient");
        row("no mains", "site mains_V", 0, "site.mains");
        row("efficiency in percent", "axes 0 mechanism efficiency", 92, "mechanism.efficiency");
        row("negative friction", "axes 0 load friction", -1, "load.friction");
        row("negative lead", "axes 0 mechanism lead_m", -0.01, "mechanism.lead");
        row("negative mass", "axes 0 load moving_kg", -40, "load.moving");
    }
    void valuesThatCannotBe()
    {
        QFETCH(QStringList, place);
        QFETCH(double, value);
        QFETCH(QByteArray, field);
        QFile good(demo);
        QVERIFY(good.open(QIODevice::ReadOnly));
        const std::function<QJsonValue(const QJsonValue&, qsizetype)> put = [&](const QJsonValue& at,
                                                                                qsizetype k) -> QJsonValue {
            if (k == place.size())
                return value;
            if (at.isArray()) {
                QJsonArray a = at.toArray();
                a[place[k].toInt()] = put(a[place[k].toInt()], k + 1);
                return a;
            }
            QJsonObject o = at.toObject();
            o[place[k]] = put(o.value(place[k]), k + 1);
            return o;
        };
        QFile bad(path("cannot.json"));
        QVERIFY(bad.open(QIODevice::WriteOnly));
        bad.write(QJsonDocument(put(QJsonDocument::fromJson(good.readAll()).object(), 0).toObject()).toJson());
        bad.close();
        const QString axis = QStringLiteral("--axis"), first = QStringLiteral("A1");
        for (const QStringList& command : {QStringList{QStringLiteral("match"), bad.fileName(), axis, first},
                                           {QStringLiteral("fastest"), bad.fileName(), axis, first},
                                           {QStringLiteral("gentlest"), bad.fileName(), axis, first},
                                           {QStringLiteral("bus"), bad.fileName()},
                                           {QStringLiteral("sweep"), bad.fileName(), axis, first,
                                            QStringLiteral("--over"), QStringLiteral("gearbox.ratio=1:10:3")}}) {
            const Ran r = run(command);
            QVERIFY2(r.code == 2 && r.out.isEmpty(), qPrintable(command.first() + QString::fromUtf8(r.error)));
            QVERIFY2(r.error.contains(field) && r.error.count('\n') == 1, r.error.constData());
        }
        const Ran check = run({QStringLiteral("check"), bad.fileName(), axis, first});
        QCOMPARE(check.code, 1);
        const QJsonArray refused = check.json().value(QStringLiteral("refused")).toArray();
        QCOMPARE(refused.size(), 1);
        QCOMPARE(refused.first().toObject().value(QStringLiteral("field")).toString().toLatin1(), field);
        const QJsonObject evaluated = run({QStringLiteral("evaluate"), bad.fileName(), axis, first})
                                          .json()
                                          .value(QStringLiteral("axes"))
                                          .toArray()
                                          .first()
                                          .toObject();
        QCOMPARE(evaluated.value(QStringLiteral("problems")).toArray().size(), 1);
        // nothing that hangs on it is given out as a number
        QVERIFY(!evaluated.value(QStringLiteral("results")).toObject().contains(QStringLiteral("match.torque_rms")));
        // the untouched machine has none of it
        QVERIFY(run({QStringLiteral("check"), demo}).json().value(QStringLiteral("refused")).toArray().isEmpty());
    }

    /// A duty without a machine: constant torque for a second each way has that torque as its rms (definition).
    void ranksForADuty()
    {
        QFile file(path("duty.json"));
        QVERIFY(file.open(QIODevice::WriteOnly));
        file.write(R"({"format":"vortex-ridge-duty","duty":{"reflectedInertia_kgm2":0.0001,"segments":[
            {"duration_s":1,"speed0_rad_s":50,"speed1_rad_s":50,"torque_Nm":0.8},
            {"duration_s":1,"speed0_rad_s":50,"speed1_rad_s":50,"torque_Nm":-0.8}]}})");
        file.close();
        const Ran r = run({QStringLiteral("match"), path("duty.json"), QStringLiteral("--top"), QStringLiteral("2")});
        QVERIFY2(r.code == 0, r.error.constData());
        const QJsonArray list = r.json().value(QStringLiteral("candidates")).toArray();
        QCOMPARE(list.size(), 2);
        for (const auto& c : list)
            QVERIFY(std::abs(c.toObject().value(QStringLiteral("torque_rms_Nm")).toDouble() - 0.8) < 1e-9);
    }

    void importsExportsAndReports()
    {
        const QString file = path("demo.vridge");
        QCOMPARE(run({QStringLiteral("import"), demo, file}).code, 0);
        QCOMPARE(run({QStringLiteral("import"), demo, file}).code, 2); // never over an existing file
        const Ran exported = run({QStringLiteral("export"), file});
        QCOMPARE(exported.code, 0);
        QCOMPARE(exported.out, run({QStringLiteral("export"), demo}).out); // one machine, two forms
        QCOMPARE(run({QStringLiteral("evaluate"), file}).out, run({QStringLiteral("evaluate"), demo}).out);
        QCOMPARE(run({QStringLiteral("report"), file, path("r.html")}).code, 0);
        QCOMPARE(run({QStringLiteral("report"), file, path("r.pdf")}).code, 0);
        QProcess text; // read back by a program that knows nothing of ours
        text.start(QStringLiteral("pdftotext"), {QStringLiteral("-layout"), path("r.pdf"), QStringLiteral("-")});
        QVERIFY(text.waitForFinished(20000));
        const QByteArray pdf = text.readAllStandardOutput();
        QVERIFY(pdf.contains("Hand-over: A1 Tray lift"));
        QVERIFY(pdf.contains("Reflected inertia"));
    }

    void checkExitsWithOneWhenSomethingFails()
    {
        QFile in(demo), out(path("bad.json"));
        QVERIFY(in.open(QIODevice::ReadOnly) && out.open(QIODevice::WriteOnly));
        QJsonObject machine = QJsonDocument::fromJson(in.readAll()).object();
        QJsonArray axes = machine.value(QStringLiteral("axes")).toArray();
        QJsonObject axis = axes.first().toObject(), load = axis.value(QStringLiteral("load")).toObject();
        load.insert(QStringLiteral("moving_kg"), 460.0);
        axis.insert(QStringLiteral("load"), load);
        machine.insert(QStringLiteral("axes"), QJsonArray{axis});
        out.write(QJsonDocument(machine).toJson());
        out.close();
        const Ran r = run({QStringLiteral("check"), path("bad.json")});
        QCOMPARE(r.code, 1);
        QVERIFY(!r.json().value(QStringLiteral("failing")).toArray().isEmpty());
    }

    void converts_data()
    {
        QTest::addColumn<QString>("from");
        QTest::addColumn<QString>("unit");
        QTest::addColumn<double>("value");
        QTest::newRow("inch") << QStringLiteral("3 in") << QStringLiteral("mm") << 76.2; // definition of the inch
        QTest::newRow("comma") << QStringLiteral("1,5 kW") << QStringLiteral("W") << 1500.0;
        QTest::newRow("turns") << QStringLiteral("1500 rpm") << QStringLiteral("rev/s") << 25.0;
        QTest::newRow("temperature") << QStringLiteral("95 degF") << QStringLiteral("degC") << 35.0;
    }
    /// What a measure is converted to is a unit: "0 mm" would give nothing at all.
    void aMeasureIsNoUnit()
    {
        for (const char* to : {"0 mm", "-2 mm", " 3mm", ".5 in"}) {
            const Ran r = run({QStringLiteral("convert"), QStringLiteral("3 in"), QString::fromUtf8(to)});
            QCOMPARE(r.code, 2);
            QVERIFY2(r.out.isEmpty() && r.error.contains("is a measure"), r.error.constData());
        }
    }
    void converts()
    {
        QFETCH(QString, from);
        QFETCH(QString, unit);
        QFETCH(double, value);
        const Ran r = run({QStringLiteral("convert"), from, unit});
        QCOMPARE(r.code, 0);
        QVERIFY(std::abs(r.json().value(QStringLiteral("value")).toDouble() - value) < 1e-9);
    }

    void badInputIsOneSentence_data()
    {
        QTest::addColumn<QStringList>("arguments");
        QTest::newRow("nothing") << QStringList{};
        QTest::newRow("unknown command") << QStringList{QStringLiteral("dance")};
        QTest::newRow("no file") << QStringList{QStringLiteral("evaluate")};
        QTest::newRow("missing file") << QStringList{QStringLiteral("evaluate"), QStringLiteral("/nowhere.vridge")};
        QTest::newRow("no such axis") << QStringList{QStringLiteral("evaluate"), demo, QStringLiteral("--axis"),
                                                     QStringLiteral("Z9")};
        QTest::newRow("unknown option") << QStringList{QStringLiteral("evaluate"), demo, QStringLiteral("--loud")};
        QTest::newRow("no such segment") << QStringList{QStringLiteral("fastest"),   demo,
                                                        QStringLiteral("--axis"),    QStringLiteral("A1"),
                                                        QStringLiteral("--segment"), QStringLiteral("99")};
        QTest::newRow("segment in words") << QStringList{QStringLiteral("fastest"),   demo,
                                                         QStringLiteral("--axis"),    QStringLiteral("A1"),
                                                         QStringLiteral("--segment"), QStringLiteral("two")};
        QTest::newRow("cycle too short") << QStringList{QStringLiteral("gentlest"), demo,
                                                        QStringLiteral("--axis"),   QStringLiteral("A1"),
                                                        QStringLiteral("--cycle"),  QStringLiteral("0.1 s")};
        QTest::newRow("a length for a time") << QStringList{QStringLiteral("gentlest"), demo,
                                                            QStringLiteral("--axis"),   QStringLiteral("A1"),
                                                            QStringLiteral("--cycle"),  QStringLiteral("3 mm")};
        QTest::newRow("no recording") << QStringList{QStringLiteral("fit"), demo};
        QTest::newRow("no solids") << QStringList{QStringLiteral("inertia"), demo};
        QTest::newRow("no bus") << QStringList{QStringLiteral("bus"), QStringLiteral("/nowhere.json")};
        QTest::newRow("top of nothing") << QStringList{QStringLiteral("match"),  demo,
                                                       QStringLiteral("--axis"), QStringLiteral("A1"),
                                                       QStringLiteral("--top"),  QStringLiteral("0")};
        QTest::newRow("not a machine") << QStringList{QStringLiteral("check"),
                                                      QStringLiteral(DATA_DIR "/catalogue.json")};
        QTest::newRow("a folder") << QStringList{QStringLiteral("check"), QStringLiteral(DATA_DIR)};
        QTest::newRow("report as text") << QStringList{QStringLiteral("report"), demo, QStringLiteral("x.txt")};
        QTest::newRow("dimensions") << QStringList{QStringLiteral("convert"), QStringLiteral("3 N"),
                                                   QStringLiteral("mm")};
        QTest::newRow("sweep of nothing")
            << QStringList{QStringLiteral("sweep"),  demo,
                           QStringLiteral("--axis"), QStringLiteral("A2"),
                           QStringLiteral("--over"), QStringLiteral("gearbox.ratio=6:3:1")};
        QTest::newRow("sweep of no field")
            << QStringList{QStringLiteral("sweep"),  demo,
                           QStringLiteral("--axis"), QStringLiteral("A2"),
                           QStringLiteral("--over"), QStringLiteral("gearbox.colour=1:3:1")};
        QTest::newRow("no unit") << QStringList{QStringLiteral("convert"), QStringLiteral("3 in"),
                                                QStringLiteral("furlong")};
        QTest::newRow("words") << QStringList{QStringLiteral("convert"), QStringLiteral("three inches"),
                                              QStringLiteral("mm")};
    }
    void badInputIsOneSentence()
    {
        QFETCH(QStringList, arguments);
        const Ran r = run(arguments);
        QCOMPARE(r.code, 2);
        QVERIFY(r.out.isEmpty());
        QCOMPARE(r.error.count('\n'), 1);
        QVERIFY(r.error.size() > 15);
    }
};

QTEST_GUILESS_MAIN(TestCli)
#include "tst_cli.moc"
