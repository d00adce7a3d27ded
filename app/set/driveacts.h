#pragma once
#include "app/document/bench.h"

#include <QToolButton>

#include <functional>

namespace ridge::app {

/// What is done to the drive of an axis now and then: its name, the log-on, the plate in the encoder, a firmware that
/// was changed elsewhere, a part that is replaced.
class DriveActs : public QToolButton {
    Q_OBJECT

public:
    using Say = std::function<void(const QString&)>;
    DriveActs(Document& document, Bench& bench, Say say, QWidget* parent = nullptr);
    void refresh();

private:
    void writeName();
    void logOn();
    void readPlate();
    void firmware();
    void replace();
    Document& m_document;
    Bench& m_bench;
    Say m_say;
    QAction *m_name, *m_logOn, *m_plate, *m_firmware, *m_replace;
};

} // namespace ridge::app
