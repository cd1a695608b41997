// Networks of a sensor that is a resistance: the divider, the current source, the bridge.

#include "circuits/circuit_parts.h"
#include "uncertainty/budget.h"
#include "units/number_format.h"

namespace fg::gui::circuits {
namespace {

bool isSensorLow(const GaugeView& view) { return view.spec().wiring.parameters.textOr("sensor_side", "low") == "low"; }

void paintCurrent(CircuitPen& pen, const GaugeView& view, double x, double top, double bottom) {
    if (!view.evaluation()) return;
    if (const auto heating = view.path()->heat().at(view.evaluation()->at(Stage::Sensor).value))
        pen.current(x, top, bottom, engineering(heating->current_A, Quantity::Current, 3));
}

std::vector<CircuitSpot> dividerSpots(const GaugeView& view) {
    const QRectF fixed = isSensorLow(view) ? QRectF(0, 84, 98, 27) : QRectF(0, 206, 98, 27);
    CircuitSpot parallel{"wiring.parallel_ohm", QStringLiteral("Rp"), QStringLiteral("Rp"), say("linearising"),
                         Quantity::Resistance,  {258, 258, 104, 26},  say("none")};
    return {sourceSpot(view), resistorSpot(view, "fixed_ohm", "R1", "fixed_tolerance", fixed), capacitorSpot(),
            cableSpot(), parallel};
}

/// The sensor between two heights of the bus with its cable in series and the linearising resistor across both.
void paintSensorBranch(CircuitPen& pen, const GaugeView& view, double top, double bottom) {
    const bool hasCable = wiringValue(view, "lead_ohm") > 0, hasParallel = wiringValue(view, "parallel_ohm") > 0;
    const double sensorBottom = hasCable ? bottom - 26 : bottom - 16;
    pen.variableResistor(kBusX, top + 16, sensorBottom, dependence(view));
    if (hasCable) {
        pen.resistor(kBusX, bottom - 16, bottom - 2);
        pen.text(kBusX + 13, bottom - 4, say("cable"));
    }
    if (!hasParallel) return;
    const double x = 190;
    pen.wire(kBusX, top - 8, x, top - 8);
    pen.wire(x, top - 8, x, bottom + 3);
    pen.wire(kBusX, bottom + 3, x, bottom + 3);
    pen.dot(kBusX, top - 8);
    pen.dot(kBusX, bottom + 3);
    pen.resistor(x, top + 22, bottom - 16);
    pen.text(x + 12, bottom - 18, QStringLiteral("Rp"));
}

void paintDivider(CircuitPen& pen, const GaugeView& view) {
    const bool low = isSensorLow(view);
    paintRail(pen, view);
    pen.wire(kBusX, kTopY, kBusX, kGroundY);
    pen.ground(kBusX, kGroundY);
    if (low) {
        pen.resistor(kBusX, 80, 126);
        paintSensorBranch(pen, view, 172, 252);
    } else {
        paintSensorBranch(pen, view, 54, 134);
        pen.resistor(kBusX, 190, 236);
    }
    pen.dot(kBusX, kTapY);
    paintPin(pen, view, kBusX, kBusX + 14, low ? kTapY - 10 : kTapY + 22);
    paintSensorLabel(pen, view, 0, low ? 192 : 76);
    paintCurrent(pen, view, 142, low ? 92 : 200, low ? 118 : 226);
}

std::vector<CircuitSpot> currentSourceSpots(const GaugeView& view) {
    CircuitSpot excitation{"wiring.excitation_A", say("the current"), say("Current"), {},
                           Quantity::Current,     {0, 84, 88, 27}};
    return {sourceSpot(view), excitation, capacitorSpot(), cableSpot()};
}

void paintCurrentSource(CircuitPen& pen, const GaugeView& view) {
    paintRail(pen, view);
    pen.wire(kBusX, kTopY, kBusX, 70);
    pen.currentSource(kBusX, 70, 130);
    pen.wire(kBusX, 130, kBusX, kGroundY);
    pen.ground(kBusX, kGroundY);
    paintSensorBranch(pen, view, 172, 252);
    pen.dot(kBusX, kTapY);
    paintPin(pen, view, kBusX, kBusX + 14);
    paintSensorLabel(pen, view, 0, 192);
}

std::vector<CircuitSpot> bridgeSpots(const GaugeView& view) {
    CircuitSpot gain{"converter.gain",        say("the gain"), say("Gain"),
                     say("of the converter"), Quantity::Ratio, {258, 226, 104, 26}};
    return {sourceSpot(view), gain};
}

// The four arms as a diamond: excitation at top and bottom, the difference between left and right.
void paintBridge(CircuitPen& pen, const GaugeView& view) {
    paintRail(pen, view, 150);
    const double x = kBusX, y = 158, half = 62;
    pen.wire(x, kTopY, x, y - half);
    pen.wire(x, y + half, x, kGroundY);
    pen.ground(x, kGroundY);
    pen.wire(x, y - half, x - half, y);
    pen.wire(x, y - half, x + half, y);
    pen.wire(x, y + half, x - half, y);
    pen.wire(x, y + half, x + half, y);
    for (const auto& [dx, dy] : {std::pair{-1.0, -1.0}, {1.0, -1.0}, {-1.0, 1.0}, {1.0, 1.0}})
        pen.tiltedResistor(x + dx * half / 2, y + dy * half / 2, dx * dy < 0 ? -45 : 45,
                           dx * dy > 0 ? QStringLiteral("+p") : QStringLiteral("−p"));
    pen.dot(x + half, y);
    pen.dot(x - half, y);
    pen.wire(x + half, y, x + half + 26, y);
    pen.wire(x + half + 26, y, x + half + 26, kTapY - 12);
    pen.wire(x + half + 26, kTapY - 12, kPinX, kTapY - 12);
    pen.wire(x - half, y, x - half, y + half + 22);
    pen.wire(x - half, y + half + 22, kCapX, y + half + 22);
    pen.wire(kCapX, y + half + 22, kCapX, kTapY + 14);
    pen.wire(kCapX, kTapY + 14, kPinX, kTapY + 14);
    pen.converter(kPinX, kTapY, QStringLiteral("U"), say("code %1").arg(qs(view.textAt(Stage::Converter).joined())));
    pen.text(kPinX - 14, kTapY - 16, QStringLiteral("+"));
    pen.text(kPinX - 14, kTapY + 30, QStringLiteral("−"));
    pen.number(x + half + 34, kTapY - 46, view.textAt(Stage::Wiring), 17, true);
    pen.wrapped({0, 292, 230, 30},
                say("%1. The reference is the excitation: it cancels.").arg(qs(view.path()->part().title)));
}

}  // namespace

const Circuit kDivider{"divider", dividerSpots, paintDivider};
const Circuit kCurrentSource{"current-source", currentSourceSpots, paintCurrentSource};
const Circuit kBridge{"bridge", bridgeSpots, paintBridge};

}  // namespace fg::gui::circuits
