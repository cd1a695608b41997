// Networks of a sensor that gives a voltage or a current.

#include "circuits/circuit_parts.h"
#include "units/number_format.h"

namespace fg::gui::circuits {
namespace {

std::vector<CircuitSpot> directSpots(const GaugeView& view) { return {sourceSpot(view), capacitorSpot()}; }

void paintDirect(CircuitPen& pen, const GaugeView& view) {
    paintRail(pen, view);
    pen.wire(kBusX, kTopY, kBusX, kGroundY);
    pen.ground(kBusX, kGroundY);
    paintPart(pen, view, {kBusX - 44, 118, 88, 68});
    paintPin(pen, view, kBusX + 44, kBusX + 52);
}

std::vector<CircuitSpot> attenuatorSpots(const GaugeView& view) {
    return {sourceSpot(view), resistorSpot(view, "top_ohm", "Rt", "top_tolerance", {160, 100, 104, 26}),
            resistorSpot(view, "bottom_ohm", "Rb", "bottom_tolerance", {6, 194, 104, 26}), capacitorSpot()};
}

void paintAttenuator(CircuitPen& pen, const GaugeView& view) {
    const double x = 140;
    paintRail(pen, view, 120);
    pen.wire(50, kTopY, 50, 62);
    paintPart(pen, view, {6, 62, 88, 60});
    pen.wire(94, 80, x, 80);
    pen.wire(x, 80, x, kGroundY);
    pen.resistor(x, 96, 136);
    pen.resistor(x, 182, 228);
    pen.ground(x, kGroundY);
    pen.dot(x, kTapY);
    paintPin(pen, view, x, x + 14, kTapY + 22);
}

std::vector<CircuitSpot> amplifierSpots(const GaugeView& view) {
    CircuitSpot gain{"wiring.gain", say("the gain"), say("Gain"), {}, Quantity::Ratio, {118, 222, 96, 26}};
    CircuitSpot offset{"wiring.offset_V", say("the offset"),  say("Offset"), {},
                       Quantity::Voltage, {118, 274, 96, 26}, say("none")};
    return {sourceSpot(view), gain, offset, capacitorSpot()};
}

void paintAmplifier(CircuitPen& pen, const GaugeView& view) {
    paintRail(pen, view);
    pen.wire(44, 48, 44, 122);
    paintPart(pen, view, {0, 122, 88, 60});
    pen.wire(88, kTapY, 130, kTapY);
    pen.amplifier({130, 120, 64, 64}, QStringLiteral("×%1").arg(qs(plainNumber(wiringValue(view, "gain"), 4))));
    paintPin(pen, view, 194, 200);
}

std::vector<CircuitSpot> loadSpots(const GaugeView& view) {
    return {sourceSpot(view), resistorSpot(view, "load_ohm", "RL", "load_tolerance", {0, 206, 98, 27}),
            capacitorSpot()};
}

void paintLoad(CircuitPen& pen, const GaugeView& view) {
    paintRail(pen, view);
    pen.wire(kBusX, kTopY, kBusX, kGroundY);
    paintPart(pen, view, {kBusX - 44, 62, 88, 58});
    pen.resistor(kBusX, 190, 236);
    pen.ground(kBusX, kGroundY);
    pen.dot(kBusX, kTapY);
    paintPin(pen, view, kBusX, kBusX + 14);
}

std::vector<CircuitSpot> transimpedanceSpots(const GaugeView& view) {
    return {sourceSpot(view), resistorSpot(view, "feedback_ohm", "Rf", "feedback_tolerance", {112, 74, 104, 26}),
            capacitorSpot()};
}

void paintTransimpedance(CircuitPen& pen, const GaugeView& view) {
    paintRail(pen, view);
    pen.wire(44, 48, 44, 122);
    paintPart(pen, view, {0, 122, 88, 60});
    pen.wire(88, kTapY, 136, kTapY);
    pen.dot(112, kTapY);
    pen.wire(112, kTapY, 112, 114);
    pen.wire(112, 114, 216, 114);
    pen.wire(216, 114, 216, kTapY);
    pen.lyingResistor(142, 188, 114);
    pen.amplifier({136, 128, 62, 62}, QStringLiteral("∞"));
    pen.dot(216, kTapY);
    paintPin(pen, view, 198, 118, kTapY + 62);
}

std::vector<CircuitSpot> pulseLoadSpots(const GaugeView& view) {
    return {sourceSpot(view), resistorSpot(view, "load_ohm", "RL", "load_tolerance", {0, 206, 98, 27})};
}

void paintPulseLoad(CircuitPen& pen, const GaugeView& view) {
    paintRail(pen, view);
    pen.wire(kBusX, kTopY, kBusX, kGroundY);
    paintPart(pen, view, {kBusX - 44, 62, 88, 58});
    pen.resistor(kBusX, 190, 236);
    pen.ground(kBusX, kGroundY);
    pen.dot(kBusX, kTapY);
    pen.wrapped({kBusX + 12, 164, 150, 34}, say("high and low: each current through RL"));
    paintCounter(pen, view, kBusX, kBusX + 14);
}

std::vector<CircuitSpot> countedSpots(const GaugeView& view) { return {sourceSpot(view)}; }

void paintCounted(CircuitPen& pen, const GaugeView& view) {
    paintRail(pen, view);
    pen.wire(kBusX, kTopY, kBusX, kGroundY);
    pen.ground(kBusX, kGroundY);
    paintPart(pen, view, {kBusX - 44, 118, 88, 68});
    paintCounter(pen, view, kBusX + 44, kBusX + 56);
}

std::vector<CircuitSpot> oscillatorSpots(const GaugeView& view) {
    CircuitSpot stray{"wiring.stray_F",      say("the stray capacitance"), say("Stray"), say("board, cable"),
                      Quantity::Capacitance, {186, 222, 104, 26},          say("none")};
    return {sourceSpot(view), resistorSpot(view, "charge_ohm", "R1", "charge_tolerance", {0, 76, 98, 26}),
            resistorSpot(view, "discharge_ohm", "R2", "discharge_tolerance", {0, 132, 98, 26}), stray};
}

// Astable timer: charges through R1 and R2, discharges through R2; the sensor is the capacitor.
void paintOscillator(CircuitPen& pen, const GaugeView& view) {
    paintRail(pen, view);
    pen.wire(kBusX, kTopY, kBusX, 200);
    pen.resistor(kBusX, 62, 98);
    pen.resistor(kBusX, 122, 158);
    pen.dot(kBusX, 110);
    pen.dot(kBusX, 178);
    pen.wire(kBusX, 110, 176, 110);
    pen.wire(kBusX, 178, 176, 178);
    pen.box({176, 92, 64, 104}, say("timer"), say("astable"));
    pen.capacitor(kBusX, 200);
    pen.wire(kBusX, 207, kBusX, kGroundY);
    pen.ground(kBusX, kGroundY);
    if (wiringValue(view, "stray_F") > 0) {
        pen.wire(kBusX, 190, 160, 190);
        pen.wire(160, 190, 160, 222);
        pen.capacitor(160, 222);
        pen.wire(160, 229, 160, 262);
        pen.wire(kBusX, 262, 160, 262);
    }
    pen.caption(0, 206, QStringLiteral("C"), view.origin() == Origin::Live ? say("now") : say("for this value"));
    pen.number(0, 228, view.textAt(Stage::Sensor), 18, false);
    paintCounter(pen, view, 240, 176, 84);
}

}  // namespace

const Circuit kDirect{"direct", directSpots, paintDirect};
const Circuit kAttenuator{"attenuator", attenuatorSpots, paintAttenuator};
const Circuit kAmplifier{"amplifier", amplifierSpots, paintAmplifier};
const Circuit kLoad{"load", loadSpots, paintLoad};
const Circuit kTransimpedance{"transimpedance", transimpedanceSpots, paintTransimpedance};
const Circuit kPulseLoad{"pulse-load", pulseLoadSpots, paintPulseLoad};
const Circuit kFrequency{"frequency", countedSpots, paintCounted};
const Circuit kPeriod{"period", countedSpots, paintCounted};
const Circuit kOscillator{"oscillator", oscillatorSpots, paintOscillator};
const Circuit kOscillatorPeriod{"oscillator-period", oscillatorSpots, paintOscillator};

}  // namespace fg::gui::circuits
