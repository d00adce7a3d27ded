// Kernels of the daily work, each with its aim. Run: build/release/bin/vortex-ridge-bench [--benchmark_filter=...]
#include "window.h"

#include "core/control/fixedstep.h"
#include "core/machine/candidates.h"
#include "core/machine/evaluate.h"
#include "kernel.h"
#include "store/catalogue.h"
#include "store/machinefile.h"
#include "store/machinejson.h"

#include <QApplication>

#include <benchmark/benchmark.h>
#include <clocale>
#include <cmath>
#include <cstdio>
#include <filesystem>

using namespace ridge;

namespace {

const Machine& demo() { return store::demoMachine(); }

/// Aim: under 0.3 ms for any demo axis.
void evaluateAxis(benchmark::State& state)
{
    const Axis& axis = demo().axes[static_cast<std::size_t>(state.range(0))];
    for (auto _ : state)
        benchmark::DoNotOptimize(evaluate(demo(), axis));
    state.SetLabel(axis.id + " " + axis.name);
}
BENCHMARK(evaluateAxis)->DenseRange(0, 5)->Unit(benchmark::kMicrosecond);

void evaluateWithWorkings(benchmark::State& state)
{
    for (auto _ : state)
        benchmark::DoNotOptimize(evaluate(demo(), demo().axes[0], {true}));
}
BENCHMARK(evaluateWithWorkings)->Unit(benchmark::kMicrosecond);

void rankAllCombinations(benchmark::State& state)
{
    const Evaluation e = evaluate(demo(), demo().axes[0]);
    const auto& c = store::shippedCatalogue();
    std::size_t combinations = 0;
    for (auto _ : state) {
        const auto ranked = rankForAxis(demo(), demo().axes[0], e, c.motors, c.drives);
        combinations = ranked.size();
        benchmark::DoNotOptimize(ranked.data());
    }
    state.counters["combinations"] = static_cast<double>(combinations);
}
BENCHMARK(rankAllCombinations)->Unit(benchmark::kMillisecond);

/// There and back once a second, the same demand as in the bare kernel.
MotionDemand swing(double t)
{
    const double phase = std::fmod(t, 1.0), turns = std::floor(t) * 25.0;
    if (phase < 0.25)
        return {turns + 200 * phase * phase, 400 * phase, 400};
    if (phase < 0.5)
        return {turns + 25 - 200 * (0.5 - phase) * (0.5 - phase), 400 * (0.5 - phase), -400};
    return {turns + 25, 0, 0};
}

/// Aim: over 1000 times real time at 16 kHz on one core. The counter says how many times.
void simulateTenSeconds(benchmark::State& state)
{
    LoopGains g;
    g.positionGain = 50;
    g.velocityGain = 0.113;
    g.integralTime = 0.02;
    g.speedFeedforward = g.accelerationFeedforward = 1;
    g.feedforwardInertia = 4.5e-4;
    g.torqueLimit = 3.6;
    g.torqueFilter = 0.8e-3;
    g.speedFilter = 0.3e-3;
    g.currentLag = 0.2e-3;
    RigidPlant p;
    p.inertia = 4.6e-4;
    p.coulomb = p.breakaway = 0.22;
    p.gravity = 0.25;
    for (auto _ : state) {
        FixedStepAxis axis(g, p, {16000, 8, 2, 2, 131072});
        axis.resetLoops(p.gravity);
        for (int n = 0; n < 160000; ++n)
            axis.tick(swing);
        benchmark::DoNotOptimize(axis.angle());
    }
    state.counters["times_real_time"] = benchmark::Counter(10.0 * static_cast<double>(state.iterations()), benchmark::Counter::kIsRate);
}
BENCHMARK(simulateTenSeconds)->Unit(benchmark::kMillisecond);

void bareKernelTenSeconds(benchmark::State& state)
{
    for (auto _ : state)
        benchmark::DoNotOptimize(ridgeBareKernel(10));
    state.counters["times_real_time"] = benchmark::Counter(10.0 * static_cast<double>(state.iterations()), benchmark::Counter::kIsRate);
}
BENCHMARK(bareKernelTenSeconds)->Unit(benchmark::kMillisecond);

void openDemoFile(benchmark::State& state)
{
    const std::string path = (std::filesystem::temp_directory_path() / "vortex-ridge-bench.vridge").string();
    std::filesystem::remove(path);
    {
        const auto made = store::MachineFile::create(path, demo());
        if (!made)
            state.SkipWithError("no place for a file");
    }
    for (auto _ : state) {
        const auto file = store::MachineFile::open(path);
        benchmark::DoNotOptimize(file->machine());
    }
    std::filesystem::remove(path);
}
BENCHMARK(openDemoFile)->Unit(benchmark::kMillisecond);

/// Aim: under 0.5 s from making the window to its first whole picture.
void firstPaint(benchmark::State& state)
{
    for (auto _ : state)
        bench::firstPaint();
}
BENCHMARK(firstPaint)->Unit(benchmark::kMillisecond)->Iterations(3);

/// Aim: under 16 ms from a step of a drag to the repainted station.
void dragToRepaint(benchmark::State& state)
{
    bench::Dragging dragging(static_cast<int>(state.range(0)));
    for (auto _ : state)
        dragging.step();
    state.SetLabel(dragging.label());
}
BENCHMARK(dragToRepaint)->Arg(1)->Arg(2)->Unit(benchmark::kMillisecond);

} // namespace

int main(int argc, char** argv)
{
    if (qEnvironmentVariableIsEmpty("DISPLAY") && qEnvironmentVariableIsEmpty("WAYLAND_DISPLAY"))
        qputenv("QT_QPA_PLATFORM", "offscreen");
    QApplication app(argc, argv);
    std::setlocale(LC_ALL, "C");
    benchmark::Initialize(&argc, argv);
    if (benchmark::ReportUnrecognizedArguments(argc, argv))
        return 2;
    benchmark::RunSpecifiedBenchmarks();
    benchmark::Shutdown();
    return 0;
}
