#!/usr/bin/python3
"""Independent reference for the simulation and the step metrics: continuous-time solutions by scipy.

Needs Debian's python3-scipy. Prints the JSON that is kept as tests/data/loops_reference.json:
    tests/reference/loops.py > tests/data/loops_reference.json
Nothing here shares a line with core/control: the loops are written as differential equations and solved by DOP853.
"""
import json
import math

import numpy as np
import scipy
from scipy.integrate import solve_ivp
from scipy.signal import StateSpace, lsim

J, B, TG = 4.6e-4, 1.0e-4, 0.25
KV, TI, KP = 0.113, 0.02, 50.0
TAU_T, TAU_V, TAU_I = 0.8e-3, 0.3e-3, 0.2e-3


def velocity_step(step=100.0, end=0.08):
    """States: w, filtered speed, integral, filtered torque, torque. Linear, so lsim solves it exactly on its grid."""
    a = np.zeros((5, 5))
    b = np.zeros((5, 1))
    a[0] = [-B / J, 0, 0, 0, 1 / J]
    a[1] = [1 / TAU_V, -1 / TAU_V, 0, 0, 0]
    a[2] = [0, -KV / TI, 0, 0, 0]
    a[3] = [0, -KV / TAU_T, 1 / TAU_T, -1 / TAU_T, 0]
    a[4] = [0, 0, 0, 1 / TAU_I, -1 / TAU_I]
    b[2], b[3] = KV / TI, KV / TAU_T
    c = np.array([[1, 0, 0, 0, 0]])
    t = np.linspace(0, end, 80001)
    _, y, _ = lsim(StateSpace(a, b, c, [[0]]), np.full_like(t, step), t)
    return t, y


def metrics(t, y, final, band=0.02):
    q = y / final
    rise = np.interp(0.9, q[: q.argmax()], t[: q.argmax()]) - np.interp(0.1, q[: q.argmax()], t[: q.argmax()])
    outside = np.nonzero(np.abs(q - 1) > band)[0]
    k = outside[-1]
    u, v = abs(q[k] - 1) - band, abs(q[k + 1] - 1) - band
    return {"rise": float(rise), "overshoot_percent": float(100 * (q.max() - 1)), "peak_time": float(t[q.argmax()]),
            "settling": float(t[k] + u / (u - v) * (t[k + 1] - t[k]))}


def trapezoid(t, d, v, a):
    ta = v / a
    tc = d / v - ta
    end = 2 * ta + tc
    if t < ta:
        return a * t * t / 2, a * t, a
    if t < ta + tc:
        return v * t - v * ta / 2, v, 0.0
    if t < end:
        left = end - t
        return d - a * left * left / 2, a * left, -a
    return d, 0.0, 0.0


def move(kvff, kaff, d=60.0, v=200.0, a=2000.0, wait=0.15):
    """Position cascade over the rigid axis with gravity, integrator pre-loaded as when the brake opens."""
    def f(t, s):
        th, w, wf, z, yt, tm = s
        x, vd, ad = trapezoid(t, d, v, a)
        ws = KP * (x - th) + kvff * vd
        u = KV * (ws - wf) + z + kaff * J * ad
        return [w, (tm - TG - B * w) / J, (w - wf) / TAU_V, KV / TI * (ws - wf), (u - yt) / TAU_T, (yt - tm) / TAU_I]

    ta, end = v / a, d / v + v / a
    cuts = [0, ta, end - ta, end, end + wait]
    state, times, errors, torques = [0, 0, 0, TG, TG, TG], [], [], []
    for lo, hi in zip(cuts, cuts[1:]):
        r = solve_ivp(f, (lo, hi), state, method="DOP853", rtol=1e-10, atol=1e-12, dense_output=True)
        for t in np.arange(math.ceil(lo / 0.005 - 1e-9) * 0.005, hi - 1e-9, 0.005):
            s = r.sol(t)
            times.append(round(float(t), 6))
            errors.append(float(trapezoid(t, d, v, a)[0] - s[0]))
            torques.append(float(s[5]))
        state = r.y[:, -1]
    return {"kvff": kvff, "kaff": kaff, "distance": d, "speed": v, "acceleration": a, "time": times, "error": errors, "torque": torques}


t, y = velocity_step()
pick = slice(0, None, 2000)
out = {"made_by": "tests/reference/loops.py", "scipy": scipy.__version__,
       "plant": {"J": J, "B": B, "Tg": TG}, "gains": {"Kv": KV, "Ti": TI, "Kp": KP, "tau_t": TAU_T, "tau_v": TAU_V, "tau_i": TAU_I},
       "velocity_step": {"step": 100.0, "time": [float(x) for x in t[pick]], "speed": [float(x) for x in y[pick]], "metrics": metrics(t, y, 100.0)},
       "moves": [move(0.9, 0.9), move(1.0, 0.0), move(1.0, 1.0)]}
# a textbook second-order step (zeta 0.3, 25 Hz): closed forms beside it in the test
w0, zeta = 2 * math.pi * 25, 0.3
tt = np.linspace(0, 0.2, 20001)
wd = w0 * math.sqrt(1 - zeta ** 2)
yy = 1 - np.exp(-zeta * w0 * tt) * (np.cos(wd * tt) + zeta * w0 / wd * np.sin(wd * tt))
out["second_order"] = {"frequency_Hz": 25, "zeta": zeta, "metrics": metrics(tt, yy, 1.0)}
print(json.dumps(out, indent=1))
