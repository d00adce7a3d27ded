#pragma once
#include <memory>
#include <string>

/// What needs the real window, kept apart from the benchmark library's macros.
namespace ridge::bench {

/// Makes the window on the demo machine and paints it once.
void firstPaint();

/// A segment pulled on the graph of Move while the given station is shown.
class Dragging {
public:
    explicit Dragging(int station);
    ~Dragging();
    void step();
    [[nodiscard]] std::string label() const;

private:
    struct Parts;
    std::unique_ptr<Parts> m;
};

/// A machine of very many axes with a long record, opened in the window and painted once.
class LargeMachine {
public:
    LargeMachine(int axes, int entries);
    ~LargeMachine();
    void open();

private:
    struct Parts;
    std::unique_ptr<Parts> m;
};

} // namespace ridge::bench
