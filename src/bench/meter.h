// A bench multimeter or milliohm meter with plain SCPI (SCPI-99 MEASure, IEEE 488.2 *IDN?, both from memory), or one
// that sends a number when its own button is pressed. See docs/formats/meter.md.
#pragma once

#include "bench/device_state.h"
#include "bench/line.h"
#include "core/measure/stable_value.h"

#include <QElapsedTimer>
#include <QObject>

#include <optional>

class QTimer;

namespace ingot::bench {

enum class MeterQuantity { voltage, resistance };
enum class MeterWay { asked, followed, by_its_button };
struct MeterReading {
    double value = 0;      // V or ohm
    double resolution = 0; // one step of the last digit that it sent
    std::string shown;     // "3.7012", with its own digits, at most to 10 uV
    MeterWay way = MeterWay::asked;
};
// "+3.70123E+00", "3.701 V": nothing when it is over range; a problem for anything else.
[[nodiscard]] Result<std::optional<MeterReading>> read_meter(std::string_view line);

class Meter : public QObject {
    Q_OBJECT
public:
    explicit Meter(QObject* parent = nullptr);
    void open(const std::string& address);
    void close();
    [[nodiscard]] DeviceState state() const { return state_; }
    [[nodiscard]] const std::string& name() const { return name_; } // model and serial number; empty: not said
    [[nodiscard]] const std::string& why() const { return why_; }   // in the device's or the system's words
    // Now or not at all; a problem when it does not answer, is out of range or sends rubbish. `probe`: the bay of a
    // simulated tester that the probes touch; 0: as they are.
    void measure(MeterQuantity quantity, int probe, const std::function<void(const Result<MeterReading>&)>& done);
    // Asks for volts again and again, and tells those that stand still.
    void follow(bool on);
    [[nodiscard]] bool following() const { return following_; }
    Line& line() { return line_; }

signals:
    void state_changed();
    void seen(const QString& shown);                         // while it is followed; empty: the probes touch nothing
    void settled(const ingot::bench::MeterReading& reading); // volts that stand still, or were sent by its button

private:
    void identify();
    void enter(DeviceState state, const std::string& why = {});
    void heard(const QString& line);
    void ask_again(int ms);
    void follow_once();

    Line line_;
    DeviceState state_ = DeviceState::none;
    std::string name_, why_;
    bool simulated_ = false;
    bool following_ = false;
    QTimer* again_;
    QElapsedTimer since_;
    StableValue stable_;
};

} // namespace ingot::bench
