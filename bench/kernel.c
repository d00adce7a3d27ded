#include "kernel.h"

#include <math.h>

double ridgeBareKernel(double seconds)
{
    const double h = 1.0 / 16000, kp = 50, kv = 0.113, ti = 0.02, jff = 4.5e-4, inertia = 4.6e-4, coulomb = 0.22, gravity = 0.25, limit = 3.6;
    const double count = 2 * 3.14159265358979323846 / 131072, vstep = 2 * h, filterV = 1 - exp(-vstep / 0.3e-3), filterT = 1 - exp(-vstep / 0.8e-3), lag = exp(-h / 0.2e-3);
    const double rate = vstep * kv / ti, back = vstep / ti;
    double angle = 0, speed = 0, torque = 0, applied = 0, integral = gravity, filtered = 0, last = 0, demandSpeed = 0, ff = 0, yt = 0, pending = 0;
    long n = 0, due = -1;
    const long total = (long)(seconds * 16000);
    for (; n < total; ++n) {
        const double t = (double)n * h, measured = floor(angle / count + 0.5) * count;
        if (n % 8 == 0) {
            const double phase = fmod(t, 1.0), a = phase < 0.25 ? 400.0 : phase < 0.5 ? -400.0 : 0.0;
            const double v = phase < 0.25 ? 400.0 * phase : phase < 0.5 ? 400.0 * (0.5 - phase) : 0.0;
            const double turns = floor(t) * 25.0, x = turns + (phase < 0.25 ? 200.0 * phase * phase : phase < 0.5 ? 25.0 - 200.0 * (0.5 - phase) * (0.5 - phase) : 25.0);
            if (fabs(filtered) < 1e-30) /* below the smallest normal number arithmetic is slow */
                filtered = 0;
            demandSpeed = kp * (x - measured) + v;
            ff = jff * a;
        }
        if (due == n)
            applied = pending;
        if (n % 2 == 0) {
            const double raw = (measured - last) / vstep;
            double u, c;
            last = measured;
            filtered += filterV * (raw - filtered);
            u = kv * (demandSpeed - filtered) + integral + ff;
            c = u > limit ? limit : u < -limit ? -limit : u;
            integral += rate * (demandSpeed - filtered) + back * (c - u);
            yt += filterT * (c - yt);
            pending = yt;
            due = n + 2;
        }
        torque = applied + (torque - applied) * lag;
        {
            const double acting = torque - gravity;
            double next = 0;
            if (speed == 0.0) {
                if (fabs(acting) > coulomb)
                    next = h * (acting - copysign(coulomb, acting)) / inertia;
            } else {
                next = speed + h * (acting - copysign(coulomb, speed)) / inertia;
                if (next * speed < 0 && fabs(acting) <= coulomb)
                    next = 0;
            }
            angle += h * (speed + next) / 2;
            speed = next;
        }
    }
    return angle;
}

double ridgeBareTwoMassKernel(double seconds)
{
    const double h = 1.0 / 16000, kp = 20, kv = 0.0112, ti = 0.05, jff = 1.12e-4, jm = 2.8e-5, jl = 8.4e-5, k = 60, c = 0.01, gap = 0.01, bl = 1e-4, limit = 3.9;
    const double count = 2 * 3.14159265358979323846 / 131072, vstep = 2 * h, filterV = 1 - exp(-vstep / 0.3e-3), filterT = 1 - exp(-vstep / 0.8e-3), lag = exp(-h / 0.2e-3);
    const double rate = vstep * kv / ti, back = vstep / ti, swing = sqrt(k * (1 / jm + 1 / jl));
    const int steps = swing * h / 0.2 > 4 ? (int)ceil(swing * h / 0.2) : 4;
    const double sub = h / steps, overM = 1 / jm, overL = 1 / jl, half = gap / 2;
    double am = 0, wm = 0, al = 0, wl = 0, torque = 0, applied = 0, integral = 0, filtered = 0, last = 0, demandSpeed = 0, ff = 0, yt = 0, pending = 0;
    long n = 0, due = -1;
    const long total = (long)(seconds * 16000);
    for (; n < total; ++n) {
        const double t = (double)n * h, measured = floor(am / count + 0.5) * count;
        int s;
        if (n % 8 == 0) {
            const double phase = fmod(t, 1.0), a = phase < 0.25 ? 400.0 : phase < 0.5 ? -400.0 : 0.0;
            const double v = phase < 0.25 ? 400.0 * phase : phase < 0.5 ? 400.0 * (0.5 - phase) : 0.0;
            const double turns = floor(t) * 25.0, x = turns + (phase < 0.25 ? 200.0 * phase * phase : phase < 0.5 ? 25.0 - 200.0 * (0.5 - phase) * (0.5 - phase) : 25.0);
            if (fabs(filtered) < 1e-30) /* below the smallest normal number arithmetic is slow */
                filtered = 0;
            demandSpeed = kp * (x - measured) + v;
            ff = jff * a;
        }
        if (due == n)
            applied = pending;
        if (n % 2 == 0) {
            const double raw = (measured - last) / vstep;
            double u, cl;
            last = measured;
            filtered += filterV * (raw - filtered);
            u = kv * (demandSpeed - filtered) + integral + ff;
            cl = u > limit ? limit : u < -limit ? -limit : u;
            integral += rate * (demandSpeed - filtered) + back * (cl - u);
            yt += filterT * (cl - yt);
            pending = yt;
            due = n + 2;
        }
        torque = applied + (torque - applied) * lag;
        for (s = 0; s < steps; ++s) {
            const double twist = am - al, turning = wm - wl;
            double spring = 0;
            if (twist > half) {
                spring = k * (twist - half) + c * turning;
                if (spring < 0)
                    spring = 0;
            } else if (twist < -half) {
                spring = k * (twist + half) + c * turning;
                if (spring > 0)
                    spring = 0;
            }
            wm += sub * (torque - spring) * overM;
            wl += sub * (spring - bl * wl) * overL;
            am += sub * wm;
            al += sub * wl;
        }
    }
    return al;
}
