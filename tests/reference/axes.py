#!/usr/bin/env python3
"""Random axes in continuous time, by the matrix exponential of scipy: the reference of tst_randomaxes.

Rigid and two-mass plants without dry friction under the PI velocity loop with the current loop as a lag, and under the
position loop around it; a step of the demand and a step of the load torque. Writes tests/data/axes_reference.json.
Run by hand: python3 tests/reference/axes.py
"""
import json
import pathlib

import numpy as np
from scipy.linalg import expm

rng = np.random.default_rng(20261129)


def axis(two_masses, position):
    total = 10 ** rng.uniform(-5, -2)
    load = total * rng.uniform(0.3, 0.85) if two_masses else 0.0
    motor = total - load
    resonance = rng.uniform(40, 300)  # Hz, of both masses
    stiffness = (2 * np.pi * resonance) ** 2 * motor * load / total if two_masses else 0.0
    anti = np.sqrt(stiffness / load) / (2 * np.pi) if two_masses else 80.0
    bandwidth = rng.uniform(0.08, 0.25) * anti
    w = 2 * np.pi * bandwidth
    return {
        "J": total, "JL": load, "k": stiffness,
        "c": 2 * rng.uniform(0.01, 0.05) * np.sqrt(stiffness * load) if two_masses else 0.0,
        "B": total * rng.uniform(0, 0.5),
        "Kv": w * total, "Ti": rng.uniform(4, 10) / w, "Kp": w / rng.uniform(4, 8) if position else 0.0,
        "tau": 0.2e-3, "size": float(rng.uniform(0.5, 20)), "push": w * total * rng.uniform(0, 1),
        "bandwidth": bandwidth,
    }


def system(a):
    """States: motor angle, motor speed, load angle, load speed, integral, torque. Inputs: demand, load torque."""
    two = a["JL"] > 0
    jm = a["J"] - a["JL"]
    m = np.zeros((6, 6))
    b = np.zeros((6, 2))
    m[0, 1] = 1
    m[2, 3] = 1
    if two:
        m[1] = [-a["k"] / jm, -a["c"] / jm, a["k"] / jm, a["c"] / jm, 0, 1 / jm]
        m[3] = [a["k"] / a["JL"], a["c"] / a["JL"], -a["k"] / a["JL"], -(a["c"] + a["B"]) / a["JL"], 0, 0]
        b[3, 1] = -1 / a["JL"]
    else:
        m[1] = [0, -a["B"] / a["J"], 0, 0, 0, 1 / a["J"]]
        b[1, 1] = -1 / a["J"]
    # speed wanted, error of it, torque asked
    wanted_angle, wanted_demand = (-a["Kp"], a["Kp"]) if a["Kp"] > 0 else (0.0, 1.0)
    m[4, 0] = wanted_angle
    m[4, 1] = -1
    b[4, 0] = wanted_demand
    m[5, 0] = a["Kv"] * wanted_angle / a["tau"]
    m[5, 1] = -a["Kv"] / a["tau"]
    m[5, 4] = a["Kv"] / a["Ti"] / a["tau"]
    m[5, 5] = -1 / a["tau"]
    b[5, 0] = a["Kv"] * wanted_demand / a["tau"]
    return m, b


def course(a):
    m, b = system(a)
    times = np.array([0.1, 0.3, 0.6, 1, 2, 4]) / a["bandwidth"]
    u = b @ np.array([a["size"], a["push"]])
    big = np.zeros((7, 7))
    big[:6, :6] = m
    big[:6, 6] = u
    states = [(expm(big * t) @ np.array([0, 0, 0, 0, 0, 0, 1.0]))[:6] for t in times]
    return {"t": times.tolist(), "theta": [s[0] for s in states], "w": [s[1] for s in states],
            "w_load": [s[3] if a["JL"] > 0 else s[1] for s in states], "T": [s[5] for s in states]}


cases = []
for number in range(48):
    a = axis(number % 2 == 1, number % 4 >= 2)
    cases.append({"axis": a, "course": course(a)})
out = pathlib.Path(__file__).resolve().parent.parent / "data" / "axes_reference.json"
out.write_text(json.dumps({"made_by": "tests/reference/axes.py, scipy.linalg.expm", "cases": cases}, indent=1) + "\n")
print(out, len(cases))
