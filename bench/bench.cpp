// Kernels of the daily work, each with its aim. Run: build/release/bin/vortex-ridge-bench [--benchmark_filter=...]
#include "core/control/fixedstep.h"
#include "core/model/fields.h"
#include "core/stations/candidates.h"
#include "core/stations/evaluate.h"
#include "core/stations/machinebus.h"
#include "core/stations/machineplan.h"
#include "core/wiring/rules.h"
#include "store/catalogue.h"
#include "store/machinefile.h"
#include "store/machinejson.h"

#include "kernel.h"
#include "sameloops.h"
#include "window.h"

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

/// One entry changes, then the next, through all numbers of the axis: as a person edits. Aim: under 0.3 ms on average.
void evaluateAfterOneEdit(benchmark::State& state)
{
    Machine machine = demo();
    Axis& axis = machine.axes[static_cast<std::size_t>(state.range(0))];
    struct Entry {
        const Field* field;
        void* object;
        double was;
    };
    std::vector<Entry> entries;
    const auto groups = fieldGroups(axis);
    for (const FieldGroup& group : groups)
        for (const Field& f : group.fields)
            if (f.kind == FieldKind::Number && f.get(group.object).value_or(0) != 0 && f.quantity != Quantity::Count)
                entries.push_back({&f, group.object, *f.get(group.object)});
    EvaluationMemo memo;
    std::size_t k = 0;
    for (auto _ : state) {
        const Entry& e = entries[k % entries.size()];
        // less, so that no entry leaves its range, and back the next time round
        e.field->set(e.object, k / entries.size() % 2 == 0 ? e.was * 0.999 : e.was);
        const Evaluation found = evaluate(machine, axis, {.memo = &memo});
        if (!found.problems.empty())
            state.SkipWithError(("refused: " + found.problems.front().subject).c_str());
        ++k;
    }
    state.SetLabel(axis.id + ", " + std::to_string(entries.size()) + " entries");
}
BENCHMARK(evaluateAfterOneEdit)->DenseRange(0, 5)->Unit(benchmark::kMicrosecond);

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
        const auto ranked = rank(demo(), demo().axes[0], e, {c.motors, c.drives}).candidates;
        combinations = ranked.size();
        benchmark::DoNotOptimize(ranked.data());
    }
    state.counters["combinations"] = static_cast<double>(combinations);
}
BENCHMARK(rankAllCombinations)->Unit(benchmark::kMillisecond);

/// A cycle of twenty segments on a belt, and a catalogue of any size made of the shipped parts, each a little
/// different.
struct Selection {
    Axis axis = demo().axes[1];
    std::vector<ServoMotor> motors;
    std::vector<ServoDrive> drives;
    std::vector<Gearbox> gearboxes;
    Evaluation evaluation;

    Selection(std::size_t m, std::size_t g, std::size_t d)
    {
        axis.cycle.segments.clear();
        for (int k = 0; k < 20; ++k) {
            Segment s;
            s.distance = (k % 2 ? -1 : 1) * (0.1 + 0.02 * (k / 2));
            s.speed = 1.2;
            s.acceleration = 8 + 0.2 * k;
            axis.cycle.segments.push_back(s);
        }
        const auto& c = store::shippedCatalogue();
        fill(motors, c.motors, m, [](ServoMotor& p, double f) {
            p.stallTorque *= f;
            p.ratedTorque *= f;
            p.peakTorque *= f;
        });
        fill(drives, c.drives, d, [](ServoDrive& p, double f) {
            p.continuousCurrent *= f;
            p.peakCurrent *= f;
        });
        fill(gearboxes, c.gearboxes, g, [](Gearbox& p, double f) { p.ratio *= f; });
        evaluation = evaluate(demo(), axis, {.sizingOnly = true});
    }
    [[nodiscard]] RankRequest request(unsigned threads) const
    {
        RankRequest r{motors, drives};
        r.gearboxes = gearboxes;
        r.chainToo = false;
        r.bestPerMotor = true;
        r.threads = threads;
        return r;
    }

private:
    template <class T, class Vary>
    static void fill(std::vector<T>& out, const std::vector<T>& parts, std::size_t count, Vary vary)
    {
        for (std::size_t k = 0; out.size() < count; ++k) {
            T part = parts[k % parts.size()];
            if constexpr (std::is_same_v<T, ServoMotor>)
                if (part.kind != MotorKind::Servo)
                    continue;
            vary(part, 1 + 0.01 * static_cast<double>(k / parts.size()));
            part.name += " " + std::to_string(k);
            out.push_back(std::move(part));
        }
    }
};

