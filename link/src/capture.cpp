#include "capture.h"

namespace ridge::link {

namespace {
constexpr ObjectKey window{0x2201, 0}; ///< of the trace
constexpr ObjectKey traceState{0x2200, 1}, traceArmedAt{0x2200, 13};
constexpr std::int64_t traceComplete = 3;
} // namespace

/// What tells one buffer from another: its state, and when it was armed.
std::vector<ObjectKey> Session::stamp() const
{
    std::vector<ObjectKey> keys{traceState};
    if (has(traceArmedAt))
        keys.push_back(traceArmedAt);
    return keys;
}

void Session::capture(const CaptureSettings& settings, Done armed, TraceDone done, Progress progress)
{
    cancelCapture();                              // one at a time
    if (!has({0x2200, 2}) || !has({0x2201, 0})) { // what a drive cannot do is not waited for
        if (armed)
            armed(refuse("no-trace-buffer"));
        if (done)
            done(refuse("no-trace-buffer"));
        return;
    }
    m_capture = std::make_shared<Capture>(Capture{settings, std::move(done), std::move(progress), {}, {}});
    const auto mine = m_capture;
    write({0x2200, 3}, settings.decimation);
    write({0x2200, 5}, settings.samples);
    write({0x2200, 6}, static_cast<std::int64_t>(settings.channels.size()));
    write({0x2200, 7}, settings.onMotion ? 1 : 0);
    for (std::size_t c = 0; c < settings.channels.size(); ++c)
        write({0x2202, static_cast<std::uint8_t>(c + 1)},
              (static_cast<std::int64_t>(settings.channels[c].index) << 8) | settings.channels[c].sub);
    write({0x2200, 2}, 1, [this, mine, armed = std::move(armed)](const Result<void>& r) {
        if (armed)
            armed(r);
        if (!r)
            captureEnds(mine, tl::make_unexpected(r.error()));
        else if (mine == m_capture)
            waitForTrace(mine->settings.timeout_ms);
    });
}

void Session::captureEnds(std::shared_ptr<Capture> mine, const Result<Columns>& result)
{
    if (!mine || mine != m_capture)
        return; // it was cancelled, or another one began
    m_capture.reset();
    if (mine->done)
        mine->done(result);
}

void Session::cancelCapture() { captureEnds(m_capture, refuse("cancelled")); }

void Session::waitForTrace(int left)
{
    const auto mine = m_capture;
    if (!mine)
        return;
    if (left <= 0) {
        captureEnds(mine, refuse("time-out"));
        return;
    }
    read(stamp(), [this, mine, left](const Result<Values>& v) {
        if (mine != m_capture)
            return;
        if (!v) {
            captureEnds(mine, tl::make_unexpected(v.error()));
        } else if (v->at(traceState) == traceComplete) {
            mine->stamp = *v;
            mine->flat.clear();
            readTrace(0);
        } else {
            QTimer::singleShot(50, this, [this, mine, left] {
                if (mine == m_capture)
                    waitForTrace(left - 50);
            });
        }
    });
}

void Session::readTrace(std::size_t block)
{
    const auto mine = m_capture;
    const std::size_t channels = mine->settings.channels.size(),
                      total = channels * static_cast<std::size_t>(mine->settings.samples);
    write({0x2200, 12}, static_cast<std::int64_t>(block));
    enqueue({{false, m_map.find(window)->reg, 120, {}, {}},
             2,
             false,
             [this, mine, block, total](const Result<std::vector<std::uint16_t>>& words) {
                 if (mine != m_capture)
                     return;
                 if (!words) {
                     captureEnds(mine, tl::make_unexpected(words.error()));
                     return;
                 }
                 if (words->size() != 120) { // asking again for ever would help nobody
                     captureEnds(mine, refuse("short-reply", "trace"));
                     return;
                 }
                 for (std::size_t k = 0; k + 1 < words->size() && mine->flat.size() < total; k += 2)
                     mine->flat.push_back(
                         static_cast<std::int32_t>((static_cast<std::uint32_t>((*words)[k]) << 16) | (*words)[k + 1]));
                 if (mine->progress)
                     mine->progress(static_cast<int>(mine->flat.size()), static_cast<int>(total));
                 if (mine->flat.size() < total) {
                     readTrace(block + 1);
                     return;
                 }
                 endTrace();
             }});
}

/// The buffer is that of the beginning, or nothing of it is taken: somebody may have armed it again meanwhile.
void Session::endTrace()
{
    read(stamp(), [this, mine = m_capture](const Result<Values>& v) {
        if (mine != m_capture)
            return;
        if (!v) {
            captureEnds(mine, tl::make_unexpected(v.error()));
        } else if (*v != mine->stamp) {
            if (--mine->triesLeft > 0)
                waitForTrace(mine->settings.timeout_ms);
            else
                captureEnds(mine, refuse("trace-rearmed"));
        } else {
            const std::size_t channels = mine->settings.channels.size();
            Columns columns(channels);
            for (std::size_t k = 0; k < mine->flat.size(); ++k)
                columns[k % channels].push_back(mine->flat[k]);
            captureEnds(mine, columns);
        }
    });
}

} // namespace ridge::link
