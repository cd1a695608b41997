#pragma once

#include "widgets/text.h"

#include "circuits/circuit.h"

#include <QCoreApplication>

namespace fg::gui::circuits {

// Lines that the drawings share, in design pixels.
inline constexpr double kBusX = 120, kTopY = 34, kTapY = 152, kGroundY = 276, kCapX = 236, kPinX = 284;

extern const Circuit kDirect, kAttenuator, kAmplifier, kDivider, kCurrentSource, kLoad, kTransimpedance, kBridge,
    kOscillator, kOscillatorPeriod, kFrequency, kPeriod, kPulseLoad;

[[nodiscard]] inline QString say(const char* text) { return QCoreApplication::translate("Circuit", text); }

/// The spot of whatever feeds the sensor, at the top left.
[[nodiscard]] CircuitSpot sourceSpot(const GaugeView& view);
/// C1 beside the pin.
[[nodiscard]] CircuitSpot capacitorSpot();
/// A resistor of the network with its tolerance beside the caption.
[[nodiscard]] CircuitSpot resistorSpot(const GaugeView& view, const char* id, const char* name, const char* toleranceId,
                                       QRectF box);
[[nodiscard]] CircuitSpot cableSpot();

/// The rail from the source's entry to the bus.
void paintRail(CircuitPen& pen, const GaugeView& view, double to = 170);
/// From `from` at the height of the pin to the converter, with C1, the pin's voltage written at (labelX, labelY).
void paintPin(CircuitPen& pen, const GaugeView& view, double from, double labelX, double labelY = kTapY - 10);
/// A counter or timer instead of an analog input.
void paintCounter(CircuitPen& pen, const GaugeView& view, double from, double labelX, double labelY = kTapY - 10);
/// The sensor's name with its present signal and what it is.
void paintSensorLabel(CircuitPen& pen, const GaugeView& view, double x, double y);
/// A part drawn as a box with its signal.
void paintPart(CircuitPen& pen, const GaugeView& view, const QRectF& box);

[[nodiscard]] double wiringValue(const GaugeView& view, const char* id);
/// "−ϑ": which way the sensor's resistance goes.
[[nodiscard]] QString dependence(const GaugeView& view);

}  // namespace fg::gui::circuits