/// Aim: 60 motors, 20 gearboxes and 20 drives over twenty segments under 20 ms on one core. Every combination is judged
/// in full and the best of each motor is kept, in order.
void rankWithGearboxes(benchmark::State& state)
{
    const Selection s(60, 20, 20);
    std::size_t combinations = 0;
    for (auto _ : state)
        combinations = rank(demo(), s.axis, s.evaluation, s.request(1)).combinations;
    state.counters["combinations"] = static_cast<double>(combinations);
}
BENCHMARK(rankWithGearboxes)->Unit(benchmark::kMillisecond);

/// Aim: a million combinations under 1.5 s on both cores.
void rankMillion(benchmark::State& state)
{
    const Selection s(500, 50, 40);
    std::size_t combinations = 0;
    for (auto _ : state)
        combinations = rank(demo(), s.axis, s.evaluation, s.request(2)).combinations;
    state.counters["combinations"] = static_cast<double>(combinations);
}
BENCHMARK(rankMillion)->Unit(benchmark::kMillisecond)->UseRealTime();

/// Aim: all shipped motors, drives and gearboxes over 200 cams on a dial under 2 s on both cores.
void rankOverCams(benchmark::State& state)
{
    Axis axis = demo().axes[2];
    axis.cycle.segments.clear();
    for (int k = 0; k < 200; ++k) {
        Segment s;
        s.kind = SegmentKind::Cam;
        s.law = k % 2 ? CamLaw::ModifiedSine : CamLaw::Cycloidal;
        s.distance = 0.5 + 0.002 * k;
        s.time = 0.3 + 0.001 * k;
        axis.cycle.segments.push_back(s);
    }
    const Evaluation e = evaluate(demo(), axis, {.sizingOnly = true});
    if (!e.move.path)
        state.SkipWithError("refused");
    const auto& c = store::shippedCatalogue();
    RankRequest request{c.motors, c.drives};
    request.gearboxes = c.gearboxes;
    request.threads = 2;
    std::size_t combinations = 0;
    for (auto _ : state)
        combinations = rank(demo(), axis, e, request).combinations;
    state.counters["combinations"] = static_cast<double>(combinations);
}
BENCHMARK(rankOverCams)->Unit(benchmark::kMillisecond)->UseRealTime();

/// Aim: six axes of 1000 segments on one bus under 1 s.
void busOfLongCycles(benchmark::State& state)
{
    Machine machine = demo();
    for (std::size_t k = 0; k < machine.axes.size(); ++k) {
        Axis axis = demo().axes[0];
        axis.id = "B" + std::to_string(k);
        axis.name = axis.id;
        axis.cycle.segments.clear();
        for (int n = 0; n < 1000; ++n) {
            Segment s;
            s.distance = n % 2 ? -0.01 : 0.01;
            s.time = 0.1 + 0.01 * static_cast<double>(k);
            s.acceleration = 8;
            axis.cycle.segments.push_back(s);
        }
        machine.axes[k] = axis;
    }
    for (auto _ : state)
        if (machineBus(machine).axes.size() != machine.axes.size())
            state.SkipWithError("an axis is left out");
}
BENCHMARK(busOfLongCycles)->Unit(benchmark::kMillisecond);

/// The sizing half alone, as sweeps and solvers use it.
void evaluateSizing(benchmark::State& state)
{
    const Axis& axis = demo().axes[static_cast<std::size_t>(state.range(0))];
    for (auto _ : state)
        benchmark::DoNotOptimize(evaluate(demo(), axis, {.sizingOnly = true}));
    state.SetLabel(axis.id + " " + axis.name);
}
BENCHMARK(evaluateSizing)->DenseRange(0, 5)->Unit(benchmark::kMicrosecond);

/// Aim: over 1000 times real time at 16 kHz on one core, and as fast as its bare kernel. The counter says how many
/// times.
void simulateTenSeconds(benchmark::State& state)
{
    for (auto _ : state) {
        FixedStepAxis axis = bench::rigidAxis();
        axis.run(160000, bench::swing);
        benchmark::DoNotOptimize(axis.angle());
    }
    state.counters["times_real_time"] =
        benchmark::Counter(10.0 * static_cast<double>(state.iterations()), benchmark::Counter::kIsRate);
}
BENCHMARK(simulateTenSeconds)->Unit(benchmark::kMillisecond);

