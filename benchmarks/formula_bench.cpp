// Every analog family by formula, against a loop of the same formula written by hand: one pass, constants beside it,
// nothing looked up. Ratios of one run. What both compute is compared too, so that a fast wrong loop does not count.

#include "bench/gauge_json.h"
#include "path/analog_path.h"
#include "path/default_gauge.h"
#include "ratio.h"
#include "sensors/family.h"
#include "sensors/thermocouple.h"

#include <algorithm>
#include <cmath>
#include <cstdio>
#include <functional>
#include <map>
#include <random>

namespace {

using namespace fg;
using fg::bench::ratio;

using Codes = std::vector<std::int32_t>;
using Loop = std::function<void(const Codes& codes, std::vector<double>& out)>;

/// What somebody has in front of them who writes the loop for one gauge: its numbers.
struct Numbers {
    Parameters sensor, wiring;
    double lsb, source_V;
    double s(const std::string& id, double otherwise = 0) const { return sensor.numberOr(id, otherwise); }
    double w(const std::string& id) const { return wiring.numberOr(id, 0); }
    std::vector<Point> points(const std::string& id) const { return sensor.requirePoints(id).value(); }
};

/// The loop around a formula, which the compiler puts in its place.
template <class Formula>
Loop loopOf(Formula formula) {
    return [formula](const Codes& codes, std::vector<double>& out) {
        const Formula f = formula;
        const std::size_t n = codes.size();
        for (std::size_t i = 0; i < n; ++i) out[i] = f(codes[i]);
    };
}

Loop line(double lsb, double slope, double offset) {
    return loopOf([=](double code) { return (code * lsb - offset) / slope; });
}

Loop lineThrough(double lsb, const std::vector<Point>& p, double toOutput = 1) {
    const double slope = toOutput * (p[1][1] - p[0][1]) / (p[1][0] - p[0][0]);
    return line(lsb, slope, toOutput * p[0][1] - slope * p[0][0]);
}

Loop currentLine(const Numbers& g, double slope, double offset) {
    const double lsb = g.lsb, load = g.w("load_ohm");
    return loopOf([=](double code) { return (code * lsb / load - offset) / slope; });
}

/// A function of the resistance of the lower arm of a divider.
template <class OfResistance>
Loop inDivider(const Numbers& g, OfResistance f) {
    const double lsb = g.lsb, fixed = g.w("fixed_ohm"), source = g.source_V;
    return loopOf([=](double code) {
        const double u = code * lsb;
        return f(fixed * u / (source - u));
    });
}

Loop steinhart(const Numbers& g, double a, double b, double c) {
    return inDivider(g, [=](double r) {
        const double l = std::log(r);
        return 1 / (a + l * (b + c * l * l)) - 273.15;
    });
}

double between(const std::vector<Point>& t, double y) {  // t ascending in its second column
    std::size_t low = 0, high = t.size() - 1;
    while (high - low > 1) {
        const std::size_t middle = (low + high) / 2;
        (t[middle][1] <= y ? low : high) = middle;
    }
    return t[low][0] + (t[high][0] - t[low][0]) * (y - t[low][1]) / (t[high][1] - t[low][1]);
}

std::vector<Point> ascending(std::vector<Point> t) {
    std::sort(t.begin(), t.end(), [](const Point& a, const Point& b) { return a[1] < b[1]; });
    return t;
}

/// Newton's method on c0 + c1·x + … = y from a straight line's guess, until it stands to the last digits.
double solvePolynomial(const double* c, int degree, double y, double x) {
    for (int step = 0; step < 20; ++step) {
        double value = c[degree], slope = 0;
        for (int i = degree - 1; i >= 0; --i) {
            slope = slope * x + value;
            value = value * x + c[i];
        }
        const double move = (value - y) / slope;
        x -= move;
        if (std::abs(move) < 1e-13 * (1 + std::abs(x))) break;
    }
    return x;
}

Loop thermocouple(const Numbers& g) {
    // E by the type K function above 0 °C and its slope, as the standard prints them; Newton from 40 µV/°C.
    static constexpr double c[]{-0.176004136860e-01, 0.389212049750e-01,  0.185587700320e-04, -0.994575928740e-07,
                                0.318409457190e-09,  -0.560728448890e-12, 0.560750590590e-15, -0.320207200030e-18,
                                0.971511471520e-22,  -0.121047212750e-25};
    const auto bell = [](double t) {
        return 0.118597600000 * std::exp(-0.118343200000e-03 * (t - 126.9686) * (t - 126.9686));
    };
    const double lsb = g.lsb, cold_V = fg::thermocouple("K", 0).value()->forward(25);
    return loopOf([=](double code) {
        const double mV = 1e3 * (code * lsb + cold_V);
        double t = mV / 0.04;
        for (int step = 0; step < 20; ++step) {
            double value = c[9], slope = 0;
            for (int i = 8; i >= 0; --i) {
                slope = slope * t + value;
                value = value * t + c[i];
            }
            const double b = bell(t);
            const double move = (value + b - mV) / (slope - 2 * 0.118343200000e-03 * (t - 126.9686) * b);
            t -= move;
            if (std::abs(move) < 1e-13 * (1 + std::abs(t))) break;
        }
        return t;
    });
}

/// The part of the catalogue and the formula that stand for each family.
struct Row {
    const char* family;
    const char* part;
    std::function<Loop(const Numbers&)> byHand;
};

const std::vector<Row>& rows() {
    static const std::vector<Row> all{
        {"linear-voltage", "tmp36",
         [](const Numbers& g) { return line(g.lsb, g.s("slope_V_per_degC"), g.s("offset_V")); }},
        {"line-through-points", "chip-points",
         [](const Numbers& g) { return lineThrough(g.lsb, g.points("points_V")); }},
        {"point-and-slope", "diode",
         [](const Numbers& g) {
             const double lsb = g.lsb, at = g.s("at_degC", 25), value = g.s("value_V"), slope = g.s("slope_V_per_degC");
             return loopOf([=](double code) { return at + (code * lsb - value) / slope; });
         }},
        {"calibration-words", "chip-two-words",
         [](const Numbers& g) {
             return lineThrough(g.lsb, {{g.s("low_degC"), g.s("low_word")}, {g.s("high_degC"), g.s("high_word")}},
                                g.s("words_reference_V") / std::ldexp(1.0, static_cast<int>(g.s("words_bits"))));
         }},
        {"quadratic-voltage", "quadratic-voltage",
         [](const Numbers& g) {
             const double lsb = g.lsb, y0 = g.s("v0_V"), s = g.s("slope_V_per_degC"), q = g.s("curvature_V_per_degC2"),
                          t0 = g.s("t0_degC", 25);
             return loopOf(
                 [=](double code) { return t0 + (-s - std::sqrt(s * s + 4 * q * (code * lsb - y0))) / (2 * q); });
         }},
        {"humidity-compensated", "hih4000",
         [](const Numbers& g) {
             const double lsb = g.lsb, supply = g.source_V, slope = g.s("slope_per_percent"),
                          offset = g.s("offset_ratio");
             const double warm =
                 g.s("temperature_gain", 1) + g.s("temperature_slope_per_degC") * g.s("temperature_degC", 25);
             return loopOf([=](double code) { return (code * lsb / supply - offset) / slope / warm; });
         }},
        {"table-voltage", "own-table",
         [](const Numbers& g) {
             return loopOf(
                 [lsb = g.lsb, t = ascending(g.points("table_V"))](double code) { return between(t, code * lsb); });
         }},
        {"polynomial-voltage", "own-polynomial",
         [](const Numbers& g) {
             const double lsb = g.lsb, c0 = g.s("c0_V"), c1 = g.s("c1_V"), c2 = g.s("c2_V");
             return loopOf([=](double code) {
                 const double c[]{c0, c1, c2}, u = code * lsb;
                 return solvePolynomial(c, 2, u, (u - c0) / c1);
             });
         }},
        {"expression-voltage", "own-expression",
         [](const Numbers& g) {
             return loopOf([lsb = g.lsb](double code) { return -40 * std::log(code * lsb / 2.5); });
         }},
        {"linear-current", "ad590",
         [](const Numbers& g) { return currentLine(g, g.s("slope_A_per_degC"), g.s("offset_A")); }},
        {"current-loop", "temperature-4-20ma",
         [](const Numbers& g) {
             const double lsb = g.lsb, load = g.w("load_ohm"), low = g.s("low_degC"), high = g.s("high_degC");
             return loopOf([=](double code) { return low + (code * lsb / load - 0.004) / 0.016 * (high - low); });
         }},
        {"ntc-beta", "ntc",
         [](const Numbers& g) {
             const double r25 = g.s("r25_ohm"), beta = g.s("beta_K"), inverseT0 = 1 / 298.15;
             return inDivider(g, [=](double r) { return 1 / (inverseT0 + std::log(r / r25) / beta) - 273.15; });
         }},
        {"steinhart-hart", "ntc-steinhart-hart",
         [](const Numbers& g) { return steinhart(g, g.s("a"), g.s("b"), g.s("c")); }},
        {"steinhart-hart-points", "ntc-three-points",
         [](const Numbers& g) {
             const std::vector<Point> p = g.points("points_degC_ohm");
             double l[3], y[3];
             for (std::size_t i = 0; i < 3; ++i) {
                 l[i] = std::log(p[i][1]);
                 y[i] = 1 / (p[i][0] + 273.15);
             }
             const double g2 = (y[1] - y[0]) / (l[1] - l[0]), g3 = (y[2] - y[0]) / (l[2] - l[0]);
             const double c = (g3 - g2) / (l[2] - l[1]) / (l[0] + l[1] + l[2]);
             const double b = g2 - c * (l[0] * l[0] + l[0] * l[1] + l[1] * l[1]);
             return steinhart(g, y[0] - (b + l[0] * l[0] * c) * l[0], b, c);
         }},
        {"table-thermistor", "ntc-table",
         [](const Numbers& g) {
             std::vector<Point> t = g.points("table_degC_ohm");
             for (Point& p : t) p = {-1 / (p[0] + 273.15), std::log(p[1])};
             return inDivider(g, [t = ascending(t)](double r) { return -1 / between(t, std::log(r)) - 273.15; });
         }},
        {"table-resistance", "table-resistance",
         [](const Numbers& g) {
             return inDivider(g, [t = ascending(g.points("table_ohm"))](double r) { return between(t, r); });
         }},
        {"silicon-ptc", "kty81-110",
         [](const Numbers& g) {
             const double r25 = g.s("r25_ohm"), alpha = g.s("alpha_per_K"), beta = g.s("beta_per_K2");
             return inDivider(g, [=](double r) {
                 return 25 + (std::sqrt(alpha * alpha - 4 * beta + 4 * beta * r / r25) - alpha) / (2 * beta);
             });
         }},
        {"platinum", "pt100",
         [](const Numbers& g) {
             constexpr double a = 3.9083e-3, b = -5.775e-7;
             return inDivider(g, [r0 = g.s("r0_ohm")](double r) {
                 const double t = (-a + std::sqrt(a * a - 4 * b * (1 - r / r0))) / (2 * b);
                 return t;
             });
         }},
        {"photoresistor", "photoresistor",
         [](const Numbers& g) {
             const double r10 = g.s("r10_ohm"), gamma = g.s("gamma");
             return inDivider(g, [=](double r) { return 10 * std::pow(r / r10, -1 / gamma); });
         }},
        {"photoresistor-points", "photoresistor-two-points",
         [](const Numbers& g) {
             const std::vector<Point> p = g.points("points_lx_ohm");
             const double gamma = std::log(p[0][1] / p[1][1]) / std::log(p[1][0] / p[0][0]), lx = p[0][0],
                          ohm = p[0][1];
             return inDivider(g, [=](double r) { return lx * std::pow(r / ohm, -1 / gamma); });
         }},
        {"thermocouple", "thermocouple-k", thermocouple},
        {"bridge", "bridge",
         [](const Numbers& g) {
             const double lsb = g.lsb, excitation = g.source_V, span = g.s("span_V_per_V"), full = g.s("full_scale_Pa");
             return loopOf([=](double code) { return code * lsb / excitation / span * full; });
         }},
        {"bridge-millivolt", "bridge-millivolt",
         [](const Numbers& g) {
             const double lsb = g.lsb, excitation = g.source_V, full = g.s("full_scale_Pa");
             const double span = g.s("span_V") / g.s("stated_at_V"), zero = g.s("zero_V") / g.s("stated_at_V");
             return loopOf([=](double code) { return (code * lsb / excitation - zero) / span * full; });
         }},
        {"linear-frequency", "light-to-frequency",
         [](const Numbers& g) { return line(g.lsb, g.s("slope_Hz_per_lx"), g.s("offset_Hz")); }},
        {"scaled-frequency", "hs1101-frequency",
         [](const Numbers& g) {
             const double lsb = g.lsb, nominal = g.s("nominal_Hz"), c0 = g.s("c0"), c1 = g.s("c1"), c2 = g.s("c2"),
                          c3 = g.s("c3");
             return loopOf([=](double code) {
                 const double c[]{c0, c1, c2, c3}, y = code * lsb / nominal;
                 return solvePolynomial(c, 3, y, (y - c0) / c1);
             });
         }},
        {"scaled-capacitance", "hs1101",
         [](const Numbers& g) {
             const double lsb = g.lsb, nominal = g.s("nominal_F"), c0 = g.s("c0"), c1 = g.s("c1"), c2 = g.s("c2"),
                          c3 = g.s("c3");
             const double ohm = std::log(2.0) * (g.w("charge_ohm") + 2 * g.w("discharge_ohm"));
             return loopOf([=](double code) {
                 const double c[]{c0, c1, c2, c3}, y = 1 / (ohm * (code * lsb)) / nominal;
                 return solvePolynomial(c, 3, y, (y - c0) / c1);
             });
         }},
        {"linear-pulses", "lmt01-linear",
         [](const Numbers& g) {
             const double perDegree = g.s("pulses_per_degC"), zero = g.s("pulses_at_0");
             return loopOf([=](double code) { return (code - zero) / perDegree; });
         }},
        {"table-pulses", "lmt01",
         [](const Numbers& g) {
             return loopOf([t = ascending(g.points("table_pulses"))](double code) { return between(t, code); });
         }},
    };
    return all;
}

/// A gauge of that part on its usual wiring; where a part is the user's own, one that is not a straight line in
/// disguise.
GaugeSpec gaugeOf(const Row& row, const Catalogue& catalogue) {
    const auto part = catalogue.partOrFamily(row.part, Quantity::Temperature);
    GaugeSpec spec = defaultGauge(part ? *part : *catalogue.partOrFamily(row.part, Quantity::Pressure));
    const std::string family = row.family;
    Parameters& p = spec.sensor.parameters;
    if (family == "expression-voltage") p.set("expression", std::string("2.5*exp(-x/40)"));
    if (family == "polynomial-voltage") p.set("c2_V", -5e-5);
    if (family == "steinhart-hart") {
        p.set("a", 1.129148e-3);
        p.set("b", 2.34125e-4);
        p.set("c", 8.76741e-8);
    }
    if (family == "quadratic-voltage")
        p = {{"v0_V", 1.5}, {"slope_V_per_degC", -0.0109}, {"curvature_V_per_degC2", -3.4e-6}};
    if (family == "table-resistance")
        p.set("table_ohm", std::vector<Point>{{0, 1000}, {20, 1090}, {40, 1200}, {80, 1500}});
    if (family == "table-voltage")
        p.set("table_V", std::vector<Point>{{0, 2.6}, {15, 2.45}, {25, 2.3}, {40, 2.1}, {60, 1.9}, {100, 1.4}});
    return spec;
}

void compare(const Row& row, const Catalogue& catalogue) {
    const GaugeSpec spec = gaugeOf(row, catalogue);
    const auto path = AnalogPath::build(spec, catalogue);
    if (!path) {
        std::printf("        %-24s no path: %s\n", row.family, path.error().message().c_str());
        return;
    }
    const auto part = catalogue.partOrFamily(spec.sensor.part, spec.quantity);
    const Numbers numbers{spec.sensor.parameters.over(part->parameters), spec.wiring.parameters,
                          path->converter().lsb(), path->source_V()};
    const Loop byHand = row.byHand(numbers);

    // Codes of the wanted span, a little in from its ends: what a gauge is asked for all day.
    const Interval span = spec.reading.span;
    double from = path->exactCode(span.low + 0.02 * span.width()),
           to = path->exactCode(span.high - 0.02 * span.width());
    if (from > to) std::swap(from, to);
    from = std::max(from, static_cast<double>(path->converter().minCode()) + 1);
    to = std::min(to, static_cast<double>(path->converter().maxCode()) - 1);
    std::mt19937 random(1);
    std::uniform_int_distribution<std::int32_t> any(static_cast<std::int32_t>(std::ceil(from)),
                                                    static_cast<std::int32_t>(std::floor(to)));
    constexpr std::size_t kCodes = 1'000'000;
    Codes codes(kCodes);
    for (auto& code : codes) code = any(random);
    std::vector<double> ours(kCodes), theirs(kCodes);

    const auto byFormula = [&] { path->readings(codes, ours); };
    const double value = ratio(
        byFormula, [&] { byHand(codes, theirs); }, 11);
    double worst = 0;
    for (std::size_t i = 0; i < kCodes; ++i) {
        const double apart = std::abs(ours[i] - theirs[i]);
        worst = apart <= worst ? worst : apart;  // a NaN counts as apart
    }
    std::printf(
        "ratio  formula / hand-written, %-22s %5.2f   (wanted: at most 1.2)   apart by at most %.1e of the span%s\n",
        row.family, value, worst / span.width(), worst < 1e-9 * span.width() ? "" : "   NOT THE SAME");
}

}  // namespace

int main() {
    const Catalogue catalogue = Catalogue::read(Catalogue::standardFolders());
    for (const SensorFamily& family : sensorFamilies()) {
        const auto row =
            std::find_if(rows().begin(), rows().end(), [&](const Row& one) { return family.id == one.family; });
        if (row == rows().end())
            std::printf("        %-24s has no hand-written loop\n", std::string(family.id).c_str());
        else
            compare(*row, catalogue);
    }
    return 0;
}
