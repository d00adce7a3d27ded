#include "link/runs.h"

#include "runobjects.h"

namespace ridge::link {

using namespace detail;

namespace {
constexpr ObjectKey analogInput{0x2038, 1}, commandSource{0x201A, 3};
constexpr int analogEvery = 30; // ms
constexpr int settles = 200;    // ms until the first sample counts
} // namespace

struct Runs::Following {
    std::vector<AnalogSample> samples;
    std::function<void(const AnalogSample&)> live;
};

void Runs::followAnalog(std::int64_t torqueLimit, std::function<void(const AnalogSample&)> live,
                        std::function<void(const Result<std::vector<AnalogSample>>&)> done)
{
    const auto following = std::make_shared<Following>();
    const auto held = std::make_shared<Values>();
    following->live = std::move(live);
    const bool free = begin([this, following, held, done = std::move(done)](const Error* error) {
        restore(*held);
        done(error ? Result<std::vector<AnalogSample>>(tl::make_unexpected(*error))
                   : Result<std::vector<AnalogSample>>(following->samples));
    });
    if (!free)
        return;
    forgetStart();
    reading({commandSource}, [this, following, held, torqueLimit](const Values& v) {
        if (v.at(commandSource) != 1) {
            fail({"not-analog", {}, {}, {}});
            return;
        }
        lowered(torqueLimit, held, [this, following] {
            enable(profileVelocity, [this, following] {
                m_releaseEndsWell = true;
                later(settles, [this, following] { follow(following); });
            });
        });
    });
}

void Runs::follow(const std::shared_ptr<Following>& f)
{
    reading({analogInput, speedNow}, [this, f](const Values& v) {
        const AnalogSample s{static_cast<double>(v.at(analogInput)) * 1e-3, static_cast<double>(v.at(speedNow))};
        f->samples.push_back(s);
        if (f->live)
            f->live(s);
        later(analogEvery, [this, f] { follow(f); });
    });
}

} // namespace ridge::link