/// Two masses with free travel between them. Aim: over 1000 times real time, and 0.8 of its bare kernel.
void simulateTwoMassesTenSeconds(benchmark::State& state)
{
    for (auto _ : state) {
        FixedStepAxis axis = bench::twoMassAxis();
        axis.run(160000, bench::swing);
        benchmark::DoNotOptimize(axis.angle());
    }
    state.counters["times_real_time"] =
        benchmark::Counter(10.0 * static_cast<double>(state.iterations()), benchmark::Counter::kIsRate);
}
BENCHMARK(simulateTwoMassesTenSeconds)->Unit(benchmark::kMillisecond);

void bareTwoMassKernelTenSeconds(benchmark::State& state)
{
    for (auto _ : state)
        benchmark::DoNotOptimize(ridgeBareTwoMassKernel(10));
    state.counters["times_real_time"] =
        benchmark::Counter(10.0 * static_cast<double>(state.iterations()), benchmark::Counter::kIsRate);
}
BENCHMARK(bareTwoMassKernelTenSeconds)->Unit(benchmark::kMillisecond);

void bareKernelTenSeconds(benchmark::State& state)
{
    for (auto _ : state)
        benchmark::DoNotOptimize(ridgeBareKernel(10));
    state.counters["times_real_time"] =
        benchmark::Counter(10.0 * static_cast<double>(state.iterations()), benchmark::Counter::kIsRate);
}
BENCHMARK(bareKernelTenSeconds)->Unit(benchmark::kMillisecond);

/// Aim: every rule over a plan with 600 conductors in under 20 ms.
void judgeSixHundredConductors(benchmark::State& state)
{
    Machine m = demo();
    const std::vector<Axis> once = m.axes;
    for (const char* again : {"b", "c"})
        for (Axis a : once) {
            a.id += again;
            m.axes.push_back(std::move(a));
        }
    m.shared = {};
    const WirePlan plan = machineWirePlan(m);
    for (auto _ : state)
        benchmark::DoNotOptimize(judgeWires(plan).findings.size());
    state.counters["conductors"] = static_cast<double>(plan.conductors.size());
}
BENCHMARK(judgeSixHundredConductors)->Unit(benchmark::kMillisecond);

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

/// Aim: under 16 ms from a step of a drag to the repainted station; 9 is the machine page.
void dragToRepaint(benchmark::State& state)
{
    bench::Dragging dragging(static_cast<int>(state.range(0)));
    for (auto _ : state)
        dragging.step();
    state.SetLabel(dragging.label());
}
BENCHMARK(dragToRepaint)->DenseRange(0, 9)->Unit(benchmark::kMillisecond);

/// Aim: a machine of 2000 axes and 100 000 entries of its record under 1 s, from the file to the painted window.
void openLargeMachine(benchmark::State& state)
{
    bench::LargeMachine large(2000, 100000);
    for (auto _ : state)
        large.open();
}
BENCHMARK(openLargeMachine)->Unit(benchmark::kMillisecond)->Iterations(3);

/// Aim: 60 000 motors of one's own, from the text of the file to the parts at hand, under 2 s.
void takeOwnParts(benchmark::State& state)
{
    store::Catalogue many;
    const auto& shipped = store::shippedCatalogue().motors;
    for (std::size_t k = 0; k < 60000; ++k) {
        many.motors.push_back(shipped[k % shipped.size()]);
        many.motors.back().name += " " + std::to_string(k);
    }
    const std::string text = store::writeCatalogue(many, "many");
    for (auto _ : state) {
        store::Catalogue own = store::shippedCatalogue();
        const auto read = store::parseCatalogue(text);
        store::mergeCatalogue(own, *read);
        store::mergeCatalogue(own, *read); // every one takes the place of one before
        if (own.motors.size() != shipped.size() + 60000)
            state.SkipWithError("not all were taken");
    }
    state.counters["MB"] = static_cast<double>(text.size()) * 1e-6;
}
BENCHMARK(takeOwnParts)->Unit(benchmark::kMillisecond)->Iterations(2);

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
