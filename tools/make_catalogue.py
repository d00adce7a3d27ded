#!/usr/bin/python3
"""Makes data/catalogue.json: invented parts whose constants agree with one another.

Laws from geometry (shear stress on the rotor, copper loss through the plate, voltage at rated speed); every number is
then varied by up to 8 % inside the consistency windows and rounded to three digits. Seeded: the same file every time.
All names are invented plain words. Usage: tools/make_catalogue.py data/catalogue.json
"""
import json
import math
import random
import sys

RPM = 2 * math.pi / 60
ALPHA = 0.00393
rnd = random.Random(20)


def sig(x, n=3):
    return 0.0 if x == 0 else round(x, n - 1 - int(math.floor(math.log10(abs(x)))))


def vary(x, pct=4.0):
    return x * (1 + rnd.uniform(-pct, pct) / 100)


def servo(series, word, frame, stack, rpm, volts, heavy=1.0):
    theta, p = 145.0, 4 if frame < 0.12 else 5
    d, l = 0.5 * frame, 0.4 * frame * stack
    t0 = math.pi / 2 * d * d * l * 15e3 * (frame / 0.08) ** 0.5
    lb = l + 0.6 * frame
    rth = 1 / (14.0 * (4 * frame * lb + frame ** 2))
    wn = rpm * RPM
    x0 = 1.5 + 0.5 * (0.08 / frame) ** 2.3
    kt = math.sqrt(3) * 0.95 * volts / (x0 * wn)
    i0 = t0 / (0.95 * kt)
    r = (theta - 40) / rth / (1.5 * (1 + ALPHA * (theta - 20)) * i0 ** 2)
    f = min(0.55, 0.22 * (wn / 314.16) * (frame / 0.08) ** 0.3)
    tn = t0 * math.sqrt(1 - f)
    mass = 4300 * frame ** 2 * lb
    j = math.pi / 32 * 7000 * d ** 4 * l * heavy
    top = min(8500.0, (2.0 if frame <= 0.08 else 1.5) * rpm)
    kt_v = vary(kt, 2)
    m = dict(name=f"{series} {word} {int(round(frame * 1000))}/{stack} · {rpm}", series=series, frame_m=frame, polePairs=p,
             torqueConstant_Nm_A=sig(kt_v), voltageConstant_Vs_rad=sig(kt_v / math.sqrt(3)), resistance_ohm=sig(vary(r, 3)),
             inductance_H=sig(vary(5e-3 * (frame / 0.08) ** 1.5 * r, 6)), inertia_kgm2=sig(vary(j)), stallTorque_Nm=sig(t0),
             stallCurrent_A=sig(t0 / (0.95 * kt_v)), ratedTorque_Nm=sig(tn), ratedCurrent_A=sig(t0 / (0.95 * kt_v) * math.sqrt(1 - f)),
             ratedSpeed_rad_s=wn, peakTorque_Nm=sig(3 * t0), peakCurrent_A=sig(3 * t0 / (0.95 * kt_v) / 0.92),
             maxSpeed_rad_s=top * RPM, ratedVoltage_V=volts, maxWinding_K=theta + 273.15, thermalResistance_K_W=sig(rth),
             windingHeat_J_K=sig(0.12 * mass * 390), housingHeat_J_K=sig(0.88 * mass * 480), mass_kg=sig(mass),
             countsPerTurn=131072 if series != "Rowan" else 1048576, encoder="serial absolute, multi-turn")
    m.update(brakeTorque_Nm=sig(rnd.uniform(1.05, 1.45) * t0, 2), brakeInertia_kgm2=sig(j / heavy * rnd.uniform(0.04, 0.09)),
             brakeCurrent_A=sig((8 + 30 * min(1.0, t0 / 30)) / 24, 2), brakeRelease_s=sig(0.04 + 0.07 * min(1, t0 / 30), 2),
             brakeEngage_s=sig(0.018 + 0.024 * min(1, t0 / 30), 2))
    return m


servos = []
for series, heavy, volts in (("Alder", 1.0, 400.0), ("Birch", 2.6, 400.0), ("Rowan", 1.0, 230.0)):
    for frame, word in ((0.06, "wren"), (0.08, "finch"), (0.1, "thrush"), (0.13, "heron"), (0.18, "crane")):
        for stack in (1, 2, 3):
            rpms = (3000,) if frame > 0.12 else (3000, 4500)
            if series == "Alder":
                rpms = rpms + (2000,)
            for rpm in rpms:
                if series == "Birch" and rpm == 4500:
                    continue
                servos.append(servo(series, word, frame, stack, rpm, volts, heavy))


def drive(series, i, volts, times):
    three = volts == 400
    peak = times * i
    kw = (1.5 * i * volts / 400)
    return dict(name=f"{series} {i:g}", series=series, continuousCurrent_A=i, peakCurrent_A=sig(peak), peakTime_s=2.0 if times > 2.4 else 3.0,
                mainsPhases=3 if three else 1, mainsLowest_V=323.0 if three else 180.0, mainsHighest_V=528.0 if three else 264.0,
                ratedInputCurrent_A=sig(1.1 * i if three else 1.9 * i), busCapacitance_F=sig((200e-6 if three else 900e-6) * max(0.5, kw), 2),
                chopperOn_V=780.0 if three else 390.0, overVoltage_V=820.0 if three else 410.0, underVoltage_V=320.0 if three else 170.0,
                chopperCurrent_A=sig(1.3 * peak), leastResistance_ohm=sig((805 if three else 403) / (1.3 * peak)),
                internalResistance_ohm=sig((830 if three else 420) / (1.1 * peak)), internalPower_W=sig(20 + 8 * i, 2),
                switchingFrequency_Hz=8000.0 if i > 10 else 16000.0, maxOutputFrequency_Hz=599.0, standbyPower_W=sig(12 + 0.8 * i, 2),
                brakeOutputCurrent_A=1.5 if i < 10 else 2.0)


drives = [drive("Marl", i, 400, 2.5) for i in (1.6, 2.5, 4.0, 6.3, 10.0, 16.0, 25.0, 40.0)]
drives += [drive("Chert", i, 400, 3.0) for i in (2.5, 4.0, 6.3, 10.0, 16.0, 25.0)]
drives += [drive("Slate", i, 230, 3.0) for i in (1.6, 2.5, 4.0, 6.3, 10.0, 16.0)]
E12 = [1.0, 1.2, 1.5, 1.8, 2.2, 2.7, 3.3, 3.9, 4.7, 5.6, 6.8, 8.2]
resistors = []
for ohm in (15, 22, 33, 39, 47, 56, 68, 82, 100, 150):
    for watts in (60, 150, 300):
        resistors.append(dict(name=f"Ember {ohm} · {watts}", resistance_ohm=float(ohm), continuousPower_W=float(watts),
                              pulseEnergy_J=sig(watts * 14.0), thermalSwitch=True))
doc = {"format": "vortex-ridge-catalogue", "version": 1, "note": "Invented parts; made by tools/make_catalogue.py.",
       "servoMotors": servos, "servoDrives": drives, "brakeResistors": resistors}
with open(sys.argv[1], "w") as f:
    f.write('{"format": "vortex-ridge-catalogue", "version": 1,\n "note": "Invented parts; made by tools/make_catalogue.py.",\n')
    for n, key in enumerate(("servoMotors", "servoDrives", "brakeResistors")):
        f.write(f' "{key}": [\n' + ",\n".join("  " + json.dumps(r, ensure_ascii=False) for r in doc[key]) + "\n ]" + (",\n" if n < 2 else "\n"))
    f.write("}\n")
print(len(servos), len(drives), len(resistors))
