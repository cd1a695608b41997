#include "circuits/circuit_parts.h"

#include "units/number_format.h"

#include <array>
#include <cmath>

namespace fg::gui {
namespace circuits {

double wiringValue(const GaugeView& view, const char* id) { return view.spec().wiring.parameters.numberOr(id, 0); }

CircuitSpot sourceSpot(const GaugeView& view) {
    return {"wiring.source",   say("Source"),  view.path()->isRatiometric() ? QStringLiteral("Vref") : say("Rail"), {},
            Quantity::Voltage, {0, 22, 98, 26}};
}

CircuitSpot capacitorSpot() {
    return {"wiring.capacitor_F",  QStringLiteral("C1"), QStringLiteral("C1"), say("to ground"),
            Quantity::Capacitance, {258, 202, 104, 26},  say("none")};
}

CircuitSpot resistorSpot(const GaugeView& view, const char* id, const char* name, const char* toleranceId, QRectF box) {
    const double tolerance = wiringValue(view, toleranceId);
    return {std::string("wiring.") + id,
            QString::fromUtf8(name),
            QString::fromUtf8(name),
            tolerance > 0 ? QStringLiteral("%1 %").arg(qs(plainNumber(100 * tolerance, 3))) : QStringLiteral("± ?"),
            Quantity::Resistance,
            box};
}

CircuitSpot cableSpot() {
    return {"wiring.lead_ohm", say("the cable"), say("Cable"), {}, Quantity::Resistance, {0, 284, 98, 26}, say("none")};
}

void paintRail(CircuitPen& pen, const GaugeView& view, double to) {
    pen.wire(98, kTopY, to, kTopY);
    pen.text(to + 6, kTopY + 5, view.path()->isRatiometric() ? say("source = reference") : say("a rail of its own"));
}

namespace {

QString codeText(const GaugeView& view) { return say("code %1").arg(qs(view.textAt(Stage::Converter).joined())); }

}  // namespace

void paintPin(CircuitPen& pen, const GaugeView& view, double from, double labelX, double labelY) {
    pen.wire(from, kTapY, kPinX, kTapY);
    if (wiringValue(view, "capacitor_F") > 0) {
        pen.dot(kCapX, kTapY);
        pen.wire(kCapX, kTapY, kCapX, 200);
        pen.capacitor(kCapX, 200);
        pen.wire(kCapX, 207, kCapX, kGroundY);
        pen.ground(kCapX, kGroundY);
    }
    pen.converter(kPinX, kTapY, QStringLiteral("U"), codeText(view));
    pen.number(labelX, labelY, view.textAt(Stage::Wiring), 17, true);
}

void paintCounter(CircuitPen& pen, const GaugeView& view, double from, double labelX, double labelY) {
    pen.wire(from, kTapY, kPinX, kTapY);
    const Quantity input = view.path()->converter().input();
    pen.converter(kPinX, kTapY,
                  input == Quantity::Frequency ? QStringLiteral("f")
                  : input == Quantity::Time    ? QStringLiteral("T")
                                               : QStringLiteral("n"),
                  codeText(view));
    pen.number(labelX, labelY, view.textAt(Stage::Wiring), 17, true);
}

void paintSensorLabel(CircuitPen& pen, const GaugeView& view, double x, double y) {
    pen.caption(x, y, view.spec().quantity == Quantity::Temperature ? QStringLiteral("RT") : QStringLiteral("RE"),
                view.origin() == Origin::Live ? say("now") : say("for this value"));
    pen.number(x, y + 22, view.textAt(Stage::Sensor), 18, false);
    pen.wrapped({x, y + 28, 96, 36}, qs(view.path()->stageNote(Stage::Sensor)));
}

void paintPart(CircuitPen& pen, const GaugeView& view, const QRectF& box) {
    const double signal = view.evaluation() ? view.evaluation()->at(Stage::Sensor).value : std::nan("");
    pen.box(box, qs(view.path()->part().id), qs(engineering(signal, view.path()->signalQuantity(), 4).joined()));
}

QString dependence(const GaugeView& view) {
    const QString quantity = view.spec().quantity == Quantity::Temperature ? QStringLiteral("ϑ") : QStringLiteral("E");
    return (view.path()->sensor().isRising() ? QStringLiteral("+") : QStringLiteral("−")) + quantity;
}

}  // namespace circuits

const Circuit& circuitFor(const std::string& wiring) {
    using namespace circuits;
    static const std::array all{&kDirect,    &kAttenuator,     &kAmplifier, &kDivider,    &kCurrentSource,
                                &kLoad,      &kTransimpedance, &kBridge,    &kOscillator, &kOscillatorPeriod,
                                &kFrequency, &kPeriod,         &kPulseLoad};
    for (const Circuit* circuit : all)
        if (wiring == circuit->wiring) return *circuit;
    return kDirect;
}

}  // namespace fg::gui
